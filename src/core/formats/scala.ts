import { MOST_DEGREES, type KeyMapping } from '../music/tunings';
import { FileError } from './fileError';

/**
 * Files of the Scala archive: scales (.scl) and mappings of keyboards (.kbm), as "Scala scale file format" and "Scala
 * keyboard mapping" at huygens-fokker.org describe them (from memory).
 */
export interface Scale {
  description: string;
  /** Cents of each degree above the first, in the order of the file; the last one closes the round. */
  degrees: number[];
}

/** Lines without comments, each with its number in the file. */
const linesOf = (text: string): { line: number; text: string }[] =>
  text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\r|\n/)
    .map((each, i) => ({ line: i + 1, text: each }))
    .filter(({ text: each }) => !each.startsWith('!'));

const at = (line: number): string => `line ${line}`;

/** Cents of a pitch as a line tells it: with a point cents, else a ratio. Throws a FileError. */
function pitchOf(text: string, line: number): number {
  const [first] = text.trim().split(/[\s!]/);
  const refuse = (why: string) => new FileError(at(line), `“${text.trim().slice(0, 40)}” ${why}`);
  if (/^[-+]?\d*\.\d*$/.test(first) && /\d/.test(first)) {
    const cents = Number(first);
    if (Math.abs(cents) > 96000) throw refuse('is farther than any key');
    return cents;
  }
  // A ratio may have spaces around its stroke; a whole number is one above 1.
  const ratio = /^\s*([-+]?\d+)(?:\s*\/\s*([-+]?\d+))?/.exec(text);
  if (!ratio) throw refuse('is neither cents (with a point) nor a ratio');
  const [a, b] = [Number(ratio[1]), Number(ratio[2] ?? 1)];
  if (a <= 0 || b <= 0) throw refuse('is no ratio of two numbers above nothing');
  const cents = 1200 * Math.log2(a / b);
  if (Math.abs(cents) > 96000) throw refuse('is farther than any key');
  return cents;
}

/** A whole number alone at the beginning of a line. */
function wholeOf(text: string, line: number, what: string, low: number, high: number): number {
  const found = /^\s*([-+]?\d+)(?=\s|!|$)/.exec(text);
  const value = found ? Number(found[1]) : NaN;
  if (!(value >= low && value <= high))
    throw new FileError(
      at(line),
      `expected ${what}, a whole number from ${low} to ${high}, not “${text.trim().slice(0, 40)}”`,
    );
  return value;
}

/** Reads a scale. Throws a FileError that names the line. */
export function readScl(text: string): Scale {
  const lines = linesOf(text);
  if (lines.length < 2) throw new FileError('', 'is no Scala scale: a description and a count of notes are missing');
  const count = wholeOf(lines[1].text, lines[1].line, 'the count of notes', 0, MOST_DEGREES);
  const notes = lines.slice(2).filter(({ text: each }, i) => each.trim() !== '' || i < count);
  if (notes.length < count)
    throw new FileError(at(lines[1].line), `tells ${count} notes, but only ${notes.length} follow`);
  const degrees = notes.slice(0, count).map(({ text: each, line }) => pitchOf(each, line));
  if (count > 0 && degrees[count - 1] <= 0)
    throw new FileError(at(notes[count - 1].line), 'the last note must lie above the first: it closes the round');
  return { description: lines[0].text.trim(), degrees };
}

/** Writes a scale; cents to a millionth. */
export function writeScl({ description, degrees }: Scale, name = 'scale.scl'): string {
  return [
    `! ${name}`,
    '!',
    description.replace(/[\r\n]+/g, ' ').replace(/^!/, ' !'),
    ` ${degrees.length}`,
    '!',
    ...degrees.map((cents) => ` ${cents.toFixed(6)}`),
    '',
  ].join('\n');
}

const MOST_SIZE = 2048;

/** Reads a mapping of a keyboard. Throws a FileError that names the line. */
export function readKbm(text: string): KeyMapping {
  const lines = linesOf(text).filter(({ text: each }) => each.trim() !== '');
  const next = (n: number, what: string, low: number, high: number): number => {
    if (!lines[n]) throw new FileError('', `is no Scala keyboard mapping: ${what} is missing`);
    return wholeOf(lines[n].text, lines[n].line, what, low, high);
  };
  const size = next(0, 'the size of the map', 0, MOST_SIZE);
  const first = next(1, 'the first key', 0, 127);
  const last = next(2, 'the last key', 0, 127);
  if (last < first) throw new FileError(at(lines[2].line), `the last key ${last} lies below the first, ${first}`);
  const middle = next(3, 'the key of the first degree', 0, 127);
  const reference = next(4, 'the reference key', 0, 127);
  if (!lines[5]) throw new FileError('', 'is no Scala keyboard mapping: the frequency of the reference is missing');
  const referenceHz = Number(lines[5].text.trim().split(/[\s!]/)[0]);
  if (!(referenceHz > 0.1 && referenceHz < 100_000))
    throw new FileError(at(lines[5].line), `“${lines[5].text.trim().slice(0, 40)}” is no frequency in Hz`);
  const octave = next(6, 'the degree of the octave', 0, MOST_SIZE);
  const keys = Array.from({ length: size }, (_, i): number | null => {
    // Keys that the file leaves out at its end are silent.
    const entry = lines[7 + i];
    if (!entry || /^\s*x/i.test(entry.text)) return null;
    return wholeOf(entry.text, entry.line, 'a degree, or x', 0, MOST_SIZE);
  });
  return { size, first, last, middle, reference, referenceHz, octave, keys };
}

/** Writes a mapping of a keyboard. */
export const writeKbm = ({ size, first, last, middle, reference, referenceHz, octave, keys }: KeyMapping): string =>
  [
    '! Size of the map, first and last key, key of the first degree, reference key, its frequency, degree of the octave',
    ...[size, first, last, middle, reference],
    referenceHz.toFixed(6),
    octave,
    '! Degree of each key; x: silent',
    ...keys.map((degree) => degree ?? 'x'),
    '',
  ].join('\n');
