import { insideOf } from '../../../../../tests/kit/inside';
import {
  SHAPE_NAMES,
  shapeAt,
  shapePoints,
  drawnFrom,
  FALLING,
  GAUSSIAN,
  HAMMING,
  HANN,
  RISING,
  TAPERED,
  TRIANGLE_SHAPE,
} from '../../../sounds/grains/shapes';
import type { Audio } from '../../../dsp/sample';
import { newRoute } from '../../../rig/defaults';
import { db, engineFor, play, RATE, rms, spectrumOf, type KindSetup } from '../../../../../tests/kit/kinds';
import type { Engine } from '../../engine';

const SECONDS = 4;
const TONES: Audio = {
  rate: RATE,
  channels: 1,
  data: Float32Array.from(
    { length: RATE * SECONDS },
    (_, i) => 0.4 * Math.sin((2 * Math.PI * 333.3 * i) / RATE) + 0.3 * Math.sin((2 * Math.PI * 1234.5 * i) / RATE + 1),
  ),
};
/** A tone whose pitch tells the place: 200 Hz at the beginning, 2200 Hz at the end. */
const SWEEP: Audio = {
  rate: RATE,
  channels: 1,
  data: Float32Array.from({ length: RATE * SECONDS }, (_, i) => {
    const t = i / RATE;
    return 0.5 * Math.sin(2 * Math.PI * (200 * t + ((2000 / SECONDS) * (t * t)) / 2));
  }),
};
const grains = (params: Record<string, number>, audio = TONES, more: KindSetup = {}): KindSetup => ({
  ...more,
  audio,
  sound: { params, ...more.sound },
});

/** Everything that the first voice's grains were, each once, looked at every 32 frames. */
interface Seen {
  at: number;
  step: number;
  length: number;
  left: number;
  right: number;
  frame: number;
}
function watch(engine: Engine, seconds: number): { grains: Seen[]; most: number; begun: number } {
  const found: Seen[] = [];
  let most = 0;
  let begun = 0;
  const left = new Float32Array(32),
    right = new Float32Array(32);
  const known = new Set<string>();
  for (let frame = 0; frame < seconds * RATE; frame += 32) {
    engine.process(left, right, 32);
    // The engine's own memory is looked at, as nothing else tells what each grain was.
    const voice = insideOf(engine).voices.find((each) => each.active);
    if (!voice) continue;
    const generator = voice.generator as unknown as {
      begun: number;
      count: number;
      grains: Float64Array;
      levels: Uint8Array;
    };
    begun = generator.begun;
    most = Math.max(most, generator.count);
    for (let g = 0; g < generator.count; g++) {
      const [at, step, age, length, l, r] = generator.grains.subarray(g * 6, g * 6 + 6);
      const name = `${at} ${step} ${length} ${Math.round(frame - age)}`;
      const near = [...known].slice(-80);
      if (near.some((each) => each.startsWith(`${at} ${step} ${length}`))) continue;
      known.add(name);
      const factor = 2 ** generator.levels[g];
      found.push({ at: at * factor, step: step * factor, length, left: l, right: r, frame: frame - age });
    }
  }
  return { grains: found, most, begun };
}
const struck = (setup: KindSetup, key = 60): Engine => {
  const engine = engineFor(setup);
  engine.handle({ type: 'noteOn', channel: 1, key, velocity: 127 });
  return engine;
};

describe('shapes of grains', () => {
  // F. J. Harris, "On the use of windows for harmonic analysis with the discrete Fourier transform", Proc. IEEE 66
  // (1978), equations 27 (Hann), 30a (Hamming 0.54 / 0.46), 38 (tapered cosine), 44a (Gaussian); numbers of equations
  // from memory.
  it('are the windows of the literature', () => {
    for (const t of [0, 0.1, 0.25, 0.5, 0.8, 1]) {
      expect(shapeAt(HANN, t)).toBeCloseTo(Math.sin(Math.PI * t) ** 2, 9);
      expect(shapeAt(HAMMING, t)).toBeCloseTo(0.54 + 0.46 * Math.cos(2 * Math.PI * (t - 0.5)), 9);
      expect(shapeAt(GAUSSIAN, t)).toBeCloseTo(Math.exp(-0.5 * (3 * (2 * t - 1)) ** 2), 9);
      expect(shapeAt(TRIANGLE_SHAPE, t)).toBeCloseTo(1 - Math.abs(t - 0.5) * 2, 9);
      expect(shapeAt(TAPERED, t)).toBeCloseTo(
        t >= 0.25 && t <= 0.75 ? 1 : 0.5 * (1 + Math.cos((Math.PI * (Math.abs(t - 0.5) - 0.25)) / 0.25)),
        9,
      );
      expect(shapeAt(FALLING, t)).toBeCloseTo(shapeAt(RISING, 1 - t), 9);
    }
    // Coherent gains of the same paper, table I: Hann 0.50, Hamming 0.54, tapered cosine with α = 0.5 0.75, triangle
    // 0.50, Gaussian with α = 3.0 0.43 (with α = 2.5 0.51).
    const mean = (shape: number) => {
      let sum = 0;
      for (let i = 0; i < 4096; i++) sum += shapeAt(shape, (i + 0.5) / 4096) / 4096;
      return sum;
    };
    expect(mean(HANN)).toBeCloseTo(0.5, 3);
    expect(mean(HAMMING)).toBeCloseTo(0.54, 3);
    expect(mean(TAPERED)).toBeCloseTo(0.75, 2);
    expect(mean(TRIANGLE_SHAPE)).toBeCloseTo(0.5, 3);
    expect(mean(GAUSSIAN)).toBeCloseTo(0.417, 2);
    expect(shapePoints(HANN).power).toBeCloseTo(3 / 8, 3);
    expect(SHAPE_NAMES).toHaveLength(9);
  });

  it('are drawn, or taken from a recording', () => {
    expect(shapeAt(8, 0.5, [0, 1, 0.2, 1, 0])).toBeCloseTo(0.2, 9);
    expect(shapeAt(8, 0.125, [0, 1, 0.2, 1, 0])).toBeCloseTo(0.5, 9);
    const rising = drawnFrom(
      Float32Array.from({ length: 6400 }, (_, i) => (i / 6400) * (i % 2 ? 0.5 : -0.5)),
      1,
    );
    expect(rising).toHaveLength(64);
    expect(rising[63]).toBe(1);
    expect(rising[15]).toBeCloseTo(0.25, 1);
    expect(drawnFrom(new Float32Array(100), 1).every((x) => x === 0)).toBe(true);
  });
});

describe('grains', () => {
  // Hann windows that overlap by half sum to 1.
  it('at the rate of the recording, without scatter, with Hann windows that overlap twice, are the recording', () => {
    const { left } = play(grains({ grainLength: 0.1, grainOverlap: 2 }), 60, 2);
    let error = 0,
      power = 0;
    for (let i = 10000; i < 80000; i++) {
      const x = TONES.data[i] * Math.SQRT1_2;
      error += (left[i] - x) ** 2;
      power += x * x;
    }
    expect(db(Math.sqrt(error / power))).toBeLessThan(-60);
  });

  it.each([
    [0, 'grainDensity', 40, 40],
    [1, 'grainOverlap', 6, 60],
  ])('come as densely as asked, counted (by %i)', (by, id, value, inSecond) => {
    const { begun, most } = watch(struck(grains({ grainBy: by, [id]: value, grainLength: 0.1 })), 2.9);
    expect(Math.abs(begun / 2.9 - inSecond)).toBeLessThan(1.5);
    expect(by === 0 || (most >= 6 && most <= 7)).toBe(true);
  });

  it('scatter within their limits, evenly (χ², 1 %)', () => {
    const params = {
      grainBy: 0,
      grainDensity: 400,
      grainLength: 0.01,
      grainFreeze: 1,
      grainPosition: 50,
      grainPositionScatter: 20,
      grainPitchScatter: 600,
      grainLengthScatter: 40,
      grainPanScatter: 80,
      grainLevelScatter: 12,
      grainReversed: 25,
      grainTimeScatter: 0,
      grainMost: 64,
    };
    const { grains: seen } = watch(struck(grains(params)), 4.5);
    expect(seen.length).toBeGreaterThan(1000);
    const frames = RATE * SECONDS;
    const even = (shares: number[]) => {
      const bins = new Array<number>(10).fill(0);
      for (const share of shares) {
        expect(share).toBeGreaterThanOrEqual(-1e-6);
        expect(share).toBeLessThanOrEqual(1 + 1e-6);
        bins[Math.min(9, Math.max(0, Math.floor(share * 10)))]++;
      }
      const wanted = shares.length / 10;
      // χ² with 9 degrees of freedom is below 21.67 in 99 of 100 cases (tables).
      expect(bins.reduce((sum, n) => sum + (n - wanted) ** 2 / wanted, 0)).toBeLessThan(21.67);
    };
    even(seen.map(({ at, step, length }) => ((step < 0 ? at + step * length : at) / frames - 0.3) / 0.4));
    even(seen.map(({ step }) => (1200 * Math.log2(Math.abs(step)) + 600) / 1200));
    even(seen.map(({ length }) => (length / (0.01 * RATE) - 0.6) / 0.8));
    even(seen.map(({ left, right }) => ((Math.atan2(right, left) / (Math.PI / 2)) * 2 - 1 + 0.8) / 1.6));
    const loudest = Math.max(...seen.map(({ left, right }) => Math.hypot(left, right)));
    even(seen.map(({ left, right }) => -db(Math.hypot(left, right) / loudest) / 12));
    const backward = seen.filter(({ step }) => step < 0).length / seen.length;
    expect(Math.abs(backward - 0.25)).toBeLessThan(0.05);
  });

  it('stand where the position says, and go through the sample by themselves', () => {
    const pitchAt = (params: Record<string, number>, from: number) => {
      const s = spectrumOf(play(grains({ grainLength: 0.05, ...params }, SWEEP), 60, 2.5).left, from, 8192);
      let most = 0,
        at = 0;
      s.forEach((a, k) => {
        if (a > most) {
          most = a;
          at = k;
        }
      });
      return (at * RATE) / 8192;
    };
    expect(Math.abs(pitchAt({ grainFreeze: 1, grainPosition: 50 }, 24000) - 1212)).toBeLessThan(60);
    expect(Math.abs(pitchAt({ grainFreeze: 1, grainPosition: 25 }, 72000) - 712)).toBeLessThan(60);
    // Twice as fast as recorded: after 1 s it is where the recording is after 2 s; backward it begins at the end.
    expect(Math.abs(pitchAt({ grainRate: 200 }, 44000) - 1230)).toBeLessThan(90);
    expect(Math.abs(pitchAt({ grainRate: -100, grainPosition: 100 }, 44000) - 1700)).toBeLessThan(90);
  });

  it('keep their pitch, or follow the keys', () => {
    const steps = (params: Record<string, number>) =>
      watch(struck(grains({ grainLength: 0.05, ...params }), 72), 0.3).grains[0].step;
    expect(steps({})).toBeCloseTo(2, 4);
    expect(steps({ grainFollow: 0 })).toBeCloseTo(1, 4);
    expect(steps({ grainFollow: 0, grainPitch: -1200 })).toBeCloseTo(0.5, 4);
  });

  it('are never more than the most', () => {
    expect(watch(struck(grains({ grainOverlap: 32, grainLength: 0.2, grainMost: 7 })), 1).most).toBe(7);
    expect(watch(struck(grains({ grainOverlap: 32, grainLength: 0.2, grainMost: 64 })), 1).most).toBeGreaterThan(30);
  });

  it('are heard the same however the output is cut; the same seed gives the same bits, another one others', () => {
    const setup = grains({
      grainPositionScatter: 30,
      grainPitchScatter: 100,
      grainPanScatter: 100,
      grainTimeScatter: 60,
      grainReversed: 30,
      grainLevelScatter: 6,
      grainLengthScatter: 30,
    });
    const events = [{ at: 0.3, event: { type: 'noteOn' as const, channel: 1, key: 67, velocity: 90 } }];
    const a = play(setup, 60, 1, events, 4800),
      b = play(setup, 60, 1, events, 61),
      c = play({ ...setup, seed: 2 }, 60, 1, events);
    expect(a.left.every((x, i) => x === b.left[i]) && a.right.every((x, i) => x === b.right[i])).toBe(true);
    expect(a.left.every((x, i) => x === c.left[i])).toBe(false);
  });

  it('with every scatter at 0 are the same for every seed', () => {
    const a = play(grains({}), 60, 0.5),
      b = play({ ...grains({}), seed: 9 }, 60, 0.5);
    expect(a.left.every((x, i) => x === b.left[i])).toBe(true);
  });

  it('follow routes: a wheel that moves the position is heard at once', () => {
    const setup = grains({ grainFreeze: 1, grainLength: 0.04 }, SWEEP, {
      patch: { routes: [newRoute('r', 'cc.1', 'layer.l.grainPosition', 1)] } as KindSetup['patch'],
    });
    const { left } = play(setup, 60, 2, [
      { at: 0.8, event: { type: 'controller', channel: 1, controller: 1, value: 64 } },
    ]);
    const peak = (from: number) => {
      const s = spectrumOf(left, from, 8192);
      let at = 0;
      s.forEach((a, k) => {
        if (a > s[at]) at = k;
      });
      return (at * RATE) / 8192;
    };
    expect(peak(20000)).toBeLessThan(300);
    expect(Math.abs(peak(60000) - 1220)).toBeLessThan(80);
  });

  it('end with a full-length zone where its sample does, and with their key else', () => {
    const tail = (playback: 'full-length' | 'while-held', off: number) =>
      rms(
        play(grains({ grainLength: 0.05 }, TONES, { zone: { playback } }), 60, 6, [
          { at: off, event: { type: 'noteOff', channel: 1, key: 60, velocity: 64 } },
        ]).left,
        Math.round(1.5 * RATE),
        Math.round(1.6 * RATE),
      );
    expect(tail('full-length', 0.1)).toBeGreaterThan(0.1);
    expect(tail('while-held', 0.1)).toBeLessThan(1e-3);
    const { left } = play(grains({ grainLength: 0.05 }, TONES, { zone: { playback: 'full-length' } }), 60, 6, [
      { at: 0.1, event: { type: 'noteOff', channel: 1, key: 60, velocity: 64 } },
    ]);
    expect(rms(left, Math.round(4.3 * RATE), Math.round(5 * RATE))).toBe(0);
  });
});
