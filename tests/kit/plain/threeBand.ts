/**
 * A three-band compressor written plainly, sample by sample in double precision: what the kernel's loops are held against. Slow, and used
 * by tests alone.
 */
import { HZ, Q, runBiquad, SECTION, setBiquad } from '../../../src/core/effects/biquad';
import type { Effect, EffectContext } from '../../../src/core/effects/effect';

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
export class PlainThreeBand implements Effect {
  readonly readings = new Float32Array(3);
  private readonly rate: number;
  private readonly values = new Float64Array(BANDS + 3 * PER_BAND);
  /**
   * Low-pass and high-pass at each crossover; each is run twice. The low band goes through an all-pass of the second
   * crossover, so that all add up.
   */
  private readonly sections = new Float64Array(5 * SECTION);
  private readonly states = new Float64Array(2 * 9 * 2);
  private readonly by = new Float64Array(3);
  private readonly parts = Array.from({ length: 6 }, () => new Float32Array(64));
  private readonly peaks = new Float64Array(3);
  private readonly gains = new Float64Array(3);
  constructor({ rate }: EffectContext) {
    this.rate = rate;
  }
  aim(values: Float64Array): void {
    for (let i = 0; i < this.values.length; i++) this.values[i] = values[i];
    const { by, sections, rate } = this;
    by[Q] = Math.SQRT1_2;
    by[HZ] = values[LOW_CROSS];
    setBiquad(sections, 0, 'low-pass', by, rate);
    setBiquad(sections, SECTION, 'high-pass', by, rate);
    by[HZ] = Math.max(values[HIGH_CROSS], values[LOW_CROSS] * 1.2);
    setBiquad(sections, 2 * SECTION, 'low-pass', by, rate);
    setBiquad(sections, 3 * SECTION, 'high-pass', by, rate);
    setBiquad(sections, 4 * SECTION, 'all-pass', by, rate);
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { sections, states, parts, values, peaks, gains, rate, readings } = this;
    const frames = to - from;
    for (let side = 0; side < 2; side++) {
      const buffer = side === 0 ? left : right;
      const [low, middle, high] = [parts[side * 3], parts[side * 3 + 1], parts[side * 3 + 2]];
      const s = side * 18;
      for (let i = 0; i < frames; i++) low[i] = middle[i] = buffer[from + i];
      runBiquad(sections, 0, states, s, low, 0, frames);
      runBiquad(sections, 0, states, s + 2, low, 0, frames);
      runBiquad(sections, 4 * SECTION, states, s + 4, low, 0, frames);
      runBiquad(sections, SECTION, states, s + 6, middle, 0, frames);
      runBiquad(sections, SECTION, states, s + 8, middle, 0, frames);
      for (let i = 0; i < frames; i++) high[i] = middle[i];
      runBiquad(sections, 2 * SECTION, states, s + 10, middle, 0, frames);
      runBiquad(sections, 2 * SECTION, states, s + 12, middle, 0, frames);
      runBiquad(sections, 3 * SECTION, states, s + 14, high, 0, frames);
      runBiquad(sections, 3 * SECTION, states, s + 16, high, 0, frames);
    }
    const attack = 1 - Math.exp(-1 / (values[ATTACK] * rate)),
      release = 1 - Math.exp(-1 / (values[RELEASE] * rate)),
      forget = Math.exp(-1 / (0.012 * rate));
    for (let i = 0; i < frames; i++) left[from + i] = right[from + i] = 0;
    for (let b = 0; b < 3; b++) {
      const l = parts[b],
        r = parts[3 + b];
      const at = BANDS + b * PER_BAND;
      const above = values[at + ABOVE],
        slope = 1 / values[at + DOWN] - 1,
        below = values[at + BELOW],
        makeup = values[at + GAIN],
        amount = values[AMOUNT] / 100;
      let peak = peaks[b],
        gain = gains[b];
      for (let i = 0; i < frames; i++) {
        const height = Math.max(l[i] < 0 ? -l[i] : l[i], r[i] < 0 ? -r[i] : r[i]);
        peak = height > peak ? height : peak * forget;
        const level = 8.685889638065037 * Math.log(peak + 1e-12);
        let target = 0;
        if (level > above) target = slope * (level - above);
        // Silence is not brought up.
        if (level < below && level > -90) target += Math.min(18, (below - level) / 2);
        gain += (target - gain) * (target < gain ? attack : release);
        const factor = Math.exp((gain * amount + makeup * amount) * 0.1151292546497023);
        left[from + i] += l[i] * factor;
        right[from + i] += r[i] * factor;
      }
      peaks[b] = peak < 1e-12 ? 0 : peak;
      gains[b] = gain;
      readings[b] = -gain;
    }
  }
  reset(): void {
    this.states.fill(0);
    this.peaks.fill(0);
    this.gains.fill(0);
  }
}
