import { frequencyOfKey } from '../src/core/music/pitch';
import { readWav } from '../src/core/formats/wav';
import { CLAMPED_MODES } from './instruments/tideTines';
import { DAMPED, FALLS, STIFFNESS } from './instruments/feltKeys';
import { INSTRUMENTS, type Instrument } from './instruments';
import { byKey } from './instruments/tools';
import {
  brightness,
  loudness,
  peakNear,
  secondsToFall,
  seamOf,
  specimenOf,
  spectrum,
  strike,
  type Specimen,
} from './lab/measure';

/**
 * The instruments as they sound through the engine, against what is published of their kind (the sources stand with the
 * models, and in demo/lab/published.ts; the values are from memory). A few roots of each: the lab shows all of them.
 */
const made = new Map<string, Specimen>();
const some = (instrument: Instrument, roots: readonly number[]): Specimen => {
  const key = `${instrument.id} ${roots.join()}`;
  const known =
    made.get(key) ?? specimenOf({ ...instrument, record: () => instrument.record((root) => roots.includes(root)) });
  made.set(key, known);
  return known;
};

describe('struck strings', () => {
  const felt = some(INSTRUMENTS.felt, [27, 60, 84, 105]);
  test.each([
    [27, 12, 17],
    [60, 5, 8],
    [105, 0.7, 1.3],
  ])('key %i rings for %d to %d seconds to −60 dB', (key, least, most) => {
    const seconds = secondsToFall(strike(felt, key, 127, most + 1), 60);
    expect(seconds).toBeGreaterThan(least);
    expect(seconds).toBeLessThan(most);
    expect(byKey(key, FALLS)).toBeGreaterThan(least * 0.9);
  });
  test('a held C6, the key that was silent after a second, is still heard after two', () => {
    expect(secondsToFall(strike(felt, 84, 127, 6), 60)).toBeGreaterThan(2);
  });
  test('in two stages: the first falls at least twice as fast as the second, which sets in 10 to 20 dB below', () => {
    const sides = strike(felt, 60, 127, 6);
    const [ten, twenty, forty] = [8, 22, 42].map((db) => secondsToFall(sides, db));
    const first = 8 / ten;
    const second = 20 / (forty - twenty);
    expect(first).toBeGreaterThan(2 * second);
  });
  test.each([60, 84])('inharmonic as stiff wire is: the upper partials of key %i', (key) => {
    const [left] = strike(felt, key, 127, 1);
    const power = spectrum(left, 2400);
    const hz = frequencyOfKey(key);
    const b = byKey(key, STIFFNESS);
    for (const n of [2, 4, 6]) {
      const wanted = n * hz * Math.sqrt((1 + b * n * n) / (1 + b));
      const heard = peakNear(power, wanted, 12).hz;
      expect(Math.abs(1200 * Math.log2(heard / wanted))).toBeLessThan(4);
      // And so sharper than a harmonic.
      expect(heard).toBeGreaterThan(n * hz);
    }
  });
  test.each([27, 60, 84])('the damper of key %i stops it in 80 to 200 ms', (key) => {
    const after = strike(felt, key, 127, 0.5, 2).map((side) => side.subarray(24000));
    const seconds = secondsToFall(after, 60);
    expect(seconds).toBeGreaterThan(0.06);
    expect(seconds).toBeLessThan(0.24);
    expect(byKey(key, DAMPED)).toBeLessThan(0.21);
  });
  test('the highest strings have no damper', () => {
    expect(
      secondsToFall(
        strike(felt, 105, 127, 0.1, 2).map((side) => side.subarray(4800)),
        40,
      ),
    ).toBeGreaterThan(0.3);
  });
});

test('no two neighbours are alike: the balance of their partials differs', () => {
  const felt = some(INSTRUMENTS.felt, [60, 63]);
  const balance = (key: number) => {
    const power = spectrum(strike(felt, key, 127, 1)[0], 2400);
    const level = (n: number) => peakNear(power, n * frequencyOfKey(key), 12).db;
    return [2, 3, 4].map((n) => level(n) - level(1));
  };
  const [a, b] = [balance(60), balance(63)];
  expect(Math.max(...a.map((db, i) => Math.abs(db - b[i])))).toBeGreaterThan(1);
});

test('tines ring in the modes of a clamped bar', () => {
  const tines = some(INSTRUMENTS.tines, [61]);
  const power = spectrum(strike(tines, 61, 127, 1)[0], 0);
  const hz = frequencyOfKey(61);
  const noise = peakNear(power, hz * 6.6, 6).db;
  const mode = peakNear(power, hz * CLAMPED_MODES[0], hz * 0.1);
  expect(mode.db).toBeGreaterThan(noise + 10);
  expect(Math.abs(mode.hz / hz / CLAMPED_MODES[0] - 1)).toBeLessThan(0.015);
});

test('a bell has hum, prime, tierce, quint and nominal', () => {
  const bells = some(INSTRUMENTS.bells, [61]);
  const power = spectrum(strike(bells, 61, 127, 1)[0], 2400);
  const hz = frequencyOfKey(61);
  const prime = peakNear(power, hz, 5).db;
  for (const ratio of [0.5, 1, 1.2, 1.5, 2]) {
    const { hz: heard, db } = peakNear(power, hz * ratio, hz * 0.03);
    expect(db).toBeGreaterThan(prime - 30);
    expect(Math.abs(heard / hz / ratio - 1)).toBeLessThan(0.008);
  }
});

test('a bowed vibrato is no sine: its speed and depth stray', () => {
  const wire = some(INSTRUMENTS.wire, [69]);
  const [left] = strike(wire, 69, 64, 4);
  // How the fundamental leads and lags, by its own phase in windows of 20 ms.
  const hz = frequencyOfKey(69);
  const lead: number[] = [];
  for (let at = 48000; at + 1920 < left.length; at += 480) {
    let re = 0,
      im = 0;
    for (let i = 0; i < 1920; i++) {
      const w = Math.sin((Math.PI * i) / 1920) ** 2 * left[at + i];
      re += w * Math.cos((2 * Math.PI * hz * (at + i)) / 48000);
      im += w * Math.sin((2 * Math.PI * hz * (at + i)) / 48000);
    }
    lead.push(Math.atan2(im, re));
  }
  const rate = (n: number) => {
    let re = 0,
      im = 0;
    lead.forEach((x, i) => {
      re += x * Math.cos((2 * Math.PI * n * i) / 100);
      im += x * Math.sin((2 * Math.PI * n * i) / 100);
    });
    return Math.hypot(re, im);
  };
  const lines = Array.from({ length: 30 }, (_, i) => rate(3 + i * 0.25));
  const strongest = Math.max(...lines);
  const energy = lines.reduce((sum, x) => sum + x * x, 0);
  expect(3 + 0.25 * lines.indexOf(strongest)).toBeGreaterThan(3.5);
  expect(3 + 0.25 * lines.indexOf(strongest)).toBeLessThan(8);
  // A sine would have its energy in the few lines of the window.
  const near = lines.filter((_, i) => Math.abs(i - lines.indexOf(strongest)) <= 2).reduce((sum, x) => sum + x * x, 0);
  expect(near / energy).toBeLessThan(0.95);
});

const four = Object.values(INSTRUMENTS).filter(({ id }) => id !== 'drawn-pipes' && id !== 'quay-wheels');
test.each(four.map((each) => [each.name, each] as const))(
  '%s: four dynamics, each louder and none duller; roots every three keys; loops without a seam',
  (_, instrument: Instrument) => {
    const roots: number[] = [];
    // Asked for none, it tells which it would record.
    expect(instrument.record((key) => (roots.push(key), false))).toEqual([]);
    expect(roots.every((root, i) => i === 0 || root - roots[i - 1] === 3)).toBe(true);
    const root = roots[roots.length >> 1];
    const specimen = some(instrument, [root]);
    const { zones } = specimen.sound;
    expect(zones).toHaveLength(4);
    const heard = zones.map((zone) => {
      const { low, high } = zone.velocity;
      const [left, right] = strike(specimen, root, Math.round((low + high) / 2), 1);
      return { level: loudness([left, right]), bright: brightness(left) };
    });
    for (let d = 1; d < 4; d++) expect(heard[d].level).toBeGreaterThan(heard[d - 1].level);
    // A voice is breathy when it is soft.
    if (instrument.id !== 'breath-choir') expect(heard[3].bright).toBeGreaterThan(heard[0].bright * 1.15);
    for (const zone of zones) {
      const { audio } = readWav(specimen.kept.wavs.get(zone.sampleId)!);
      expect(seamOf(zone, audio.data, audio.channels)).toBeLessThan(1.01);
    }
  },
  60_000,
);
