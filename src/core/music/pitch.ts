/** Key numbers are MIDI note numbers: 60 is middle C, 69 is the A of 440 Hz. */
export const KEYS = 128;
export const MIDDLE_C = 60;

/**
 * Frequency in Hz of a (possibly fractional) key. Twelve-tone equal temperament, A4 = key 69 = 440 Hz (MIDI Tuning
 * Standard).
 */
export const frequencyOfKey = (key: number): number => 440 * 2 ** ((key - 69) / 12);

/** The fractional key whose frequency is `hz` (above 0). */
export const keyOfFrequency = (hz: number): number => 69 + 12 * Math.log2(hz / 440);

/** Playback ratio for a distance in semitones: 12 semitones double it. */
export const ratioOfSemitones = (semitones: number): number => 2 ** (semitones / 12);

/** Amplitude factor of a level in dB. */
export const gainOfDb = (db: number): number => 10 ** (db / 20);

/** Level in dB of an amplitude factor; 0 gives −Infinity. */
export const dbOfGain = (gain: number): number => 20 * Math.log10(gain);

/** True for the five black keys of each octave. */
export const isBlackKey = (key: number): boolean => [1, 3, 6, 8, 10].includes(((key % 12) + 12) % 12);
