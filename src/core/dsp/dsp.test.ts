import { Chance } from './chance';
import { Envelope } from './envelope';
import { crossfadedLoop, crossfadeGains } from './loopCrossfade';
import { highPass, setFilter, settleFilter, type FilterCoefficients } from './filter';
import { CEILING, Limiter } from './limiter';
import { setPan, type PanGains } from './pan';
import { prepareSample } from './sample';
import { addSample, type ReadState } from './sampleReader';

const RATE = 48000;

/** Magnitudes of the "Audio EQ Cookbook" low-pass and high-pass (W3C Note, R. Bristow-Johnson), worked out from its coefficients. */
function cookbook(kind: 'low' | 'high', cutoff: number, q: number, hz: number): number {
  const w0 = (2 * Math.PI * cutoff) / RATE;
  const alpha = Math.sin(w0) / (2 * q);
  const c = Math.cos(w0);
  const b = kind === 'low' ? [(1 - c) / 2, 1 - c, (1 - c) / 2] : [(1 + c) / 2, -(1 + c), (1 + c) / 2];
  const a = [1 + alpha, -2 * c, 1 - alpha];
  const w = (2 * Math.PI * hz) / RATE;
  const at = (k: number[]) => Math.hypot(k[0] + k[1] * Math.cos(w) + k[2] * Math.cos(2 * w), k[1] * Math.sin(w) + k[2] * Math.sin(2 * w));
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

const newState = (filter: FilterCoefficients | null): ReadState => ({
  position: 0, step: 1, gains: { ll: 1, rl: 0, lr: 1, rr: 0 }, slopes: { ll: 0, rl: 0, lr: 0, rr: 0 }, filter, filterStates: [{ band: 0, low: 0 }, { band: 0, low: 0 }],
});

describe('filters', () => {
  const cases: [number, number][] = [[200, 0.7071], [1000, 0.7071], [1000, 4], [5000, 1], [12000, 0.7071], [80, 12]];
  test.each(cases)('low-pass at %f Hz, Q %f follows the cookbook', (cutoff, q) => {
    const filter: FilterCoefficients = { damping: 0, a1: 0, a2: 0, a3: 0 };
    setFilter(filter, cutoff, q, RATE);
    const impulse = new Float32Array(48000);
    impulse[0] = 1;
    const left = new Float64Array(impulse.length);
    addSample(prepareSample({ rate: RATE, channels: 1, data: impulse }, null).levels[0], 1, newState(filter), left, new Float64Array(impulse.length), left.length);
    for (const hz of [20, 150, 700, 1000, 3000, 9000, 15000]) expect(20 * Math.log10(magnitude(left, hz) / cookbook('low', cutoff, q, hz))).toBeCloseTo(0, 2);
  });
  test.each(cases)('high-pass at %f Hz, Q %f follows the cookbook', (cutoff, q) => {
    const filter: FilterCoefficients = { damping: 0, a1: 0, a2: 0, a3: 0 };
    setFilter(filter, cutoff, q, RATE);
    const samples = new Float64Array(48000);
    samples[0] = 1;
    highPass(filter, { band: 0, low: 0 }, samples, samples.length);
    for (const hz of [20, 150, 700, 1000, 3000, 9000, 15000]) expect(magnitude(samples, hz)).toBeCloseTo(cookbook('high', cutoff, q, hz), 3);
  });
  test('dying and broken states are put right', () => {
    const states = [{ band: 1e-30, low: 1e-320 }, { band: NaN, low: Infinity }, { band: 0.5, low: -0.5 }];
    states.forEach(settleFilter);
    expect(states).toEqual([{ band: 0, low: 0 }, { band: 0, low: 0 }, { band: 0.5, low: -0.5 }]);
  });
});

// Web Audio API, StereoPannerNode: the equal-power algorithm for mono and stereo input.
test('panning keeps the power of a mono signal and passes a centred stereo one', () => {
  const gains: PanGains = { ll: 0, rl: 0, lr: 0, rr: 0 };
  for (let pan = -1; pan <= 1; pan += 0.125) {
    setPan(gains, pan, 1);
    expect(gains.ll ** 2 + gains.lr ** 2).toBeCloseTo(1, 12);
  }
  setPan(gains, 0, 1);
  expect(20 * Math.log10(gains.ll)).toBeCloseTo(-3.0103, 3);
  setPan(gains, 0, 2);
  expect(gains).toEqual({ ll: 1, rl: expect.closeTo(0, 12), lr: 0, rr: 1 });
  setPan(gains, -1, 2);
  expect(gains).toEqual({ ll: 1, rl: 1, lr: 0, rr: expect.closeTo(0, 12) });
});

describe('envelope', () => {
  const shape = { delay: 0, startLevel: 0, attack: 0.1, hold: 0, decay: 0.5, sustain: 0.25, release: 0.4 };
  const run = (envelope: Envelope, seconds: number) => { for (let t = 0; t < seconds - 1e-9; t += 0.001) envelope.advance(shape, 48, 48000); };
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
    expect(20 * Math.log10(envelope.value / 0.25)).toBeCloseTo(-60, 1);
    run(envelope, 0.6);
    expect(envelope.isDone).toBe(true);
  });
  test('waits for its delay, begins at its start level and holds', () => {
    const full = { ...shape, delay: 0.2, startLevel: 0.5, hold: 0.3 };
    const envelope = new Envelope();
    envelope.start(full);
    const to = (seconds: number) => { for (let t = 0; t < seconds - 1e-9; t += 0.001) envelope.advance(full, 48, 48000); return envelope.value; };
    expect(to(0.19)).toBe(0);
    expect(to(0.06)).toBeCloseTo(0.75, 1);
    expect(to(0.1)).toBe(1);
    expect(to(0.2)).toBe(1);
    expect(to(0.2)).toBeLessThan(0.8);
  });
});

describe('loop crossfade', () => {
  test('keeps constant power for any likeness, constant amplitude for equal sides', () => {
    for (const r of [0, 0.4, 1]) for (const t of [0, 0.2, 0.5, 0.9, 1]) {
      const { fadeIn, fadeOut } = crossfadeGains(t, r);
      expect(fadeIn ** 2 + fadeOut ** 2 + 2 * r * fadeIn * fadeOut).toBeCloseTo(1, 12);
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
    for (let i = limiter.delay; i < input.length; i++) expect(left[i]).toBe(input[i - limiter.delay]);
    expect(limiter.lowestGain).toBe(1);
  });
  test('nothing leaves above the ceiling, whatever comes in, and the gain moves without steps', () => {
    const chance = new Chance(3);
    const input = Float32Array.from({ length: 48000 }, (_, i) => (i % 7000 < 900 ? 6 : 0.4) * Math.sin(i * 0.03) + (i % 3001 === 0 ? 9 * (chance.share() - 0.5) : 0));
    const { left } = process(input);
    expect(left.reduce((peak, x) => Math.max(peak, Math.abs(x)), 0)).toBeLessThanOrEqual(Math.fround(CEILING));
    const steady = process(Float32Array.from({ length: 48000 }, () => 3)).left;
    for (let i = 4000; i < steady.length; i++) expect(Math.abs(steady[i] - steady[i - 1])).toBeLessThan(1e-3);
  });
  test('a loud burst is let go within half a second', () => {
    const { left, limiter } = process(Float32Array.from({ length: 72000 }, (_, i) => (i < 4800 ? 4 : 0.5)));
    expect(left[72000 - 1]).toBe(0.5);
    expect(left[4800 + limiter.delay + 200]).toBeLessThan(0.3);
  });
  test('what is not a number becomes silence, and nothing denormal comes out', () => {
    const { left } = process(Float32Array.from([NaN, Infinity, -Infinity, 1e-39, 1e-30, 0.5, ...new Array<number>(200).fill(0)]));
    expect([...left].every((x) => x === 0 || (Number.isFinite(x) && Math.abs(x) > 1e-20))).toBe(true);
    expect([...left]).toContain(0.5);
  });
});

describe('chance', () => {
  const draws = (seed: number) => { const chance = new Chance(seed); return Array.from({ length: 1000 }, () => chance.below(10)); };
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
