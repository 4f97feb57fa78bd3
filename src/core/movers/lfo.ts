import { define } from '../space/parameter';
import { moveOn } from './clock';
import { A, B, draw, DRAW, PHASE, SECONDS, STAGE, VALUE, type MoverKind, type MoverSpec } from './mover';
import { amount, length, percent, rate, seconds } from './parameters';

export const LFO_SHAPES = ['sine', 'triangle', 'rising', 'falling', 'square', 'smooth random'] as const;
export type LfoShape = (typeof LFO_SHAPES)[number];
const OFFSET = 3,
  DELAY = 4,
  FADE = 5,
  WIDTH = 6,
  AMOUNT = 7;

/**
 * A wave that repeats, −1…1. Sine and triangle begin at their middle and rise; smooth random goes from one draw to the
 * next, one each round.
 */
export const lfo: MoverKind = {
  id: 'lfo',
  label: 'LFO',
  low: -1,
  help: 'A wave that repeats: sine, triangle, saws, square or smooth random.',
  parameters: define({
    rate: rate(1, 'Rounds in a second.'),
    length: length('1/1', 'How long a round lasts.'),
    period: seconds('period', 1, 'How long a round lasts.'),
    phase: percent('phase', 0, 'Where in its round it begins.'),
    delay: seconds('delay', 0, 'Time before it sets in.', 0, 20),
    fade: seconds('fade-in', 0, 'Time in which it grows to its full way.', 0, 20),
    width: percent('width', 50, 'Share of its round that a square is high.', 2, 98),
    amount,
  }),
  begin(state, at, values, first, spec) {
    // The draw it comes from, and the one it goes to.
    draw(state, at);
    state[at + A] = state[at + DRAW];
    draw(state, at);
    state[at + B] = state[at + DRAW];
    state[at + STAGE] = Math.floor(values[first + OFFSET] / 100);
    shapeInto(state, at, values, first, spec);
  },
  advance(state, at, values, first, spec, time) {
    moveOn(state, at, values, first, spec, time);
    shapeInto(state, at, values, first, spec);
  },
};

function shapeInto(state: Float64Array, at: number, values: Float64Array, first: number, spec: MoverSpec): void {
  const phase = state[at + PHASE] + values[first + OFFSET] / 100;
  const round = Math.floor(phase);
  const x = phase - round;
  let y = 0;
  switch (spec.shape) {
    case 0:
      y = Math.sin(2 * Math.PI * x);
      break;
    case 1:
      y = x < 0.25 ? 4 * x : x < 0.75 ? 2 - 4 * x : 4 * x - 4;
      break;
    case 2:
      y = 2 * x - 1;
      break;
    case 3:
      y = 1 - 2 * x;
      break;
    case 4:
      y = x * 100 < values[first + WIDTH] ? 1 : -1;
      break;
    default:
      if (round !== state[at + STAGE]) {
        state[at + STAGE] = round;
        state[at + A] = state[at + B];
        draw(state, at);
        state[at + B] = state[at + DRAW];
      }
      y = state[at + A] + (state[at + B] - state[at + A]) * x * x * (3 - 2 * x);
  }
  const since = state[at + SECONDS] - values[first + DELAY];
  const fade = values[first + FADE];
  const share = since < 0 ? 0 : since < fade ? since / fade : 1;
  state[at + VALUE] = y * share * (values[first + AMOUNT] / 100);
}
