import { define } from '../space/parameter';
import { moveOn } from './clock';
import { A, B, draw, DRAW, PHASE, STAGE, VALUE, type MoverKind, type MoverSpec } from './mover';
import { amount, length, percent, rate, seconds } from './parameters';

const GLIDE = 3,
  CHANCE = 4,
  AMOUNT = 5;
/** Values of a row at the most. */
export const MOST_STEPS = 32;

/** A row of values, −1…1, one after another. A is the value it comes from, B the one it goes to. */
export const steps: MoverKind = {
  id: 'steps',
  label: 'steps',
  low: -1,
  help: 'A row of values, one after another in time.',
  parameters: define({
    rate: rate(4, 'Steps in a second.'),
    length: length('1/8', 'How long a step lasts.'),
    lasts: seconds('step', 0.25, 'How long a step lasts.'),
    glide: percent('glide', 0, 'Share of each step in which the value glides there from the one before.'),
    chance: percent('chance', 100, 'How likely each step is taken; one that is left out keeps the value before.'),
    amount,
  }),
  begin(state, at, values, first, spec) {
    state[at + STAGE] = 0;
    state[at + A] = state[at + B] = spec.points.length > 0 ? spec.points[0] : 0;
    glideInto(state, at, values, first);
  },
  advance(state, at, values, first, spec, time) {
    moveOn(state, at, values, first, spec, time);
    const step = Math.floor(state[at + PHASE]);
    if (step !== state[at + STAGE]) takeStep(state, at, values, first, spec, step);
    glideInto(state, at, values, first);
  },
};

function takeStep(
  state: Float64Array,
  at: number,
  values: Float64Array,
  first: number,
  { points }: MoverSpec,
  step: number,
): void {
  state[at + STAGE] = step;
  state[at + A] = state[at + B];
  draw(state, at);
  if (points.length === 0 || (state[at + DRAW] + 1) * 50 >= values[first + CHANCE]) return;
  state[at + B] = points[((step % points.length) + points.length) % points.length];
}

export function glideInto(state: Float64Array, at: number, values: Float64Array, first: number): void {
  const x = state[at + PHASE] - Math.floor(state[at + PHASE]);
  const glide = values[first + GLIDE] / 100;
  const share = x < glide ? x / glide : 1;
  state[at + VALUE] = (state[at + A] + (state[at + B] - state[at + A]) * share) * (values[first + AMOUNT] / 100);
}
