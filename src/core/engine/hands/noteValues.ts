import { STATE_SIZE } from '../../movers/mover';
import { MOST_MOVERS } from '../../rig/limits';

/** What a sounding note contributes to the sources. */
export interface NoteValues {
  /** Address of the port and channel it came by: see `Controllers`. */
  channel: number;
  key: number;
  /** As struck. */
  velocity: number;
  releaseVelocity: number;
  /** random.1 … random.8, drawn at note-on, and last {@link ALTERNATE}; scatter.1 … scatter.8, drawn for each voice. */
  randoms: Float64Array;
  scatters: Float64Array;
  /** Where the states of its own movers begin in `states`. */
  states: Float64Array;
  row: number;
}
export const RANDOMS = 8;
/** Place, after the draws of a strike, of what is 0 at one strike and 1 at the next. */
export const ALTERNATE = RANDOMS;
export const DRAWS = RANDOMS + 1;
/** Numbers that the movers of one note need. */
export const NOTE_STATE = MOST_MOVERS * STATE_SIZE;
