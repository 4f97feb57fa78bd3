import { drumKeyOf } from './drumKeys';
import { byDynamic, isAlternateWord, isDynamicWord } from './names';
import { partsOfName } from './nameParts';
import { naturalCompare } from './naturalOrder';
import { areAllVelocities, type VelocityRange } from './velocities';

/** What sibling folders can be to one another. */
export type FolderMeaning = 'dynamics' | 'alternates' | 'pads' | 'sounds' | 'nothing';
export const FOLDER_MEANINGS: readonly FolderMeaning[] = ['dynamics', 'alternates', 'pads', 'sounds', 'nothing'];

export interface FoldersRead {
  meaning: FolderMeaning;
  /** Their names: dynamics soft to hard, the others as people count. */
  names: string[];
  /** By file: the place of its folder among the names; −1 where it lies in none of them. */
  ofFile: number[];
  /** By file: its path inside the folder. */
  inner: string[];
  /** Dynamics whose names are ranges, in their order. */
  ranges: VelocityRange[] | null;
  explanation: string;
}

interface Placed {
  path: string;
  levelDb: number;
}

/** Folders whose levels lie further apart than this are soft and hard. */
const APART_DB = 3;

/**
 * What the folders in which files lie mean, guessed or as somebody says. They are the first folders in which the paths
 * differ. Null where all files lie in one.
 */
export function readFolders(files: readonly Placed[], wanted: FolderMeaning | 'auto'): FoldersRead | null {
  const paths = withoutCommonFolders(files.map(({ path }) => path));
  const folderOf = paths.map((path) => (path.includes('/') ? path.slice(0, path.indexOf('/')) : null));
  const found = [...new Set(folderOf.filter((name) => name !== null))].sort(naturalCompare);
  if (found.length === 0 || (found.length === 1 && wanted === 'auto')) return null;
  const inner = paths.map((path, i) => (folderOf[i] === null ? path : path.slice(folderOf[i].length + 1)));
  const level = levelsOf(found, files, folderOf);
  const guess =
    wanted === 'auto' ? guessMeaning(found, folderOf, inner, level) : { meaning: wanted, why: 'as you say' };
  const { meaning } = guess;
  const ranges = meaning === 'dynamics' ? rangesOf(found) : null;
  const named = found.every((name) => dynamicOf(name) !== undefined);
  const names =
    meaning !== 'dynamics'
      ? found
      : ranges
        ? [...found].sort((a, b) => rangeOf(a)!.low - rangeOf(b)!.low)
        : named
          ? [...found].sort((a, b) => byDynamic(dynamicOf(a)!, dynamicOf(b)!))
          : [...found].sort((a, b) => level.get(a)! - level.get(b)!);
  const list = `“${names.length <= 6 ? names.join(', ') : `${names.slice(0, 3).join(', ')} … ${names[names.length - 1]}`}”`;
  const sentence = {
    dynamics: `the folders ${list} are dynamics, soft to hard`,
    alternates: `the folders ${list} are alternates of the same strikes`,
    pads: `the folders ${list} are the pads of a kit`,
    sounds: `the folders ${list} are separate sounds`,
    nothing: `the folders ${list} mean nothing`,
  }[meaning];
  return {
    meaning,
    names,
    ofFile: folderOf.map((name) => (name === null ? -1 : names.indexOf(name))),
    inner,
    ranges: ranges ? names.map((name) => rangeOf(name)!) : null,
    explanation: `${sentence} (${guess.why})`,
  };
}

/** Paths without the folders in which all of them lie. */
export function withoutCommonFolders(paths: readonly string[]): string[] {
  let rest = [...paths];
  while (
    rest.length > 0 &&
    rest.every(
      (path) => path.includes('/') && path.slice(0, path.indexOf('/')) === rest[0].slice(0, rest[0].indexOf('/')),
    )
  )
    rest = rest.map((path) => path.slice(path.indexOf('/') + 1));
  return rest;
}

function levelsOf(
  folders: readonly string[],
  files: readonly Placed[],
  folderOf: readonly (string | null)[],
): Map<string, number> {
  return new Map(
    folders.map((name) => {
      const levels = files
        .filter((_, i) => folderOf[i] === name)
        .map((file) => file.levelDb)
        .filter(Number.isFinite);
      return [name, levels.length > 0 ? levels.reduce((a, b) => a + b, 0) / levels.length : -Infinity];
    }),
  );
}

function guessMeaning(
  folders: readonly string[],
  folderOf: readonly (string | null)[],
  inner: readonly string[],
  level: ReadonlyMap<string, number>,
): { meaning: FolderMeaning; why: string } {
  const drums = folders.map((name) => drumKeyOf(name)?.key).filter((key) => key !== undefined);
  if (drums.length >= folders.length * 0.6 && new Set(drums).size >= folders.length * 0.6 && folders.length > 1)
    return { meaning: 'pads', why: 'by the drums they are named after' };
  if (rangesOf(folders)) return { meaning: 'dynamics', why: 'by the ranges they are named after' };
  if (folders.every((name) => dynamicOf(name) !== undefined)) return { meaning: 'dynamics', why: 'by their names' };
  if (folders.every((name) => partsOfName(name).some(({ text }) => isAlternateWord(text))))
    return { meaning: 'alternates', why: 'by their names' };
  const runs = folders.map((name) =>
    inner
      .filter((_, i) => folderOf[i] === name)
      .map(runName)
      .sort()
      .join('\n'),
  );
  if (runs.every((run) => run === runs[0])) {
    const levels = folders.map((name) => level.get(name)!).sort((a, b) => a - b);
    if (
      levels[levels.length - 1] - levels[0] >= APART_DB &&
      levels.every((each, i) => i === 0 || each - levels[i - 1] >= APART_DB / 3)
    )
      return { meaning: 'dynamics', why: 'equal runs, by their measured levels' };
  }
  return { meaning: 'sounds', why: 'neither their names nor their levels say more' };
}

/** What is the same in equal runs of two folders: the name without words, which may name the folder again. */
const runName = (path: string): string =>
  partsOfName(path)
    .filter(({ kind }) => kind !== 'word')
    .map(({ text }) => text.toLowerCase())
    .join(' ') || path.toLowerCase();

/** The part of a folder's name that tells of a dynamic. */
const dynamicOf = (name: string): string | undefined =>
  partsOfName(name)
    .map(({ text }) => text)
    .find(isDynamicWord);

const rangeOf = (name: string): VelocityRange | undefined => {
  const found = /(?:^|[^\d])(\d{1,3})\s*[-–_]\s*(\d{1,3})(?!\d)/.exec(name);
  return found ? { low: Math.max(1, Number(found[1])), high: Number(found[2]) } : undefined;
};

/** Ranges that names such as `1-63` and `64-127` tell, which together are all velocities; null where they do not. */
function rangesOf(names: readonly string[]): VelocityRange[] | null {
  const ranges = names.map(rangeOf);
  if (ranges.length < 2 || ranges.some((range) => range === undefined)) return null;
  return areAllVelocities(ranges as VelocityRange[]) ? (ranges as VelocityRange[]) : null;
}
