import { NOTE_QUARTERS } from '../music/time';
import { LASTS, LENGTH, PHASE, POSITION, RATE, SECONDS, SPAN_QUARTERS, SPAN_SECONDS, type MoverSpec } from './mover';

/**
 * Takes a mover on by a span: seconds since it began, and rounds by its clock. One that is locked to the beat reads its
 * rounds from the transport, so that nothing drifts apart.
 * The first parameters of the kind are rate, note value and seconds, whichever the clock asks for.
 */
export function moveOn(
  state: Float64Array,
  at: number,
  values: Float64Array,
  first: number,
  spec: MoverSpec,
  time: Float64Array,
): void {
  state[at + SECONDS] += time[SPAN_SECONDS];
  if (spec.clock === 'note') {
    const quarters = NOTE_QUARTERS[values[first + LENGTH]];
    if (spec.begins === 'beat') state[at + PHASE] = time[POSITION] / quarters;
    else state[at + PHASE] += time[SPAN_QUARTERS] / quarters;
  } else if (spec.clock === 'seconds') state[at + PHASE] += time[SPAN_SECONDS] / values[first + LASTS];
  else state[at + PHASE] += time[SPAN_SECONDS] * values[first + RATE];
}
