import { define } from '../space/parameter';
import { rmsOver } from './levels';
import { Oversampler, OVERSAMPLER_FRAMES, TIMES } from './oversampler';
import type { EffectContext, EffectKind } from './effect';
import { choice, decibels, hertz, mix } from './parameters';
import { Worked } from './worked';

export const CURVES = ['soft', 'tube-like', 'fold', 'hard'] as const;
const CURVE = 1,
  DRIVE = 2,
  MATCH = 3,
  TONE = 4,
  LEVEL = 5;
/** How far the tube-like curve is bent out of its middle. */
const BIAS = 0.45;
const BENT = Math.sqrt(1 + BIAS * BIAS);
const NEAR = 1e-3;

/**
 * Wave shapers at eight times the rate, each worked out from the second antiderivative of its curve, so that what lies
 * above half the rate folds back next to nothing (J. Parker, V. Zavalishin, E. Le Bivic, DAFx 2016;
 * S. Bilbao, F. Esqueda, J. Parker, V. Välimäki, IEEE SPL 24, 2017).
 */
export const saturation: EffectKind = {
  id: 'saturation',
  label: 'saturation',
  family: 'colour',
  picture: 'curve',
  help: 'Bends the wave: softly, as tubes do, folded or hard. It does not alias.',
  parameters: define({
    mix: mix(),
    curve: choice('curve', CURVES, 'soft', 'How the wave is bent.'),
    drive: decibels('drive', 0, 30, 8, 'Gain before it.'),
    match: choice('level', ['as it comes', 'matched'], 'matched', 'Whether what goes out is as loud as what came in.'),
    tone: hertz('high cut', 500, 20000, 20000, 'What lies above is taken off after it.'),
    level: decibels('gain', -24, 12, 0, 'Gain after it.'),
  }),
  remakes: ['curve'],
  tail: (values) => (values[CURVE] === 1 ? 0.6 : 0.06),
  latency: () => OVERSAMPLER_FRAMES,
  make: (context) => new Saturation(context),
  inChain: { drive: 3 },
  presets: [
    { name: 'a little warmth', values: { drive: 4 } },
    { name: 'tube glow', values: { curve: 1, drive: 9 } },
    { name: 'edge', values: { curve: 0, drive: 18, tone: 9000 } },
    { name: 'folded bell', values: { curve: 2, drive: 12, mix: 60 } },
    { name: 'torn', values: { curve: 3, drive: 26, tone: 6000 } },
  ],
};

class Saturation extends Worked {
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
