import {
  THREE_ABOVE,
  THREE_AMOUNT,
  THREE_ATTACK,
  THREE_BELOW,
  THREE_BYTES,
  THREE_FORGET,
  THREE_GAIN,
  THREE_NOW,
  THREE_RELEASE,
  THREE_SECTION,
  THREE_SECTIONS,
  THREE_SLOPE,
} from '../dsp/kernel/effectLayout';
import { define, type Parameter } from '../space/parameter';
import { HZ, Q, setBiquad } from './biquad';
import type { EffectContext, EffectKind } from './effect';
import { decibels, factor, hertz, mix, percent, seconds } from './parameters';
import { WorkedInKernel } from './worked';

const LOW_CROSS = 1,
  HIGH_CROSS = 2,
  ATTACK = 3,
  RELEASE = 4,
  AMOUNT = 5,
  BANDS = 6,
  PER_BAND = 4,
  ABOVE = 0,
  DOWN = 1,
  BELOW = 2,
  GAIN = 3;
const bands: Record<string, Omit<Parameter, 'id'>> = {};
for (const name of ['low', 'middle', 'high']) {
  bands[`${name}Above`] = decibels(`${name}: above`, -60, 0, -24, `Level above which the ${name} band is turned down.`);
  bands[`${name}Ratio`] = factor(`${name}: ratio`, 1, 20, 3, 'How many dB more it takes for one dB more to come out.');
  bands[`${name}Below`] = decibels(
    `${name}: below`,
    -80,
    0,
    -60,
    `Level below which the ${name} band is brought up, by half of what is missing and no more than 18 dB.`,
  );
  bands[`${name}Gain`] = decibels(`${name}: gain`, -24, 24, 0, `Level of the ${name} band after that.`);
}

/**
 * Two crossovers of fourth order whose sum is all-pass (S. Linkwitz and R. Riley, 1976), a compressor downward and
 * upward in each band (gain law as in the compressor).
 */
export const threeBand: EffectKind = {
  id: 'threeBand',
  label: 'three-band compressor',
  family: 'dynamics',
  picture: 'curve',
  help: 'Turns loud parts down and brings soft ones up, in three bands apart.',
  parameters: define({
    mix: mix(),
    lowCross: hertz('low | middle', 40, 1000, 180, 'Where the low band ends.'),
    highCross: hertz('middle | high', 800, 12000, 2800, 'Where the high band begins.'),
    attack: seconds('attack', 0.0005, 0.2, 0.012, 'Time to 63 % of the way down.'),
    release: seconds('release', 0.01, 2, 0.14, 'Time to 63 % of the way back.'),
    amount: percent('amount', 100, 'How much of all this is done.'),
    ...bands,
  }),
  tail: () => 0.15,
  room: () => THREE_BYTES / 4,
  make: (context) => new ThreeBand(context),
  readings: [
    { label: 'low', unit: 'dB' },
    { label: 'middle', unit: 'dB' },
    { label: 'high', unit: 'dB' },
  ],
  presets: [
    { name: 'evens out', values: {} },
    {
      name: 'brings all up',
      values: { lowBelow: -30, middleBelow: -30, highBelow: -34, lowAbove: -18, middleAbove: -18, highAbove: -18 },
    },
    { name: 'tames the top', values: { lowRatio: 1, middleRatio: 1, highAbove: -36, highRatio: 5 } },
    { name: 'firm ground', values: { lowAbove: -30, lowRatio: 6, middleRatio: 1, highRatio: 1, lowGain: 2 } },
    {
      name: 'crowded and bright',
      values: {
        lowAbove: -36,
        middleAbove: -36,
        highAbove: -38,
        lowRatio: 8,
        middleRatio: 8,
        highRatio: 8,
        lowBelow: -40,
        middleBelow: -40,
        highBelow: -44,
        lowGain: 6,
        middleGain: 6,
        highGain: 9,
        mix: 50,
      },
    },
  ],
};

class ThreeBand extends WorkedInKernel {
  readonly readings = new Float32Array(3);
  private readonly by = new Float64Array(3);
  constructor(context: EffectContext) {
    super(context, BANDS + 3 * PER_BAND);
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    const { by, rate } = this;
    const { numbers } = this.kernel;
    const at = this.elementAt(THREE_SECTIONS);
    const size = THREE_SECTION >> 3;
    by[Q] = Math.SQRT1_2;
    by[HZ] = values[LOW_CROSS];
    setBiquad(numbers, at, 'low-pass', by, rate);
    setBiquad(numbers, at + size, 'high-pass', by, rate);
    by[HZ] = Math.max(values[HIGH_CROSS], values[LOW_CROSS] * 1.2);
    setBiquad(numbers, at + 2 * size, 'low-pass', by, rate);
    setBiquad(numbers, at + 3 * size, 'high-pass', by, rate);
    setBiquad(numbers, at + 4 * size, 'all-pass', by, rate);
    this.setNumber(THREE_ATTACK, 1 - Math.exp(-1 / (values[ATTACK] * rate)));
    this.setNumber(THREE_RELEASE, 1 - Math.exp(-1 / (values[RELEASE] * rate)));
    this.setNumber(THREE_FORGET, Math.exp(-1 / (0.012 * rate)));
    this.setNumber(THREE_AMOUNT, values[AMOUNT] / 100);
    for (let b = 0; b < 3; b++) {
      const first = BANDS + b * PER_BAND;
      this.setNumber(THREE_ABOVE + 8 * b, values[first + ABOVE]);
      this.setNumber(THREE_SLOPE + 8 * b, 1 / values[first + DOWN] - 1);
      this.setNumber(THREE_BELOW + 8 * b, values[first + BELOW]);
      this.setNumber(THREE_GAIN + 8 * b, values[first + GAIN]);
    }
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { kernel, readings } = this;
    kernel.bring(left, right, from, to);
    kernel.loops.threeBands(this.place, to - from);
    kernel.take(left, right, from, to);
    for (let b = 0; b < 3; b++) readings[b] = -kernel.numbers[this.elementAt(THREE_NOW + 8 * b)];
  }
}
