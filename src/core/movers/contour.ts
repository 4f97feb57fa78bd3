import { define } from '../space/parameter';
import { moveOn } from './clock';
import { bendLine, PHASE, VALUE, type MoverKind, type MoverSpec } from './mover';
import { amount, length, rate, seconds } from './parameters';

const AMOUNT = 3;
/** Points of a contour at the most, and numbers of each: x 0…1, y −1…1, bend −1…1 of the line that follows. */
export const MOST_POINTS = 16,
  POINT = 3;

/** A drawn curve, −1…1, once or round and round. */
export const contour: MoverKind = {
  id: 'contour',
  label: 'contour',
  low: -1,
  help: 'A curve that you draw, once for each beginning or round and round.',
  parameters: define({
    rate: rate(0.5, 'Rounds in a second.'),
    length: length('1/1', 'How long the curve lasts.'),
    lasts: seconds('length', 2, 'How long the curve lasts.', 0.01, 60),
    amount,
  }),
  begin: (state, at, values, first, spec) => curveInto(state, at, values, first, spec),
  advance(state, at, values, first, spec, time) {
    moveOn(state, at, values, first, spec, time);
    curveInto(state, at, values, first, spec);
  },
};

const scratch = new Float64Array(1);

function curveInto(state: Float64Array, at: number, values: Float64Array, first: number, spec: MoverSpec): void {
  const { points } = spec;
  const phase = state[at + PHASE];
  const x = spec.loop ? phase - Math.floor(phase) : phase < 1 ? phase : 1;
  const last = points.length - POINT;
  let i = 0;
  while (i < last && points[i + POINT] <= x) i += POINT;
  let y = last < 0 ? 0 : points[i + 1];
  if (i < last && x > points[i]) {
    scratch[0] = (x - points[i]) / (points[i + POINT] - points[i]);
    bendLine(scratch, 0, points, i + 2);
    y += (points[i + POINT + 1] - y) * scratch[0];
  }
  state[at + VALUE] = y * (values[first + AMOUNT] / 100);
}
