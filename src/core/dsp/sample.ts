import { crossfadedLoop } from './loopCrossfade';
import { SPLINE_MEMORY, TAPS_AFTER, TAPS_BEFORE, toSpline } from './spline';

/** Audio as decoded: frames interleaved (left, right, left, …) for two channels. */
export interface Audio {
  rate: number;
  channels: 1 | 2;
  data: Float32Array;
}
/**
 * In frames; `end` is the frame after the last one repeated. The last `crossfade` frames before the end are blended
 * with those before the start.
 */
export interface Loop {
  start: number;
  end: number;
  crossfade?: number;
}

/**
 * One copy of a sample for reading, as sixths of spline coefficients, at 1/factor of the sample's own rate. Frame i of
 * channel c is `data[(i + PAD) · channels + c]`.
 * The loop lies {@link SPLINE_MEMORY} frames later than in the recording, which changes nothing in a repeating signal
 * and gives both its borders the same surroundings:
 * a reader only has to jump from its end to its start.
 *
 * `pairs` is the same memory for copying two floats at once. Two finite 32-bit floats never look like a 64-bit one that
 * is not a number, so they stay as they are;
 * an even frame has an odd place before it at an even element, because {@link PAD} is odd.
 */
export interface SampleLevel {
  data: Float32Array;
  pairs: Float64Array;
  factor: number;
  frames: number;
  loop: Loop | null;
}

/**
 * A sample ready for playing. Level 0 is the recording itself, each further level a copy at half the rate of the one
 * before, with everything above
 * its new half rate filtered out. A level is read at most {@link MOST_STEP} times as fast as its own rate, so nothing
 * below 20 kHz of a recording at
 * 48 kHz folds back under 21 kHz: moved up by any amount, a sample does not alias audibly.
 */
export interface PreparedSample {
  rate: number;
  channels: 1 | 2;
  levels: SampleLevel[];
}

export const PAD = SPLINE_MEMORY + TAPS_AFTER + TAPS_BEFORE;
/** 5 semitones. */
const MOST_OCTAVES = 5 / 12;
export const MOST_STEP = 2 ** MOST_OCTAVES;

/** The level to read when moving `step` frames of the recording for each frame of output. */
export function levelFor(sample: PreparedSample, step: number): number {
  let level = 0;
  for (let r = step; r > MOST_STEP && level < sample.levels.length - 1; r /= 2) level++;
  return level;
}

/** How many levels a sample needs that is read up to so many octaves (log₂ of the step) above its own rate. */
export const levelsFor = (octaves: number): number => Math.max(1, 1 + Math.ceil(octaves - MOST_OCTAVES - 1e-9));

/**
 * One channel-interleaved stretch of signal that goes on for ever: what lies beyond its frames is the loop again, or
 * silence.
 */
interface Stretch {
  data: ArrayLike<number>;
  frames: number;
  loop: Loop | null;
}

/**
 * Prepares a recording: makes `levels` copies, each keeping the loop seamless. A loop that does not lie inside the
 * recording is ignored.
 * With `reverse` the recording is turned round first, and the loop counts in the turned recording.
 */
export function prepareSample(audio: Audio, loop: Loop | null, levels = 1, reverse = false): PreparedSample {
  const { channels, rate } = audio;
  const data = reverse ? reversed(audio) : audio.data;
  const frames = data.length / channels;
  const usable = loop && loop.start >= 0 && loop.end <= frames && loop.end - loop.start >= 1 ? loop : null;
  let stretch: Stretch = {
    data: usable ? crossfadedLoop(data, channels, usable) : data,
    frames: usable ? usable.end : frames,
    loop: usable,
  };
  const prepared: PreparedSample = { rate, channels, levels: [finished(stretch, channels, 1)] };
  for (let factor = 2; prepared.levels.length < levels; factor *= 2) {
    stretch = halved(stretch, channels);
    prepared.levels.push(finished(stretch, channels, factor));
  }
  return prepared;
}

function reversed({ data, channels }: Audio): Float32Array {
  const out = new Float32Array(data.length);
  const frames = data.length / channels;
  for (let i = 0; i < frames; i++)
    for (let c = 0; c < channels; c++) out[i * channels + c] = data[(frames - 1 - i) * channels + c];
  return out;
}

const folded = (frame: number, loop: Loop | null): number =>
  loop && frame >= loop.end ? loop.start + ((frame - loop.start) % (loop.end - loop.start)) : frame;

function finished({ data, frames, loop }: Stretch, channels: number, factor: number): SampleLevel {
  const length = loop ? frames + SPLINE_MEMORY : frames;
  const total = length + 2 * PAD;
  const out = floats(total * channels);
  for (let i = 0; i < frames * channels; i++) out[PAD * channels + i] = data[i];
  if (loop) {
    for (let i = frames; i < length + PAD; i++)
      for (let c = 0; c < channels; c++) out[(i + PAD) * channels + c] = data[folded(i, loop) * channels + c];
  }
  for (let c = 0; c < channels; c++) toSpline(out, c, channels, total);
  return {
    data: out,
    pairs: new Float64Array(out.buffer),
    factor,
    frames: length,
    loop: loop && { start: loop.start + SPLINE_MEMORY, end: loop.end + SPLINE_MEMORY },
  };
}

/** Shared memory where there is any, so that the page and the audio thread hold the same copy; whole pairs of it. */
function floats(length: number): Float32Array {
  const shared = (globalThis as { SharedArrayBuffer?: typeof SharedArrayBuffer }).SharedArrayBuffer;
  const bytes = 8 * Math.ceil(length / 2);
  return new Float32Array(shared ? (new shared(bytes) as unknown as ArrayBuffer) : new ArrayBuffer(bytes), 0, length);
}

/**
 * Half-band low-pass, windowed sinc (Kaiser β = 8, about −80 dB), unit gain; only the odd taps and the middle are not
 * 0.
 */
const HALF_BAND_REACH = 31;
const HALF_BAND: Float64Array = (() => {
  const bessel = (x: number) => {
    let sum = 1;
    for (let term = 1, k = 1; k < 40; k++) sum += term *= (x / (2 * k)) ** 2;
    return sum;
  };
  const taps = Float64Array.from({ length: 2 * HALF_BAND_REACH + 1 }, (_, t) => {
    const i = t - HALF_BAND_REACH;
    const sinc = i === 0 ? 0.5 : i % 2 === 0 ? 0 : Math.sin((Math.PI * i) / 2) / (Math.PI * i);
    return (sinc * bessel(8 * Math.sqrt(1 - (i / (HALF_BAND_REACH + 1)) ** 2))) / bessel(8);
  });
  const sum = taps.reduce((a, b) => a + b);
  return taps.map((tap) => tap / sum);
})();

/**
 * The stretch at half its rate. A loop is unrolled until its length at half rate is a whole number of frames, so the
 * copy loops as exactly as the original:
 * an odd loop is written out twice, its start moves to an even frame, and past those that the filter has mixed with
 * what came before the loop.
 */
function halved({ data, frames, loop }: Stretch, channels: number): Stretch {
  const length = loop ? loop.end - loop.start : 0;
  const start = loop ? loop.start + (loop.start % 2) + HALF_BAND_REACH + 1 : 0;
  const span = length % 2 ? 2 * length : length;
  const count = loop ? (start + span) / 2 : Math.ceil(frames / 2);
  const out = new Float32Array(count * channels);
  for (let i = 0; i < count; i++) {
    for (let c = 0; c < channels; c++) {
      let sum = 0;
      for (let t = -HALF_BAND_REACH; t <= HALF_BAND_REACH; t += t === -1 || t === 0 ? 1 : 2) {
        const frame = folded(2 * i + t, loop);
        if (frame >= 0 && frame < frames) sum += HALF_BAND[t + HALF_BAND_REACH] * data[frame * channels + c];
      }
      out[i * channels + c] = sum;
    }
  }
  return { data: out, frames: count, loop: loop && { start: start / 2, end: (start + span) / 2 } };
}
