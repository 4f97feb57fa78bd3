import { type Chance } from '../../src/core/dsp/chance';
import { fileNameOfKey } from '../../src/core/music/noteNames';
import { shareOut } from '../../src/core/mapping/velocities';
import type { Audio, Loop } from '../../src/core/dsp/sample';
import { loudnessOf, peakOf } from '../../src/core/measure/loudness';
import type { Zone } from '../../src/core/rig/schema';

/** The rate of everything the generator makes. */
export const RATE = 44100;
/**
 * Loudness that every sample is brought to, so that velocity alone decides the level and dynamics join without a step.
 */
const TARGET_LUFS = -22;
const HIGHEST_PEAK = 0.9;

/** One generated recording. */
export interface Recording {
  name: string;
  root: number;
  velocity: [low: number, high: number];
  audio: Audio;
  loop: Loop | null;
  /** How the level of what plays it goes: of those that ring, the fall that the loop has not. */
  params?: Zone['params'];
}

/**
 * Adds a decaying sinusoid to a channel: amplitude, frequency in Hz, phase in cycles, and the time in seconds in which
 * it falls by 60 dB; from the frame `staysFrom` on it does not fall any more.
 * A complex number turned and shrunk once for each frame: exact, and quick.
 */
export function addPartial(
  out: Float64Array,
  amplitude: number,
  hz: number,
  phase: number,
  fallSeconds: number,
  staysFrom = Infinity,
): void {
  if (hz >= RATE * 0.45 || amplitude < 1e-6) return;
  const shrink = 10 ** (-3 / (fallSeconds * RATE));
  const turnRe = shrink * Math.cos((2 * Math.PI * hz) / RATE);
  const turnIm = shrink * Math.sin((2 * Math.PI * hz) / RATE);
  let re = amplitude * Math.cos(2 * Math.PI * phase);
  let im = amplitude * Math.sin(2 * Math.PI * phase);
  const audible = Math.min(out.length, Math.ceil((Math.log10(amplitude / 1e-7) / 3) * fallSeconds * RATE));
  if (staysFrom < audible) return addStaying(out, amplitude, hz, phase, shrink, staysFrom);
  for (let i = 0; i < audible; i++) {
    out[i] += im;
    const next = re * turnRe - im * turnIm;
    im = re * turnIm + im * turnRe;
    re = next;
  }
}

/** The same that falls as far as a frame and stays as loud from there on: what is looped. */
function addStaying(
  out: Float64Array,
  amplitude: number,
  hz: number,
  phase: number,
  shrink: number,
  staysFrom: number,
): void {
  let level = amplitude;
  const turn = (2 * Math.PI * hz) / RATE;
  let re = Math.cos(2 * Math.PI * phase);
  let im = Math.sin(2 * Math.PI * phase);
  const cosine = Math.cos(turn);
  const sine = Math.sin(turn);
  for (let i = 0; i < out.length; i++) {
    out[i] += level * im;
    if (i < staysFrom) level *= shrink;
    const next = re * cosine - im * sine;
    im = re * sine + im * cosine;
    re = next;
  }
}

/**
 * Noise between two frequencies that repeats every `period` frames without a seam: sines of whole cycles and random
 * phase.
 */
export function addPeriodicNoise(
  out: Float64Array,
  amplitude: number,
  lowHz: number,
  highHz: number,
  period: number,
  sines: number,
  chance: Chance,
): void {
  for (let s = 0; s < sines; s++) {
    const cycles = Math.round(((lowHz + (highHz - lowHz) * chance.share()) * period) / RATE);
    addPartial(out, amplitude / Math.sqrt(sines), (cycles * RATE) / period, chance.share(), 1e9);
  }
}

/**
 * Noise as many sines of random pitch between two frequencies, dying within about `fall` seconds: what rattles, clicks
 * and knocks.
 */
export function addRattle(
  out: Float64Array,
  amplitude: number,
  low: number,
  high: number,
  fall: number,
  sines: number,
  chance: Chance,
): void {
  for (let s = 0; s < sines; s++)
    addPartial(
      out,
      (amplitude * (0.5 + chance.share())) / Math.sqrt(sines),
      low * (high / low) ** chance.share(),
      chance.share(),
      fall * (0.6 + 0.8 * chance.share()),
    );
}

/**
 * What the softest strike counts as for layers that play these instruments: with it, the softest and the hardest lie 29
 * dB apart, as on instruments of wood and wire.
 */
export const SOFTEST = 24;
/** Velocities as such a layer feels them, shared out evenly over the strikes of the hand. */
export const sharedOutAsFelt = (count: number): { low: number; high: number }[] => {
  const felt = (struck: number) => Math.round(SOFTEST + ((127 - SOFTEST) * (struck - 1)) / 126);
  return shareOut(count).map(({ low, high }, i) => ({
    low: i === 0 ? 1 : felt(low),
    high: i === count - 1 ? 127 : felt(high + 1) - 1,
  }));
};

/** Multiplies by an envelope given at each second. */
export function shape(out: Float64Array, gainAt: (seconds: number) => number, rate = RATE): void {
  for (let i = 0; i < out.length; i++) out[i] *= gainAt(i / rate);
}

/** Adds one to another, and gives it. */
export function mixed(out: Float64Array, other: Float64Array): Float64Array {
  const frames = Math.min(out.length, other.length);
  for (let i = 0; i < frames; i++) out[i] += other[i];
  return out;
}

/** A smooth rise from 0 to 1 over `length` (half a cosine). */
export const rise = (t: number, length: number): number =>
  t >= length ? 1 : t <= 0 ? 0 : 0.5 - 0.5 * Math.cos((Math.PI * t) / length);

/** The last `seconds` fade to nothing, so that a recording never just stops. */
export function fadeEnd(out: Float64Array, seconds: number): void {
  const frames = Math.round(seconds * RATE);
  for (let i = 0; i < frames; i++) out[out.length - 1 - i] *= rise(i / RATE, seconds);
}

/** The highest frequency of a recording that is kept at half of the rate. */
export const HALF_HZ = 9600;

/** The middle of dynamics named from soft to hard: 0 the softest, 1 the hardest. */
export const DYNAMICS = ['soft', 'mid', 'firm', 'hard'] as const;
/** Velocities of each of them. */
const dynamicRange = (d: number): [low: number, high: number] => {
  const { low, high } = sharedOutAsFelt(DYNAMICS.length)[d];
  return [low, high];
};

/** Which of its keys an instrument is to record: tests need few of them. */
export type Wanted = (key: number) => boolean;
export const allKeys: Wanted = () => true;

/** Every third key from one to another. */
const everyThird = (from: number, to: number): number[] =>
  Array.from({ length: Math.floor((to - from) / 3) + 1 }, (_, i) => from + 3 * i);

/** What is made of a key, before it has its name and its place. */
export type Made = Pick<Recording, 'audio' | 'loop' | 'params'>;

/** How much something differs from key to key, or from partial to partial: 1, give or take a share. */
export const varying =
  (own: Chance) =>
  (share: number): number =>
    1 + share * (2 * own.share() - 1);

/**
 * The recordings of an instrument: on every third key from one to another, in so many dynamics of {@link DYNAMICS} (one:
 * it knows a single loudness), named as they are placed.
 */
export const onKeys = (
  name: string,
  [from, to]: readonly [from: number, to: number],
  dynamics: number,
  wants: Wanted,
  record: (key: number, dynamic: number) => Made,
): Recording[] =>
  everyThird(from, to)
    .filter(wants)
    .flatMap((key) =>
      Array.from({ length: dynamics }, (_, d) => ({
        name: `${name} ${fileNameOfKey(key)}${dynamics > 1 ? ` ${DYNAMICS[d]}` : ''}.wav`,
        root: key,
        velocity: dynamics > 1 ? dynamicRange(d) : ([1, 127] satisfies [number, number]),
        ...record(key, d),
      })),
    );

/** A value between those given at keys, in equal proportions from key to key. */
export function byKey(key: number, points: readonly (readonly [key: number, value: number])[]): number {
  const above = points.findIndex(([at]) => at >= key);
  if (above <= 0) return points[above === 0 ? 0 : points.length - 1][1];
  const [[k0, v0], [k1, v1]] = [points[above - 1], points[above]];
  return v0 * (v1 / v0) ** ((key - k0) / (k1 - k0));
}

/** The frequency nearest to a given one that goes round a loop in whole cycles. */
export const inLoop = (hz: number, period: number, beats = 0): number =>
  (Math.max(1, Math.round((hz * period) / RATE) + beats) * RATE) / period;

/** One or two channels at the common loudness, as interleaved audio. */
export function finish(channels: readonly Float64Array[], rate = RATE): Audio {
  const firstSecond = channels.map((channel) => channel.subarray(0, Math.min(channel.length, rate)));
  const gain = Math.min(10 ** ((TARGET_LUFS - loudnessOf(firstSecond, rate)) / 20), HIGHEST_PEAK / peakOf(channels));
  const data = new Float32Array(channels[0].length * channels.length);
  channels.forEach((channel, c) => {
    for (let i = 0; i < channel.length; i++) data[i * channels.length + c] = channel[i] * gain;
  });
  return { rate, channels: channels.length as 1 | 2, data };
}

/**
 * A loop of about `seconds` that holds a whole number of periods: its length in frames, the periods in it, and the
 * frequency this really gives (within 0.2 cents).
 */
export function wholePeriods(hz: number, seconds: number): { period: number; cycles: number } {
  let best = { period: 0, cycles: 0, error: Infinity };
  for (
    let cycles = Math.max(1, Math.round(hz * seconds * 0.9));
    cycles <= Math.round(hz * seconds * 1.1) + 1;
    cycles++
  ) {
    const period = 2 * Math.round((cycles * RATE) / hz / 2);
    const error = Math.abs(1200 * Math.log2((cycles * RATE) / period / hz));
    if (error < best.error - 1e-6) best = { period, cycles, error };
  }
  return best;
}
