import { nameOfKey, parseKey, type MiddleC } from '../music/noteNames';
import { partsOfName, type NamePart } from './nameParts';
import { naturalCompare } from './naturalOrder';
import { areAllVelocities } from './velocities';

export type { NamePart };

/**
 * What a part of the names can mean. `number` is a key by its MIDI number, `velocity` the hardest velocity a file is
 * for, `run` a running count.
 */
export type Meaning = 'note' | 'number' | 'dynamic' | 'velocity' | 'alternate' | 'run' | 'nothing';
export const MEANINGS: readonly Meaning[] = ['note', 'number', 'dynamic', 'velocity', 'alternate', 'run', 'nothing'];

/** One place in the names of a folder, and what stands there. */
export interface NameColumn {
  column: number;
  meaning: Meaning;
  texts: string[];
}
/** What one name says. Dynamics and alternates as they are written; `null` where the name says nothing of it. */
export interface NameReading {
  parts: NamePart[];
  key: number | null;
  dynamic: string | null;
  velocity: number | null;
  alternate: string | null;
  run: number | null;
}
export interface FolderReading {
  columns: NameColumn[];
  files: NameReading[];
  /** Dynamics in the order soft → hard as their names have it, alternates in order. */
  dynamics: string[];
  alternates: string[];
  /** Why it was read like this, a sentence for each part. */
  explanation: string[];
}

/** Words for dynamics, soft to hard. Those of one place rank alike. */
const DYNAMICS = ['ppp', 'pp', 'p', 'mp', 'mf', 'f', 'ff', 'fff'];
const SOFT_TO_HARD: Record<string, number> = {
  softest: 0,
  quietest: 0,
  quiet: 1,
  soft: 1,
  low: 1,
  mid: 3.5,
  med: 3.5,
  medium: 3.5,
  normal: 3.5,
  hard: 6,
  loud: 6,
  high: 6,
  strong: 6,
  hardest: 8,
  loudest: 8,
};
const rankOfDynamic = (text: string): number | undefined => {
  const lower = text.toLowerCase();
  const letter = DYNAMICS.indexOf(lower);
  return letter >= 0 ? letter : Object.hasOwn(SOFT_TO_HARD, lower) ? SOFT_TO_HARD[lower] : undefined;
};
const numberIn = (text: string): number | undefined => {
  const digits = /\d+/.exec(text);
  return digits ? Number(digits[0]) : undefined;
};
const DYNAMIC_WORDS = /^(?:(?:velocity|vel|dynamic|dyn|layer|lyr|level)[\s_-]?|v)\d/i;
const ALTERNATE_WORDS = /^(?:(?:round[\s_-]?robin|rr)[\s_-]?|alt|take|var|seq|round|r)\d/i;
/** Whether a piece of a name tells how soft or hard, or which alternate. */
export const isDynamicWord = (text: string): boolean => rankOfDynamic(text) !== undefined || DYNAMIC_WORDS.test(text);
export const isAlternateWord = (text: string): boolean => ALTERNATE_WORDS.test(text);

/**
 * Reads the names of a folder with one guess for all of them. `corrections` say what columns mean, against the guess.
 * Notes are read with middle C in the given octave.
 */
export function readNames(
  paths: readonly string[],
  middleC: MiddleC = 4,
  corrections: Readonly<Record<number, Meaning>> = {},
): FolderReading {
  const parts = aligned(paths.map(partsOfName));
  const width = Math.max(0, ...parts.map((row) => row.reduce((most, part) => Math.max(most, part.column + 1), 0)));
  const columns = Array.from({ length: width }, (_, column): NameColumn => ({
    column,
    meaning: 'nothing',
    texts: [
      ...new Set(parts.flatMap((row) => row.filter((part) => part.column === column).map((part) => part.text))),
    ].sort(naturalCompare),
  }));
  const at = (row: readonly NamePart[], column: number) => row.find((part) => part.column === column);
  guess(parts, columns, middleC, corrections);
  const find = (row: readonly NamePart[], ...meanings: Meaning[]) =>
    columns
      .filter(({ meaning }) => meanings.includes(meaning))
      .map(({ column }) => at(row, column))
      .find((part) => part !== undefined);
  const files = parts.map((row): NameReading => {
    const note = find(row, 'note');
    const number = find(row, 'number');
    const velocity = find(row, 'velocity');
    const key = (note && parseKey(note.text, middleC)) ?? (number && numberIn(number.text)) ?? null;
    const hardest = velocity ? (numberIn(velocity.text) ?? null) : null;
    return {
      parts: row,
      key: key !== null && key <= 127 ? key : null,
      velocity: hardest !== null && hardest >= 1 && hardest <= 127 ? hardest : null,
      dynamic: find(row, 'dynamic')?.text ?? velocity?.text ?? null,
      alternate: find(row, 'alternate')?.text ?? null,
      run: numberIn(find(row, 'run')?.text ?? '') ?? null,
    };
  });
  const distinct = (texts: (string | null)[]) => [...new Set(texts.filter((text) => text !== null))];
  const dynamics = distinct(files.map((file) => file.dynamic)).sort(byDynamic);
  const alternates = distinct(files.map((file) => file.alternate)).sort(naturalCompare);
  return { columns, files, dynamics, alternates, explanation: explain(columns, files, middleC) };
}

/** Soft before hard: by the words' meaning, else by number, else by name. */
export function byDynamic(a: string, b: string): number {
  const [left, right] = [rankOfDynamic(a), rankOfDynamic(b)];
  return left !== undefined && right !== undefined && left !== right ? left - right : naturalCompare(a, b);
}

/**
 * Names of one folder mostly have the same pieces in the same places. Those with more or fewer are laid beside the
 * commonest: each piece goes to the next column of its kind.
 */
function aligned(rows: NamePart[][]): NamePart[][] {
  const shapeOf = (row: readonly NamePart[]) => row.map((part) => part.kind[0]).join('');
  const counts = new Map<string, number>();
  for (const row of rows) counts.set(shapeOf(row), (counts.get(shapeOf(row)) ?? 0) + 1);
  let common = '';
  for (const [shape, count] of counts) if (count > (counts.get(common) ?? 0)) common = shape;
  return rows.map((row) => {
    if (shapeOf(row) === common) return row;
    let next = 0;
    let extra = common.length;
    return row.map((part) => {
      const column = common.indexOf(part.kind[0], next);
      if (column < 0) return { ...part, column: extra++ };
      next = column + 1;
      return { ...part, column };
    });
  });
}

function guess(
  rows: readonly NamePart[][],
  columns: NameColumn[],
  middleC: MiddleC,
  corrections: Readonly<Record<number, Meaning>>,
): void {
  const valuesIn = (column: number) =>
    rows.map((row) => row.find((part) => part.column === column)).filter((part) => part !== undefined);
  const most = (column: number, test: (part: NamePart) => boolean) => {
    const values = valuesIn(column);
    return values.length >= rows.length * 0.6 && values.filter(test).length >= values.length * 0.8;
  };
  const taken = (meaning: Meaning) => columns.some((column) => column.meaning === meaning);
  const free = () =>
    columns.filter(({ column, meaning }) => meaning === 'nothing' && corrections[column] === undefined);
  for (const column of columns) column.meaning = corrections[column.column] ?? 'nothing';

  if (!taken('dynamic') && !taken('velocity')) ranges(rows, free());
  if (!taken('note') && !taken('number')) {
    const notes = free().filter(({ column }) =>
      most(column, (part) => part.kind === 'note' && parseKey(part.text, middleC) !== undefined),
    );
    const best = notes.sort((a, b) => b.texts.length - a.texts.length)[0];
    if (best) best.meaning = 'note';
  }
  if (!taken('dynamic') && !taken('velocity')) {
    const counted = free().find(
      ({ column, texts }) => texts.length > 1 && most(column, (part) => DYNAMIC_WORDS.test(part.text)),
    );
    const named = free().find(
      ({ column, texts }) => texts.length > 1 && most(column, (part) => rankOfDynamic(part.text) !== undefined),
    );
    if (counted) counted.meaning = looksLikeVelocities(counted.texts) ? 'velocity' : 'dynamic';
    else if (named) named.meaning = 'dynamic';
  }
  if (!taken('alternate')) {
    const counted = free().find(({ column }) => most(column, (part) => ALTERNATE_WORDS.test(part.text)));
    if (counted) counted.meaning = 'alternate';
  }
  if (!taken('note') && !taken('number')) {
    // Three-figure or high numbers that do not simply count from the start are key numbers; of several columns the one
    // that varies as keys do.
    const numbers = free()
      .filter(
        ({ column, texts }) =>
          texts.length > 1 &&
          most(column, (part) => part.kind === 'digits' && Number(part.text) <= 127) &&
          Math.min(...texts.map(Number)) >= 12,
      )
      .sort((a, b) => keyLikeness(b.texts) - keyLikeness(a.texts));
    if (numbers.length > 0) numbers[0].meaning = 'number';
    // Beside keys, numbers up to the hardest strike are velocities.
    if (
      numbers.length > 1 &&
      !taken('dynamic') &&
      !taken('velocity') &&
      Math.max(...numbers[1].texts.map(Number)) > HIGHEST_PIANO_KEY
    )
      numbers[1].meaning = 'velocity';
  }
  const same = (row: readonly NamePart[]) =>
    columns
      .filter(({ meaning }) => ['note', 'number', 'dynamic', 'velocity'].includes(meaning))
      .map(({ column }) => row.find((part) => part.column === column)?.text)
      .join(' ');
  const places = new Map<string, number>();
  for (const row of rows) places.set(same(row), (places.get(same(row)) ?? 0) + 1);
  const crowded = Math.max(0, ...places.values()) > 1;
  if (!taken('dynamic') && !taken('velocity') && crowded && taken('note')) {
    // Several folders or words with the same notes in each are dynamics of one instrument.
    const words = free().find(
      ({ column, texts }) =>
        texts.length > 1 && texts.length <= 16 && most(column, (part) => part.kind === 'word' && part.text.length > 1),
    );
    if (words) words.meaning = 'dynamic';
  }
  if (!taken('alternate') && crowded) {
    const letters = free()
      .filter(
        ({ column, texts }) =>
          texts.length > 1 && texts.length <= 26 && most(column, (part) => /^[a-z]$/i.test(part.text)),
      )
      .pop();
    const counter = free()
      .filter(
        ({ column, texts }) =>
          texts.length > 1 && texts.length < rows.length && most(column, (part) => part.kind === 'digits'),
      )
      .pop();
    const found = letters ?? (taken('note') || taken('number') || taken('dynamic') ? counter : undefined);
    if (found) found.meaning = 'alternate';
  }
  if (!taken('run') && !taken('note') && !taken('number')) {
    const counter = free()
      .filter(
        ({ column, texts }) =>
          texts.length > 1 && most(column, (part) => part.kind === 'digits' || part.kind === 'numbered'),
      )
      .sort((a, b) => b.texts.length - a.texts.length)[0];
    if (counter) counter.meaning = 'run';
  }
}

/**
 * Two neighbouring columns such as `1-63` and `64-127`, which together are all velocities: the second holds the hardest
 * of each.
 */
function ranges(rows: readonly NamePart[][], columns: readonly NameColumn[]): void {
  for (const { column } of columns) {
    const next = columns.find((other) => other.column === column + 1);
    if (!next) continue;
    const pairs = rows
      .map((row) => [column, column + 1].map((c) => row.find((part) => part.column === c)))
      .filter(([low, high]) => low?.kind === 'digits' && high?.kind === 'digits');
    if (pairs.length < rows.length * 0.8) continue;
    const distinct = [
      ...new Map(
        pairs.map(([low, high]) => [
          `${low!.text}-${high!.text}`,
          { low: Math.max(1, Number(low!.text)), high: Number(high!.text) },
        ]),
      ).values(),
    ];
    if (areAllVelocities(distinct)) {
      next.meaning = 'velocity';
      return;
    }
  }
}

const HIGHEST_PIANO_KEY = 108;
/** How much numbers look like keys: many different ones, none above the highest key of a piano. */
const keyLikeness = (texts: readonly string[]): number =>
  new Set(texts.map(Number)).size * (Math.max(...texts.map(Number)) > HIGHEST_PIANO_KEY ? 0.25 : 1);

/** `vel32 … vel127` are velocities, `v1 … v16` are counted dynamics. */
const looksLikeVelocities = (texts: readonly string[]): boolean => {
  const numbers = texts.map((text) => numberIn(text) ?? 0);
  return Math.max(...numbers) > Math.max(20, texts.length * 2) && Math.max(...numbers) <= 127;
};

const span = (texts: readonly string[]): string =>
  texts.length <= 3 ? texts.join(', ') : `${texts[0]} … ${texts[texts.length - 1]}`;

function explain(columns: readonly NameColumn[], files: readonly NameReading[], middleC: MiddleC): string[] {
  const lines: string[] = [];
  for (const { meaning, texts } of columns) {
    const what = `“${span(texts)}”`;
    if (meaning === 'note' || meaning === 'number') {
      const keys = files.map((file) => file.key).filter((key) => key !== null);
      const range = keys.length > 0 ? `: keys ${Math.min(...keys)} to ${Math.max(...keys)}` : '';
      lines.push(
        meaning === 'note'
          ? `${what} name ${texts.length === 1 ? 'a note' : `${texts.length} notes`}, with middle C as C${middleC}${range}`
          : `${what} are key numbers${range}, ${keys.length > 0 ? `${nameOfKey(Math.min(...keys), middleC)} to ${nameOfKey(Math.max(...keys), middleC)}` : ''}`,
      );
    } else if (meaning === 'dynamic')
      lines.push(
        `${what} are ${texts.length} dynamics, soft to hard in this order: ${[...texts].sort(byDynamic).slice(0, 16).join(', ')}`,
      );
    else if (meaning === 'velocity') lines.push(`${what} are the hardest velocities each file is for`);
    else if (meaning === 'alternate') lines.push(`${what} count alternates of the same strike`);
    else if (meaning === 'run') lines.push(`${what} is a running count`);
  }
  const unread = files.filter((file) => file.key === null).length;
  if (columns.some(({ meaning }) => meaning === 'note' || meaning === 'number') && unread > 0)
    lines.push(`${unread} of ${files.length} names carry no key`);
  if (lines.length === 0) lines.push('the names say nothing about keys, dynamics or alternates');
  return lines;
}
