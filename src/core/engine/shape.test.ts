import { off, on, RATE, render, start, STEADY, TONE } from '../../../tests/kit/engine';
import { db, heard, pitches, route } from '../../../tests/kit/moves';
import type { Audio } from '../dsp/sample';
import { FILTER_KINDS, type FilterKind } from '../space/filterKinds';
import { markAt, newLayer, newMover } from '../rig/defaults';
import { filterResponse } from './pictures/filterPicture';
import { figure } from '../../../tests/kit/figure';

/** Each layer's own shape of sound, by what is rendered. */
const IMPULSE: Audio = {
  rate: RATE,
  channels: 1,
  data: Float32Array.from({ length: RATE }, (_, i) => (i === 200 ? 0.01 : 0)),
};
const kind = (name: FilterKind): number => FILTER_KINDS.indexOf(name);

/** Level in dB of a frequency in what an impulse becomes. */
function response(params: Record<string, number>) {
  const signal = heard({ audio: IMPULSE, layers: [{ params }] }, 0.9);
  const flat = heard({ audio: IMPULSE }, 0.9);
  const at = (x: Float64Array, hz: number) => {
    let re = 0;
    let im = 0;
    for (let i = 0; i < x.length; i++) {
      re += x[i] * Math.cos((2 * Math.PI * hz * i) / RATE);
      im += x[i] * Math.sin((2 * Math.PI * hz * i) / RATE);
    }
    return Math.hypot(re, im);
  };
  return (hz: number) => db(at(signal, hz) / at(flat, hz));
}

/** Magnitude in dB of the bilinear filters of the "Audio EQ Cookbook" (W3C Note, R. Bristow-Johnson), at `hz`. */
function cookbook(
  type: 'low' | 'high' | 'band' | 'notch' | 'peak',
  f0: number,
  q: number,
  hz: number,
  gainDb = 0,
): number {
  const w0 = (2 * Math.PI * f0) / RATE;
  const alpha = Math.sin(w0) / (2 * q);
  const c = Math.cos(w0);
  const A = 10 ** (gainDb / 40);
  const [b, a] = {
    low: [
      [(1 - c) / 2, 1 - c, (1 - c) / 2],
      [1 + alpha, -2 * c, 1 - alpha],
    ],
    high: [
      [(1 + c) / 2, -(1 + c), (1 + c) / 2],
      [1 + alpha, -2 * c, 1 - alpha],
    ],
    band: [
      [alpha, 0, -alpha],
      [1 + alpha, -2 * c, 1 - alpha],
    ],
    notch: [
      [1, -2 * c, 1],
      [1 + alpha, -2 * c, 1 - alpha],
    ],
    peak: [
      [1 + alpha * A, -2 * c, 1 - alpha * A],
      [1 + alpha / A, -2 * c, 1 - alpha / A],
    ],
  }[type];
  const w = (2 * Math.PI * hz) / RATE;
  const magnitude = (p: number[]) =>
    Math.hypot(p[0] + p[1] * Math.cos(w) + p[2] * Math.cos(2 * w), p[1] * Math.sin(w) + p[2] * Math.sin(2 * w));
  return db(magnitude(b) / magnitude(a));
}
const HZ = [90, 300, 700, 1000, 1600, 4000, 11000];

describe('filters of a voice', () => {
  test.each([
    ['low-pass 12 dB', 'low'],
    ['high-pass 12 dB', 'high'],
    ['band-pass 12 dB', 'band'],
    ['notch 12 dB', 'notch'],
    ['peak', 'peak'],
  ] as const)('%s is that of the Audio EQ Cookbook', (name, type) => {
    for (const q of [0.7071, 3]) {
      const first = response({ filterKind: kind(name), cutoff: 1200, resonance: q });
      const second = response({ filter2Kind: kind(name), cutoff2: 1200, resonance2: q });
      for (const hz of HZ) {
        const expected = cookbook(type, 1200, q, hz, 12);
        for (const heard of [first(hz), second(hz)])
          expect(figure('filters of a voice', Math.abs(heard - expected), 'dB', 'W3C Audio EQ Cookbook')).toBeLessThan(
            0.05,
          );
      }
    }
  });
  test('those of 24 dB fall by 24 dB an octave, and are 3 dB down at the cutoff (Butterworth, fourth order)', () => {
    const low = response({ filterKind: kind('low-pass 24 dB'), cutoff: 500 });
    const off = Math.abs(low(500) + 3.0103);
    expect(figure('24 dB low-pass of a voice at its cutoff', off, 'dB from −3.01', 'Butterworth')).toBeLessThan(0.05);
    expect(low(2000) - low(4000)).toBeGreaterThan(23.5);
    const high = response({ filterKind: kind('high-pass 24 dB'), cutoff: 4000 });
    expect(high(4000)).toBeCloseTo(-3.01, 1);
    expect(high(500) - high(250)).toBeCloseTo(24, 0);
    const band = response({ filterKind: kind('band-pass 24 dB'), cutoff: 1000, resonance: 2 });
    for (const hz of HZ) expect(band(hz)).toBeCloseTo(2 * cookbook('band', 1000, 2, hz), 1);
  });
  test('one after the other they multiply, side by side they add', () => {
    const both = {
      filterKind: kind('low-pass 12 dB'),
      cutoff: 400,
      filter2Kind: kind('high-pass 12 dB'),
      cutoff2: 3000,
    };
    const row = response(both);
    for (const hz of HZ)
      expect(row(hz)).toBeCloseTo(cookbook('low', 400, Math.SQRT1_2, hz) + cookbook('high', 3000, Math.SQRT1_2, hz), 0);
    const beside = response({ ...both, filterPaths: 1 });
    expect(beside(90)).toBeCloseTo(0, 0);
    expect(beside(11000)).toBeCloseTo(0, 0);
    expect(beside(1100)).toBeLessThan(-8);
  });
  test('a comb forward has its teeth at the multiples of its frequency: 1 + g there, 1 − g between (J. O. Smith, "Physical Audio Signal Processing": feedforward comb)', () => {
    const comb = response({ filterKind: kind('comb forward'), cutoff: 480, resonance: 20 });
    for (const n of [1, 2, 5]) {
      expect(comb(480 * n)).toBeCloseTo(0, 1);
      expect(comb(480 * (n - 0.5))).toBeLessThan(-35);
    }
  });
  test('a comb that feeds back rings at its frequency, tuned to the key, and loses treble by its damping', () => {
    const ring = (key: number, more = {}) => {
      const signal = heard(
        {
          audio: IMPULSE,
          layers: [
            {
              params: {
                filterKind: kind('comb feedback'),
                cutoff: 261.6256,
                keyTrack: 100,
                resonance: 20,
                tune: 0,
                ...more,
              },
            },
          ],
          zones: [{ pitchPerKey: 0, key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } }],
        },
        0.6,
        (engine) => engine.handle({ type: 'noteOff', channel: 1, key: 60, velocity: 1 }),
      );
      return { signal, key };
    };
    // The period by the lag at which the ring is most like itself.
    const period = (signal: Float64Array, near: number) => {
      let best = 0;
      let most = -Infinity;
      for (let lag = Math.floor(near * 0.9); lag < near * 1.1; lag++) {
        let sum = 0;
        for (let i = 6000; i < 20000; i++) sum += signal[i] * signal[i + lag];
        if (sum > most) {
          most = sum;
          best = lag;
        }
      }
      return best;
    };
    expect(RATE / period(ring(60).signal, RATE / 261.6256)).toBeCloseTo(261.6, -0.5);
    const energyAbove = (damping: number) => {
      const { signal } = ring(60, { combDamping: damping });
      let high = 0;
      let all = 0;
      for (let i = 8000; i < 20000; i++) {
        high += (signal[i] - signal[i - 1]) ** 2;
        all += signal[i] ** 2;
      }
      return high / all;
    };
    expect(energyAbove(0)).toBeGreaterThan(5 * energyAbove(60));
  });
  test('tilt: the same slope in every octave, 0 dB at the pivot', () => {
    for (const slope of [-3, 1.5, 6]) {
      const tilt = response({ tilt: slope, tiltPivot: 1000 });
      expect(tilt(1000)).toBeCloseTo(0, 1);
      for (const hz of [100, 400, 1600, 6400])
        expect(Math.abs(tilt(hz) - slope * Math.log2(hz / 1000))).toBeLessThan(Math.abs(slope) * 0.25 + 0.2);
    }
  });
  test('the envelope of the level moves the filter, and chance nothing more than it may', () => {
    const params = { cutoff: 200, envelopeToCutoff: 48, attack: 0.001, decay: 0.4, sustain: -40 };
    const buzz: Audio = {
      rate: RATE,
      channels: 1,
      data: Float32Array.from({ length: RATE * 2 }, (_, i) => (((i * 110) / RATE) % 1) - 0.5),
    };
    const bright = (from: number) => {
      const signal = heard({ audio: buzz, layers: [{ params }] }, 1);
      let high = 0;
      let all = 0;
      for (let i = from * RATE; i < (from + 0.1) * RATE; i++) {
        high += (signal[i] - signal[i - 1]) ** 2;
        all += signal[i] ** 2;
      }
      return high / all;
    };
    expect(bright(0.01)).toBeGreaterThan(3 * bright(0.8));
  });
  test('drive: a sine keeps its peak, gains odd harmonics, and what folds back over half the rate stays far below', () => {
    const hz = 5000;
    const sine: Audio = {
      rate: RATE,
      channels: 1,
      data: Float32Array.from({ length: RATE }, (_, i) => Math.sin((2 * Math.PI * hz * i) / RATE)),
    };
    const signal = heard({ audio: sine, layers: [{ params: { drive: 18, velocityToLevel: 0 } }] }, 0.6).slice(
      RATE / 5,
      RATE / 2,
    );
    expect(signal.reduce((most, x) => Math.max(most, Math.abs(x)), 0)).toBeLessThan(1.05);
    const at = (f: number) => {
      let re = 0;
      let im = 0;
      signal.forEach((x, i) => {
        re += x * Math.cos((2 * Math.PI * f * i) / RATE);
        im += x * Math.sin((2 * Math.PI * f * i) / RATE);
      });
      return db((2 * Math.hypot(re, im)) / signal.length);
    };
    expect(at(15000)).toBeGreaterThan(-25);
    // The fifth, 25 kHz, comes back at 23 kHz, the seventh, 35 kHz, at 13 kHz.
    expect(at(13000)).toBeLessThan(at(15000) - 12);
  });
});

describe('of each note', () => {
  test('onset: louder by so many dB at first, back in its time', () => {
    const at = (seconds: number) =>
      db(
        heard({ audio: STEADY, layers: [{ params: { onset: -12, onsetTime: 0.2 } }] }, 0.5)[Math.round(seconds * RATE)],
      );
    expect(at(0.1)).toBeCloseTo(-6, 0);
    expect(at(0.3)).toBeCloseTo(0, 2);
  });
  test('drift stays within its cents, is seeded, and each voice has its own', () => {
    const drifted = (seed: number) => {
      const engine = start({ audio: TONE, seed, layers: [{ params: { drift: 30, driftTime: 0.2 } }] });
      engine.handle(on());
      return pitches(Float64Array.from(render(engine, 3 * RATE).left.subarray(2000)), 10).map(
        (hz) => 1200 * Math.log2(hz / 480),
      );
    };
    const one = drifted(1);
    expect(Math.max(...one.map(Math.abs))).toBeLessThan(31);
    expect(Math.max(...one) - Math.min(...one)).toBeGreaterThan(10);
    expect(drifted(1)).toEqual(one);
    expect(drifted(2)).not.toEqual(one);
  });
  test('pan by key goes from left to right or the other way, pan by chance stays within its width', () => {
    const side = (params: Record<string, number>, key: number, seed = 1) => {
      const engine = start({ audio: STEADY, seed, layers: [{ params }] });
      engine.handle(on(key));
      const { left, right } = render(engine, 4800);
      // The angle of equal power back to −1…1.
      return (Math.atan2(right[4000], left[4000]) * 4) / Math.PI - 1;
    };
    expect(side({ panKeys: 100 }, 64)).toBeCloseTo(0, 2);
    expect(side({ panKeys: 100 }, 108)).toBeCloseTo(1, 2);
    expect(side({ panKeys: -50 }, 108)).toBeCloseTo(-0.5, 2);
    const chance = Array.from({ length: 24 }, (_, seed) => side({ panChance: 40 }, 60, seed));
    expect(Math.max(...chance.map(Math.abs))).toBeLessThan(0.401);
    expect(Math.max(...chance) - Math.min(...chance)).toBeGreaterThan(0.5);
  });
  test('unison: so many voices at equal power, detuned to both sides, spread from left to right', () => {
    const engine = start({ audio: TONE, layers: [{ params: { unison: 5, detune: 40, unisonWidth: 100 } }] });
    engine.handle(on());
    render(engine, 4800);
    expect(engine.voiceCount).toBe(5);
    engine.handle(off());
    render(engine, RATE);
    expect(engine.voiceCount).toBe(0);
    const power = (unison: number) => {
      const { left, right } = render(
        (() => {
          const each = start({ audio: TONE, layers: [{ params: { unison, detune: 30 } }] });
          each.handle(on());
          return each;
        })(),
        RATE * 3,
      );
      return left.reduce((sum, x, i) => sum + x * x + right[i] ** 2, 0) / left.length;
    };
    expect(Math.abs(db(Math.sqrt(power(6) / power(1))))).toBeLessThan(1.5);
  });
  test('curves of the envelope: an attack above 0 is past half at half its time, below 0 before it; a straight decay ends when its time ends', () => {
    const gain = (params: Record<string, number>, seconds: number) =>
      heard({ audio: STEADY, layers: [{ params }] }, 1.2)[Math.round(seconds * RATE)];
    expect(gain({ attack: 0.4 }, 0.2)).toBeCloseTo(0.5, 1);
    expect(gain({ attack: 0.4, attackCurve: 80 }, 0.2)).toBeGreaterThan(0.85);
    expect(gain({ attack: 0.4, attackCurve: -80 }, 0.2)).toBeLessThan(0.15);
    expect(gain({ attack: 0.4, attackCurve: -80, hold: 1 }, 0.42)).toBeCloseTo(1, 2);
    expect(gain({ attack: 0.001, decay: 0.5, sustain: -60, decayCurve: -100 }, 0.251)).toBeCloseTo(0.5, 1);
    expect(gain({ attack: 0.001, decay: 0.5, sustain: -60, decayCurve: -100 }, 0.52)).toBeCloseTo(0, 2);
    expect(gain({ attack: 0.001, decay: 0.5, sustain: -60, decayCurve: 100 }, 0.1)).toBeLessThan(
      gain({ attack: 0.001, decay: 0.5, sustain: -60 }, 0.1),
    );
  });
  test('everything of a filter can be moved while a note sounds, without a click', () => {
    const engine = start({
      audio: TONE,
      layers: [{ params: { filter2Kind: kind('band-pass 24 dB'), cutoff2: 480, resonance2: 2, drive: 6, tilt: 2 } }],
      patch: {
        movers: [newMover('wander', 1, 'w')],
        routes: ['cutoff2', 'resonance2', 'drive', 'tilt'].map((target) =>
          route('wander.1', `layer.l0.${target}`, 0.1),
        ),
      },
    });
    engine.handle(on());
    const { left } = render(engine, 2 * RATE);
    let most = 0;
    for (let i = 4801; i < left.length; i++) most = Math.max(most, Math.abs(left[i] - left[i - 1]));
    // Nothing steeper than a driven sine of full level at this pitch.
    expect(most).toBeLessThan(0.12);
    expect(left.every(Number.isFinite)).toBe(true);
  });
});

test('the picture of the filters is what they do', () => {
  const all: Record<string, number>[] = [
    { cutoff: 700, resonance: 4, tilt: 2 },
    {
      filterKind: kind('high-pass 24 dB'),
      cutoff: 300,
      filter2Kind: kind('notch 12 dB'),
      cutoff2: 2000,
      filterPaths: 1,
      lowCut: 50,
    },
    { filterKind: kind('comb forward'), cutoff: 300, resonance: 8 },
  ];
  for (const params of all) {
    const heardOne = response(params);
    const drawn = filterResponse({ ...newLayer('l', 'l', 's', markAt(0)), params }, HZ);
    HZ.forEach((hz, i) => expect(Math.abs(drawn[i] - heardOne(hz))).toBeLessThan(0.15));
  }
});
