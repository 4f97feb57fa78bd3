import { dbOfGain, frequencyOfKey, gainOfDb, isBlackKey, keyOfFrequency, ratioOfSemitones } from './pitch';

// MIDI Tuning Standard, twelve-tone equal temperament with A4 = key 69 = 440 Hz.
test.each([
  [69, 440],
  [60, 261.6256],
  [31, 48.9994],
  [43, 97.9989],
  [55, 195.9977],
  [21, 27.5],
  [108, 4186.009],
])('key %i sounds at %f Hz', (key, hz) => {
  expect(frequencyOfKey(key)).toBeCloseTo(hz, 3);
  expect(keyOfFrequency(hz)).toBeCloseTo(key, 4);
});

test('an octave doubles, a semitone is the twelfth root', () => {
  expect(ratioOfSemitones(12)).toBe(2);
  expect(ratioOfSemitones(1) ** 12).toBeCloseTo(2, 12);
});

test('decibels and factors are each other’s inverse', () => {
  expect(gainOfDb(-6.0206)).toBeCloseTo(0.5, 6);
  expect(dbOfGain(gainOfDb(-33.3))).toBeCloseTo(-33.3, 10);
  expect(dbOfGain(0)).toBe(-Infinity);
});

test('five of twelve keys are black', () => {
  expect(Array.from({ length: 12 }, (_, i) => 60 + i).filter(isBlackKey)).toEqual([61, 63, 66, 68, 70]);
});
