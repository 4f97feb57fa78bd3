/**
 * Saturation written plainly, sample by sample in double precision: what the kernel's loops are held against. Slow, and used
 * by tests alone.
 */
import type { EffectContext } from '../../../src/core/effects/effect';
import { rmsOver } from '../../../src/core/effects/levels';
import { Worked } from '../../../src/core/effects/worked';

/**
 * Eight times as many samples, and back, through three half-band filters each way (windowed sinc, Kaiser β = 9: more
 * than 90 dB). The last one back is a filter of its own: half-band ones let through what lies
 * just above half the rate, which would fold to just below it.
 */
const REACHES = [31, 9, 5];
const TIMES = 8;
/** It passes to 20 kHz and stops at 24 kHz, of 48 000 frames a second. */
const SHARP_REACH = 69,
  SHARP_CUT = 22 / 96;
/** Samples, at the high rate, by which what comes back is later: made a whole number of frames. */
const FILTER_DELAY = (REACHES[0] + SHARP_REACH) * 4 + 2 * (REACHES[1] * 2 + REACHES[2]) - (TIMES - 1);
const OVERSAMPLER_FRAMES = Math.ceil((FILTER_DELAY + 1) / TIMES);
/** One sample of the delay is left to what is done at the high rate. */
const PADDING = OVERSAMPLER_FRAMES * TIMES - FILTER_DELAY - 1;
const SPAN = 32;

const bessel = (x: number): number => {
  let sum = 1;
  for (let term = 1, k = 1; k < 40; k++) sum += term *= (x / (2 * k)) ** 2;
  return sum;
};

/** The middle, then one side. */
const SHARP: Float64Array = (() => {
  const taps = Float64Array.from(
    { length: SHARP_REACH + 1 },
    (_, i) =>
      (i === 0 ? 2 * SHARP_CUT : Math.sin(2 * Math.PI * SHARP_CUT * i) / (Math.PI * i)) *
      (bessel(9 * Math.sqrt(1 - (i / (SHARP_REACH + 1)) ** 2)) / bessel(9)),
  );
  const sum = taps.reduce((a, b) => a + 2 * b);
  return taps.map((tap) => tap / sum);
})();

const TAPS: readonly Float64Array[] = REACHES.map((reach) => {
  // The odd taps of one side; the middle is a half and the even ones are 0.
  const taps = Float64Array.from({ length: (reach + 1) / 2 }, (_, n) => {
    const i = 2 * n + 1;
    return (
      (Math.sin((Math.PI * i) / 2) / (Math.PI * i)) * (bessel(9 * Math.sqrt(1 - (i / (reach + 1)) ** 2)) / bessel(9))
    );
  });
  const sum = taps.reduce((a, b) => a + b);
  return taps.map((tap) => (tap * 0.25) / sum);
});

/** One channel of it. `high` holds eight samples for each frame of the span between {@link up} and {@link down}. */
class Oversampler {
  readonly high = new Float64Array(SPAN * TIMES);
  private readonly ups = REACHES.map((reach, n) => new Float64Array(reach + SPAN * 2 ** n + 1));
  private readonly downs = REACHES.map(
    (reach, n) => new Float64Array(2 * (n === 0 ? SHARP_REACH : reach) + SPAN * 2 ** (n + 1) + 2),
  );
  private readonly work = [new Float64Array(SPAN * 2), new Float64Array(SPAN * 4), new Float64Array(SPAN * 8)];
  private readonly pad = new Float64Array(PADDING + SPAN * TIMES);

  up(buffer: Float32Array, from: number, to: number): void {
    let count = to - from;
    for (let n = 0; n < 3; n++) {
      const reach = REACHES[n];
      const line = this.ups[n];
      const out = n === 2 ? this.high : this.work[n];
      const input = n === 0 ? null : this.work[n - 1];
      for (let i = 0; i < count; i++) line[reach + i] = input ? input[i] : buffer[from + i];
      const taps = TAPS[n];
      const half = (reach + 1) / 2;
      for (let i = 0; i < count; i++) {
        // Between two samples: the odd taps, on as many samples to each side. On a sample: the sample itself.
        let sum = 0;
        for (let t = 0; t < half; t++) sum += taps[t] * (line[i + half - 1 - t] + line[i + half + t]);
        out[2 * i] = 2 * sum;
        out[2 * i + 1] = line[i + half];
      }
      line.copyWithin(0, count, count + reach);
      count *= 2;
    }
  }

  down(buffer: Float32Array, from: number, to: number): void {
    let count = (to - from) * TIMES;
    const { pad, high } = this;
    for (let i = 0; i < count; i++) pad[PADDING + i] = high[i];
    for (let i = 0; i < count; i++) high[i] = pad[i];
    pad.copyWithin(0, count, count + PADDING);
    for (let n = 2; n >= 0; n--) {
      const reach = n === 0 ? SHARP_REACH : REACHES[n];
      const line = this.downs[n];
      const input = n === 2 ? high : this.work[n];
      const taps = TAPS[n];
      const keep = 2 * reach;
      for (let i = 0; i < count; i++) line[keep + i] = input[i];
      const half = (reach + 1) / 2;
      for (let i = 0; i < count / 2; i++) {
        const middle = 2 * i + reach + 1;
        if (n === 0) {
          let sum = SHARP[0] * line[middle];
          for (let t = 1; t <= SHARP_REACH; t++) sum += SHARP[t] * (line[middle - t] + line[middle + t]);
          buffer[from + i] = sum;
          continue;
        }
        let sum = 0.5 * line[middle];
        for (let t = 0; t < half; t++) sum += taps[t] * (line[middle - 2 * t - 1] + line[middle + 2 * t + 1]);
        this.work[n - 1][i] = sum;
      }
      line.copyWithin(0, count, count + keep);
      count /= 2;
    }
  }

  reset(): void {
    for (const line of [...this.ups, ...this.downs, this.pad]) line.fill(0);
  }
}

const CURVE = 1,
  DRIVE = 2,
  MATCH = 3,
  TONE = 4,
  LEVEL = 5;
/** How far the tube-like curve is bent out of its middle. */
const BIAS = 0.45;
const BENT = Math.sqrt(1 + BIAS * BIAS);
const NEAR = 1e-3;

export class PlainSaturation extends Worked {
  private readonly overs = [new Oversampler(), new Oversampler()];
  /**
   * By side: the last two inputs, and the divided difference between them; then the state of the high cut, and of what
   * blocks a steady part.
   */
  private readonly state = new Float64Array(2 * 8);
  private readonly terms = new Float64Array(6);
  /** Mean square in and out, gain now. */
  private readonly levels = Float64Array.of(0, 0, 1);
  constructor(context: EffectContext) {
    super(context, 6);
  }
  override aim(values: Float64Array): void {
    const another = values[CURVE] !== this.values[CURVE] || !this.begun;
    super.aim(values);
    this.begun = true;
    if (another) this.reset();
  }
  private begun = false;
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, levels, rate } = this;
    const frames = to - from;
    const before = rmsOver(left, right, from, to);
    for (let side = 0; side < 2; side++) {
      const buffer = side === 0 ? left : right;
      const over = this.overs[side];
      over.up(buffer, from, to);
      this.bend(over.high, side * 8, frames * TIMES);
      over.down(buffer, from, to);
      this.finish(buffer, side * 8, from, to);
    }
    // Levels are compared over a fifth of a second.
    const share = 1 - Math.exp(-frames / (0.2 * rate));
    const after = rmsOver(left, right, from, to);
    levels[0] += (before - levels[0]) * share;
    levels[1] += (after - levels[1]) * share;
    const wanted =
      values[MATCH] === 1 && levels[1] > 1e-9
        ? Math.min(4, Math.max(0.02, Math.sqrt(levels[0] / levels[1])))
        : values[MATCH] === 1
          ? levels[2]
          : 1;
    let gain = levels[2];
    const step = ((wanted - gain) * Math.min(1, share * 4)) / frames;
    const level = 10 ** (values[LEVEL] / 20);
    for (let i = from; i < to; i++) {
      gain += step;
      left[i] *= gain * level;
      right[i] *= gain * level;
    }
    levels[2] = gain;
  }

  /**
   * The curve, through its antiderivatives. The second one is worked out once for each sample, and kept for the next.
   */
  private bend(high: Float64Array, at: number, count: number): void {
    const { state, terms, values } = this;
    const gain = 10 ** (values[DRIVE] / 20);
    const curve = values[CURVE];
    let x1 = state[at],
      x2 = state[at + 1],
      d1 = state[at + 2],
      f1 = state[at + 6];
    for (let i = 0; i < count; i++) {
      const x0 = high[i] * gain;
      let f0: number;
      if (curve <= 1) {
        const b = curve === 0 ? x0 : x0 + BIAS;
        const size = b < 0 ? -b : b;
        const s = Math.sqrt(1 + b * b);
        f0 = 0.5 * (size * s + Math.log(size + s));
        if (b < 0) f0 = -f0;
        if (curve === 1) f0 = BENT * (f0 - (BIAS / BENT) * 0.5 * x0 * x0);
      } else if (curve === 2) f0 = -Math.sin(x0);
      else
        f0 =
          x0 > 1 ? 0.5 * x0 * x0 - 0.5 * x0 + 1 / 6 : x0 < -1 ? -0.5 * x0 * x0 - 0.5 * x0 - 1 / 6 : (x0 * x0 * x0) / 6;
      const way = x0 - x1;
      let d0: number;
      if (way < NEAR && way > -NEAR) {
        terms[0] = (x0 + x1) / 2;
        first(curve, terms);
        d0 = terms[1];
      } else d0 = (f0 - f1) / way;
      const both = x0 - x2;
      if (both < NEAR && both > -NEAR) {
        const middle = (x0 + x2) / 2;
        const off = middle - x1;
        if (off < NEAR && off > -NEAR) {
          terms[0] = (middle + x1) / 2;
          plain(curve, terms);
          high[i] = terms[1];
        } else {
          terms[0] = middle;
          first(curve, terms);
          const once = terms[1];
          second(curve, terms);
          high[i] = (2 / off) * (once + (f1 - terms[1]) / off);
        }
      } else high[i] = (2 / both) * (d0 - d1);
      x2 = x1;
      x1 = x0;
      d1 = d0;
      f1 = f0;
    }
    state[at] = x1;
    state[at + 1] = x2;
    state[at + 2] = d1;
    state[at + 6] = f1;
  }

  /** The high cut, and nothing steady. */
  private finish(buffer: Float32Array, at: number, from: number, to: number): void {
    const { state, values, rate } = this;
    const open = values[TONE] >= 20000;
    const a = open ? 1 : 1 - Math.exp((-2 * Math.PI * values[TONE]) / rate);
    const block = 1 - (2 * Math.PI * 5) / rate;
    const blocks = values[CURVE] === 1;
    let low = state[at + 3],
      was = state[at + 4],
      out = state[at + 5];
    for (let i = from; i < to; i++) {
      low += (buffer[i] - low) * a;
      let y = open ? buffer[i] : low;
      if (blocks) {
        out = y - was + block * out;
        was = y;
        y = out;
      }
      buffer[i] = y;
    }
    state[at + 3] = low < 1e-18 && low > -1e-18 ? 0 : low;
    state[at + 4] = was;
    state[at + 5] = out < 1e-18 && out > -1e-18 ? 0 : out;
  }

  reset(): void {
    for (const over of this.overs) over.reset();
    this.state.fill(0);
    this.rest(0);
    this.rest(8);
    this.levels[0] = this.levels[1] = 0;
    this.levels[2] = 1;
  }
  /** What the difference of antiderivatives is at rest. */
  private rest(at: number): void {
    this.terms[0] = 0;
    first(this.values[CURVE], this.terms);
    this.state[at + 2] = this.terms[1];
    this.terms[0] = 0;
    second(this.values[CURVE], this.terms);
    this.state[at + 6] = this.terms[1];
  }
}

/** The curve at terms[0], written to terms[1]; its first and second antiderivative. */
function plain(curve: number, terms: Float64Array): void {
  const x = terms[0];
  if (curve === 0) terms[1] = x / Math.sqrt(1 + x * x);
  else if (curve === 1) {
    const b = x + BIAS;
    terms[1] = BENT * (b / Math.sqrt(1 + b * b) - BIAS / BENT);
  } else if (curve === 2) terms[1] = Math.sin(x);
  else terms[1] = x > 1 ? 1 : x < -1 ? -1 : x;
}
function first(curve: number, terms: Float64Array): void {
  const x = terms[0];
  if (curve === 0) terms[1] = Math.sqrt(1 + x * x);
  else if (curve === 1) {
    const b = x + BIAS;
    terms[1] = BENT * (Math.sqrt(1 + b * b) - (BIAS / BENT) * x);
  } else if (curve === 2) terms[1] = -Math.cos(x);
  else terms[1] = x > 1 ? x - 0.5 : x < -1 ? -x - 0.5 : 0.5 * x * x;
}
function second(curve: number, terms: Float64Array): void {
  const x = terms[0];
  if (curve === 0) {
    const s = Math.sqrt(1 + x * x);
    terms[1] = 0.5 * (x * s + Math.asinh(x));
  } else if (curve === 1) {
    const b = x + BIAS;
    const s = Math.sqrt(1 + b * b);
    terms[1] = BENT * (0.5 * (b * s + Math.asinh(b)) - (BIAS / BENT) * 0.5 * x * x);
  } else if (curve === 2) terms[1] = -Math.sin(x);
  else terms[1] = x > 1 ? 0.5 * x * x - 0.5 * x + 1 / 6 : x < -1 ? -0.5 * x * x - 0.5 * x - 1 / 6 : (x * x * x) / 6;
}
