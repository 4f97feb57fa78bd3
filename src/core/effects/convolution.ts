import {
  CONVOLUTION_DELAY,
  CONVOLUTION_DIRECT,
  CONVOLUTION_FILTERS,
  CONVOLUTION_FRAME,
  CONVOLUTION_GAIN,
  CONVOLUTION_HIGH,
  CONVOLUTION_LINE,
  CONVOLUTION_LONGS,
  CONVOLUTION_LONG_READY,
  CONVOLUTION_LOW,
  CONVOLUTION_MASK,
  CONVOLUTION_PLACE,
  CONVOLUTION_RECENT,
  CONVOLUTION_SHORT_READY,
  CONVOLUTION_SHORT_RESPONSE,
  CONVOLUTION_WIDE,
  LINE_FRAME_BYTES,
  LONG,
  LONG_SPECTRUM,
  SHORT,
  SHORTS,
} from '../dsp/kernel/effectLayout';
import { PAD, type PreparedSample } from '../dsp/sample';
import { define } from '../space/parameter';
import { roomFor } from './delayMemory';
import type { EffectContext, EffectKind } from './effect';
import { decibels, hertz, mix, percent, seconds } from './parameters';
import { WorkedInKernel } from './worked';

const PREDELAY = 1,
  LENGTH = 2,
  LOW_CUT = 3,
  HIGH_CUT = 4,
  GAIN = 5,
  WIDTH = 6;
export const LONGEST_IMPULSE = 6;
const LONGEST_PREDELAY = 0.5;
const longsFor = (rate: number): number => Math.ceil((LONGEST_IMPULSE * rate - 2 * LONG) / LONG);
const lineFor = (rate: number): number => roomFor(LONGEST_PREDELAY * rate + 1);

/**
 * Convolution with a recording: its first 128 frames directly, so that nothing comes later than it came in, then in
 * blocks by fast Fourier transform, short ones before long ones whose work is spread over the time
 * until they are wanted (W. G. Gardner, "Efficient convolution without input–output delay", JAES 43, 1995). The
 * recording is transformed as it is needed, a block ahead of the sound.
 */
export const convolution: EffectKind = {
  id: 'convolution',
  label: 'convolution',
  family: 'space',
  picture: 'decay',
  help: 'The space, or the body, of a recording that you bring.',
  parameters: define({
    mix: mix(40),
    predelay: seconds('pre-delay', 0, LONGEST_PREDELAY, 0, 'Time before it answers.'),
    length: percent('length', 100, 'How much of the recording is used.', 1, 100),
    lowCut: hertz('low cut', 20, 2000, 120, 'What lies below stays out of it.'),
    highCut: hertz('high cut', 1000, 20000, 20000, 'What lies above is taken off.'),
    gain: decibels('gain', -36, 24, 0, 'How loud it is.'),
    width: percent('width', 100, 'From the middle to as it is.', 0, 150),
  }),
  tail: (values) => LONGEST_IMPULSE * (values[LENGTH] / 100) + values[PREDELAY] + 0.2,
  impulse: true,
  room: (rate) => (CONVOLUTION_LINE + LINE_FRAME_BYTES * lineFor(rate) + 2 * LONG_SPECTRUM * longsFor(rate)) / 4,
  make: (context) => new Convolution(context),
  inChain: { mix: 30 },
  presets: [
    { name: 'as it is', values: {} },
    { name: 'far back', values: { mix: 70, predelay: 0.04, highCut: 6000 } },
    { name: 'first moments', values: { length: 12, mix: 60 } },
    { name: 'through it', values: { mix: 100, lowCut: 20 } },
    { name: 'dark hall', values: { highCut: 3500, lowCut: 90, mix: 45 } },
  ],
};

/**
 * A stretch of a recording at the engine's rate, from frame `first` on: its spline read at each frame, up to `end`, and
 * from `fadeAt` on softer towards it. Left goes to `into[at]`, right `apart` elements further, two frames of each side
 * by side (`pairs`) or one after another.
 */
function stretchOf(
  { rate: own, channels, levels: [{ frames, data }] }: PreparedSample,
  rate: number,
  { first, count, end, fadeAt }: { first: number; count: number; end: number; fadeAt: number },
  into: Float32Array,
  at: number,
  apart: number,
  pairs: boolean,
): void {
  const other = channels > 1 ? 1 : 0;
  for (let i = 0; i < count; i++) {
    const frame = first + i;
    const place = (frame * own) / rate;
    const whole = Math.floor(place);
    const x = place - whole;
    const to = at + (pairs ? 4 * (i >> 1) + (i & 1) : i);
    if (whole >= frames || frame >= end) {
      into[to] = into[to + apart] = 0;
      continue;
    }
    const fade = frame > fadeAt ? (end - frame) / (end - fadeAt) : 1;
    const u = 1 - x;
    // Cubic B-spline on sixths of its coefficients.
    const w0 = u * u * u * fade,
      w1 = (4 - 6 * x * x + 3 * x * x * x) * fade,
      w2 = (4 - 6 * u * u + 3 * u * u * u) * fade,
      w3 = x * x * x * fade;
    const d = (whole - 1 + PAD) * channels;
    into[to] = w0 * data[d] + w1 * data[d + channels] + w2 * data[d + 2 * channels] + w3 * data[d + 3 * channels];
    const r = d + other;
    into[to + apart] =
      w0 * data[r] + w1 * data[r + channels] + w2 * data[r + 2 * channels] + w3 * data[r + 3 * channels];
  }
}

class Convolution extends WorkedInKernel {
  private readonly impulse: PreparedSample | null;
  private readonly longs: number;
  private readonly mask: number;
  private heldLength = 0;
  /** Blocks of the recording that are transformed, and blocks of the past, at most as many as there are: by size. */
  private readonly ready = new Int32Array(2);
  private readonly taken = new Int32Array(2);
  /** The frame within a long block. */
  private frame = 0;

  constructor(context: EffectContext) {
    super(context, 7);
    const { rate, impulse } = context;
    this.impulse = impulse;
    const frames = impulse ? (impulse.levels[0].frames * rate) / impulse.rate : 0;
    this.longs = Math.max(1, Math.min(longsFor(rate), Math.ceil((frames - 2 * LONG) / LONG)));
    this.mask = lineFor(rate) - 1;
    this.setWhole(CONVOLUTION_MASK, this.mask);
    this.setWhole(CONVOLUTION_LONGS, this.longs);
  }

  override aim(values: Float64Array): void {
    super.aim(values);
    const { rate } = this;
    const low = values[LOW_CUT] <= 20 ? 0 : 1 - Math.exp((-2 * Math.PI * values[LOW_CUT]) / rate);
    const high = values[HIGH_CUT] >= 19999 ? 1 : 1 - Math.exp((-2 * Math.PI * values[HIGH_CUT]) / rate);
    this.setNumber(CONVOLUTION_LOW, low);
    this.setNumber(CONVOLUTION_HIGH, high);
    this.setNumber(CONVOLUTION_GAIN, 10 ** (values[GAIN] / 20));
    this.setNumber(CONVOLUTION_WIDE, values[WIDTH] / 100);
    this.setWhole(CONVOLUTION_DELAY, Math.min(this.mask, Math.round(values[PREDELAY] * rate)));
    if (values[LENGTH] === this.heldLength) return;
    // Another part of the recording: it is transformed anew, a block ahead of the sound.
    this.heldLength = values[LENGTH];
    this.ready.fill(0);
    this.prepareDirect();
  }

  /** A stretch of the recording as it is used: it ends softly where only a part of it is. */
  private stretch(first: number, count: number, into: Float32Array, at: number, apart: number, pairs: boolean): void {
    const { impulse, rate, values } = this;
    const whole = (impulse!.levels[0].frames * rate) / impulse!.rate;
    const end = whole * (values[LENGTH] / 100);
    const fadeAt = values[LENGTH] < 100 ? end - (0.1 * end + 1) : end;
    stretchOf(impulse!, rate, { first, count, end, fadeAt }, into, at, apart, pairs);
  }

  private prepareDirect(): void {
    const to = (this.place + CONVOLUTION_DIRECT) >> 2;
    if (this.impulse) this.stretch(0, SHORT, this.kernel.floats, to, SHORT, false);
  }

  /** Transforms the next blocks of the recording that are not ready yet. */
  private prepare(isLong: 0 | 1, most: number): void {
    const { ready, kernel, place, longs } = this;
    const { transform } = kernel;
    const size = isLong ? LONG : SHORT,
      count = isLong ? longs : SHORTS;
    for (let n = 0; n < most && ready[isLong] < count; n++) {
      const first = (isLong ? 2 * LONG : SHORT) + ready[isLong] * size;
      // The second half of the block is silent.
      this.stretch(first, size, transform, 0, 2, true);
      transform.fill(0, 2 * size, 4 * size);
      kernel.loops.convolveRespond(place, isLong, ready[isLong]);
      ready[isLong]++;
    }
  }

  /** What is due where a short block begins. */
  private turn(): void {
    const { ready, taken, longs } = this;
    const turn = this.frame / SHORT;
    this.prepare(0, 2);
    if (turn % 8 === 7) this.prepare(1, 1);
    taken[0] = Math.min(SHORTS, taken[0] + 1);
    if (turn === 0) taken[1] = Math.min(longs, taken[1] + 1);
    this.setWhole(CONVOLUTION_SHORT_READY, Math.min(ready[0], taken[0]));
    this.setWhole(CONVOLUTION_LONG_READY, Math.min(ready[1], taken[1]));
    this.kernel.loops.convolveTurn(this.place);
  }

  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    if (!this.impulse) return;
    const { kernel, place } = this;
    kernel.bring(left, right, from, to);
    const frames = to - from;
    for (let done = 0; done < frames;) {
      const within = this.frame % SHORT;
      if (within === 0) this.turn();
      const count = Math.min(frames - done, SHORT - within);
      kernel.loops.convolve(place, done, count);
      this.frame = (this.frame + count) % LONG;
      done += count;
    }
    kernel.take(left, right, from, to);
  }

  override reset(): void {
    const { memory } = this;
    // The past in blocks is not read before it is written anew; the transformed recording stays.
    memory.fill(0, CONVOLUTION_RECENT / 4, CONVOLUTION_SHORT_RESPONSE / 4);
    memory.fill(0, CONVOLUTION_LINE / 4, CONVOLUTION_LINE / 4 + 2 * (this.mask + 1));
    memory.fill(0, CONVOLUTION_FILTERS / 4, CONVOLUTION_DIRECT / 4);
    this.taken.fill(0);
    this.frame = 0;
    this.setWhole(CONVOLUTION_FRAME, 0);
    this.setWhole(CONVOLUTION_PLACE, 0);
  }
}
