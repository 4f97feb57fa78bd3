import { effectKind } from './index';
import { staticCurve } from './compressor';
import { RATE, make, process, sine, noise, db, rms, gainAt, spectrum } from '../../../tests/kit/references';
import { figure } from '../../../tests/kit/figure';

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
      expect(
        figure(
          'equaliser',
          Math.abs(
            gainAt('equaliser', { kind1: place, frequency1: f0, q1: q, gain1: gain }, f) -
              cookbook(kind, f0, q, gain, f),
          ),
          'dB',
          'W3C Audio EQ Cookbook',
        ),
      ).toBeLessThan(0.05);
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
      const out = db(
        process(make('compressor', { threshold: -20, ratio: 4, knee: 6, attack: 0.005 }), x).left[RATE - 1],
      );
      const off = Math.abs(out - staticCurve(level, -20, 4, 6));
      expect(figure('compressor: static curve', off, 'dB', 'Giannoulis, Massberg, Reiss 2012, eq. 4')).toBeLessThan(
        0.05,
      );
    }
  });
  test.each([0.005, 0.02, 0.1])('attack of %f s and release: 63 %% of the way in that time', (seconds) => {
    const x = new Float32Array(2 * RATE).fill(1, 0, RATE).fill(0.01, RATE);
    const effect = make('compressor', { threshold: -20, ratio: 5, knee: 0, attack: seconds, release: seconds * 3 });
    const { left } = process(effect, x);
    const whole = db(left[RATE - 1]);
    const share = db(left[Math.round(seconds * RATE)]) / whole;
    expect(
      figure(
        'compressor: way gone after its attack time',
        Math.abs(share - (1 - Math.exp(-1))),
        'from 63 %',
        'its time to 63 %',
      ),
    ).toBeLessThan(0.05);
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
    const closed = Math.abs(gainAt('gate', { threshold: -10, range: 40 }, 500) + 40);
    expect(figure('gate: level where it is closed', closed, 'dB from its range', 'what was set')).toBeLessThan(0.5);
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
    const heard = db(alias / Math.max(...levels));
    expect(
      figure(
        'saturation: loudest alias of a 5 kHz sine at full drive',
        heard,
        'dB of its loudest partial',
        'its harmonics',
      ),
    ).toBeLessThan(-80);
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
