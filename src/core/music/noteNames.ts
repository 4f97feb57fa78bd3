import { KEYS } from './pitch';

/** The octave number that middle C (key 60) carries: 3, 4 or 5, depending on who is asked. */
export type MiddleC = 3 | 4 | 5;

const SHARPS = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];
const STEPS: Record<string, number> = { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 11 };
const ACCIDENTALS: Record<string, number> = { '': 0, '#': 1, '♯': 1, s: 1, b: -1, '♭': -1 };

/** The octave in which a key is named. */
export const octaveOfKey = (key: number, middleC: MiddleC = 4): number => Math.floor(key / 12) - 5 + middleC;

/** The name of a key, such as `F♯3`. */
export const nameOfKey = (key: number, middleC: MiddleC = 4): string =>
  `${SHARPS[((key % 12) + 12) % 12]}${octaveOfKey(key, middleC)}`;

/** The name of a key in the name of a file, where only plain letters are safe: `F#3`, middle C as C4. */
export const fileNameOfKey = (key: number): string => nameOfKey(key).replace('♯', '#');

/**
 * The key a text means: a name (`F#3`, `gb3`, `Fs3`, `C♯-1`) in the given octave convention, or a number 0…127.
 * Undefined when the text is neither or the key lies outside 0…127.
 */
export function parseKey(text: string, middleC: MiddleC = 4): number | undefined {
  const trimmed = text.trim();
  if (/^\d{1,3}$/.test(trimmed)) return inRange(Number(trimmed));
  const match = /^([a-gA-G])([#♯sb♭]?)(-?\d{1,2})$/.exec(trimmed.replace('−', '-'));
  if (!match) return undefined;
  const [, letter, accidental, octave] = match;
  return inRange((Number(octave) + 5 - middleC) * 12 + STEPS[letter.toLowerCase()] + ACCIDENTALS[accidental]);
}

const inRange = (key: number): number | undefined => (key >= 0 && key < KEYS ? key : undefined);
