import { Chance } from '../dsp/chance';
import { figure } from '../../../tests/kit/figure';
import { loudnessNow, loudnessOf } from './loudness';
import { LoudnessMeter } from './loudnessMeter';

const RATE = 48000;
const level = (db: number, seconds: number) => ({ db, seconds });
/** A sine of 1 kHz in stretches of levels, as the test signals of EBU Tech 3341 are made. */
function tones(...stretches: { db: number; seconds: number }[]): Float32Array {
  const out: number[] = [];
  for (const { db, seconds } of stretches)
    for (let i = 0; i < Math.round(seconds * RATE); i++)
      out.push(10 ** (db / 20) * Math.sin((2 * Math.PI * 1000 * out.length) / RATE));
  return Float32Array.from(out);
}
const times = (n: number, list: ReturnType<typeof level>[]) => Array.from({ length: n }, () => list).flat();

/** Gives a meter a sound in pieces, and asks it after each. */
function heard(
  meter: LoudnessMeter,
  sound: Float32Array,
  piece: () => number,
  ask: () => void = () => undefined,
): void {
  for (let at = 0; at < sound.length;) {
    const frames = Math.min(piece(), sound.length - at);
    const part = sound.subarray(at, at + frames);
    meter.take(part, part, frames);
    at += frames;
    ask();
  }
}

// EBU Tech 3341, test signal 9: short-term loudness is −23.0 ± 0.1 LUFS at any time after 3 s.
test('signal 9 of EBU Tech 3341', () => {
  const meter = new LoudnessMeter(RATE);
  let off = 0;
  heard(
    meter,
    tones(...times(5, [level(-20, 1.34), level(-30, 1.66)])),
    () => 1024,
    () => {
      if (meter.seconds >= 3) off = Math.max(off, Math.abs(meter.shortTerm + 23));
    },
  );
  expect(figure('short-term loudness, signal 9', off, 'LU', 'EBU Tech 3341')).toBeLessThan(0.1);
});

// EBU Tech 3341, test signal 12: momentary loudness is −23.0 ± 0.1 LUFS at any time after 1 s.
test('signal 12 of EBU Tech 3341', () => {
  const meter = new LoudnessMeter(RATE);
  let off = 0;
  heard(
    meter,
    tones(...times(25, [level(-20, 0.18), level(-30, 0.22)])),
    () => 480,
    () => {
      if (meter.seconds >= 1) off = Math.max(off, Math.abs(meter.momentary + 23));
    },
  );
  expect(figure('momentary loudness, signal 12', off, 'LU', 'EBU Tech 3341')).toBeLessThan(0.1);
});

test('how the sound is cut, and how often it is asked, changes nothing; it agrees with what is measured afterwards', () => {
  const chance = new Chance(5);
  const sound = tones(level(-30, 1.7), level(-14, 2.2), level(-50, 1.1), level(-19, 3));
  const [whole, cut] = [new LoudnessMeter(RATE), new LoudnessMeter(RATE)];
  heard(whole, sound, () => sound.length);
  heard(cut, sound, () => 1 + Math.floor(chance.share() * 5000));
  for (const reading of ['momentary', 'shortTerm', 'whole', 'seconds'] as const)
    expect(cut[reading]).toBe(whole[reading]);
  expect(whole.whole).toBeCloseTo(loudnessOf([sound, sound], RATE), 6);
  expect(whole.shortTerm).toBeCloseTo(loudnessNow([sound, sound], RATE, 3), 6);
});

test('before anything came, and in silence, there is no loudness; a reset forgets what was', () => {
  const meter = new LoudnessMeter(RATE);
  expect([meter.seconds, meter.momentary, meter.shortTerm, meter.whole]).toEqual([0, -Infinity, -Infinity, -Infinity]);
  heard(meter, tones(level(-10, 4)), () => 4096);
  expect(meter.seconds).toBe(4);
  meter.reset();
  heard(meter, new Float32Array(RATE), () => 4096);
  expect([meter.seconds, meter.shortTerm]).toEqual([1, -Infinity]);
});
