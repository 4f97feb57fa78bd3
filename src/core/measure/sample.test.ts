import { Chance } from '../dsp/chance';
import type { Audio } from '../dsp/sample';
import { frequencyOfKey } from '../music/pitch';
import { levelsOf } from './level';
import { evenedLoop } from './evenLoop';
import { findLoops, loopHz, loopQuality, nearestZeroCrossing } from './loop';
import { pitchOf } from './pitch';

const RATE = 44100;
const tone = (hz: number, seconds: number, amplitude = 0.5, partials = [1]): Audio => ({
  rate: RATE,
  channels: 1,
  data: Float32Array.from(
    { length: Math.round(seconds * RATE) },
    (_, i) =>
      amplitude *
      partials.reduce((sum, share, p) => sum + share * Math.sin((2 * Math.PI * hz * (p + 1) * i) / RATE), 0),
  ),
});

describe('pitch', () => {
  // Synthetic tones of known pitch, within ±5 cents (twelve-tone equal temperament, A4 = 440 Hz).
  test.each([28, 36, 43, 57, 60.37, 69, 75.5, 84, 96])('key %f is heard within 5 cents', (key) => {
    const heard = pitchOf(tone(frequencyOfKey(key), 1.2, 0.3, [1, 0.5, 0.3]))!;
    expect(Math.abs((heard.key + heard.cents / 100 - key) * 100)).toBeLessThan(5);
    expect(heard.clarity).toBeGreaterThan(0.9);
  });
  test('noise is not guessed at', () => {
    const chance = new Chance(1);
    const noise: Audio = {
      rate: RATE,
      channels: 2,
      data: Float32Array.from({ length: RATE * 2 }, () => 2 * chance.share() - 1),
    };
    expect(pitchOf(noise)?.clarity ?? 0).toBeLessThan(0.5);
    expect(pitchOf({ rate: RATE, channels: 1, data: new Float32Array(RATE) })?.clarity ?? 0).toBeLessThan(0.5);
    expect(pitchOf({ rate: RATE, channels: 1, data: new Float32Array(3) })).toBeNull();
  });
});

test('levels: a full-scale sine has a peak of 0 dB and a power of −3 dB; a short one is told too', () => {
  const { peakDb, rmsDb } = levelsOf(tone(997, 1, 1));
  expect(peakDb).toBeCloseTo(0, 2);
  expect(rmsDb).toBeCloseTo(-3.01, 1);
  // EBU Tech 3341, test 1 in spirit: a sine at −23 dBFS in one channel alone stands at −26 LUFS; both channels would
  // give −23.
  expect(levelsOf(tone(1000, 1, 10 ** (-23 / 20))).lufs).toBeCloseTo(-26, 0);
  expect(levelsOf(tone(1000, 0.05)).lufs).toBeGreaterThan(-30);
  expect(levelsOf({ rate: RATE, channels: 2, data: new Float32Array(0) })).toEqual({
    peakDb: -Infinity,
    rmsDb: -Infinity,
    lufs: -Infinity,
  });
});

const tone440 = (i: number) => Math.sin((2 * Math.PI * 440 * i) / RATE);
describe('loops', () => {
  const steady = tone(220.5, 2);
  test('a loop of whole periods closes; half a period does not', () => {
    const good = loopQuality(steady, 4000, 4000 + 200 * 40);
    expect(good.levelStep).toBeLessThan(1e-3);
    expect(good.slopeStep).toBeLessThan(1e-3);
    expect(good.correlation).toBeGreaterThan(0.9999);
    const bad = loopQuality(steady, 4000, 4000 + 200 * 40 + 70);
    expect(bad.levelStep).toBeGreaterThan(0.5);
    expect(bad.correlation).toBeLessThan(0);
  });
  test('the best nearby points are found', () => {
    const [best] = findLoops(tone(313.7, 2, 0.5, [1, 0.4, 0.2]), 20000, 60070, 2000);
    expect(best.quality.correlation).toBeGreaterThan(0.995);
    expect(best.quality.levelStep).toBeLessThan(0.06);
    expect(Math.abs(best.start - 20000)).toBeLessThanOrEqual(2003);
    expect(findLoops(steady, 4000, 12000, 0)).toEqual([]);
    expect(findLoops({ rate: RATE, channels: 1, data: new Float32Array(5) }, 0, 5, 10)).toEqual([]);
  });
  /** A bell: partials that fall by so many dB in a second, on top of a floor that stays where one is given. */
  const bell = (fallDb: number, seconds = 3) => {
    const clear = tone(440, seconds, 0.8, [1, 0.5]);
    return { ...clear, data: clear.data.map((x, i) => x * 10 ** ((-fallDb * i) / RATE / 20)) };
  };
  test('likeness without level is none: a loop over a decay says by how much it sinks', () => {
    // 17 dB a second, over one second of whole periods: arithmetic.
    const start = 44_100;
    const quality = loopQuality(bell(17), start, start + RATE);
    expect(quality.correlation).toBeGreaterThan(0.999);
    expect(quality.levelDb).toBeCloseTo(-17, 0);
    expect(loopQuality(tone(440, 3), start, start + RATE).levelDb).toBeCloseTo(0, 2);
    // At the very beginning, where nothing leads up to it.
    expect(loopQuality(bell(17), 0, RATE).levelDb).toBeCloseTo(-17, 0);
  });
  test('of loops that close equally well the one that keeps its level comes first', () => {
    // Falls fast, and from 1.5 s on no more.
    const falling = bell(30, 4);
    const rests = {
      ...falling,
      data: falling.data.map((x, i) => (i < 1.5 * RATE ? x : tone440(i) * 0.8 * 10 ** (-45 / 20))),
    };
    const [best] = findLoops(rests, Math.round(1.45 * RATE), 3 * RATE, Math.round(RATE / 4));
    expect(Math.abs(best.quality.levelDb)).toBeLessThan(0.5);
    expect(best.start).toBeGreaterThan(1.5 * RATE);
  });
  test('a level that was evened out is even, and no louder than full scale', () => {
    const loop = { start: 22_050, end: 22_050 + 2 * RATE };
    const before = bell(17);
    const { levelDb } = loopQuality(before, loop.start, loop.end);
    const after = evenedLoop(before, loop, levelDb);
    expect(loopQuality(after, loop.start, loop.end).levelDb).toBeCloseTo(0, 0);
    expect(loopQuality(after, loop.start, loop.start + RATE).levelDb).toBeCloseTo(0, 0);
    expect(after.data.every((x) => Math.abs(x) <= 1)).toBe(true);
    // What leads up to it is the same but for a common gain.
    const gain = after.data[1000] / before.data[1000];
    for (const i of [10, 5000, 15_000]) expect(after.data[i]).toBeCloseTo(before.data[i] * gain, 5);
  });
  // Arithmetic: 1000 frames at 44.1 kHz.
  test('a loop’s own rate', () => expect(loopHz(44100, 0, 1000)).toBeCloseTo(44.1, 9));
  test('the nearest zero crossing', () => {
    expect(nearestZeroCrossing(steady, 430, 200)).toBe(401);
    expect(nearestZeroCrossing({ rate: RATE, channels: 1, data: new Float32Array(50).fill(0.5) }, 20, 100)).toBe(20);
  });
});
