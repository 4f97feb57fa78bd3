import { prepareSample } from '../dsp/sample';
import { pitchOf } from '../measure/pitch';
import FFT from 'fft.js';
import { effectKind, type Effect } from './index';
import { staticCurve } from './compressor';

const RATE = 48000;
const valuesOf = (kindId: string, values: Record<string, number> = {}) =>
  Float64Array.from(
    Object.values(effectKind(kindId).parameters),
    (parameter) => values[parameter.id] ?? parameter.default,
  );
const make = (
  kindId: string,
  values: Record<string, number> = {},
  more: {
    side?: { left: Float32Array; right: Float32Array } | null;
    impulse?: ReturnType<typeof prepareSample> | null;
    key?: number;
    tempo?: number;
  } = {},
): Effect => {
  const kind = effectKind(kindId);
  const effect = kind.make({
    rate: RATE,
    seed: 1,
    memory: new Float32Array(kind.room?.(RATE) ?? 0),
    time: Float64Array.of(0, (more.tempo ?? 120) / 60 / RATE),
    key: Float64Array.of(more.key ?? NaN),
    steps: new Float64Array(33),
    side: more.side ?? null,
    impulse: more.impulse ?? null,
  });
  effect.aim(valuesOf(kindId, values));
  return effect;
};
const process = (effect: Effect, left: Float32Array, right = left.slice()) => {
  for (let at = 0; at < left.length; at += 32) effect.process(left, right, at, Math.min(left.length, at + 32));
  return { left, right };
};
const sine = (hz: number, seconds: number, height = 1) =>
  Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => height * Math.sin((2 * Math.PI * hz * i) / RATE));
const noise = (frames: number, height = 1, seed = 1) => {
  let s = seed;
  return Float32Array.from({ length: frames }, () => {
    s = (Math.imul(s, 1664525) + 1013904223) | 0;
    return (height * s) / 2 ** 31;
  });
};
const db = (x: number) => 20 * Math.log10(x + 1e-12);
const rms = (x: Float32Array, from = 0, to = x.length) =>
  Math.sqrt(x.subarray(from, to).reduce((sum, y) => sum + y * y, 0) / (to - from));
/** Gain at a frequency, by a sine that has settled. */
const gainAt = (kindId: string, values: Record<string, number>, hz: number, more = {}) => {
  const x = sine(hz, 0.6, 0.1);
  const was = rms(x, 19200);
  return db(rms(process(make(kindId, values, more), x).left, 19200) / was);
};
const spectrum = (x: Float32Array, size: number, from = 0): Float64Array => {
  const fft = new FFT(size);
  const out = fft.createComplexArray() as number[];
  fft.realTransform(
    out,
    Float64Array.from(
      { length: size },
      (_, i) =>
        (x[from + i] ?? 0) *
        (0.35875 -
          0.48829 * Math.cos((2 * Math.PI * i) / size) +
          0.14128 * Math.cos((4 * Math.PI * i) / size) -
          0.01168 * Math.cos((6 * Math.PI * i) / size)),
    ),
  );
  return Float64Array.from(
    { length: size / 2 },
    (_, k) => Math.hypot(out[2 * k], out[2 * k + 1]) / ((size * 0.35875) / 2),
  );
};

describe('equaliser', () => {
  // W3C Note "Audio EQ Cookbook": H(z) of each kind, worked out here from its formulas for ω₀, α and A, at points of
  // the frequency axis.
  const cookbook = (kind: string, f0: number, q: number, gain: number, f: number) => {
    const w0 = (2 * Math.PI * f0) / RATE,
      A = 10 ** (gain / 40),
      alpha = Math.sin(w0) / (2 * q),
      c = Math.cos(w0);
    const rows: Record<string, [number, number, number, number, number, number]> = {
      bell: [1 + alpha * A, -2 * c, 1 - alpha * A, 1 + alpha / A, -2 * c, 1 - alpha / A],
      'low shelf': [
        A * (A + 1 - (A - 1) * c + 2 * Math.sqrt(A) * alpha),
        2 * A * (A - 1 - (A + 1) * c),
        A * (A + 1 - (A - 1) * c - 2 * Math.sqrt(A) * alpha),
        A + 1 + (A - 1) * c + 2 * Math.sqrt(A) * alpha,
        -2 * (A - 1 + (A + 1) * c),
        A + 1 + (A - 1) * c - 2 * Math.sqrt(A) * alpha,
      ],
      'high shelf': [
        A * (A + 1 + (A - 1) * c + 2 * Math.sqrt(A) * alpha),
        -2 * A * (A - 1 + (A + 1) * c),
        A * (A + 1 + (A - 1) * c - 2 * Math.sqrt(A) * alpha),
        A + 1 - (A - 1) * c + 2 * Math.sqrt(A) * alpha,
        2 * (A - 1 - (A + 1) * c),
        A + 1 - (A - 1) * c - 2 * Math.sqrt(A) * alpha,
      ],
      'low cut': [(1 + c) / 2, -(1 + c), (1 + c) / 2, 1 + alpha, -2 * c, 1 - alpha],
      'high cut': [(1 - c) / 2, 1 - c, (1 - c) / 2, 1 + alpha, -2 * c, 1 - alpha],
    };
    const [b0, b1, b2, a0, a1, a2] = rows[kind];
    const w = (2 * Math.PI * f) / RATE;
    const at = (x: number, y: number, z: number) =>
      Math.hypot(x + y * Math.cos(w) + z * Math.cos(2 * w), y * Math.sin(w) + z * Math.sin(2 * w));
    return db(at(b0, b1, b2) / at(a0, a1, a2));
  };
  test.each([
    ['bell', 5, 1000, 2, 9],
    ['low shelf', 3, 250, Math.SQRT1_2, -8],
    ['high shelf', 4, 5000, 1, 6],
    ['low cut', 1, 300, Math.SQRT1_2, 0],
    ['high cut', 2, 3000, Math.SQRT1_2, 0],
  ] as const)('%s as in the cookbook', (kind, place, f0, q, gain) => {
    for (const f of [100, 250, 300, 1000, 3000, 5000, 9000])
      expect(gainAt('equaliser', { kind1: place, frequency1: f0, q1: q, gain1: gain }, f)).toBeCloseTo(
        cookbook(kind, f0, q, gain, f),
        1,
      );
  });
  // Butterworth: −3.01 dB at the corner whatever the order, 6.02 dB an octave for each order far from it.
  test.each([
    [0, 1],
    [1, 2],
    [2, 3],
    [3, 4],
    [4, 6],
    [5, 8],
  ])('a cut of slope %i has order %i', (slope, order) => {
    expect(gainAt('equaliser', { kind1: 1, frequency1: 800, slope1: slope }, 800)).toBeCloseTo(-3.01, 1);
    expect(gainAt('equaliser', { kind1: 1, frequency1: 800, slope1: slope }, 400)).toBeCloseTo(
      -10 * Math.log10(1 + (Math.tan((Math.PI * 800) / RATE) / Math.tan((Math.PI * 400) / RATE)) ** (2 * order)),
      0,
    );
  });
  test('tilt: as many dB an octave as it says, 0 dB at the pivot', () => {
    expect(gainAt('tilt', { slope: 3, pivot: 800 }, 800)).toBeCloseTo(0, 1);
    expect(gainAt('tilt', { slope: 3, pivot: 800 }, 1600) - gainAt('tilt', { slope: 3, pivot: 800 }, 400)).toBeCloseTo(
      6,
      0,
    );
  });
});

describe('bands', () => {
  test('partials keeps the note and its harmonics, and follows the key', () => {
    // A4 = note 69 = 440 Hz.
    const kept = { keeps: 0, series: 1, count: 4, narrow: 40 };
    for (const hz of [440, 880, 1320]) expect(gainAt('partials', kept, hz, { key: 69 })).toBeCloseTo(0, 0);
    for (const hz of [600, 1100, 3000]) expect(gainAt('partials', kept, hz, { key: 69 })).toBeLessThan(-18);
    expect(gainAt('partials', { ...kept, keeps: 1 }, 880, { key: 69 })).toBeLessThan(-40);
  });
  test('notches stand at their distances', () => {
    const values = { count: 4, centre: 1000, spacing: 12, narrow: 10, depth: 0 };
    for (const octaves of [-1.5, -0.5, 0.5, 1.5])
      expect(gainAt('notches', values, 1000 * 2 ** octaves)).toBeLessThan(-40);
    expect(gainAt('notches', values, 1000)).toBeGreaterThan(-2);
  });
  // J. O. Smith, Physical Audio Signal Processing: peaks at n·rate/delay (feedback), notches at (n+½)·rate/delay
  // (forward).
  test('comb: peaks and notches where theory has them', () => {
    const rings = { mix: 100, kind: 0, frequency: 240, feedback: 80, damping: 0 };
    for (const n of [1, 2, 3]) expect(gainAt('comb', rings, 240 * n)).toBeCloseTo(db(1 / (1 - 0.8)), 0);
    for (const n of [0.5, 1.5]) expect(gainAt('comb', rings, 240 * n)).toBeCloseTo(db(1 / (1 + 0.8)), 0);
    const takes = { mix: 100, kind: 1, frequency: 240, feedback: 98, damping: 0 };
    for (const n of [0.5, 1.5, 2.5]) expect(gainAt('comb', takes, 240 * n)).toBeLessThan(-30);
  });
});

describe('dynamics', () => {
  // D. Giannoulis, M. Massberg, J. D. Reiss, JAES 60 (2012), eq. 4, at a few points worked out by hand: threshold −20,
  // ratio 4.
  test('the static curve with and without a knee', () => {
    expect(staticCurve(-30, -20, 4, 0)).toBe(-30);
    expect(staticCurve(-8, -20, 4, 0)).toBe(-17);
    expect(staticCurve(-20, -20, 4, 10)).toBeCloseTo(-20 + (-0.75 * 25) / 20, 9);
    for (const level of [-30, -20, -12, -4]) {
      const x = new Float32Array(RATE).fill(10 ** (level / 20));
      expect(
        db(process(make('compressor', { threshold: -20, ratio: 4, knee: 6, attack: 0.005 }), x).left[RATE - 1]),
      ).toBeCloseTo(staticCurve(level, -20, 4, 6), 1);
    }
  });
  test.each([0.005, 0.02, 0.1])('attack of %f s and release: 63 %% of the way in that time', (seconds) => {
    const x = new Float32Array(2 * RATE).fill(1, 0, RATE).fill(0.01, RATE);
    const effect = make('compressor', { threshold: -20, ratio: 5, knee: 0, attack: seconds, release: seconds * 3 });
    const { left } = process(effect, x);
    const whole = db(left[RATE - 1]);
    expect(db(left[Math.round(seconds * RATE)]) / whole).toBeCloseTo(1 - Math.exp(-1), 1);
    // What holds the peak lets go 40 dB within 55 ms: counted from where the gain begins to come back.
    const back = (i: number) => db(left[RATE + i] / 0.01);
    const begins = Array.from({ length: RATE / 4 }, (_, i) => i).find((i) => back(i) > whole * 0.999)!;
    expect(back(begins + Math.round(seconds * 3 * RATE)) / whole).toBeLessThan(0.62);
  });
  test('a side chain: another sound turns it down, with its own cut', () => {
    const side = { left: new Float32Array(RATE).fill(0), right: new Float32Array(RATE) };
    side.left.set(sine(50, 1, 1));
    const deep = (cut: number) => {
      const x = sine(1000, 1, 0.1);
      const was = rms(x, RATE / 2);
      return db(
        rms(process(make('compressor', { threshold: -30, ratio: 10, sideCut: cut }, { side }), x).left, RATE / 2) / was,
      );
    };
    expect(deep(20)).toBeLessThan(-20);
    expect(deep(1000)).toBeGreaterThan(-3);
  });
  test('the reduction is told to half a dB; measured makeup brings the level back', () => {
    const x = new Float32Array(3 * RATE).fill(0.5);
    const effect = make('compressor', { threshold: -20, ratio: 4, knee: 0 });
    const { left } = process(effect, x.slice());
    expect(Math.abs(effect.readings![0] + db(left[left.length - 1] / 0.5))).toBeLessThan(0.5);
    expect(
      db(
        process(
          make('compressor', { threshold: -20, ratio: 4, knee: 0, measured: 1 }),
          new Float32Array(8 * RATE).fill(0.5),
        ).left[8 * RATE - 1] / 0.5,
      ),
    ).toBeCloseTo(0, 0);
  });
  test('three bands at rest pass everything at its level; loud ones come down, soft ones up', () => {
    const rest = { lowRatio: 1, middleRatio: 1, highRatio: 1, lowBelow: -80, middleBelow: -80, highBelow: -80 };
    for (const hz of [60, 180, 700, 2800, 9000]) expect(gainAt('threeBand', rest, hz)).toBeCloseTo(0, 1);
    expect(gainAt('threeBand', { ...rest, middleAbove: -40, middleRatio: 10 }, 700)).toBeLessThan(-12);
    expect(gainAt('threeBand', { ...rest, middleAbove: -40, middleRatio: 10 }, 60)).toBeCloseTo(0, 0);
    expect(gainAt('threeBand', { ...rest, middleBelow: -10 }, 700)).toBeGreaterThan(3);
  });
  test('gate: closed below its threshold by its range, open above', () => {
    expect(gainAt('gate', { threshold: -10, range: 40 }, 500)).toBeCloseTo(-40, 0);
    expect(gainAt('gate', { threshold: -30, range: 40 }, 500)).toBeCloseTo(0, 1);
  });
  test('limiter: nothing above its ceiling, and what is below stays as it is', () => {
    const { left } = process(make('limiter', { gain: 12, ceiling: -3 }), noise(RATE, 1));
    expect(Math.max(...left)).toBeLessThanOrEqual(10 ** (-3 / 20) * 1.00001);
    const soft = sine(300, 0.5, 0.3);
    const was = soft.slice();
    const { left: out } = process(make('limiter', { ceiling: -3 }), soft);
    const late = effectKind('limiter').latency!(RATE);
    for (let i = 0; i < 4000; i++) expect(out[i + late]).toBeCloseTo(was[i], 5);
  });
  test('onset: beginnings louder or softer, what goes on as it was', () => {
    const x = new Float32Array(RATE);
    x.set(sine(400, 0.5, 0.2), RATE / 2);
    const begin = (attack: number) => rms(process(make('onset', { attack }), x.slice()).left, RATE / 2, RATE / 2 + 900);
    expect(db(begin(12) / begin(0))).toBeGreaterThan(4);
    expect(db(begin(-12) / begin(0))).toBeLessThan(-4);
    expect(
      db(rms(process(make('onset', { attack: 12 }), x.slice()).left, RATE - 4800) / rms(x, RATE - 4800)),
    ).toBeCloseTo(0, 0);
  });
});

describe('saturation', () => {
  // Signal theory: what lies above half the rate must not fold back. A 5 kHz sine has its harmonics at multiples of 5
  // kHz; all else is alias.
  test.each([
    [0, 'soft'],
    [1, 'tube-like'],
    [3, 'hard'],
    [2, 'fold'],
  ])('curve %i (%s): a 5 kHz sine at full drive has no alias above −80 dB', (curve, name) => {
    const size = 32768;
    const hz = (Math.round((5000 * size) / RATE) * RATE) / size;
    const { left } = process(
      make('saturation', { curve, drive: name === 'fold' ? 12 : 30, match: 0 }),
      sine(hz, 1.2, 1),
    );
    const levels = spectrum(left, size, 12000);
    const per = (hz * size) / RATE;
    let alias = 0;
    for (let bin = 40; bin < levels.length; bin++)
      if (Math.abs(bin / per - Math.round(bin / per)) * per > 8) alias = Math.max(alias, levels[bin]);
    expect(db(alias / Math.max(...levels))).toBeLessThan(-80);
  });
  test('with nothing to bend, what goes out is what came in, as late as it says', () => {
    const x = sine(700, 0.4, 0.001);
    const was = x.slice();
    const { left } = process(make('saturation', { drive: 0, match: 0 }), x);
    const late = effectKind('saturation').latency!(RATE);
    for (let i = 2000; i < 8000; i++) expect(left[i + late]).toBeCloseTo(was[i], 5);
  });
  test('matched, it is as loud as what came in', () => {
    const x = sine(400, 3, 0.4);
    expect(db(rms(process(make('saturation', { drive: 24 }), x.slice()).left, 2 * RATE) / rms(x))).toBeCloseTo(0, 0);
  });
});

describe('delays', () => {
  test.each([
    [0.25, 12000],
    [0.0375, 1800],
  ])('an echo of %f s comes %i frames later, to the frame, and again', (time, frames) => {
    const x = new Float32Array(RATE);
    x[0] = 1;
    const { left } = process(make('echo', { clock: 0, time, feedback: 50, lowCut: 20, highCut: 20000 }), x);
    expect(left[frames]).toBeCloseTo(1, 6);
    expect(left[2 * frames]).toBeCloseTo(0.5, 5);
    expect(left.filter((y) => Math.abs(y) > 0.3).length).toBe(2);
  });
  test('in note values: a dotted eighth at 120 is 18 000 frames; ping-pong goes from side to side', () => {
    const x = new Float32Array(RATE);
    x[0] = 1;
    const { left, right } = process(make('echo', { way: 1, feedback: 50, lowCut: 20, highCut: 20000 }), x, x.slice());
    expect(left[18000]).toBeCloseTo(1, 5);
    expect(right[18000]).toBe(0);
    expect(right[36000]).toBeCloseTo(0.5, 5);
    expect(left[36000]).toBe(0);
  });
  test('a new time glides or crossfades without a click', () => {
    for (const change of [0, 1]) {
      const effect = make('echo', { clock: 0, time: 0.1, feedback: 0, change, lowCut: 20, highCut: 20000 });
      const x = sine(300, 1.5, 0.5);
      const right = x.slice();
      for (let at = 0; at < x.length; at += 32) {
        if (at === 24000)
          effect.aim(valuesOf('echo', { clock: 0, time: 0.14, feedback: 0, change, lowCut: 20, highCut: 20000 }));
        effect.process(x, right, at, at + 32);
      }
      const steepest = x
        .subarray(12000)
        .reduce((most, y, i, all) => (i === 0 ? 0 : Math.max(most, Math.abs(y - all[i - 1]))), 0);
      expect(steepest).toBeLessThan(0.5 * 2 * Math.PI * (300 / RATE) * 1.8);
    }
  });
  // M. R. Schroeder, JASA 37 (1965): the decay by backward integration of the squared impulse response.
  test.each([
    [0, 1],
    [1, 2.2],
    [2, 1.5],
    [3, 1.2],
    [4, 6],
  ])('reverb of kind %i dies away by 60 dB in %f s', (kind, decay) => {
    const frames = Math.round(decay * 1.4 * RATE);
    const x = new Float32Array(frames);
    // Room acoustics counts in octaves up to 4 kHz (ISO 3382-1).
    x.set(process(make('equaliser', { kind1: 2, frequency1: 4500, slope1: 5 }), noise(1440, 1)).left);
    const { left } = process(
      make('reverb', { mix: 100, kind, decay, damping: 0, lowCut: 20, balance: 100, predelay: 0 }),
      x,
    );
    const energy = new Float64Array(frames + 1);
    for (let i = frames - 1; i >= 0; i--) energy[i] = energy[i + 1] + left[i] ** 2;
    const at = (level: number) => energy.findIndex((y) => 10 * Math.log10(y / energy[0]) < level);
    const t60 = ((at(-35) - at(-5)) * 2) / RATE;
    expect(Math.abs(t60 / decay - 1)).toBeLessThan(0.05);
  });
  test('no line of the late spectrum of a reverb stands 12 dB above those around it', () => {
    for (const kind of [0, 1, 2, 4]) {
      const x = new Float32Array(5 * RATE);
      x[0] = 1;
      const { left } = process(make('reverb', { mix: 100, kind, decay: 4, damping: 20, lowCut: 20, balance: 100 }), x);
      const size = 65536;
      const levels = spectrum(left, size, RATE);
      let worst = 0;
      for (let bin = 600; bin < 8000; bin++) {
        let sum = 0;
        for (let n = bin - 150; n <= bin + 150; n++) sum += levels[n] ** 2;
        worst = Math.max(worst, 10 * Math.log10(levels[bin] ** 2 / (sum / 301)));
      }
      expect(worst).toBeLessThan(12);
    }
  });
  test('ducking: softer while something comes in, back after its time', () => {
    const x = new Float32Array(3 * RATE);
    x.set(noise(RATE, 0.5));
    const wet = (duck: number) =>
      process(make('reverb', { mix: 100, decay: 4, duck, return: 0.3, lowCut: 20 }), x.slice()).left;
    const [plain, ducked] = [wet(0), wet(20)];
    expect(db(rms(ducked, RATE / 2, RATE) / rms(plain, RATE / 2, RATE))).toBeLessThan(-17);
    expect(db(rms(ducked, 2.8 * RATE) / rms(plain, 2.8 * RATE))).toBeGreaterThan(-1.5);
  });
  // Equals direct convolution (W. G. Gardner, JAES 43, 1995), from the first frame on.
  test('convolution equals direct convolution', () => {
    const length = 9000;
    const response = Float32Array.from(noise(length, 0.1, 5), (y, i) => y * Math.exp(-i / 3000));
    const audio = { rate: RATE, channels: 1 as const, data: response };
    const x = new Float32Array(14000);
    x.set(noise(3000, 0.5, 9));
    const { left } = process(
      make('convolution', { mix: 100, lowCut: 20, highCut: 20000 }, { impulse: prepareSample(audio, null) }),
      x.slice(),
    );
    let worst = 0;
    for (let i = 0; i < 13000; i += 37) {
      let sum = 0;
      for (let k = Math.max(0, i - 2999); k <= Math.min(length - 1, i); k++) sum += response[k] * x[i - k];
      worst = Math.max(worst, Math.abs(sum - left[i]));
    }
    expect(worst).toBeLessThan(1e-6);
  });
});

describe('colour', () => {
  // A full-scale sine rounded to N bits: 6.02 N + 1.76 dB above its error (W. R. Bennett, Spectra of Quantized Signals,
  // Bell System Technical Journal, 1948).
  test.each([5, 8, 11])('%i bits: the error of rounding stands where the formula has it', (bits) => {
    const x = sine(997, 1),
      { left } = process(make('reducer', { bits }), x.slice());
    expect(db(rms(x) / rms(left.map((y, i) => y - x[i])))).toBeCloseTo(6.02 * bits + 1.76, 0);
  });
  // A hold of T shapes what it holds by sin(πfT) / (πfT), and its images stand around 1 / T (A. V. Oppenheim, R. W.
  // Schafer, Discrete-Time Signal Processing, zero-order hold; from memory).
  test('held samples: images around their rate, at the heights of a hold', () => {
    const size = 16384,
      f = (512 * RATE) / size,
      kept = 6000;
    const levels = spectrum(process(make('reducer', { bits: 16, rate: kept }), sine(f, 1, 0.5)).left, size, 4000);
    for (const hz of [f, kept - f, kept + f])
      expect(
        db(Math.max(...levels.subarray(Math.round((hz * size) / RATE) - 2, Math.round((hz * size) / RATE) + 3)) / 0.5),
      ).toBeCloseTo(db(Math.abs(Math.sin((Math.PI * hz) / kept) / (8 * Math.sin((Math.PI * hz) / RATE)))), 0);
  });
  /**
   * Largest departure from a sine's frequency, as a share of it: by the phase against the sine, smoothed over five
   * periods.
   */
  const departure = (x: Float32Array, hz: number, from: number): number => {
    const smooth = Math.round((5 * RATE) / hz);
    const phases: number[] = [];
    for (let at = from; at + smooth < x.length; at += smooth) {
      let real = 0,
        imaginary = 0;
      for (let i = at; i < at + smooth; i++) {
        real += x[i] * Math.cos((2 * Math.PI * hz * i) / RATE);
        imaginary -= x[i] * Math.sin((2 * Math.PI * hz * i) / RATE);
      }
      phases.push(Math.atan2(imaginary, real));
    }
    const steps = phases.slice(1).map((phase, n) => {
      const by = phase - phases[n];
      return by - 2 * Math.PI * Math.round(by / (2 * Math.PI));
    });
    return Math.max(...steps.map(Math.abs)) / ((2 * Math.PI * hz * smooth) / RATE);
  };
  // Wow and flutter are told as the peak departure of a tone of 3150 Hz (IEC 60386, from memory); the speed departs by
  // the slope of the delay.
  test.each([
    [{ wow: 100, flutter: 0, wowRate: 1 }, 0.01],
    [{ wow: 40, flutter: 0, wowRate: 2 }, 0.004],
    [{ wow: 0, flutter: 100, flutterRate: 8 }, 0.005],
  ])('tape %o: its speed departs by %f', (values, share) => {
    expect(
      departure(process(make('tape', { drive: 0, soft: 20000, ...values }), sine(3150, 3, 0.05)).left, 3150, RATE) /
        share,
    ).toBeCloseTo(1, 1);
  });
  test('tape: the treble falls 3 dB at its corner, and by the first order above', () => {
    const still = { wow: 0, flutter: 0, drive: 0, soft: 3000 };
    expect(gainAt('tape', still, 3000)).toBeCloseTo(-3, 0);
    expect(gainAt('tape', still, 9000) - gainAt('tape', still, 3000)).toBeCloseTo(-7 + 0.3, 0);
  });
  test('chorus: each copy departs in pitch by the slope of its delay', () => {
    const { left } = process(
      make('chorus', { mix: 100, voices: 2, spread: 100, rate: 1, depth: 0.002, delay: 0.01 }),
      sine(1000, 3, 0.3),
    );
    expect(departure(left, 1000, RATE) / (2 * Math.PI * 0.002)).toBeCloseTo(1, 1);
  });
  test('sub strike: the tone it is tuned to, 60 dB softer after its decay; nothing under what is below its threshold', () => {
    const strike = (height: number) => {
      const x = new Float32Array(2 * RATE);
      for (let i = 0; i < 480; i++) x[4800 + i] = height * Math.sin(i * 0.6) * (1 - i / 480);
      return x;
    };
    const struck = strike(0.5);
    const { left } = process(make('subStrike', { frequency: 55, decay: 1, bend: 0 }), struck.slice());
    const under = left.map((y, i) => y - struck[i]);
    let crossings = 0;
    for (let i = 7200; i < 7200 + RATE / 2; i++) if (under[i - 1] < 0 && under[i] >= 0) crossings++;
    expect(crossings).toBeGreaterThanOrEqual(27);
    expect(crossings).toBeLessThanOrEqual(28);
    // Whole periods, half a second apart: 30 dB.
    const period = Math.round((11 * RATE) / 55);
    expect(db(rms(under, 7200, 7200 + period) / rms(under, 7200 + RATE / 2, 7200 + RATE / 2 + period))).toBeCloseTo(
      30,
      0,
    );
    const soft = strike(0.005);
    expect(process(make('subStrike'), soft.slice()).left).toEqual(soft);
  });
});

describe('place', () => {
  // Pressure falls as the distance grows: 6.02 dB for each doubling (inverse distance law, ISO 9613-2's 20 lg d).
  test.each([
    [25, -6.02],
    [50, -12.04],
    [100, -24.08],
  ])('distance %i %%: %f dB', (far, level) => {
    expect(gainAt('distance', { far, treble: 0, reflections: 0 }, 500)).toBeCloseTo(level, 1);
  });
  test('width: the sides as far apart as they are told, the middle as it was; low tones in the middle', () => {
    const side = (hz: number, values: Record<string, number>) => {
      const x = sine(hz, 0.6, 0.2);
      const was = rms(x, 19200);
      const { left, right } = process(
        make('width', values),
        x,
        x.map((y) => -y),
      );
      return db(
        rms(
          left.map((y, i) => (y - right[i]) / 2),
          19200,
        ) / was,
      );
    };
    expect(side(1000, { width: 200 })).toBeCloseTo(6.02, 2);
    expect(side(1000, { width: 50 })).toBeCloseTo(-6.02, 2);
    expect(gainAt('width', { width: 0, mono: 300 }, 100)).toBeCloseTo(0, 3);
    // Two Butterworth sections of second order: −6.02 dB at the frequency (S. P. Linkwitz, R. Riley, 1976), 24 dB an
    // octave below.
    expect(side(200, { mono: 200 })).toBeCloseTo(-6.02, 1);
    expect(side(50, { mono: 200 })).toBeLessThan(-46);
  });
});

describe('motion', () => {
  test('ring: sums and differences and nothing else', () => {
    const levels = spectrum(
      process(make('ring', { mix: 100, frequency: (102 * RATE) / 16384 }), sine((512 * RATE) / 16384, 1, 0.5)).left,
      16384,
      4000,
    );
    const at = (hz: number) =>
      Math.max(...levels.subarray(Math.round((hz * 16384) / RATE) - 2, Math.round((hz * 16384) / RATE) + 3));
    expect(db(at((614 * RATE) / 16384) / 0.25)).toBeCloseTo(0, 0);
    expect(db(at((410 * RATE) / 16384) / 0.25)).toBeCloseTo(0, 0);
    expect(db(at(1500))).toBeLessThan(-60);
  });
  test('tremolo: as deep and as often as it says', () => {
    const { left, right } = process(
      make('tremolo', { rate: 4, depth: 60, apart: 100 }),
      new Float32Array(RATE).fill(1),
    );
    const inside = left.subarray(RATE / 2);
    expect(Math.min(...inside)).toBeCloseTo(0.4, 1);
    expect(Math.max(...inside)).toBeCloseTo(1, 1);
    // One is loud while the other is soft.
    for (let i = RATE / 2; i < RATE; i += 500) expect(left[i] + right[i]).toBeCloseTo(1.4, 1);
  });
  test('the rotary speaker takes its time from slow to fast', () => {
    const effect = make('rotary', { speed: 1 });
    process(effect, sine(1000, 1, 0.3));
    effect.aim(valuesOf('rotary', { speed: 2 }));
    process(effect, sine(1000, 0.9, 0.3));
    // 63 % of the way from 0.8 to 6.6 turns a second after 0.9 s.
    expect(effect.readings![0]).toBeCloseTo(0.8 + (6.6 - 0.8) * (1 - Math.exp(-1)), 1);
  });
  test('a flanger through zero silences the sound where the copy passes it', () => {
    const { left } = process(
      make('flanger', { zero: 1, feedback: 0, rate: 0.5, depth: 0.004, spread: 0 }),
      process(make('equaliser', { kind1: 2, frequency1: 400, slope1: 5 }), noise(4 * RATE, 0.5)).left,
    );
    let least = Infinity;
    for (let at = RATE / 2; at + 480 < 4 * RATE; at += 240) least = Math.min(least, rms(left, at, at + 480));
    expect(db(least / rms(left))).toBeLessThan(-12);
  });
  test('phaser: a notch for each two stages', () => {
    const values = { stages: 4, centre: 1000, depth: 0, feedback: 0 };
    const gains = Array.from({ length: 60 }, (_, n) => gainAt('phaser', values, 100 * 2 ** (n / 8.5)));
    const dips = gains.filter(
      (gain, i) => i > 0 && i < gains.length - 1 && gain < gains[i - 1] && gain < gains[i + 1] && gain < -10,
    );
    expect(dips.length).toBe(2);
  });
});

describe('pitch and time', () => {
  test.each([12, 7, -5, -12, 3.5])('a shift by %f semitones is so within 3 cents', (shift) => {
    const { left } = process(
      make('pitchShifter', { mix: 100, shift }),
      Float32Array.from({ length: 2 * RATE }, (_, i) => {
        let y = 0;
        for (let h = 1; h < 6; h++) y += Math.sin((2 * Math.PI * 220 * h * i) / RATE) / h;
        return 0.2 * y;
      }),
    );
    const size = 65536;
    const levels = spectrum(left, size, 20000);
    const wanted = 220 * 2 ** (shift / 12);
    let best = 0;
    for (let bin = Math.round((wanted * 0.94 * size) / RATE); bin < (wanted * 1.06 * size) / RATE; bin++)
      if (levels[bin] > levels[best]) best = bin;
    const [a, b, c] = [levels[best - 1], levels[best], levels[best + 1]].map((y) => Math.log(y));
    const hz = ((best + (0.5 * (a - c)) / (a - 2 * b + c)) * RATE) / size;
    expect(Math.abs(1200 * Math.log2(hz / wanted))).toBeLessThan(3);
  });
  test('the scale tuner pulls a gliding voice to the notes of its scale', () => {
    // A voice that glides from 200 to 240 Hz: harmonics that fall by the root of their number.
    let phase = 0;
    const x = Float32Array.from({ length: 4 * RATE }, (_, i) => {
      phase += (200 + (40 * i) / (4 * RATE)) / RATE;
      let y = 0;
      for (let h = 1; h < 8; h++) y += Math.sin(2 * Math.PI * phase * h) / h;
      return 0.2 * y;
    });
    const { left } = process(make('scaleTuner', { mix: 100, scale: 0, root: 0, speed: 0.01 }), x);
    let inTune = 0,
      looked = 0;
    for (let at = RATE; at + 9600 < 4 * RATE; at += 4800) {
      const heard = pitchOf({ rate: RATE, channels: 1, data: left.subarray(at, at + 9600) });
      if (!heard) continue;
      looked++;
      // White keys between 200 and 240 Hz: G3 at 196.00, A3 at 220.00, B3 at 246.94 Hz (equal temperament, A4 = 440
      // Hz).
      const distance = Math.min(
        ...[195.998, 220, 246.942].map((hz) =>
          Math.abs(1200 * Math.log2((440 * 2 ** ((heard.key + heard.cents / 100 - 69) / 12)) / hz)),
        ),
      );
      if (distance < 12) inTune++;
    }
    expect(looked).toBeGreaterThan(15);
    expect(inTune / looked).toBeGreaterThan(0.85);
  });
  // H. Dudley 1939: the levels of the voice's bands are those of what comes out.
  test('vocoder: a voice in one band lets only that band of the other sound through', () => {
    const side = { left: noise(2 * RATE, 0.5, 3), right: noise(2 * RATE, 0.5, 4) };
    const { left } = process(make('vocoder', { mix: 100, bands: 16, breath: 0 }, { side }), sine(1000, 2, 0.5));
    const levels = spectrum(left, 32768, RATE);
    const power = (low: number, high: number) => {
      let sum = 0;
      for (let bin = Math.round((low * 32768) / RATE); bin < (high * 32768) / RATE; bin++) sum += levels[bin] ** 2;
      return sum;
    };
    expect(10 * Math.log10(power(750, 1350) / (power(60, 500) + power(2200, 12000)))).toBeGreaterThan(15);
  });
  test('step gate: the levels of its row, in time with the transport', () => {
    const kind = effectKind('stepGate');
    const steps = new Float64Array(33);
    steps.set([1, 0, 0.5, 0.25]);
    steps[32] = 4;
    const time = Float64Array.of(0, 2 / RATE);
    const effect = kind.make({
      rate: RATE,
      seed: 1,
      memory: new Float32Array(0),
      time,
      key: Float64Array.of(NaN),
      steps,
      side: null,
      impulse: null,
    });
    effect.aim(valuesOf('stepGate', { smooth: 0.0005 }));
    const x = new Float32Array(RATE).fill(1);
    for (let at = 0; at < RATE; at += 32) {
      time[0] = (at * 2) / RATE;
      effect.process(x, x.slice(), at, at + 32);
    }
    // A sixteenth at 120 lasts 6000 frames.
    for (const [n, level] of [1, 0, 0.5, 0.25, 1, 0].entries()) expect(x[6000 * n + 4000]).toBeCloseTo(level, 3);
  });
  test('stutter repeats the last slice while it is held', () => {
    const effect = make('stutter', { hold: 0 });
    const x = Float32Array.from({ length: RATE }, (_, i) => Math.sin(i * 0.01 + (i * i) / 4e8));
    const right = x.slice();
    for (let at = 0; at < RATE; at += 32) {
      if (at === 24000) effect.aim(valuesOf('stutter', { hold: 1 }));
      effect.process(x, right, at, at + 32);
    }
    // A sixteenth at 120: 6000 frames.
    for (let i = 26000; i < 29000; i += 100) expect(x[i + 6000]).toBeCloseTo(x[i], 3);
  });
});
