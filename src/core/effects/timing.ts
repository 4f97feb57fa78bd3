import { NOTE_QUARTERS } from '../music/time';
import { QUARTERS_PER_FRAME } from './effect';

/** Rounds of an LFO in a frame: by a rate in Hz, or by a note value of the tempo. Numbers in arrays, by place. */
export function roundsPerFrame(
  values: Float64Array,
  clock: number,
  hz: number,
  note: number,
  rate: number,
  time: Float64Array,
): number {
  return values[clock] === 0 ? values[hz] / rate : time[QUARTERS_PER_FRAME] / NOTE_QUARTERS[values[note]];
}
/** Frames of a time in seconds, or of a note value. */
export function framesOf(
  values: Float64Array,
  clock: number,
  seconds: number,
  note: number,
  rate: number,
  time: Float64Array,
): number {
  return values[clock] === 0 ? values[seconds] * rate : NOTE_QUARTERS[values[note]] / time[QUARTERS_PER_FRAME];
}
