import { noteValue, NOTE_QUARTERS, NOTE_VALUES, secondsOfQuarters, tempoOfTaps } from '../music/time';
import type { MoverKindId } from '../space/source';
import { LFO_SHAPES, moverKind } from '.';
import {
  HELD,
  INPUT,
  MOST_PARAMETERS,
  POSITION,
  SEED,
  seedOf,
  SPAN_QUARTERS,
  SPAN_SECONDS,
  STATE_SIZE,
  VALUE,
  type MoverSpec,
} from './mover';
import { figure } from '../../../tests/kit/figure';

const RATE = 48000,
  TICK = 32;

/** A mover run on its own in ticks: its value at the end of each. */
function run(
  kind: MoverKindId,
  seconds: number,
  {
    params = {},
    spec = {},
    tempo = 120,
    releaseAt = Infinity,
    input,
    seed = 1,
  }: {
    params?: Record<string, number>;
    spec?: Partial<MoverSpec>;
    tempo?: number;
    releaseAt?: number;
    input?: (t: number) => number;
    seed?: number;
  } = {},
): Float64Array {
  const { parameters, begin, advance } = moverKind(kind);
  const values = new Float64Array(MOST_PARAMETERS);
  Object.values(parameters).forEach((parameter, i) => {
    values[i] = params[parameter.id] ?? parameter.default;
  });
  const whole: MoverSpec = {
    clock: 'hz',
    begins: 'strike',
    shape: 0,
    loop: false,
    points: new Float64Array(0),
    samplesInput: false,
    ...spec,
  };
  const state = new Float64Array(STATE_SIZE);
  state[SEED] = seedOf(seed, 1);
  state[HELD] = 1;
  state[INPUT] = input?.(0) ?? 0;
  begin(state, 0, values, 0, whole);
  const time = new Float64Array(3);
  time[SPAN_SECONDS] = TICK / RATE;
  time[SPAN_QUARTERS] = (time[SPAN_SECONDS] * tempo) / 60;
  return Float64Array.from({ length: Math.round((seconds * RATE) / TICK) }, (_, i) => {
    const t = ((i + 1) * TICK) / RATE;
    time[POSITION] = (t * tempo) / 60;
    if (t > releaseAt) state[HELD] = 0;
    if (input) state[INPUT] = input(t);
    advance(state, 0, values, 0, whole, time);
    return state[VALUE];
  });
}
const risesThrough = (signal: Float64Array): number[] =>
  [...signal].flatMap((x, i) => (i > 0 && signal[i - 1] < 0 && x >= 0 ? [(i * TICK) / RATE] : []));
const at = (signal: Float64Array, seconds: number): number => signal[Math.round((seconds * RATE) / TICK) - 1];

describe('note values', () => {
  // Arithmetic: a quarter lasts 60 000 / bpm ms; dotted × 1.5, triplet × 2/3.
  test.each([
    [120, '1/4', 0.5],
    [90, '1/4', 60 / 90],
    [120, '1/8 dotted', 0.375],
    [60, '1/4 triplet', 2 / 3],
    [174, '1/16', 60 / 174 / 4],
    [84, '1/1', (4 * 60) / 84],
  ])('at %f a minute %s lasts %f s', (tempo, id, seconds) =>
    expect(secondsOfQuarters(NOTE_QUARTERS[noteValue(id)], tempo)).toBeCloseTo(seconds, 12),
  );
  test('from long to short, each once', () => {
    const quarters = NOTE_VALUES.map((value) => value.quarters);
    expect(quarters).toEqual([...quarters].sort((a, b) => b - a));
    expect(new Set(quarters).size).toBe(quarters.length);
    expect(() => noteValue('1/5')).toThrow(RangeError);
  });
  test('a tempo from taps; a pause begins anew', () => {
    expect(tempoOfTaps([0, 0.5, 1, 1.5])).toBe(120);
    expect(tempoOfTaps([0, 0.5, 5, 5.6])).toBe(100);
    expect(tempoOfTaps([1])).toBeUndefined();
  });
});

describe('LFO', () => {
  test.each([0.5, 1, 5.5, 8])('%f Hz by its zero crossings', (rate) => {
    const rises = risesThrough(run('lfo', 8, { params: { rate } }));
    const measured = (rises.length - 1) / (rises[rises.length - 1] - rises[0]);
    expect(figure('LFO: rate by its zero crossings', Math.abs(measured - rate), 'Hz', 'what was set')).toBeLessThan(
      0.005,
    );
  });
  test.each([
    [120, '1/4', 2],
    [90, '1/8 triplet', 4.5],
    [66, '1/2', 0.55],
  ])('at %f a minute %s goes round %f times a second', (tempo, id, hz) => {
    const rises = risesThrough(run('lfo', 12, { params: { length: noteValue(id) }, spec: { clock: 'note' }, tempo }));
    const measured = (rises.length - 1) / (rises[rises.length - 1] - rises[0]);
    expect(figure('LFO: rate by note value', Math.abs(measured - hz), 'Hz', 'arithmetic of the tempo')).toBeLessThan(
      0.005,
    );
  });
  test('shapes at the quarters of their round', () => {
    const quarters = (shape: number) =>
      [0.25, 0.5, 0.75].map(
        (t) => Math.round(at(run('lfo', 1, { spec: { shape } }), t - TICK / RATE / 2) * 100) / 100 + 0,
      );
    expect(LFO_SHAPES).toHaveLength(6);
    expect(quarters(0)).toEqual([1, 0, -1]);
    expect(quarters(1)).toEqual([1, 0, -1]);
    expect(quarters(2)).toEqual([-0.5, 0, 0.5]);
    expect(quarters(3)).toEqual([0.5, 0, -0.5]);
  });
  test('a square’s width, phase, delay, fade-in and depth', () => {
    const high =
      run('lfo', 4, { spec: { shape: 4 }, params: { width: 20 } }).filter((x) => x > 0).length / ((4 * RATE) / TICK);
    expect(high).toBeCloseTo(0.2, 2);
    expect(at(run('lfo', 1, { params: { phase: 25, rate: 0.01 } }), 0.01)).toBeCloseTo(1, 3);
    const late = run('lfo', 4, { params: { delay: 1, fade: 2, rate: 10 } });
    expect(Math.max(...late.subarray(0, RATE / TICK - 1))).toBe(0);
    expect(Math.max(...late.subarray((1.9 * RATE) / TICK, (2.1 * RATE) / TICK))).toBeCloseTo(0.53, 1);
    expect(Math.max(...run('lfo', 2, { params: { amount: 30 } }))).toBeCloseTo(0.3, 3);
  });
  test('smooth random stays within its range, moves without steps and replays from its seed', () => {
    const random = run('lfo', 60, { spec: { shape: 5 }, params: { rate: 4 } });
    expect(Math.max(...random.map(Math.abs))).toBeLessThanOrEqual(1);
    expect(random.reduce((most, x, i) => (i ? Math.max(most, Math.abs(x - random[i - 1])) : 0), 0)).toBeLessThan(
      2 * 1.5 * 4 * (TICK / RATE) * 1.01,
    );
    expect(run('lfo', 5, { spec: { shape: 5 }, seed: 7 })).toEqual(run('lfo', 5, { spec: { shape: 5 }, seed: 7 }));
    expect(run('lfo', 5, { spec: { shape: 5 }, seed: 8 })).not.toEqual(run('lfo', 5, { spec: { shape: 5 }, seed: 7 }));
  });
});

test('envelope: each stage has its length, the curve bends between the same ends, a release begins where it is', () => {
  const straight = { attackBend: 0, decayBend: 0, releaseBend: 0 };
  const shape = run('envelope', 4, {
    params: { delay: 0.2, attack: 0.4, hold: 0.3, decay: 0.5, sustain: 50, release: 1, ...straight },
    releaseAt: 2,
  });
  expect([0.2, 0.4, 0.6, 0.9, 1.15, 1.4, 2].map((t) => at(shape, t))).toEqual(
    [0, 0.5, 1, 1, 0.75, 0.5, 0.5].map((x) => expect.closeTo(x, 2)),
  );
  expect(at(shape, 2.5)).toBeCloseTo(0.25, 2);
  expect(at(shape, 3.1)).toBe(0);
  const early = run('envelope', 3, { params: { attack: 1, release: 1, ...straight }, releaseAt: 0.5 });
  expect([at(early, 0.5), at(early, 1)].map((x) => Math.round(x * 100) / 100)).toEqual([0.5, 0.25]);
  const bent = run('envelope', 1, { params: { attack: 1, attackBend: 80 } });
  // (1 − e^(−kt)) / (1 − e^(−k)) with k = 4.8 at the middle.
  const off = Math.abs(at(bent, 0.5) - (1 - Math.exp(-2.4)) / (1 - Math.exp(-4.8)));
  expect(
    figure('envelope that moves: the middle of a bent attack', off, 'of its height', 'its exponential'),
  ).toBeLessThan(5e-4);
});

test('contour: through its points, once or round and round', () => {
  const points = Float64Array.from([0, -1, 0, 0.5, 1, 0, 1, 0, 0]);
  const once = run('contour', 5, { params: { lasts: 2 }, spec: { clock: 'seconds', points } });
  expect([0.5, 1, 1.5, 2, 4].map((t) => at(once, t))).toEqual([0, 1, 0.5, 0, 0].map((x) => expect.closeTo(x, 2)));
  const looped = run('contour', 5, { params: { lasts: 2 }, spec: { clock: 'seconds', points, loop: true } });
  expect(at(looped, 3)).toBeCloseTo(1, 2);
  expect([...run('contour', 0.1, { spec: { clock: 'seconds' } })].every((x) => x === 0)).toBe(true);
});

test('steps: each its note value, in time with the beat, gliding, or left out by chance', () => {
  const points = Float64Array.from([0.1, 0.2, 0.3, 0.4]);
  const row = run('steps', 4, {
    params: { length: noteValue('1/8') },
    spec: { clock: 'note', begins: 'beat', points },
    tempo: 120,
  });
  expect([0.1, 0.3, 0.6, 0.8, 1.1].map((t) => at(row, t))).toEqual(
    [0.1, 0.2, 0.3, 0.4, 0.1].map((x) => expect.closeTo(x, 9)),
  );
  const gliding = run('steps', 1, { params: { length: noteValue('1/8'), glide: 50 }, spec: { clock: 'note', points } });
  expect(at(gliding, 0.25 + 0.0625)).toBeCloseTo(0.15, 2);
  expect(new Set(run('steps', 4, { params: { chance: 0 }, spec: { points } }))).toEqual(new Set([0.1]));
});

test('sample and hold: new values at its clock; draws are uniform (χ², 20 classes, 1 %); it takes what comes in', () => {
  const draws: number[] = [];
  const held = run('hold', 500, { params: { rate: 20 } });
  for (let i = 0.025; i < 500; i += 0.05) draws.push(at(held, i));
  expect(draws.length).toBe(10000);
  const classes = new Array<number>(20).fill(0);
  for (const x of draws) classes[Math.min(19, Math.floor((x + 1) * 10))]++;
  // 36.19: χ² with 19 degrees of freedom at 1 % (from memory of the usual table).
  const chi = classes.reduce((sum, n) => sum + (n - 500) ** 2 / 500, 0);
  expect(
    figure('sample and hold: χ² of 10 000 draws in 20 classes', chi, '(36.19 at 1 %)', 'the table of χ²'),
  ).toBeLessThan(36.19);
  const sampled = run('hold', 3, { params: { rate: 1 }, spec: { samplesInput: true }, input: (t) => t / 10 });
  expect([0.5, 1.5, 2.5].map((t) => at(sampled, t))).toEqual([0, 0.1, 0.2].map((x) => expect.closeTo(x, 2)));
});

test('wander: bounded for hours, without jumps, all over its width', () => {
  const walk = run('wander', 3600, { params: { rate: 2 } });
  const most = walk.reduce((a, b) => Math.max(a, Math.abs(b)), 0);
  expect(most).toBeLessThanOrEqual(1);
  expect(most).toBeGreaterThan(0.9);
  expect(Math.abs(walk.reduce((sum, x) => sum + x, 0) / walk.length)).toBeLessThan(0.1);
  expect(walk.reduce((step, x, i) => (i ? Math.max(step, Math.abs(x - walk[i - 1])) : 0), 0)).toBeLessThan(
    0.8 * 1.5 * 2 * (TICK / RATE) * 1.01,
  );
  expect(
    run('wander', 60, { params: { rate: 2, amount: 25 } }).reduce((a, b) => Math.max(a, Math.abs(b)), 0),
  ).toBeLessThanOrEqual(0.25);
});

test('follower: 63 % of the way in its times, read in dB from its floor', () => {
  const loud = run('follower', 2, { params: { rise: 0.1, fall: 0.5, floor: -60 }, input: (t) => (t <= 1 ? 1 : 0) });
  expect(at(loud, 0.1)).toBeCloseTo(1 + (20 * Math.log10(1 - Math.exp(-1))) / 60, 2);
  expect(at(loud, 1)).toBeCloseTo(1, 3);
  expect(at(loud, 1.5)).toBeCloseTo(1 + (20 * Math.log10(Math.exp(-1))) / 60, 2);
});
