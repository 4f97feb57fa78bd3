import { ConverterType, create } from '@alexanderolsen/libsamplerate-js';
import { levelsFor, prepareSample, type Audio, type Loop } from './sample';
import { Kernel } from './kernel/kernel';
import { MADE, READING } from './kernel/layout';
import { readSample } from './sampleReader';
import { figure } from '../../../tests/kit/figure';

const RATE = 48000;
const tone = (hz: number, seconds = 1, level = 0.5): Audio => ({
  rate: RATE,
  channels: 1,
  data: Float32Array.from({ length: RATE * seconds }, (_, i) => level * Math.sin((2 * Math.PI * hz * i) / RATE)),
});

/** Plays a mono sample moved by semitones: what a voice does, without its envelope. */
function played(audio: Audio, semitones: number, frames: number, loop: Loop | null = null): Float64Array {
  const ratio = 2 ** (semitones / 12);
  const sample = prepareSample(audio, loop, levelsFor(semitones / 12));
  const level = sample.levels[sample.levels.length - 1];
  const kernel = new Kernel();
  const reading = kernel.voiceAt(0) + READING;
  kernel.numbers[reading / 8] = 0;
  kernel.numbers[reading / 8 + 1] = ratio / level.factor;
  const out = new Float64Array(frames);
  for (let at = 0; at < frames; at += 32) {
    readSample(level, 1, kernel, reading, MADE, 0, Math.min(32, frames - at));
    out.set(kernel.made.subarray(0, Math.min(32, frames - at)), at);
  }
  return out;
}

/** Signal to error in dB against the best-fitting sine of that frequency. */
function signalToError(samples: ArrayLike<number>, hz: number, from: number, to: number): number {
  let ss = 0,
    sc = 0,
    cc = 0,
    ys = 0,
    yc = 0;
  for (let i = from; i < to; i++) {
    const s = Math.sin((2 * Math.PI * hz * i) / RATE),
      c = Math.cos((2 * Math.PI * hz * i) / RATE);
    ss += s * s;
    sc += s * c;
    cc += c * c;
    ys += samples[i] * s;
    yc += samples[i] * c;
  }
  const det = ss * cc - sc * sc;
  const a = (ys * cc - yc * sc) / det,
    b = (yc * ss - ys * sc) / det;
  let signal = 0,
    error = 0;
  for (let i = from; i < to; i++) {
    const fit = a * Math.sin((2 * Math.PI * hz * i) / RATE) + b * Math.cos((2 * Math.PI * hz * i) / RATE);
    signal += fit * fit;
    error += (samples[i] - fit) ** 2;
  }
  return 10 * Math.log10(signal / error);
}

test('a sine of 1 kHz keeps 80 dB of signal to error, moved by anything within an octave up or down', () => {
  const source = tone(1000, 1);
  for (let semitones = -12; semitones <= 12; semitones += 1.7) {
    const clean = signalToError(played(source, semitones, 20000), 1000 * 2 ** (semitones / 12), 2000, 20000);
    expect(
      figure('samples moved in pitch: error of a sine of 1 kHz', -clean, 'dB', 'the best-fitting sine'),
    ).toBeLessThan(-80);
  }
});

// libsamplerate, best sinc converter, in its WebAssembly build: an independent resampler doing the same job.
test('agrees with libsamplerate on a moved tone', async () => {
  const source = tone(3000, 1);
  for (const [semitones, outRate] of [
    [-12, 96000],
    [-5, 64073],
    [-1, 50854],
  ] as const) {
    const converter = await create(1, RATE, outRate, { converterType: ConverterType.SRC_SINC_BEST_QUALITY });
    const theirs = converter.full(source.data);
    converter.destroy();
    const exact = 12 * Math.log2(RATE / outRate);
    const ours = played(source, exact, 20000);
    let error = 0,
      signal = 0;
    for (let i = 4000; i < 16000; i++) {
      error += (ours[i] - theirs[i]) ** 2;
      signal += theirs[i] ** 2;
    }
    expect(Math.round(exact)).toBe(semitones);
    const off = 10 * Math.log10(error / signal);
    expect(figure('samples moved in pitch: what differs', off, 'dB', 'libsamplerate, best sinc')).toBeLessThan(-60);
  }
});

test.each([3, 5, 7, 12, 19, 24])(
  'moved up by %i semitones, what a bright partial folds back stays below the images of the spline',
  (semitones) => {
    for (const hz of [9000, 15000, 19000]) {
      const moved = hz * 2 ** (semitones / 12);
      const out = played(tone(hz, 1), semitones, 9000);
      let loudest = 0;
      for (let f = 200; f < 16000; f += 187.5) {
        if (Math.abs(f - moved) < 600) continue;
        let re = 0,
          im = 0;
        for (let i = 4000; i < 8096; i++) {
          const weight = 0.5 - 0.5 * Math.cos((2 * Math.PI * (i - 4000)) / 4096);
          re += weight * out[i] * Math.cos((2 * Math.PI * f * i) / RATE);
          im += weight * out[i] * Math.sin((2 * Math.PI * f * i) / RATE);
        }
        loudest = Math.max(loudest, Math.hypot(re, im) / 1024);
      }
      // A partial of −6 dBFS that high is far louder than any instrument's. The images of a cubic spline lie at (f /
      // (rate − f))⁴.
      expect(20 * Math.log10(loudest)).toBeLessThan(Math.max(-60, -6 + 80 * Math.log10(hz / (RATE - hz)) + 1));
    }
  },
);

describe('loops', () => {
  // A loop that holds whole periods must go on for ever as the sine it came from.
  test.each([
    [0, 0, 480],
    [7, 0, 480],
    [-5.3, 4800, 9600],
    [14, 100, 196],
    [26, 960, 1056],
  ] as const)('moved by %f, frames %i to %i loop without a seam', (semitones, start, end) => {
    const hz = 1000;
    const out = played(tone(hz, 0.5), semitones, 40000, { start, end });
    expect(signalToError(out, hz * 2 ** (semitones / 12), 20000, 40000)).toBeGreaterThan(70);
  });
  test('an odd loop stays in tune two octaves up', () => {
    const period = 97;
    const data = Float32Array.from({ length: 970 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * i) / period));
    const out = played({ rate: RATE, channels: 1, data }, 24, 30000, { start: 97, end: 97 * 4 });
    expect(signalToError(out, (RATE / period) * 4, 10000, 30000)).toBeGreaterThan(70);
  });
  test('a loop of one frame is a steady value, not a crash', () => {
    const out = played({ rate: RATE, channels: 1, data: Float32Array.from([0.5, 0.25, 0.125]) }, 0, 600, {
      start: 1,
      end: 2,
    });
    expect(out[599]).toBeCloseTo(0.25, 6);
  });
  test('a loop outside the recording is ignored', () =>
    expect(prepareSample(tone(1000, 0.01), { start: 5, end: 9999 }).levels[0].loop).toBeNull());
});

test('as recorded, every frame comes back as it was', () => {
  const data = Float32Array.from({ length: 300 }, (_, i) => Math.sin(i * i * 0.01));
  const out = played({ rate: RATE, channels: 1, data }, 0, 300);
  for (let i = 0; i < 298; i++) expect(out[i]).toBeCloseTo(data[i], 5);
});

test('reversed, the end comes first', () => {
  const { data } = prepareSample(
    { rate: RATE, channels: 2, data: Float32Array.from([0, 0, 0, 0, 1, 2]) },
    null,
    1,
    true,
  ).levels[0];
  const forward = prepareSample({ rate: RATE, channels: 2, data: Float32Array.from([1, 2, 0, 0, 0, 0]) }, null)
    .levels[0].data;
  expect([...data]).toEqual([...forward]);
});
