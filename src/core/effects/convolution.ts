import FFT from 'fft.js';
import { PAD, type PreparedSample } from '../dsp/sample';
import { define } from '../space/parameter';
import type { EffectContext, EffectKind } from './effect';
import { decibels, hertz, mix, percent, seconds } from './parameters';
import { Worked } from './worked';

const PREDELAY = 1,
  LENGTH = 2,
  LOW_CUT = 3,
  HIGH_CUT = 4,
  GAIN = 5,
  WIDTH = 6;
const SHORT = 128,
  LONG = 2048;
/** Short blocks cover what comes before the long ones can be ready: two of them. */
const SHORTS = (2 * LONG) / SHORT - 1;
export const LONGEST_IMPULSE = 6;
const longsFor = (rate: number): number => Math.ceil((LONGEST_IMPULSE * rate - 2 * LONG) / LONG);

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
    predelay: seconds('pre-delay', 0, 0.5, 0, 'Time before it answers.'),
    length: percent('length', 100, 'How much of the recording is used.', 1, 100),
    lowCut: hertz('low cut', 20, 2000, 120, 'What lies below stays out of it.'),
    highCut: hertz('high cut', 1000, 20000, 20000, 'What lies above is taken off.'),
    gain: decibels('gain', -36, 24, 0, 'How loud it is.'),
    width: percent('width', 100, 'From the middle to as it is.', 0, 150),
  }),
  tail: (values) => LONGEST_IMPULSE * (values[LENGTH] / 100) + values[PREDELAY] + 0.2,
  impulse: true,
  room: (rate) => 2 * floatsFor(SHORT, SHORTS) + 2 * floatsFor(LONG, longsFor(rate)),
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

/** Elements of memory that so many blocks of a size take. */
const floatsFor = (size: number, count: number): number => 2 * count * 2 * (size + 1);

/** Frame i of a recording at the engine's rate, one channel: its spline read there. */
function frameOf(
  { rate: own, channels, levels: [level] }: PreparedSample,
  rate: number,
  i: number,
  channel: number,
): number {
  const at = (i * own) / rate;
  const whole = Math.floor(at);
  if (whole >= level.frames) return 0;
  const x = at - whole;
  const c = Math.min(channel, channels - 1);
  const d = (k: number) => level.data[(whole + k + PAD) * channels + c];
  const u = 1 - x;
  // Cubic B-spline on sixths of its coefficients.
  return (
    u * u * u * d(-1) +
    (4 - 6 * x * x + 3 * x * x * x) * d(0) +
    (4 - 6 * u * u + 3 * u * u * u) * d(1) +
    x * x * x * d(2)
  );
}

/** One way of blocks of a size: the transformed recording, the transformed past, and what comes out of them. */
class Blocks {
  readonly fft: InstanceType<typeof FFT>;
  readonly response: Float32Array;
  readonly past: Float32Array;
  readonly input: Float64Array;
  readonly sum: Float64Array;
  readonly time: Float64Array;
  readonly spectrum: Float64Array;
  readonly out: Float64Array;
  newest = 0;
  ready = 0;
  constructor(
    readonly size: number,
    readonly count: number,
    memory: Float32Array,
  ) {
    const bins = 2 * (size + 1);
    this.fft = new FFT(2 * size);
    this.response = memory.subarray(0, count * bins);
    this.past = memory.subarray(count * bins, 2 * count * bins);
    this.input = new Float64Array(2 * size);
    this.sum = new Float64Array(4 * size);
    this.time = new Float64Array(4 * size);
    this.spectrum = new Float64Array(4 * size);
    this.out = new Float64Array(size);
  }
  get bins(): number {
    return 2 * (this.size + 1);
  }
  /** What was put into `input` becomes the newest of the past. */
  take(): void {
    this.newest = (this.newest + 1) % this.count;
    this.fft.realTransform(this.spectrum, this.input);
    this.past.set(this.spectrum.subarray(0, this.bins), this.newest * this.bins);
  }
  clear(): void {
    for (let i = 0; i < this.bins; i++) this.sum[i] = 0;
  }
  /** Adds what some blocks of the recording make of their past. */
  add(from: number, to: number): void {
    const { past, response, sum, bins, count } = this;
    for (let block = from; block < Math.min(to, this.ready); block++) {
      const p = ((this.newest - block + count) % count) * bins,
        h = block * bins;
      for (let k = 0; k < bins; k += 2) {
        const a = past[p + k],
          b = past[p + k + 1],
          c = response[h + k],
          d = response[h + k + 1];
        sum[k] += a * c - b * d;
        sum[k + 1] += a * d + b * c;
      }
    }
  }
  /** The sum as sound: the second half of what comes out. */
  give(): void {
    const { sum, time, size, fft, out } = this;
    for (let k = 1; k < size; k++) {
      sum[2 * (2 * size - k)] = sum[2 * k];
      sum[2 * (2 * size - k) + 1] = -sum[2 * k + 1];
    }
    fft.inverseTransform(time, sum);
    for (let i = 0; i < size; i++) out[i] = time[2 * (size + i)];
  }
}

class Convolution extends Worked {
  private readonly impulse: PreparedSample | null;
  private readonly direct = new Float64Array(2 * SHORT);
  private readonly recent = new Float64Array(4 * SHORT);
  private readonly short: readonly Blocks[];
  private readonly long: readonly Blocks[];
  private readonly shortOut: readonly Float64Array[] = [new Float64Array(SHORT), new Float64Array(SHORT)];
  private readonly longOut: readonly Float64Array[] = [new Float64Array(LONG), new Float64Array(LONG)];
  private readonly longIn: readonly Float64Array[] = [new Float64Array(LONG), new Float64Array(LONG)];
  private readonly pre: Float32Array;
  private readonly filters = new Float64Array(4);
  private readonly longs: number;
  private frame = 0;
  private preAt = 0;
  private heldLength = 0;

  constructor(context: EffectContext) {
    super(context, 7);
    const { rate, impulse, memory } = context;
    this.impulse = impulse;
    this.longs = impulse
      ? Math.max(
          1,
          Math.min(longsFor(rate), Math.ceil(((impulse.levels[0].frames * rate) / impulse.rate - 2 * LONG) / LONG)),
        )
      : 1;
    const shortRoom = floatsFor(SHORT, SHORTS),
      longRoom = floatsFor(LONG, longsFor(rate));
    const part = (at: number, length: number) => memory.subarray(at, at + length);
    this.short = impulse ? [0, 1].map((side) => new Blocks(SHORT, SHORTS, part(side * shortRoom, shortRoom))) : [];
    this.long = impulse
      ? [0, 1].map((side) => new Blocks(LONG, this.longs, part(2 * shortRoom + side * longRoom, longRoom)))
      : [];
    this.pre = new Float32Array(impulse ? 2 * Math.ceil(rate * 0.5 + 1) : 2);
  }
  override aim(values: Float64Array): void {
    super.aim(values);
    if (values[LENGTH] !== this.heldLength) {
      // Another part of the recording: it is transformed anew, a block ahead of the sound.
      this.heldLength = values[LENGTH];
      for (const blocks of [...this.short, ...this.long]) blocks.ready = 0;
      this.prepareDirect();
    }
  }
  /** Frame i of the recording as it is used: it ends softly where only a part of it is. */
  private at(i: number, channel: number): number {
    const whole = (this.impulse!.levels[0].frames * this.rate) / this.impulse!.rate;
    const end = whole * (this.values[LENGTH] / 100);
    if (i >= end) return 0;
    const fade = this.values[LENGTH] < 100 ? Math.min(1, (end - i) / (0.1 * end + 1)) : 1;
    return frameOf(this.impulse!, this.rate, i, channel) * fade;
  }
  private prepareDirect(): void {
    if (!this.impulse) return;
    for (let side = 0; side < 2; side++)
      for (let i = 0; i < SHORT; i++) this.direct[side * SHORT + i] = this.at(i, side);
  }
  /** Transforms the next blocks of the recording that are not ready yet. */
  private prepare(blocks: Blocks, side: number, offset: number, most: number): void {
    for (let n = 0; n < most && blocks.ready < blocks.count; n++) {
      const { spectrum, size, bins } = blocks;
      const first = offset + blocks.ready * size;
      for (let i = 0; i < size; i++) {
        this.work[i] = this.at(first + i, side);
        this.work[size + i] = 0;
      }
      for (let i = 0; i < 2 * size; i++) spectrum[i] = 0;
      blocks.fft.realTransform(spectrum, size === SHORT ? this.shortWork : this.work);
      blocks.response.set(spectrum.subarray(0, bins), blocks.ready * bins);
      blocks.ready++;
    }
  }
  private readonly work = new Float64Array(2 * LONG);
  private readonly shortWork = this.work.subarray(0, 2 * SHORT);

  process(left: Float32Array, right: Float32Array, from: number, to: number): void {
    const { impulse, values, rate, pre, filters } = this;
    if (!impulse) return;
    const low = values[LOW_CUT] <= 20 ? 0 : 1 - Math.exp((-2 * Math.PI * values[LOW_CUT]) / rate);
    const high = values[HIGH_CUT] >= 19999 ? 1 : 1 - Math.exp((-2 * Math.PI * values[HIGH_CUT]) / rate);
    const delay = Math.min(pre.length / 2 - 1, Math.round(values[PREDELAY] * rate));
    const gain = 10 ** (values[GAIN] / 20),
      wide = values[WIDTH] / 100;
    const room = pre.length / 2;
    for (let i = from; i < to; i++) {
      pre[2 * this.preAt] = left[i];
      pre[2 * this.preAt + 1] = right[i];
      const back = (this.preAt - delay + room) % room;
      this.preAt = (this.preAt + 1) % room;
      let l = pre[2 * back],
        r = pre[2 * back + 1];
      filters[0] += (l - filters[0]) * low;
      filters[1] += (r - filters[1]) * low;
      l -= filters[0];
      r -= filters[1];
      const inShort = this.frame % SHORT,
        inLong = this.frame % LONG;
      if (inShort === 0) this.turnShort();
      let outLeft = this.convolveNow(0, l) + this.shortOut[0][inShort] + this.longOut[0][inLong];
      let outRight = this.convolveNow(1, r) + this.shortOut[1][inShort] + this.longOut[1][inLong];
      this.longIn[0][inLong] = l;
      this.longIn[1][inLong] = r;
      this.frame++;
      if (high < 1) {
        filters[2] += (outLeft - filters[2]) * high;
        filters[3] += (outRight - filters[3]) * high;
        outLeft = filters[2];
        outRight = filters[3];
      }
      const middle = 0.5 * (outLeft + outRight),
        apart = 0.5 * (outLeft - outRight) * wide;
      left[i] = (middle + apart) * gain;
      right[i] = (middle - apart) * gain;
    }
    for (let n = 0; n < 4; n++) if (Math.abs(filters[n]) < 1e-18) filters[n] = 0;
  }
  /** The first frames of the recording, as they come. */
  private convolveNow(side: number, x: number): number {
    const { recent, direct } = this;
    const at = this.frame & (SHORT - 1);
    // The past twice in a row, so that it is read without a turn.
    recent[side * 2 * SHORT + at] = recent[side * 2 * SHORT + SHORT + at] = x;
    const base = side * 2 * SHORT + SHORT + at,
      h = side * SHORT;
    let sum = 0;
    for (let k = 0; k < SHORT; k++) sum += direct[h + k] * recent[base - k];
    return sum;
  }
  /**
   * At the beginning of each short block: what the last one brought goes in, and what is due comes out. Long blocks do
   * a sixteenth of their work each time.
   */
  private turnShort(): void {
    const parts = LONG / SHORT;
    const part = (this.frame / SHORT) % parts;
    for (let side = 0; side < 2; side++) {
      const short = this.short[side],
        long = this.long[side];
      this.prepare(short, side, SHORT, 2);
      this.prepare(long, side, 2 * LONG, part % 8 === 7 ? 1 : 0);
      const recent = side * 2 * SHORT;
      for (let i = 0; i < SHORT; i++) {
        short.input[i] = short.input[SHORT + i];
        short.input[SHORT + i] = this.recent[recent + i];
      }
      short.take();
      short.clear();
      short.add(0, SHORTS);
      short.give();
      for (let i = 0; i < SHORT; i++) this.shortOut[side][i] = short.out[i];
      if (part === 0) {
        // What was worked out over the last long block is due now; the one that has just ended goes in.
        long.give();
        for (let i = 0; i < LONG; i++) {
          this.longOut[side][i] = long.out[i];
          long.input[i] = long.input[LONG + i];
          long.input[LONG + i] = this.longIn[side][i];
        }
        long.take();
        long.clear();
      }
      const share = Math.ceil(this.longs / parts);
      long.add(part * share, Math.min(this.longs, (part + 1) * share));
    }
  }
  reset(): void {
    for (const blocks of [...this.short, ...this.long]) {
      blocks.past.fill(0);
      blocks.input.fill(0);
      blocks.clear();
      blocks.out.fill(0);
    }
    for (const list of [this.shortOut, this.longOut, this.longIn]) for (const each of list) each.fill(0);
    this.recent.fill(0);
    this.pre.fill(0);
    this.filters.fill(0);
    this.frame = 0;
  }
}
