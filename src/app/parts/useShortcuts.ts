import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import { deleteLayer, duplicateLayer, updateLayer } from '../../core/rig/edits/layers';
import type { Patch } from '../../core/rig/schema';
import { session } from '../session';
import { rigSlice } from '../state/rigSlice';
import { editPatch, newId, selectedLayerOf, store, useAppDispatch } from '../state/store';
import { uiSlice } from '../state/uiSlice';
import { typing } from './typingKeys';
import { useView } from './useView';

export interface Shortcut { keys: string; does: string }

/** What the help sheet lists. */
export const SHORTCUTS: readonly Shortcut[] = [
  { keys: '?', does: 'this sheet' },
  { keys: 'Esc Esc', does: 'silence everything' },
  { keys: 'Space', does: 'play or stop the take' },
  { keys: 'Ctrl Z', does: 'undo' },
  { keys: 'Ctrl Shift Z', does: 'redo' },
  { keys: 'P', does: 'computer keyboard plays: on or off' },
  { keys: 'Page Up, Page Down', does: 'earlier, next patch' },
  { keys: '↑ ↓', does: 'earlier, next layer' },
  { keys: 'M', does: 'mute the layer' },
  { keys: 'S', does: 'solo the layer' },
  { keys: 'Ctrl D', does: 'duplicate the layer' },
  { keys: 'Delete', does: 'delete the layer' },
];
export const SOUNDS_KEYS: readonly Shortcut[] = [
  { keys: '← → ↑ ↓', does: 'move the chosen zones by a key, a velocity (Shift: ten)' },
  { keys: 'Ctrl A', does: 'choose all zones' },
  { keys: 'Shift click', does: 'one more zone, one less' },
  { keys: 'Alt drag', does: 'zones move, their roots and velocities stay' },
  { keys: 'Delete', does: 'delete the chosen zones' },
  { keys: '↑ ↓ in the tray', does: 'step through the files and hear them' },
  { keys: 'Alt ↑ ↓', does: 'move a file up or down the order' },
];
export const PLAYING_KEYS: readonly Shortcut[] = [
  { keys: 'Z … /', does: 'lower octave, black keys in the row above' },
  { keys: 'Q … P', does: 'upper octave, black keys in the row of digits' },
  { keys: '− =', does: 'an octave down, up' },
  { keys: 'F8', does: 'off again' },
];

const isTypedInto = (target: EventTarget | null): boolean => target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|SELECT|TEXTAREA)$/.test(target.tagName));
const isPressable = (target: EventTarget | null): boolean => target instanceof HTMLElement && target.closest('button, a, [role="slider"], [role="menuitem"]') !== null;

export function useShortcuts({ patch, onHelp }: { patch: Patch; onHelp: () => void }): void {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const view = useView();
  useEffect(() => {
    let lastEscape = 0;
    const { actions } = uiSlice;
    const down = (event: KeyboardEvent) => {
      const { ui, rig } = store.getState();
      if (event.defaultPrevented || isTypedInto(event.target)) return;
      // Layers are only at hand where they are seen.
      const layer = view === 'layers' ? selectedLayerOf(patch, ui.selectedLayerId) : undefined;
      const control = event.ctrlKey || event.metaKey;
      const done = (act: () => void) => { event.preventDefault(); act(); };
      if (control && event.key.toLowerCase() === 'z') return done(() => dispatch(event.shiftKey ? rigSlice.actions.redone() : rigSlice.actions.undone()));
      if (control && event.key.toLowerCase() === 'y') return done(() => dispatch(rigSlice.actions.redone()));
      if (control && event.key.toLowerCase() === 'd') return done(() => { if (layer) dispatch(editPatch(patch.id, (old) => duplicateLayer(old, layer.id, newId()))); });
      if (control || event.altKey) return;
      if (event.key === 'Escape') {
        if (event.timeStamp - lastEscape < 600) session.panic();
        lastEscape = event.timeStamp;
        return;
      }
      if (event.key === 'F8') return done(() => dispatch(actions.typingPlaysSet(!ui.typingPlays)));
      if (ui.typingPlays && !event.repeat && event.key !== '?' && typing.press(event.code)) return event.preventDefault();
      if (ui.typingPlays && event.repeat && event.code.startsWith('Key')) return;
      const { patches } = rig.rig!;
      const at = patches.findIndex((candidate) => candidate.id === patch.id);
      const layerAt = layer ? patch.layers.indexOf(layer) : -1;
      switch (event.key) {
        case '?': return done(onHelp);
        case ' ': return isPressable(event.target) ? undefined : done(() => (session.takes.playing ? session.takes.stop() : session.takes.play()));
        case 'PageUp': return at > 0 ? done(() => void navigate(`/patch/${patches[at - 1].id}/${view}`)) : undefined;
        case 'PageDown': return at < patches.length - 1 ? done(() => void navigate(`/patch/${patches[at + 1].id}/${view}`)) : undefined;
        case 'ArrowUp': return layerAt > 0 ? done(() => dispatch(actions.layerSelected(patch.layers[layerAt - 1].id))) : undefined;
        case 'ArrowDown': return layerAt < patch.layers.length - 1 ? done(() => dispatch(actions.layerSelected(patch.layers[layerAt + 1].id))) : undefined;
        case 'Delete': return layer ? done(() => dispatch(editPatch(patch.id, (old) => deleteLayer(old, layer.id)))) : undefined;
        case 'm': return layer ? done(() => dispatch(editPatch(patch.id, (old) => updateLayer(old, layer.id, (value) => ({ ...value, on: !value.on }))))) : undefined;
        case 's': return layer ? done(() => dispatch(actions.soloToggled(layer.id))) : undefined;
        case 'p': return done(() => dispatch(actions.typingPlaysSet(!ui.typingPlays)));
      }
    };
    const up = (event: KeyboardEvent) => typing.lift(event.code);
    const blur = () => typing.liftAll();
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', blur);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', blur);
    };
  }, [dispatch, navigate, onHelp, patch, view]);
}
