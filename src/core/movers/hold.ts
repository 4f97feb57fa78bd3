import { define } from '../space/parameter';
import { moveOn } from './clock';
import { A, B, draw, DRAW, INPUT, PHASE, STAGE, type MoverKind, type MoverSpec } from './mover';
import { amount, length, percent, rate, seconds } from './parameters';
import { glideInto } from './steps';

/** Takes a value now and then and holds it: of chance, −1…1, or of another source as routes see it. */
export const hold: MoverKind = {
  id: 'hold',
  label: 'sample and hold',
  low: -1,
  help: 'Takes a value of chance, or of another source, now and then, and holds it.',
  parameters: define({
    rate: rate(4, 'Values in a second.'),
    length: length('1/8', 'How long a value is held.'),
    lasts: seconds('held for', 0.25, 'How long a value is held.'),
    glide: percent('glide', 0, 'Share of that time in which the value glides there from the one before.'),
    chance: percent('chance', 100, 'How likely a new value is taken each time.'),
    amount,
  }),
  begin(state, at, values, first, spec) {
    take(state, at, values, first, spec);
    state[at + A] = state[at + B];
    state[at + STAGE] = 0;
    glideInto(state, at, values, first);
  },
  advance(state, at, values, first, spec, time) {
    moveOn(state, at, values, first, spec, time);
    const round = Math.floor(state[at + PHASE]);
    if (round !== state[at + STAGE]) {
      state[at + STAGE] = round;
      state[at + A] = state[at + B];
      draw(state, at);
      if ((state[at + DRAW] + 1) * 50 < values[first + CHANCE]) take(state, at, values, first, spec);
    }
    glideInto(state, at, values, first);
  },
};
const CHANCE = 4;

function take(state: Float64Array, at: number, _values: Float64Array, _first: number, spec: MoverSpec): void {
  if (spec.samplesInput) state[at + B] = state[at + INPUT];
  else {
    draw(state, at);
    state[at + B] = state[at + DRAW];
  }
}
