import { nameOfKey, parseKey } from '../music/noteNames';
import { isBlackKey } from '../music/pitch';
import { drumKeyOf } from './drumKeys';
import { readFolders, type FoldersRead } from './folders';
import { partsOfName } from './nameParts';
import { isDynamicWord, readNames, type FolderReading } from './names';
import { newRow, type Layout, type Plan, type PlanFile, type PlanOptions, type PlanRow } from './planModel';
import { setLevels, setDynamics, setAlternates, stretchRows, stackedRows } from './dynamics';

/** Layouts in which a file's place follows from its pitch, so that each sound of a list can have a root of its own. */
const PITCHED: readonly Layout[] = ['names', 'run', 'pitch'];

/** Works out where files go. Files come in the order that is wanted; nothing is placed yet. */
export function makePlan(files: readonly PlanFile[], options: PlanOptions): Plan {
  const folders = meaningOfFolders(files, options);
  if (folders?.meaning === 'sounds') return planOfSounds(files, folders, options);
  if (options.list && PITCHED.includes(options.layout)) return planOfList(files, options);
  if (options.layout === 'kit' || folders?.meaning === 'pads') return planOfPads(files, folders, options);
  const paths = folders ? folders.inner : files.map((file) => file.path);
  const reading =
    options.layout === 'names' || options.layout === 'one-key' || options.layout === 'pitch'
      ? readNames(paths, options.middleC, options.corrections)
      : null;
  const explanation: string[] = [...(folders ? [folders.explanation] : []), ...(reading ? reading.explanation : [])];
  const warnings: string[] = [];
  const rows = files.map((_, i) => newRow(i));
  const leaveOut = (row: PlanRow, problem: string) => {
    row.placed = false;
    row.problem = problem;
  };
  if (options.fallback)
    explanation.push(
      `the names say nothing about keys (${short(paths.slice(0, 3).map((path) => `“${path}”`))}${paths.length > 3 ? ' …' : ''}), so the files go one after another`,
    );
  LAY_OUT[options.layout as Exclude<Layout, 'kit'>]({
    files,
    rows,
    folders,
    reading,
    options,
    explanation,
    warnings,
    leaveOut,
  });
  const dynamics = setDynamics(files, rows, folders, reading, options, explanation, warnings);
  setAlternates(rows, folders, reading);
  setLevels(files, rows, dynamics, options, explanation);
  const placed = rows.filter((row) => row.placed);
  if (options.layout === 'names' || options.layout === 'run' || options.layout === 'pitch')
    stretchRows(
      placed.filter((row) => !row.own),
      options.stretch,
    );
  warnings.push(...stackedRows(files, placed), ...leftOut(rows));
  return { rows, reading, folders, sounds: [], dynamics, explanation, warnings };
}

/**
 * How the files of names that tell no keys are laid out instead: on the pads of a kit where most of them name drums,
 * else one after another.
 */
export function layoutWithoutKeys(
  files: readonly Pick<PlanFile, 'path'>[],
): Pick<PlanOptions, 'layout' | 'from' | 'fallback'> {
  const drums = files.filter(({ path }) => drumKeyOf(path) !== undefined).length;
  return { layout: files.length > 0 && drums >= files.length * MOSTLY ? 'kit' : 'run', from: 36, fallback: true };
}
const MOSTLY = 0.6;

const leftOut = (rows: readonly PlanRow[]): string[] => {
  const out = rows.filter((row) => !row.placed).length;
  return out > 0 ? [`${out} of ${rows.length} files have no place; the table says why`] : [];
};

/**
 * What the folders mean, as far as the layout can use it: on one key, and for effects, everything is one sound unless
 * somebody says otherwise.
 */
function meaningOfFolders(files: readonly PlanFile[], { folders: wanted, layout }: PlanOptions): FoldersRead | null {
  const read = readFolders(files, wanted);
  if (!read || read.meaning === 'nothing') return null;
  const one = layout === 'one-key' || layout === 'effects';
  return wanted === 'auto' &&
    ((one && (read.meaning === 'sounds' || read.meaning === 'pads')) || (layout === 'kit' && read.meaning === 'sounds'))
    ? null
    : read;
}

/** Each folder by itself, its plan beside the others'. */
function planOfSounds(files: readonly PlanFile[], folders: FoldersRead, options: PlanOptions): Plan {
  const plan: Plan = {
    rows: files.map((_, i) => newRow(i)),
    reading: null,
    folders,
    sounds: [],
    dynamics: [],
    explanation: [folders.explanation],
    warnings: [],
  };
  const names = folders.ofFile.includes(-1) ? [...folders.names, 'others'] : folders.names;
  names.forEach((name, sound) => {
    const places = files.flatMap((_, i) =>
      (folders.ofFile[i] < 0 ? names.length - 1 : folders.ofFile[i]) === sound ? [i] : [],
    );
    const part = makePlan(
      places.map((i) => ({ ...files[i], path: folders.inner[i] })),
      { ...options, folders: 'auto' },
    );
    for (const row of part.rows) plan.rows[places[row.file]] = { ...row, file: places[row.file], sound };
    plan.sounds.push(name);
    plan.explanation.push(...part.explanation.map((line) => `${name}: ${line}`));
    plan.warnings.push(...part.warnings.map((line) => `${name}: ${line}`));
  });
  return plan;
}

/**
 * Each file by itself, for a layer that chooses among them: at the root that its name tells, or the file itself, or the
 * ear, and where none of them does at one that all such have in common.
 */
function planOfList(files: readonly PlanFile[], options: PlanOptions): Plan {
  const reading = readNames(
    files.map(({ path }) => path),
    options.middleC,
    options.corrections,
  );
  // Numbers that count files are no keys: names tell keys here only as notes, each for itself.
  const named = reading.columns.some(({ meaning }) => meaning === 'note');
  const noteIn = (path: string): number | null => {
    const note = partsOfName(path).find(({ kind }) => kind === 'note');
    return (note && parseKey(note.text, options.middleC)) ?? null;
  };
  const counts = { name: 0, file: 0, ear: 0, none: 0 };
  const common = 60;
  const rows = files.map((file, i): PlanRow => {
    const key = (named ? reading.files[i].key : null) ?? noteIn(file.path);
    const heard = file.pitch && file.pitch.clarity >= options.leastClarity ? file.pitch : null;
    const root = key ?? file.root ?? heard?.key ?? common;
    counts[key !== null ? 'name' : file.root !== null ? 'file' : heard ? 'ear' : 'none']++;
    return {
      ...newRow(i),
      root,
      tuneCents: key !== null || file.root !== null ? file.tuneCents : heard ? -heard.cents : 0,
      sound: i,
    };
  });
  const told = [
    [counts.name, 'by name'],
    [counts.file, 'by the file itself'],
    [counts.ear, 'by ear'],
    [counts.none, `without a pitch of their own, at ${nameOfKey(common, options.middleC)}`],
  ] as const;
  return {
    rows,
    reading,
    folders: null,
    sounds: files.map(({ path }) =>
      path
        .split('/')
        .pop()!
        .replace(/\.\w+$/, ''),
    ),
    dynamics: [],
    explanation: [
      `each is a sound of its own over all keys, with its own root: ${told
        .filter(([count]) => count > 0)
        .map(([count, how]) => `${count} ${how}`)
        .join(', ')}`,
    ],
    warnings: [],
  };
}

/** A name without the number that counts it among others, such as `kick` of `kick 2`. */
const seriesName = (path: string): string =>
  partsOfName(path)
    .filter(({ kind }, n, all) => n < all.length - 1 || kind !== 'digits')
    .map(({ text }) => text.toLowerCase())
    .join(' ');

/** Takes that lie further apart than this are soft and hard; nearer ones are alternates. */
const TAKES_APART_DB = 6;

/**
 * Each folder, or each drum that names tell of, on the key of its drum (General MIDI percussion map), the others on
 * keys that are free. Inside a pad, names and folders tell dynamics and alternates.
 */
function planOfPads(files: readonly PlanFile[], folders: FoldersRead | null, options: PlanOptions): Plan {
  const plan: Plan = {
    rows: files.map((_, i) => newRow(i)),
    reading: null,
    folders,
    sounds: [],
    dynamics: [],
    explanation: folders
      ? [folders.explanation]
      : options.fallback
        ? ['the names tell drums, so each goes on the key of its drum']
        : [],
    warnings: [],
  };
  // A number that counts a series (kick 1 … 5) belongs to the take, not to the drum.
  const series = new Map<string, number>();
  for (const { path } of files) series.set(seriesName(path), (series.get(seriesName(path)) ?? 0) + 1);
  const inSeries = ({ path }: PlanFile): boolean => series.get(seriesName(path))! > 1;
  const padOf = files.map((file, i) =>
    folders && folders.ofFile[i] >= 0
      ? folders.names[folders.ofFile[i]]
      : (drumKeyOf(inSeries(file) ? seriesName(file.path) : file.path)?.words ?? padName(file.path)),
  );
  const pads = [...new Set(padOf)];
  const taken = new Set<number>();
  const keys = new Map<string, number>();
  for (const pad of pads) {
    const key = drumKeyOf(pad)?.key;
    if (key === undefined || taken.has(key)) continue;
    keys.set(pad, key);
    taken.add(key);
  }
  let next = options.from;
  for (const pad of pads) {
    if (keys.has(pad)) continue;
    while (taken.has(next) && next < 127) next++;
    keys.set(pad, next);
    taken.add(next);
  }
  for (const pad of pads) {
    const places = files.flatMap((_, i) => (padOf[i] === pad ? [i] : []));
    const inside = places.map((i) => ({
      ...files[i],
      path: folders && folders.ofFile[i] >= 0 ? folders.inner[i] : files[i].path,
    }));
    const part = makePlan(inside, {
      ...options,
      layout: 'one-key',
      from: keys.get(pad)!,
      folders: 'auto',
      ranges: null,
      order: 'names',
    });
    const levels = inside.map((file) => file.levelDb);
    const counted = !folders && inside.length > 1 && new Set(inside.map(({ path }) => seriesName(path))).size === 1;
    const alike =
      part.dynamics.length === inside.length &&
      inside.length > 1 &&
      (counted || Math.max(...levels) - Math.min(...levels) < TAKES_APART_DB) &&
      part.reading?.dynamics.length === 0;
    const rows = alike
      ? part.rows.map((row, i) => ({
          ...row,
          dynamic: 0,
          alternate: i,
          velocityLow: 1,
          velocityHigh: 127,
          velocityFadeIn: 0,
          velocityFadeOut: 0,
          levelFollows: null,
        }))
      : part.rows;
    for (const row of rows) plan.rows[places[row.file]] = { ...row, file: places[row.file] };
    const dynamics = new Set(rows.map((row) => row.dynamic)).size;
    const alternates = Math.max(1, ...rows.map((row) => (row.alternate ?? 0) + 1));
    plan.explanation.push(
      `${pad}: ${nameOfKey(keys.get(pad)!, options.middleC)} (${keys.get(pad)!})${drumKeyOf(pad) ? '' : ', a free key'}${dynamics > 1 ? `, ${dynamics} dynamics` : ''}${alternates > 1 ? `, ${alternates} alternates` : ''}${rows.some((row) => row.levelFollows === 0) ? ', level follows velocity: 0 %' : ''}`,
    );
    plan.warnings.push(...part.warnings.map((line) => `${pad}: ${line}`));
  }
  plan.warnings.push(...stackedRows(files, plan.rows));
  return plan;
}

/** What files of one pad have in common where nothing names a drum: the words of their names. */
const padName = (path: string): string =>
  partsOfName(path)
    .filter(({ text, kind }) => kind === 'word' && !isDynamicWord(text) && text.length > 1)
    .map(({ text }) => text.toLowerCase())
    .join(' ') || path;

interface Work {
  files: readonly PlanFile[];
  rows: PlanRow[];
  folders: FoldersRead | null;
  reading: FolderReading | null;
  options: PlanOptions;
  explanation: string[];
  warnings: string[];
  leaveOut: (row: PlanRow, problem: string) => void;
}

const LAY_OUT: Record<Exclude<Layout, 'kit'>, (work: Work) => void> = {
  names: ({ files, rows, reading, leaveOut, explanation }) => {
    let fromChunks = 0;
    let ownRanges = 0;
    rows.forEach((row, i) => {
      const { key } = reading!.files[i];
      const root = key ?? files[i].root;
      if (root === null) return leaveOut(row, 'neither its name nor the file says which key it is');
      if (key === null) fromChunks++;
      row.root = row.keyLow = row.keyHigh = root;
      row.tuneCents = files[i].tuneCents;
      const { range } = files[i];
      // A file that knows its place keeps it, where its name says nothing else.
      if (key === null && range) {
        ownRanges++;
        Object.assign(row, {
          own: true,
          keyLow: range.keyLow,
          keyHigh: range.keyHigh,
          velocityLow: range.velocityLow,
          velocityHigh: range.velocityHigh,
        });
      }
      return undefined;
    });
    if (ownRanges > 0) explanation.push(`${ownRanges} of the files are put where their own sampler data says`);
    if (fromChunks > 0) explanation.push(`${fromChunks} roots come from the files’ own sampler data`);
  },
  run: ({ files, rows, folders, options, leaveOut, explanation }) => {
    // Dynamics and alternates in folders of their own: each folder begins at the first key.
    const next = new Map<number, number>();
    rows.forEach((row, i) => {
      const folder = folders?.ofFile[i] ?? 0;
      let key = next.get(folder) ?? options.from;
      if (options.step === 'white') while (isBlackKey(key)) key++;
      if (key > 127) leaveOut(row, 'the keys end before it');
      row.root = row.keyLow = row.keyHigh = Math.min(127, key);
      row.tuneCents = files[i].tuneCents;
      next.set(folder, key + (options.step === 'white' ? 1 : options.step));
    });
    const last = rows.filter((row) => row.placed).pop();
    explanation.push(
      `one file ${options.step === 'white' ? 'for each white key' : options.step === 1 ? 'for each key' : `every ${options.step} semitones`}, from ${nameOfKey(options.from, options.middleC)} (${options.from})${last ? ` to ${nameOfKey(last.root, options.middleC)} (${last.root})` : ''}, each at its own pitch there`,
    );
  },
  'one-key': ({ rows, options, explanation }) => {
    for (const row of rows) {
      row.root = row.keyLow = row.keyHigh = options.from;
      row.fullLength = true;
    }
    explanation.push(
      `all on ${nameOfKey(options.from, options.middleC)} (${options.from}), played to their ends however short the tap`,
    );
  },
  effects: ({ rows, folders, options, leaveOut, explanation }) => {
    const next = new Map<number, number>();
    rows.forEach((row, i) => {
      const folder = folders?.ofFile[i] ?? 0;
      const key = next.get(folder) ?? options.from;
      next.set(folder, key + 1);
      if (key > 127) leaveOut(row, 'the keys end before it');
      row.root = row.keyLow = row.keyHigh = Math.min(127, key);
      row.pitchPerKey = 0;
      row.fullLength = true;
    });
    explanation.push(
      `one file for each key from ${nameOfKey(options.from, options.middleC)} (${options.from}), always at its own pitch${folders ? '' : ', the same at every velocity'}`,
    );
  },
  pitch: ({ files, rows, options, leaveOut, explanation }) => {
    rows.forEach((row, i) => {
      const { pitch } = files[i];
      if (pitch === undefined) return leaveOut(row, 'its pitch has not been listened for yet');
      if (pitch === null || pitch.clarity < options.leastClarity)
        return leaveOut(row, `unpitched${pitch ? ` (clarity ${Math.round(pitch.clarity * 100)} %)` : ''}`);
      row.root = row.keyLow = row.keyHigh = pitch.key;
      // A sample that is sharp is played as much flatter.
      row.tuneCents = -pitch.cents;
      return undefined;
    });
    explanation.push(
      `roots by ear: what is less clear than ${Math.round(options.leastClarity * 100)} % counts as unpitched and is not guessed`,
    );
  },
};

const short = (names: readonly string[]): string =>
  names.length <= 5 ? names.join(', ') : `${names.slice(0, 3).join(', ')} … ${names[names.length - 1]}`;
