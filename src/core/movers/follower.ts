import { define } from '../space/parameter';
import { A, INPUT, SPAN_SECONDS, VALUE, type MoverKind } from './mover';
import { amount, seconds } from './parameters';

const RISE = 0,
  FALL = 1,
  FLOOR = 2,
  AMOUNT = 3;

/**
 * How loud something is, 0…1: the amplitude that comes in goes up and down with time constants of its own, and is read
 * in dB from the floor to full scale.
 */
export const follower: MoverKind = {
  id: 'follower',
  label: 'follower',
  low: 0,
  help: 'How loud a layer, or the whole, is.',
  parameters: define({
    rise: seconds('rise', 0.01, 'Time in which it goes most of the way (63 %) up.', 0.001, 5),
    fall: seconds('fall', 0.25, 'Time in which it goes most of the way (63 %) down.', 0.005, 10),
    floor: {
      label: 'floor',
      unit: 'dB',
      low: -90,
      high: -12,
      default: -48,
      law: 'linear',
      reach: 'note',
      sides: 1,
      help: 'What counts as silence.',
    },
    amount,
  }),
  begin: () => undefined,
  advance(state, at, values, first, _spec, time) {
    const input = state[at + INPUT];
    const constant = values[first + (input > state[at + A] ? RISE : FALL)];
    state[at + A] += (input - state[at + A]) * (1 - Math.exp(-time[SPAN_SECONDS] / constant));
    const db = 20 * Math.log10(state[at + A] + 1e-9);
    const share = 1 - db / values[first + FLOOR];
    state[at + VALUE] = (share < 0 ? 0 : share > 1 ? 1 : share) * (values[first + AMOUNT] / 100);
  },
};
