import { choosingSlice } from '../../hands/choosingSlice';
import { deskSlice } from '../../hands/deskSlice';
import { listeningSlice } from '../../listening/listeningSlice';
import { toldSlice } from '../../document/toldSlice';
import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import { deleteLayer, duplicateLayer, updateLayer } from '../../../core/rig/edits/layers';
import type { Layer, Patch } from '../../../core/rig/schema';
import { rigFile } from '../../jobs/rigFile';
import { session } from '../../sound/session';
import { editPatch, newId, selectedLayerOf, store, told, useAppDispatch } from '../../document/store';
import { typedAhead } from '../../hands/typedAhead';
import { focusGets, focusOf } from '../../hands/keys';
import { typing } from '../../hands/typingKeys';
import { useUndo } from './useUndo';
import { toggleConnecting } from '../control/ConnectSign';
import { useView } from '../../parts/useView';

/**
 * Controls that say what Delete and single letters do, or do nothing with them: a layer is never removed from there.
 */
const isControl = (target: EventTarget | null): boolean =>
  target instanceof Element &&
  target.closest(
    'button, a, input, select, textarea, [role="slider"], [role="application"], [role="menuitem"], [role="dialog"]',
  ) !== null;

/** Where a key is pressed. */
interface Now {
  patch: Patch;
  view: string;
  /** The layer that is chosen, where layers are seen. */
  layer: Layer | undefined;
  /** The focus is on something that has keys of its own. */
  onControl: boolean;
}
type Act = () => void;

/** Comes when something is copied first. */
const clipboard = () => import('../../hands/clipboard');

const toggleTyping: Act = () => store.dispatch(deskSlice.actions.typingPlaysSet(!store.getState().desk.typingPlays));

/** Chooses the layer that stands so many places further. */
function chooseNext({ patch, layer, onControl }: Now, by: number): Act | undefined {
  const at = layer ? patch.layers.indexOf(layer) + by : -1;
  const next = patch.layers[at] as Layer | undefined;
  return next && !onControl ? () => store.dispatch(choosingSlice.actions.layerSelected(next.id)) : undefined;
}

/** What a key does by itself; nothing where it has nothing to do it to. */
const PLAIN: Record<string, (now: Now) => Act | undefined> = {
  '?': () => () =>
    store.dispatch(deskSlice.actions.sheetOpened(store.getState().desk.sheet === 'help' ? null : 'help')),
  ArrowUp: (now) => chooseNext(now, -1),
  ArrowDown: (now) => chooseNext(now, 1),
  Delete: ({ patch, layer, onControl }) =>
    layer && !onControl
      ? () => {
          store.dispatch(editPatch(patch.id, (old) => deleteLayer(old, layer.id)));
          store.dispatch(told(`The layer “${layer.name}” is gone.`));
        }
      : undefined,
  m: ({ patch, layer }) =>
    layer &&
    (() =>
      store.dispatch(
        editPatch(patch.id, (old) => updateLayer(old, layer.id, (value) => ({ ...value, on: !value.on }))),
      )),
  s: ({ layer }) => layer && (() => store.dispatch(listeningSlice.actions.soloToggled(layer.id))),
  c: () => toggleConnecting,
  t: () => () => session.input.tap(),
  h: () => () => session.input.latch.setHolding(!session.input.latch.holding),
  r: () => () => session.input.latch.setRepeating(!session.input.latch.repeating),
  p: () => toggleTyping,
  F8: () => toggleTyping,
};

/** What a key does with Control held. */
function withControl(key: string, { patch, view, layer }: Now): Act | undefined {
  const hasLayers = view === 'layers' || view === 'mix';
  switch (key) {
    case 'c':
      return layer && window.getSelection()?.isCollapsed !== false
        ? () => void clipboard().then(({ copyChosen }) => copyChosen(store.getState().rig.rig!, patch))
        : undefined;
    case 'a':
      return hasLayers && patch.layers.length > 1
        ? () => store.dispatch(choosingSlice.actions.layersChosen(patch.layers.map(({ id }) => id)))
        : undefined;
    case 'v':
      return view === 'layers' && !store.getState().rig.readOnly
        ? () => store.dispatch(deskSlice.actions.sheetOpened('paste'))
        : undefined;
    case 'd':
      return () => {
        if (layer) store.dispatch(editPatch(patch.id, (old) => duplicateLayer(old, layer.id, newId())));
      };
    default:
      return undefined;
  }
}

const TWICE_MS = 600;

export function useShortcuts({ patch }: { patch: Patch }): void {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const view = useView();
  const undo = useUndo();
  useEffect(() => {
    let lastEscape = -Infinity;
    const done = (event: KeyboardEvent, act: () => void) => {
      event.preventDefault();
      event.stopPropagation();
      act();
    };
    const goTo = (by: number) => {
      const { patches } = store.getState().rig.rig!;
      const next = patches[patches.findIndex((candidate) => candidate.id === patch.id) + by];
      if (next) void navigate(`/patch/${next.id}/${view}`);
    };
    /** What holds wherever the focus is; before anything else hears of the key. */
    const first = (event: KeyboardEvent) => {
      if (event.key === 'Escape') {
        typedAhead.take();
        if (session.hearing.isLearning) {
          session.hearing.endLearning();
          dispatch(toldSlice.actions.noticeClosed('learn'));
        }
        if (store.getState().choosing.connecting) dispatch(choosingSlice.actions.connectingSet(null));
        if (store.getState().choosing.chosenLayerIds.length > 1 && focusOf(event.target).field !== 'touched')
          dispatch(choosingSlice.actions.layersChosen([]));
        if (event.timeStamp - lastEscape < TWICE_MS) session.panic();
        lastEscape = event.timeStamp;
        return;
      }
      const control = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (control && key === 'k')
        return done(event, () => {
          const opens = store.getState().desk.sheet !== 'search';
          if (opens) typedAhead.begin();
          else typedAhead.take();
          dispatch(deskSlice.actions.sheetOpened(opens ? 'search' : null));
        });
      if (typedAhead.keep(event)) return done(event, () => {});
      if (control && key === 's') return done(event, () => void rigFile.save(event.shiftKey));
      if (focusGets({ key: event.key, control, alt: event.altKey }, focusOf(event.target))) return;
      if (control && (key === 'z' || key === 'y'))
        return done(event, () => undo(key === 'y' || event.shiftKey ? 'redone' : 'undone'));
      if (control || event.altKey) return;
      if (event.key === ' ')
        return done(event, () => {
          if (!event.repeat) session.toggleTake();
        });
      if (event.key === 'PageUp') return done(event, () => goTo(-1));
      if (event.key === 'PageDown') return done(event, () => goTo(1));
    };
    const down = (event: KeyboardEvent) => {
      const { choosing, desk } = store.getState();
      const focus = focusOf(event.target);
      if (event.defaultPrevented || focus.field !== 'none' || focus.isSelect || focus.inMenu) return;
      // Layers are only at hand where they are seen.
      const layer = view === 'layers' ? selectedLayerOf(patch, choosing.selectedLayerId) : undefined;
      const now: Now = { patch, view, layer, onControl: isControl(event.target) };
      if (event.ctrlKey || event.metaKey) {
        const act = withControl(event.key.toLowerCase(), now);
        return act && done(event, act);
      }
      if (event.altKey) return;
      if (event.key !== 'F8' && desk.typingPlays) {
        if (!event.repeat && event.key !== '?' && typing.press(event.code)) return event.preventDefault();
        if (event.repeat && event.code.startsWith('Key')) return;
      }
      const act = PLAIN[event.key]?.(now);
      if (act) done(event, act);
    };
    const up = (event: KeyboardEvent) => {
      // A button would be pressed by the Space that the take has had.
      if (event.key === ' ' && !focusGets({ key: ' ', control: false, alt: false }, focusOf(event.target)))
        event.preventDefault();
      typing.lift(event.code);
    };
    const blur = () => typing.liftAll();
    window.addEventListener('keydown', first, true);
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up, true);
    window.addEventListener('blur', blur);
    return () => {
      window.removeEventListener('keydown', first, true);
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up, true);
      window.removeEventListener('blur', blur);
    };
  }, [dispatch, navigate, patch, undo, view]);
}
