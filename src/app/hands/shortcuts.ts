export interface Shortcut {
  keys: string;
  does: string;
}

/** What the help sheet lists. */
export const SHORTCUTS: readonly Shortcut[] = [
  { keys: '?', does: 'this sheet' },
  { keys: 'Ctrl K', does: 'go to a parameter, an action, a layer, a patch by its name' },
  { keys: 'Esc Esc', does: 'silence everything, whatever has the focus' },
  { keys: 'Space', does: 'play or stop the take' },
  { keys: 'Ctrl S', does: 'write the rig to its file (Shift: to another)' },
  { keys: 'Ctrl Z', does: 'undo, and show where' },
  { keys: 'Ctrl Shift Z', does: 'redo' },
  { keys: 'H', does: 'hold: keys stay until struck again' },
  { keys: 'R', does: 'repeat what is held, in time' },
  { keys: 'P', does: 'computer keyboard plays: on or off' },
  { keys: 'C', does: 'take the connect sign of what is chosen in Control: drag on strips in any view' },
  { keys: 'T', does: 'tap the tempo' },
  { keys: 'Page Up, Page Down', does: 'earlier, next patch' },
  { keys: '↑ ↓', does: 'earlier, next layer' },
  { keys: 'M', does: 'mute the layer' },
  { keys: 'S', does: 'solo the layer' },
  { keys: 'Ctrl D', does: 'duplicate the layer' },
  { keys: 'Ctrl C, Ctrl V', does: 'copy layers or a group with all that moves them; paste, after showing what comes' },
  { keys: 'Ctrl A in Layers', does: 'choose all layers' },
  { keys: 'Ctrl click, Shift click', does: 'choose several layers: strips of one are strips of all' },
  { keys: 'Delete', does: 'remove the layer, when nothing else has the focus' },
];
export const SOUNDS_KEYS: readonly Shortcut[] = [
  { keys: '← → ↑ ↓', does: 'move the chosen zones by a key, a velocity (Shift: ten)' },
  { keys: 'Ctrl A', does: 'choose all zones' },
  { keys: 'Shift click', does: 'one more zone, one less' },
  { keys: 'Shift drag', does: 'choose by a line drawn around zones, anywhere' },
  { keys: 'Alt drag', does: 'zones move, their roots and velocities stay' },
  { keys: 'Delete', does: 'delete the chosen zones' },
  { keys: '↑ ↓ in the tray', does: 'step through the files and hear them' },
  { keys: 'Alt ↑ ↓', does: 'move a file up or down the order' },
];
export const MIX_KEYS: readonly Shortcut[] = [
  { keys: '↑ ↓ on a stretch', does: 'its level (Shift: a tenth)' },
  { keys: 'M, L on a stretch', does: 'mute it; hear it alone' },
  { keys: '← → on an effect', does: 'its order' },
  { keys: '↑ ↓ on an effect', does: 'to the earlier, next place' },
  { keys: 'Delete', does: 'remove the effect, or the send' },
  { keys: 'arrows in a take', does: 'move the chosen notes (Shift: lengthen, octaves)' },
  { keys: 'Ctrl drag, Ctrl A in a take', does: 'choose notes in a box; all of them' },
];
export const STAGE_KEYS: readonly Shortcut[] = [
  { keys: '→ ↓ Page Down', does: 'the next step of the show, as a page-turner sends it' },
  { keys: '← ↑ Page Up', does: 'the step before' },
  { keys: '1 2, then Enter', does: 'step 12; without Enter a moment later' },
  { keys: 'L', does: 'the setlist' },
  { keys: 'F', does: 'full screen' },
  { keys: 'T', does: 'tap the tempo' },
  { keys: 'N, B', does: 'the page of the song on, and back' },
];
export const PLAYING_KEYS: readonly Shortcut[] = [
  { keys: 'Z … /', does: 'lower octave, black keys in the row above' },
  { keys: 'Q … P', does: 'upper octave, black keys in the row of digits' },
  { keys: '− =', does: 'an octave down, up' },
  { keys: 'F8', does: 'off again' },
];
