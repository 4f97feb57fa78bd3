import { define } from '../space/parameter';
import { HZ, Q, runBiquad, SECTION, setBiquad } from './biquad';
import type { Effect, EffectContext, EffectKind } from './effect';
import { choice, decibels, factor, hertz, mix, seconds } from './parameters';

const THRESHOLD = 1,
  RATIO = 2,
  KNEE = 3,
  ATTACK = 4,
  RELEASE = 5,
  MAKEUP = 6,
  MEASURED = 7,
  SIDE_CUT = 8;
/**
 * How fast a peak is forgotten at the most, so that the waves of a low tone are not followed one by one; with a quick
 * release it is forgotten in a tenth of that.
 */
const PEAK_SECONDS = 0.012;
/** How fast makeup that is measured follows what is taken away. */
const MEASURE_SECONDS = 2;

/**
 * What goes out for what comes in, both in dB, at rest: below the knee as it is, above it by the ratio, a parabola in
 * between (D. Giannoulis, M. Massberg, J. D. Reiss, "Digital Dynamic Range Compressor
 * Design", JAES 60, 2012, eq. 4).
 */
export function staticCurve(inDb: number, threshold: number, ratio: number, knee: number): number {
  const over = inDb - threshold;
  if (2 * over < -knee) return inDb;
  if (2 * over > knee) return threshold + over / ratio;
  return inDb + ((1 / ratio - 1) * (over + knee / 2) ** 2) / (2 * knee);
}

/**
 * Feed-forward, level and gain in dB; attack and release are the times in which the gain gets 63 % of its way (the same
 * paper, eq. 17, smooth and branching).
 */
export const compressor: EffectKind = {
  id: 'compressor',
  label: 'compressor',
  family: 'dynamics',
  picture: 'curve',
  help: 'Makes loud parts softer, so that soft ones can be heard. It may listen to another layer.',
  parameters: define({
    mix: mix(),
    threshold: decibels('threshold', -60, 0, -20, 'Level from which it works.'),
    ratio: factor('ratio', 1, 20, 3, 'How many dB more it takes for one dB more to come out.'),
    knee: decibels('knee', 0, 24, 6, 'How gently it sets in around the threshold.'),
    attack: seconds('attack', 0.0001, 0.3, 0.01, 'Time in which the gain gets 63 % of its way down.'),
    release: seconds(
      'release',
      0.005,
      3,
      0.12,
      'Time in which the gain gets 63 % of its way back; it sets out up to 24 ms after a loud peak, so that single waves of a low tone are not followed.',
    ),
    makeup: decibels('makeup', -12, 24, 0, 'Gain after it.'),
    measured: choice(
      'makeup is',
      ['by hand', 'measured'],
      'by hand',
      'By hand, or as much on average as it takes away.',
    ),
    sideCut: hertz('side low cut', 20, 1000, 20, 'What it listens to loses what lies below.'),
  }),
  tail: () => 0.05,
  settles: (values) => (values[MEASURED] === 1 ? MEASURE_SECONDS : 0),
  listens: true,
  make: (context) => new Compressor(context),
  readings: [{ label: 'takes away', unit: 'dB' }],
  presets: [
    {
      name: 'holds keys together',
      values: { threshold: -22, ratio: 3, knee: 9, attack: 0.012, release: 0.14, measured: 1 },
    },
    { name: 'firm bass', values: { threshold: -24, ratio: 5, knee: 4, attack: 0.02, release: 0.18, measured: 1 } },
    { name: 'snap', values: { threshold: -26, ratio: 4, knee: 3, attack: 0.03, release: 0.08, measured: 1 } },
    {
      name: 'pressed flat',
      values: { threshold: -36, ratio: 10, knee: 6, attack: 0.002, release: 0.06, measured: 1, mix: 60 },
    },
    { name: 'gives way', values: { threshold: -34, ratio: 6, knee: 6, attack: 0.004, release: 0.25 } },
  ],
};

class Compressor implements Effect {
  readonly readings = new Float32Array(1);
  private readonly values = new Float64Array(9);
  private readonly side: EffectContext['side'];
  private readonly rate: number;
  private readonly cut = new Float64Array(SECTION);
  private readonly states = new Float64Array(4);
  private readonly by = new Float64Array(3);
  private readonly heardLeft = new Float32Array(32);
  private readonly heardRight = new Float32Array(32);
  /** Peak that is held, gain in dB, its mean. */
  private readonly state = new Float64Array(3);

  constructor({ rate, side }: EffectContext) {
    this.rate = rate;
    this.side = side;
  }

  aim(values: Float64Array): void {
    for (let i = 0; i < this.values.length; i++) this.values[i] = values[i];
    this.by[HZ] = values[SIDE_CUT];
    this.by[Q] = Math.SQRT1_2;
    setBiquad(this.cut, 0, 'high-pass', this.by, this.rate);
  }

  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, state, side, heardLeft, heardRight, rate } = this;
    const frames = to - from;
    const hearLeft = side ? side.left : left;
    const hearRight = side ? side.right : right;
    for (let i = 0; i < frames; i++) {
      heardLeft[i] = hearLeft[from + i];
      heardRight[i] = hearRight[from + i];
    }
    if (values[SIDE_CUT] > 20) {
      runBiquad(this.cut, 0, this.states, 0, heardLeft, 0, frames);
      runBiquad(this.cut, 0, this.states, 2, heardRight, 0, frames);
    }
    const threshold = values[THRESHOLD],
      slope = 1 / values[RATIO] - 1,
      knee = values[KNEE];
    const attack = 1 - Math.exp(-1 / (values[ATTACK] * rate));
    const release = 1 - Math.exp(-1 / (values[RELEASE] * rate));
    const forget = Math.exp(-1 / (Math.min(PEAK_SECONDS, 0.1 * values[RELEASE]) * rate));
    const measured = values[MEASURED] === 1;
    const follow = 1 - Math.exp(-1 / (MEASURE_SECONDS * rate));
    let peak = state[0],
      gain = state[1],
      mean = state[2];
    for (let i = 0; i < frames; i++) {
      const l = heardLeft[i] < 0 ? -heardLeft[i] : heardLeft[i];
      const r = heardRight[i] < 0 ? -heardRight[i] : heardRight[i];
      const height = l > r ? l : r;
      peak = height > peak ? height : peak * forget;
      const over = 8.685889638065037 * Math.log(peak + 1e-12) - threshold;
      let target = 0;
      if (2 * over > knee) target = slope * over;
      else if (2 * over > -knee) target = (slope * (over + knee / 2) * (over + knee / 2)) / (2 * knee);
      gain += (target - gain) * (target < gain ? attack : release);
      if (peak > 1e-4) mean += (gain - mean) * follow;
      const factor = Math.exp((gain + (measured ? values[MAKEUP] - mean : values[MAKEUP])) * 0.1151292546497023);
      left[from + i] *= factor;
      right[from + i] *= factor;
    }
    state[0] = peak < 1e-12 ? 0 : peak;
    state[1] = gain > -1e-9 ? 0 : gain;
    state[2] = mean;
    this.readings[0] = -gain;
  }

  reset(): void {
    this.state.fill(0);
    this.states.fill(0);
    this.readings[0] = 0;
  }
}
