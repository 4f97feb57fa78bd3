import { cutDb, makeRoom, sharedThirds, THIRDS, thirdsOf } from './bands';
import { correlationOf, loudnessNow, loudnessRangeOf, truePeakNear, truePeakOf } from './loudness';
import { figure } from '../../../tests/kit/figure';

const RATE = 48000;
const sine = (hz: number, seconds: number, height = 1, phase = 0, rate = RATE) =>
  Float32Array.from(
    { length: Math.round(seconds * rate) },
    (_, i) => height * Math.sin((2 * Math.PI * hz * i) / rate + phase),
  );
const joined = (...parts: Float32Array[]) => {
  const out = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
};
const atDb = (db: number) => 10 ** (db / 20);

// EBU Tech 3342, minimum requirement test signals 1 to 4: stereo sines of 1 kHz, each level for 20 s; ± 1 LU.
test.each([
  ['1', [-20, -30], 10],
  ['2', [-20, -15], 5],
  ['3', [-40, -20], 20],
  ['4', [-50, -35, -20, -35, -50], 15],
] as const)('loudness range, signal %s of EBU Tech 3342', (_, levels, lu) => {
  const signal = joined(...levels.map((db) => sine(1000, 20, atDb(db))));
  const off = Math.abs(loudnessRangeOf([signal, signal], RATE) - lu);
  expect(figure('loudness range, signals 1 to 4', off, 'LU', 'EBU Tech 3342')).toBeLessThan(1);
});

// EBU Tech 3341, signals 15 to 19 in their meaning: a sine of a quarter of the rate whose samples miss its peaks; +0.2
// / −0.4 dB.
test.each([
  [0, -6],
  [45, -6],
  [60, -6],
  [45, 3],
])('true peak of a sine at a quarter of the rate, %i degrees late, at %i dB', (degrees, db) => {
  const signal = sine(RATE / 4, 0.1, atDb(db), (degrees * Math.PI) / 180);
  const shaped = signal.map((x, i) => x * Math.min(1, i / 500, (signal.length - i) / 500));
  for (const peak of [truePeakOf([shaped]), truePeakNear([shaped])]) {
    const off = 20 * Math.log10(peak) - db;
    expect(figure('true peak', Math.abs(off), 'dB', 'EBU Tech 3341, signals 15 to 19')).toBeLessThan(0.4);
    expect(off).toBeLessThan(0.2);
  }
});

// What is passed over cannot have held the peak: the same as looking everywhere (annex 2 of BS.1770-4, written plainly).
test('true peaks are looked for only where one can be, and none is missed', () => {
  const phases = [0, 0.25, 0.5, 0.75].map((shift) => {
    const taps = Array.from({ length: 24 }, (_, t) => {
      const x = t - 11 - shift;
      return (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)) * (0.5 + 0.5 * Math.cos((Math.PI * x) / 12));
    });
    const sum = taps.reduce((a, b) => a + b);
    return taps.map((tap) => tap / sum);
  });
  const everywhere = (x: Float32Array) => {
    let peak = 0;
    for (let i = 0; i < x.length + 24; i++)
      for (const taps of phases)
        peak = Math.max(peak, Math.abs(taps.reduce((sum, tap, t) => sum + tap * (x[i - 23 + t] ?? 0), 0)));
    return peak;
  };
  for (let seed = 1; seed <= 12; seed++) {
    // Bursts at the worst places: at both ends, across the stretches, softer samples with more between them.
    const x = new Float32Array(1500);
    for (let n = 0; n < 6; n++) {
      const at = [0, 1497, 63, 64 * seed, 700 + seed * 13, 40][n];
      const height = 0.1 + ((seed * 7 + n * 3) % 10) / 10;
      for (let i = 0; i < 3 + n && at + i < 1500; i++) x[at + i] = (i % 2 === n % 2 ? 1 : -1) * height;
    }
    expect(truePeakOf([x])).toBeCloseTo(everywhere(x), 12);
  }
  expect(truePeakOf([new Float32Array(700)])).toBe(0);
  expect(truePeakOf([new Float32Array(0)])).toBe(0);
});

test('momentary loudness of a steady tone is its loudness; likeness of both sides', () => {
  const tone = sine(1000, 1, atDb(-23));
  expect(loudnessNow([tone, tone], RATE)).toBeCloseTo(-23, 1);
  expect(correlationOf(tone, tone)).toBeCloseTo(1, 6);
  expect(
    correlationOf(
      tone,
      tone.map((x) => -x),
    ),
  ).toBeCloseTo(-1, 6);
  expect(Math.abs(correlationOf(sine(400, 1), sine(400, 1, 1, Math.PI / 2)))).toBeLessThan(0.01);
});

test('a tone lies in its third of an octave, as loud as it is', () => {
  // IEC 61260: the band of 1 kHz from 891 to 1122 Hz. A full-scale sine has a mean power of −3.01 dB.
  const levels = thirdsOf([sine(1000, 4)], RATE);
  const at = THIRDS.findIndex((hz) => Math.abs(hz - 1000) < 1);
  expect(levels[at]).toBeCloseTo(-3.01, 0);
  expect(levels[at - 2]).toBeLessThan(-60);
});

test('the cuts are Butterworth filters of fourth order', () => {
  expect(cutDb('low cut', 500, 500)).toBeCloseTo(-3.01, 1);
  expect(cutDb('low cut', 500, 250)).toBeCloseTo(-24.1, 0);
  expect(cutDb('high cut', 500, 1000)).toBeCloseTo(-24.1, 0);
});

test('making room: at most half as many shared thirds afterwards, by the cuts that take the least', () => {
  const hill = (middle: number, width: number, db: number) =>
    THIRDS.map((hz) => db - Math.abs(Math.log2(hz / middle)) * width);
  const lower = hill(250, 9, -20),
    upper = hill(700, 9, -22);
  const shared = sharedThirds(lower, upper).filter(Boolean).length;
  const room = makeRoom(lower, upper)!;
  expect(shared).toBeGreaterThan(0);
  expect(room.before).toBe(shared);
  expect(room.after * 2).toBeLessThanOrEqual(shared);
  const left = sharedThirds(
    lower.map((db, i) => db + cutDb('high cut', room.highCutLower!, THIRDS[i])),
    upper.map((db, i) => db + cutDb('low cut', room.lowCutUpper!, THIRDS[i])),
  );
  expect(left.filter(Boolean).length * 2).toBeLessThanOrEqual(shared);
  expect(makeRoom(hill(60, 30, -20), hill(8000, 30, -20))).toBeUndefined();
});

test('a cut that changes nothing of what is shared is not proposed', () => {
  // A steep layer under a broad one: what is shared lies at the top of the lower one alone.
  const level = (from: number, to: number) => THIRDS.map((hz) => (hz >= from && hz <= to ? -20 : -70));
  for (const [lower, upper] of [
    [level(60, 500), level(400, 5000)],
    [level(80, 800), level(500, 2000)],
    [level(100, 2000), level(100, 2500)],
  ]) {
    const room = makeRoom(lower, upper);
    if (!room) continue;
    const shared = sharedThirds(lower, upper);
    for (const [kind, hz] of [
      ['low cut', room.lowCutUpper],
      ['high cut', room.highCutLower],
    ] as const) {
      if (hz !== null)
        expect(Math.min(...THIRDS.map((third, i) => (shared[i] ? cutDb(kind, hz, third) : 0)))).toBeLessThanOrEqual(
          -0.9,
        );
    }
    expect(room.lowCutUpper !== null || room.highCutLower !== null).toBe(true);
  }
});
