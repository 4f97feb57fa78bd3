import { Chance } from '../dsp/chance';
import type { Audio } from '../dsp/sample';
import { frequencyOfKey } from '../music/pitch';
import { levelsOf } from './level';
import { findLoops, loopHz, loopQuality, nearestZeroCrossing } from './loop';
import { pitchOf } from './pitch';

const RATE = 44100;
const tone = (hz: number, seconds: number, amplitude = 0.5, partials = [1]): Audio => ({
  rate: RATE, channels: 1, data: Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => amplitude * partials.reduce((sum, share, p) => sum + share * Math.sin((2 * Math.PI * hz * (p + 1) * i) / RATE), 0)),
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
    const noise: Audio = { rate: RATE, channels: 2, data: Float32Array.from({ length: RATE * 2 }, () => 2 * chance.share() - 1) };
    expect(pitchOf(noise)?.clarity ?? 0).toBeLessThan(0.5);
    expect(pitchOf({ rate: RATE, channels: 1, data: new Float32Array(RATE) })?.clarity ?? 0).toBeLessThan(0.5);
    expect(pitchOf({ rate: RATE, channels: 1, data: new Float32Array(3) })).toBeNull();
  });
});

test('levels: a full-scale sine has a peak of 0 dB and a power of −3 dB; a short one is told too', () => {
  const { peakDb, rmsDb } = levelsOf(tone(997, 1, 1));
  expect(peakDb).toBeCloseTo(0, 2);
  expect(rmsDb).toBeCloseTo(-3.01, 1);
  // EBU Tech 3341, test 1 in spirit: a sine at −23 dBFS in one channel alone stands at −26 LUFS; both channels would give −23.
  expect(levelsOf(tone(1000, 1, 10 ** (-23 / 20))).lufs).toBeCloseTo(-26, 0);
  expect(levelsOf(tone(1000, 0.05)).lufs).toBeGreaterThan(-30);
  expect(levelsOf({ rate: RATE, channels: 2, data: new Float32Array(0) })).toEqual({ peakDb: -Infinity, rmsDb: -Infinity, lufs: -Infinity });
});

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
  // Arithmetic: 1000 frames at 44.1 kHz.
  test('a loop’s own rate', () => expect(loopHz(44100, 0, 1000)).toBeCloseTo(44.1, 9));
  test('the nearest zero crossing', () => {
    expect(nearestZeroCrossing(steady, 430, 200)).toBe(401);
    expect(nearestZeroCrossing({ rate: RATE, channels: 1, data: new Float32Array(50).fill(0.5) }, 20, 100)).toBe(20);
  });
});
