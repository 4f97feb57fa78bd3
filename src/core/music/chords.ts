import { nameOfKey, octaveOfKey, type MiddleC } from './noteNames';

/**
 * Chords by the semitones of their notes above the root, and what is written after the root; common practice, no single
 * source. Fuller ones first within a size.
 */
const KINDS: readonly (readonly [suffix: string, ...intervals: number[]])[] = [
  ['5', 0, 7],
  ['', 0, 4, 7],
  ['m', 0, 3, 7],
  ['dim', 0, 3, 6],
  ['aug', 0, 4, 8],
  ['sus4', 0, 5, 7],
  ['sus2', 0, 2, 7],
  ['(♭5)', 0, 4, 6],
  ['maj7', 0, 4, 7, 11],
  ['7', 0, 4, 7, 10],
  ['m7', 0, 3, 7, 10],
  ['m(maj7)', 0, 3, 7, 11],
  ['m7♭5', 0, 3, 6, 10],
  ['dim7', 0, 3, 6, 9],
  ['6', 0, 4, 7, 9],
  ['m6', 0, 3, 7, 9],
  ['7sus4', 0, 5, 7, 10],
  ['aug7', 0, 4, 8, 10],
  ['maj7♯5', 0, 4, 8, 11],
  ['7♭5', 0, 4, 6, 10],
  ['add9', 0, 2, 4, 7],
  ['m(add9)', 0, 2, 3, 7],
  ['9', 0, 2, 4, 7, 10],
  ['maj9', 0, 2, 4, 7, 11],
  ['m9', 0, 2, 3, 7, 10],
  ['6/9', 0, 2, 4, 7, 9],
  ['7♭9', 0, 1, 4, 7, 10],
  ['7♯9', 0, 3, 4, 7, 10],
  ['9sus4', 0, 2, 5, 7, 10],
  ['maj7♯11', 0, 4, 6, 7, 11],
  ['11', 0, 2, 4, 5, 7, 10],
  ['m11', 0, 2, 3, 5, 7, 10],
  ['13', 0, 2, 4, 7, 9, 10],
  ['maj13', 0, 2, 4, 7, 9, 11],
];
const byShape = new Map(KINDS.map(([suffix, ...intervals]) => [intervals.join(' '), suffix]));
const NAMES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];

/** What a pitch class 0…11 is called. */
export const nameOfClass = (pitchClass: number): string => NAMES[((pitchClass % 12) + 12) % 12];

/**
 * The name of the chord that some keys make: root and kind, and the lowest note where that is not the root (`Em7/B`).
 * The lowest note is tried as the root first. Keys that make no chord with a name
 * have none: undefined.
 */
export function nameOfChord(keys: readonly number[]): string | undefined {
  const sorted = [...keys].sort((a, b) => a - b);
  if (sorted.length === 0) return undefined;
  const classes = [...new Set(sorted.map((key) => key % 12))];
  if (classes.length === 1) return nameOfClass(classes[0]);
  const bass = sorted[0] % 12;
  for (const root of [bass, ...classes.filter((each) => each !== bass)]) {
    const shape = classes
      .map((each) => (each - root + 12) % 12)
      .sort((a, b) => a - b)
      .join(' ');
    const suffix = byShape.get(shape);
    if (suffix !== undefined) return `${nameOfClass(root)}${suffix}${root === bass ? '' : `/${nameOfClass(bass)}`}`;
  }
  return undefined;
}

/** Keys from the lowest, spelled as the name of their chord is: `A♭3 C4 E♭4`; those of no chord as keys are named. */
export function spelledKeys(keys: readonly number[], middleC: MiddleC): string {
  const hasName = nameOfChord(keys) !== undefined;
  const name = (key: number) => (hasName ? `${nameOfClass(key)}${octaveOfKey(key, middleC)}` : nameOfKey(key, middleC));
  return [...keys]
    .sort((a, b) => a - b)
    .map(name)
    .join(' ');
}
