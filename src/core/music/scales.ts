/** A scale: semitones of its notes above the root, rising within an octave. */
export interface Scale {
  id: string;
  label: string;
  intervals: readonly number[];
}

const scale = (id: string, label: string, ...intervals: number[]): Scale => ({ id, label, intervals });

/** Scales by their trade names; common practice, no single source. */
export const SCALES: readonly Scale[] = [
  scale('major', 'major', 0, 2, 4, 5, 7, 9, 11),
  scale('minor', 'natural minor', 0, 2, 3, 5, 7, 8, 10),
  scale('harmonic-minor', 'harmonic minor', 0, 2, 3, 5, 7, 8, 11),
  scale('melodic-minor', 'melodic minor (rising)', 0, 2, 3, 5, 7, 9, 11),
  scale('dorian', 'Dorian', 0, 2, 3, 5, 7, 9, 10),
  scale('phrygian', 'Phrygian', 0, 1, 3, 5, 7, 8, 10),
  scale('lydian', 'Lydian', 0, 2, 4, 6, 7, 9, 11),
  scale('mixolydian', 'Mixolydian', 0, 2, 4, 5, 7, 9, 10),
  scale('locrian', 'Locrian', 0, 1, 3, 5, 6, 8, 10),
  scale('major-pentatonic', 'major pentatonic', 0, 2, 4, 7, 9),
  scale('minor-pentatonic', 'minor pentatonic', 0, 3, 5, 7, 10),
  scale('blues', 'blues (minor)', 0, 3, 5, 6, 7, 10),
  scale('major-blues', 'blues (major)', 0, 2, 3, 4, 7, 9),
  scale('whole-tone', 'whole tone', 0, 2, 4, 6, 8, 10),
  scale('diminished', 'diminished (whole–half)', 0, 2, 3, 5, 6, 8, 9, 11),
  scale('dominant-diminished', 'diminished (half–whole)', 0, 1, 3, 4, 6, 7, 9, 10),
  scale('augmented', 'augmented', 0, 3, 4, 7, 8, 11),
  scale('phrygian-dominant', 'Phrygian dominant', 0, 1, 4, 5, 7, 8, 10),
  scale('lydian-dominant', 'Lydian dominant', 0, 2, 4, 6, 7, 9, 10),
  scale('altered', 'altered', 0, 1, 3, 4, 6, 8, 10),
  scale('double-harmonic', 'double harmonic', 0, 1, 4, 5, 7, 8, 11),
  scale('hungarian-minor', 'Hungarian minor', 0, 2, 3, 6, 7, 8, 11),
  scale('neapolitan-minor', 'Neapolitan minor', 0, 1, 3, 5, 7, 8, 11),
  scale('hirajoshi', 'Hirajoshi', 0, 2, 3, 7, 8),
  scale('in', 'In (Miyako-bushi)', 0, 1, 5, 7, 8),
  scale('chromatic', 'chromatic', 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11),
];

/** What becomes of a note outside the scale. */
export const OUTSIDE = ['nearest', 'up', 'down', 'silent'] as const;
export type Outside = (typeof OUTSIDE)[number];

/** The keys 0…127 of a scale on a root 0…11 (0 is C), rising. */
export function keysOfScale(intervals: readonly number[], root: number): number[] {
  return Array.from({ length: 128 }, (_, key) => key).filter((key) =>
    intervals.includes((((key - root) % 12) + 12) % 12),
  );
}

/**
 * By key 0…127, the key of the scale that it becomes; −1: it stays silent. The nearest of two equally near ones is the
 * lower. Near the ends of the keyboard, where the scale has no key further on, the
 * last one there is.
 */
export function snapTable(intervals: readonly number[], root: number, outside: Outside): Int16Array {
  const keys = keysOfScale(intervals, root);
  return Int16Array.from({ length: 128 }, (_, key) => {
    if (keys.includes(key)) return key;
    if (outside === 'silent') return -1;
    const below = keys.filter((each) => each < key).pop();
    const above = keys.find((each) => each > key);
    if (below === undefined || above === undefined) return below ?? above ?? -1;
    if (outside === 'up') return above;
    if (outside === 'down') return below;
    return above - key < key - below ? above : below;
  });
}
