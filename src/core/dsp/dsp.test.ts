import { Chance } from './chance';
import { largestStep } from '../../../tests/kit/engine';
import { Envelope } from './envelope';
import { crossfadedLoop, crossfadeGains } from './loopCrossfade';
import { setSection, type SectionKind } from './filter';
import { Kernel } from './kernel/kernel';
import { COEFFICIENTS, MADE, STATES } from './kernel/layout';
import { CEILING, Limiter } from './limiter';
import { setPan, type PanGains } from './pan';
import { figure } from '../../../tests/kit/figure';

const RATE = 48000;

/**
 * Magnitudes of the "Audio EQ Cookbook" low-pass and high-pass (W3C Note, R. Bristow-Johnson), worked out from its
 * coefficients.
 */
function cookbook(kind: 'low' | 'high', cutoff: number, q: number, hz: number): number {
  const w0 = (2 * Math.PI * cutoff) / RATE;
  const alpha = Math.sin(w0) / (2 * q);
  const c = Math.cos(w0);
  const b = kind === 'low' ? [(1 - c) / 2, 1 - c, (1 - c) / 2] : [(1 + c) / 2, -(1 + c), (1 + c) / 2];
  const a = [1 + alpha, -2 * c, 1 - alpha];
  const w = (2 * Math.PI * hz) / RATE;
  const at = (k: number[]) =>
    Math.hypot(k[0] + k[1] * Math.cos(w) + k[2] * Math.cos(2 * w), k[1] * Math.sin(w) + k[2] * Math.sin(2 * w));
  return at(b) / at(a);
}

/** Magnitude at a frequency from an impulse response. */
function magnitude(response: ArrayLike<number>, hz: number): number {
  let re = 0;
  let im = 0;
  for (let i = 0; i < response.length; i++) {
    re += response[i] * Math.cos((2 * Math.PI * hz * i) / RATE);
    im += response[i] * Math.sin((2 * Math.PI * hz * i) / RATE);
  }
  return Math.hypot(re, im);
}

/**
 * Sends a signal through a filter of a voice of the kernel, in spans of these lengths taken in turn; the cutoff may
 * depend on the frame.
 */
function filtered(
  kind: SectionKind,
  cutoff: (frame: number) => number,
  q: number,
  signal: Float64Array,
  spans: readonly number[],
  rightToo = false,
): Float64Array {
  const kernel = new Kernel();
  const block = kernel.voiceAt(5);
  const out = new Float64Array(signal.length);
  for (let at = 0, n = 0; at < signal.length; n++) {
    const frames = Math.min(spans[n % spans.length], signal.length - at);
    setSection(kernel.numbers, (block + COEFFICIENTS) / 8, kind, { cutoffHz: cutoff(at), q }, RATE);
    kernel.made.set(signal.subarray(at, at + frames));
    kernel.madeRight.set(signal.subarray(at, at + frames));
    kernel.loops.filter(block, rightToo ? 1 : 0, MADE, frames, 1);
    out.set((rightToo ? kernel.madeRight : kernel.made).subarray(0, frames), at);
    at += frames;
  }
  return out;
}

const impulse = (frames: number): Float64Array => {
  const signal = new Float64Array(frames);
  signal[0] = 1;
  return signal;
};

describe('filters', () => {
  const cases: [number, number][] = [
    [200, 0.7071],
    [1000, 0.7071],
    [1000, 4],
    [5000, 1],
    [12000, 0.7071],
    [80, 12],
    [20, 0.7071],
  ];
  test.each(cases)('low-pass at %f Hz, Q %f follows the cookbook', (cutoff, q) => {
    const response = filtered('low', () => cutoff, q, impulse(48000), [32]);
    for (const hz of [20, 150, 700, 1000, 3000, 9000, 15000])
      expect(
        figure(
          'low-pass of the kernel',
          Math.abs(20 * Math.log10(magnitude(response, hz) / cookbook('low', cutoff, q, hz))),
          'dB',
          'W3C Audio EQ Cookbook',
        ),
      ).toBeLessThan(0.005);
  });
  test.each(cases)('high-pass at %f Hz, Q %f follows the cookbook', (cutoff, q) => {
    const response = filtered('high', () => cutoff, q, impulse(48000), [32], true);
    for (const hz of [20, 150, 700, 1000, 3000, 9000, 15000])
      expect(magnitude(response, hz)).toBeCloseTo(cookbook('high', cutoff, q, hz), 3);
  });

  /** The same filter a frame at a time, in the form of its source: v₁ and v₂ of Simper's paper. */
  function frameByFrame(
    kind: SectionKind,
    cutoff: (frame: number) => number,
    q: number,
    signal: Float64Array,
  ): Float64Array {
    let band = 0,
      low = 0;
    return signal.map((x, i) => {
      const g = Math.tan((Math.PI * cutoff(i)) / RATE);
      const a1 = 1 / (1 + g * (g + 1 / q));
      const v1 = a1 * band + g * a1 * (x - low);
      const v2 = low + g * v1;
      band = 2 * v1 - band;
      low = 2 * v2 - low;
      return kind === 'low' ? v2 : x - v1 / q - v2;
    });
  }
  test.each(['low', 'high'] as const)(
    'two frames at a time make the same %s-pass as one, however spans are cut and while the cutoff sweeps',
    (kind) => {
      const noise = Float64Array.from({ length: 4000 }, (_, i) => Math.sin(i * i * 0.37));
      const spans = [32, 1, 7, 32, 5, 2, 31];
      const starts = [0];
      for (let n = 0; starts[n] < noise.length; n++) starts.push(starts[n] + spans[n % spans.length]);
      const ofSpan = (frame: number) => {
        let n = 0;
        while (starts[n + 1] <= frame) n++;
        return 60 * 2 ** (starts[n] / 500);
      };
      const ours = filtered(kind, ofSpan, 3, noise, spans);
      const theirs = frameByFrame(kind, ofSpan, 3, noise);
      expect(ours.reduce((most, x, i) => Math.max(most, Math.abs(x - theirs[i])), 0)).toBeLessThan(1e-10);
    },
  );
  test('dying states fall to nothing, and broken ones do not last', () => {
    const kernel = new Kernel();
    const block = kernel.voiceAt(0);
    const states = kernel.numbers.subarray((block + STATES) / 8, (block + STATES) / 8 + 4);
    setSection(kernel.numbers, (block + COEFFICIENTS) / 8, 'low', { cutoffHz: 1000, q: 0.7 }, RATE);
    states.set([1e-30, 1e-320, NaN, Infinity]);
    kernel.made.fill(0);
    kernel.madeRight.fill(0);
    kernel.loops.filter(block, 1, MADE, 32, 1);
    expect([...states]).toEqual([0, 0, 0, 0]);
  });
});

// Web Audio API, StereoPannerNode: the equal-power algorithm for mono and stereo input.
test('panning keeps the power of a mono signal and passes a centred stereo one', () => {
  const gains: PanGains = { ll: 0, rl: 0, lr: 0, rr: 0 };
  for (let pan = -1; pan <= 1; pan += 0.125) {
    setPan(gains, [pan], 0, 1);
    expect(gains.ll ** 2 + gains.lr ** 2).toBeCloseTo(1, 12);
  }
  setPan(gains, [0], 0, 1);
  expect(20 * Math.log10(gains.ll)).toBeCloseTo(-3.0103, 3);
  setPan(gains, [0], 0, 2);
  expect(gains).toEqual({ ll: 1, rl: expect.closeTo(0, 12), lr: 0, rr: 1 });
  setPan(gains, [-1], 0, 2);
  expect(gains).toEqual({ ll: 1, rl: 1, lr: 0, rr: expect.closeTo(0, 12) });
});

describe('envelope', () => {
  const shape = {
    delay: 0,
    startLevel: 0,
    attack: 0.1,
    hold: 0,
    decay: 0.5,
    sustain: 0.25,
    release: 0.4,
    attackCurve: 0,
    decayCurve: 0,
    releaseCurve: 0,
  };
  const run = (envelope: Envelope, seconds: number) => {
    for (let t = 0; t < seconds - 1e-9; t += 0.001) envelope.advance(shape, 48, 48000);
  };
  test('rises in its time, falls to its sustain level, and is 60 dB down after its release', () => {
    const envelope = new Envelope();
    envelope.start(shape);
    run(envelope, 0.05);
    expect(envelope.value).toBeCloseTo(0.5, 6);
    run(envelope, 0.05);
    expect(envelope.value).toBeCloseTo(1, 6);
    run(envelope, 0.5);
    expect(envelope.value).toBeCloseTo(0.25 + 0.75 * Math.exp(-5), 3);
    run(envelope, 5);
    expect(envelope.value).toBeCloseTo(0.25, 4);
    envelope.release();
    run(envelope, 0.4);
    const off = Math.abs(20 * Math.log10(envelope.value / 0.25) + 60);
    expect(figure('envelope: level at the end of its release', off, 'dB from −60', 'its definition')).toBeLessThan(
      0.05,
    );
    run(envelope, 0.6);
    expect(envelope.isDone).toBe(true);
  });
  test('waits for its delay, begins at its start level and holds', () => {
    const full = { ...shape, delay: 0.2, startLevel: 0.5, hold: 0.3 };
    const envelope = new Envelope();
    envelope.start(full);
    const to = (seconds: number) => {
      for (let t = 0; t < seconds - 1e-9; t += 0.001) envelope.advance(full, 48, 48000);
      return envelope.value;
    };
    expect(to(0.19)).toBe(0);
    expect(to(0.06)).toBeCloseTo(0.75, 1);
    expect(to(0.1)).toBe(1);
    expect(to(0.2)).toBe(1);
    expect(to(0.2)).toBeLessThan(0.8);
  });
});

describe('loop crossfade', () => {
  test('keeps constant power for any likeness, constant amplitude for equal sides', () => {
    for (const r of [0, 0.4, 1])
      for (const t of [0, 0.2, 0.5, 0.9, 1]) {
        const { fadeIn, fadeOut } = crossfadeGains(t, r);
        const power = fadeIn ** 2 + fadeOut ** 2 + 2 * r * fadeIn * fadeOut;
        const off = figure(
          'crossfade of a loop: power for any likeness',
          Math.abs(power - 1),
          'from 1',
          'signal theory',
        );
        expect(off).toBeLessThan(5e-13);
      }
    expect(crossfadeGains(0.5, 1)).toEqual({ fadeIn: 0.5, fadeOut: 0.5 });
  });
  test('takes the step out of a loop that does not fit', () => {
    const data = Float32Array.from({ length: 4000 }, (_, i) => Math.sin((2 * Math.PI * i) / 97.3));
    const loop = { start: 1000, end: 3000, crossfade: 500 };
    const out = crossfadedLoop(data, 1, loop);
    expect(Math.abs(data[loop.start] - data[loop.end - 1])).toBeGreaterThan(0.4);
    expect(Math.abs(out[loop.start] - out[loop.end - 1])).toBeLessThan(0.1);
    expect(out.subarray(0, 2500)).toEqual(data.subarray(0, 2500));
    expect(crossfadedLoop(data, 1, { start: 1000, end: 3000 })).toBe(data);
  });
});

describe('limiter', () => {
  const process = (left: Float32Array, right = left.slice()) => {
    const limiter = new Limiter(RATE);
    limiter.process(left, right, 0, left.length);
    return { limiter, left, right };
  };
  test('below the ceiling every sample passes unchanged, later by its delay', () => {
    const input = Float32Array.from({ length: 9000 }, (_, i) => 0.98 * Math.sin(i * 0.05));
    const { left, limiter } = process(input.slice());
    expect(left.subarray(limiter.delay)).toEqual(input.subarray(0, input.length - limiter.delay));
    expect(limiter.lowestGain).toBe(1);
  });
  test('nothing leaves above the ceiling, whatever comes in, and the gain moves without steps', () => {
    const chance = new Chance(3);
    const input = Float32Array.from(
      { length: 48000 },
      (_, i) => (i % 7000 < 900 ? 6 : 0.4) * Math.sin(i * 0.03) + (i % 3001 === 0 ? 9 * (chance.share() - 0.5) : 0),
    );
    const { left } = process(input);
    expect(left.reduce((peak, x) => Math.max(peak, Math.abs(x)), 0)).toBeLessThanOrEqual(Math.fround(CEILING));
    const steady = process(Float32Array.from({ length: 48000 }, () => 3)).left;
    expect(largestStep(steady.subarray(4000))).toBeLessThan(1e-3);
  });
  test.each([50, 110, 997, 5000])('a sine of %i Hz that is held 6 dB down stays a sine', (hz) => {
    const { left } = process(
      Float32Array.from({ length: RATE }, (_, i) => 2 * Math.sin((2 * Math.PI * hz * i) / RATE)),
    );
    // Its own part is taken out by projection over whole waves; what is left is distortion.
    const from = RATE / 2;
    let sine = 0,
      cosine = 0,
      power = 0;
    for (let i = from; i < RATE; i++) {
      sine += left[i] * Math.sin((2 * Math.PI * hz * i) / RATE);
      cosine += left[i] * Math.cos((2 * Math.PI * hz * i) / RATE);
      power += left[i] ** 2;
    }
    const own = (sine ** 2 + cosine ** 2) / (RATE / 4);
    expect(10 * Math.log10(Math.max(1e-12, power - own) / power)).toBeLessThan(-90);
  });
  test('a loud burst is let go within half a second', () => {
    const { left, limiter } = process(Float32Array.from({ length: 72000 }, (_, i) => (i < 4800 ? 4 : 0.5)));
    expect(left[72000 - 1]).toBe(0.5);
    expect(left[4800 + limiter.delay + 200]).toBeLessThan(0.3);
  });
  test('what is not a number becomes silence, and nothing denormal comes out', () => {
    const { left } = process(
      Float32Array.from([NaN, Infinity, -Infinity, 1e-39, 1e-30, 0.5, ...new Array<number>(200).fill(0)]),
    );
    expect([...left].every((x) => x === 0 || (Number.isFinite(x) && Math.abs(x) > 1e-20))).toBe(true);
    expect([...left]).toContain(0.5);
  });
});

describe('chance', () => {
  const draws = (seed: number) => {
    const chance = new Chance(seed);
    return Array.from({ length: 1000 }, () => chance.below(10));
  };
  test('the same seed gives the same draws, another one others', () => {
    expect(draws(7)).toEqual(draws(7));
    expect(draws(7)).not.toEqual(draws(8));
  });
  // χ² with 9 degrees of freedom: 27.88 is exceeded once in a thousand; value from memory of the usual table.
  test('draws are even', () => {
    const chance = new Chance(1);
    const counts = new Array<number>(10).fill(0);
    for (let i = 0; i < 20000; i++) counts[chance.below(10)]++;
    expect(counts.reduce((sum, count) => sum + (count - 2000) ** 2 / 2000, 0)).toBeLessThan(27.88);
  });
});
