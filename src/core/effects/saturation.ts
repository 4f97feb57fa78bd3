import {
  HALF_REACHES,
  SATURATION_BYTES,
  SATURATION_CURVE,
  SATURATION_GAIN,
  SHARP_REACH,
} from '../dsp/kernel/effectLayout';
import { define } from '../space/parameter';
import { rmsOver } from './levels';
import type { EffectContext, EffectKind } from './effect';
import { choice, decibels, hertz, mix } from './parameters';
import { WorkedInKernel } from './worked';

export const CURVES = ['soft', 'tube-like', 'fold', 'hard'] as const;
const TIMES = 8;
const CURVE = 1,
  DRIVE = 2,
  MATCH = 3,
  TONE = 4,
  LEVEL = 5;
/** Frames by which what comes back from eight times the rate is later. */
const FILTER_DELAY = (HALF_REACHES[0] + SHARP_REACH) * 4 + 2 * (HALF_REACHES[1] * 2 + HALF_REACHES[2]) - (TIMES - 1);
/** One sample more is left to what is done there. */
const LATENCY = (FILTER_DELAY + 1) / TIMES;

/**
 * Wave shapers at eight times the rate (see the kernel's `saturation.ts`), each worked out from the second antiderivative of its curve, so that what lies
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
  latency: () => LATENCY,
  room: () => SATURATION_BYTES / 4,
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

class Saturation extends WorkedInKernel {
  /** By side: the state of the high cut, and of what blocks a steady part. */
  private readonly state = new Float64Array(2 * 3);
  /** Mean square in and out, gain now. */
  private readonly levels = Float64Array.of(0, 0, 1);
  private begun = false;
  constructor(context: EffectContext) {
    super(context, 6);
  }
  override aim(values: Float64Array): void {
    const another = values[CURVE] !== this.values[CURVE] || !this.begun;
    super.aim(values);
    this.begun = true;
    this.setNumber(SATURATION_GAIN, 10 ** (values[DRIVE] / 20));
    this.setWhole(SATURATION_CURVE, values[CURVE]);
    if (another) this.reset();
  }
  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { values, levels, rate, kernel } = this;
    const frames = to - from;
    const before = rmsOver(left, right, from, to);
    kernel.bring(left, right, from, to);
    kernel.loops.saturate(this.place, frames);
    kernel.take(left, right, from, to);
    this.finish(left, 0, from, to);
    this.finish(right, 3, from, to);
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

  /** The high cut, and nothing steady. */
  private finish(buffer: Float32Array, at: number, from: number, to: number): void {
    const { state, values, rate } = this;
    const open = values[TONE] >= 20000;
    const a = open ? 1 : 1 - Math.exp((-2 * Math.PI * values[TONE]) / rate);
    const block = 1 - (2 * Math.PI * 5) / rate;
    const blocks = values[CURVE] === 1;
    let low = state[at],
      was = state[at + 1],
      out = state[at + 2];
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
    state[at] = low < 1e-18 && low > -1e-18 ? 0 : low;
    state[at + 1] = was;
    state[at + 2] = out < 1e-18 && out > -1e-18 ? 0 : out;
  }

  override reset(): void {
    this.memory.fill(0);
    this.setNumber(SATURATION_GAIN, 10 ** (this.values[DRIVE] / 20));
    this.setWhole(SATURATION_CURVE, this.values[CURVE]);
    this.kernel.loops.saturateRest(this.place);
    this.state.fill(0);
    this.levels[0] = this.levels[1] = 0;
    this.levels[2] = 1;
  }
}
