import { define } from '../space/parameter';
import type { EffectContext, EffectKind } from './effect';
import { decibels, mix, seconds } from './parameters';
import { Worked } from './worked';

const THRESHOLD = 1,
  RANGE = 2,
  ATTACK = 3,
  HOLD = 4,
  RELEASE = 5;
/** It closes this far below where it opens. */
const BETWEEN_DB = 3;

/**
 * Open above a level, closed below it; attack and release as times to 63 % of the way in dB (gain law as in the
 * compressor).
 */
export const gate: EffectKind = {
  id: 'gate',
  label: 'gate',
  family: 'dynamics',
  picture: 'curve',
  help: 'Lets through what is loud enough. It may listen to another layer.',
  parameters: define({
    mix: mix(),
    threshold: decibels('threshold', -80, 0, -40, 'Level from which it is open; it closes 3 dB below.'),
    range: decibels('closed by', 0, 80, 60, 'How much softer it is while closed.'),
    attack: seconds('attack', 0.0001, 0.1, 0.001, 'Time to 63 % of the way open.'),
    hold: seconds('hold', 0, 1, 0.03, 'Time it stays open after that.'),
    release: seconds('release', 0.005, 2, 0.08, 'Time to 63 % of the way closed.'),
  }),
  tail: () => 0.02,
  listens: true,
  make: (context) => new Gate(context),
  readings: [{ label: 'closed by', unit: 'dB' }],
  presets: [
    { name: 'clean ends', values: { threshold: -50, release: 0.15 } },
    { name: 'chopped', values: { threshold: -26, hold: 0.02, release: 0.02 } },
    { name: 'half closed', values: { range: 12, threshold: -34 } },
    { name: 'only the loud', values: { threshold: -16, release: 0.2 } },
    { name: 'opens with another', values: { threshold: -30, hold: 0.06, release: 0.12 } },
  ],
};

class Gate extends Worked {
  readonly readings = new Float32Array(1);
  private readonly side: EffectContext['side'];
  /** Peak, gain in dB, frames of hold left, open or not. */
  private readonly state = Float64Array.of(0, 0, 0, 1);
  constructor(context: EffectContext) {
    super(context, 6);
    const { side } = context;
    this.side = side;
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, state, rate, side } = this;
    const hearLeft = side ? side.left : left,
      hearRight = side ? side.right : right;
    const attack = 1 - Math.exp(-1 / (values[ATTACK] * rate)),
      release = 1 - Math.exp(-1 / (values[RELEASE] * rate)),
      forget = Math.exp(-1 / (0.008 * rate));
    const opens = 10 ** (values[THRESHOLD] / 20),
      closes = 10 ** ((values[THRESHOLD] - BETWEEN_DB) / 20);
    let peak = state[0],
      gain = state[1],
      hold = state[2],
      open = state[3];
    for (let i = from; i < to; i++) {
      const height = Math.max(
        hearLeft[i] < 0 ? -hearLeft[i] : hearLeft[i],
        hearRight[i] < 0 ? -hearRight[i] : hearRight[i],
      );
      peak = height > peak ? height : peak * forget;
      if (peak >= opens) {
        open = 1;
        hold = values[HOLD] * rate;
      } else if (peak < closes) {
        if (hold > 0) hold--;
        else open = 0;
      }
      const target = open === 1 ? 0 : -values[RANGE];
      gain += (target - gain) * (target > gain ? attack : release);
      const factor = Math.exp(gain * 0.1151292546497023);
      left[i] *= factor;
      right[i] *= factor;
    }
    state[0] = peak < 1e-12 ? 0 : peak;
    state[1] = gain;
    state[2] = hold;
    state[3] = open;
    this.readings[0] = -gain;
  }
  reset(): void {
    this.state.fill(0);
    this.state[3] = 1;
  }
}
