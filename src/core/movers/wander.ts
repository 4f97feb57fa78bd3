import { define } from '../space/parameter';
import { moveOn } from './clock';
import { A, B, draw, DRAW, PHASE, STAGE, VALUE, type MoverKind } from './mover';
import { amount, length, rate, seconds } from './parameters';

const AMOUNT = 3;
/** The farthest it goes in one step of its walk. */
const STRIDE = 0.8;

/** Where a walk sets out for next: a draw away from where it is, turned back at −1 and 1. */
export function stride(state: Float64Array, at: number): void {
  state[at + A] = state[at + B];
  draw(state, at);
  let next = state[at + B] + STRIDE * state[at + DRAW];
  if (next > 1) next = 2 - next;
  else if (next < -1) next = -2 - next;
  state[at + B] = next;
}

/** The value between where it was and where it goes, without corners. */
export function strollInto(state: Float64Array, at: number): void {
  const x = state[at + PHASE] - Math.floor(state[at + PHASE]);
  state[at + VALUE] = state[at + A] + (state[at + B] - state[at + A]) * x * x * (3 - 2 * x);
}

/** A smooth random walk that stays within −1…1: each round it sets out for a new place near by. */
export const wander: MoverKind = {
  id: 'wander',
  label: 'wander',
  low: -1,
  help: 'A smooth random walk: never the same, never far from where it was.',
  parameters: define({
    rate: { ...rate(0.3, 'How often in a second it sets out for another place.'), label: 'speed' },
    length: length('1/1', 'How long it takes to the next place.'),
    lasts: seconds('time', 3, 'How long it takes to the next place.'),
    amount: { ...amount, label: 'width', help: 'How far it goes to both sides.' },
  }),
  begin(state, at, values, first) {
    draw(state, at);
    state[at + B] = state[at + DRAW] * STRIDE;
    stride(state, at);
    state[at + STAGE] = 0;
    state[at + VALUE] = state[at + A] * (values[first + AMOUNT] / 100);
  },
  advance(state, at, values, first, spec, time) {
    moveOn(state, at, values, first, spec, time);
    const round = Math.floor(state[at + PHASE]);
    if (round !== state[at + STAGE]) {
      state[at + STAGE] = round;
      stride(state, at);
    }
    strollInto(state, at);
    state[at + VALUE] *= values[first + AMOUNT] / 100;
  },
};
