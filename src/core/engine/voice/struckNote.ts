import type { Receive } from '../../rig/schema';
import { DRAWS, RANDOMS, type NoteValues } from '../hands/noteValues';
import type { LayerState } from '../notes/layerState';
import { type CompiledWindow, type Voicing } from '../program/program';
import { STRIKE_VALUES } from '../program/strikeValues';

/** The address that no note comes from: that of layers that play by themselves. */
export const NOWHERE = 0;

/** What a voice knows of the note it plays: who struck it, which zone answers, what was read at the strike. */
export abstract class StruckNote implements NoteValues {
  abstract readonly row: number;
  abstract readonly states: Float64Array;
  /** It was sent away, and fades. */
  abstract readonly isDismissed: boolean;

  active = false;
  channel = 0;
  key = 0;
  velocity = 0;
  releaseVelocity = 64;
  readonly randoms = new Float64Array(DRAWS);
  readonly scatters = new Float64Array(RANDOMS);
  layer!: LayerState;
  voicing!: Voicing;
  /** The zone's windows on further sources, while they can be read: they belong to the program the voice began with. */
  zoneWindows: CompiledWindow[] | null = null;
  readonly zoneWindowsGain = Float64Array.of(1);
  /**
   * Choke group whose strikes end this voice (−1: none), whether at once, and the strike that began it, which does not.
   */
  chokedBy = -1;
  chokedFast = true;
  strike = 0;
  /** The key is down; the pedal holds it; the sostenuto pedal caught it. */
  keyDown = false;
  sustained = false;
  caught = false;
  released = false;
  fullLength = false;
  /**
   * Its layer plays it by itself: nothing that is played ends it, and no note takes its place. Only silence, another
   * patch or an edit end it.
   */
  get isStanding(): boolean {
    return this.channel === NOWHERE && !this.released && !this.isDismissed;
  }
  /** Order of birth, so that equal voices are told apart. */
  born = 0;
  zone = 0;
  /**
   * What was read when it began, by place of `strikeValues`, and 1 for each place that something moved: those stay
   * whatever is edited.
   */
  readonly strikeValues = new Float64Array(STRIKE_VALUES);
  readonly strikeMoved = new Uint8Array(STRIKE_VALUES);
  /** Semitones by which its layer moved the key, and the level of the strike as the layer felt it. */
  transpose = 0;
  touchGain = 1;
  touchMoved = false;
  /** What its layer let it hear when it began: a note keeps to the rules that it began with. */
  receive!: Receive;
  /** The note of a path that it belongs to; 0: the key itself plays it. */
  made = 0;
  /**
   * Of a layer that crossfades along its list: how many sounds the list has (1: it does not), and which of them this
   * is.
   */
  morphs = 1;
  morph = 0;
  /**
   * Of the zone alone: windows × gain, pan, distance from the root in semitones; the windows of the layer that are read
   * at the strike are in the gain as well.
   */
  zoneGain = 0;
  zonePan = 0;
  zoneSemitones = 0;
}
