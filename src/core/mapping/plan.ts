import { nameOfKey, type MiddleC } from '../music/noteNames';
import { isBlackKey } from '../music/pitch';
import { readNames, type FolderReading, type Meaning } from './names';
import { stretchedKeys, type Stretch } from './stretch';
import { gapsAndOverlaps, shareOut, withSoftEdges, type VelocityRange } from './velocities';

/** A file brought in, as far as a plan looks at it. */
export interface PlanFile {
  /** Path inside the folder that was brought in. */
  path: string;
  /** Content hash. */
  sampleId: string;
  frames: number;
  /** Measured loudness, for the order of dynamics. */
  levelDb: number;
  /** What the file itself says, from its `smpl` and `inst` chunks. */
  root: number | null;
  tuneCents: number;
  loop: { start: number; end: number } | null;
  range?: { keyLow: number; keyHigh: number; velocityLow: number; velocityHigh: number } | null;
  /** What was heard, where it was asked for; null: nothing that has a pitch. */
  pitch?: { key: number; cents: number; clarity: number } | null;
}

export type Layout = 'names' | 'run' | 'one-key' | 'effects' | 'pitch';
export const LAYOUTS: readonly Layout[] = ['names', 'run', 'one-key', 'effects', 'pitch'];

export interface PlanOptions {
  layout: Layout;
  /** First key of a run or of effects, the key of one-key. */
  from: number;
  middleC: MiddleC;
  /** From key to key of a run: so many semitones, or the white keys. */
  step: number | 'white';
  stretch: Stretch;
  /** Ranges for the dynamics, soft to hard; shared out evenly where they are not given or their number does not fit. */
  ranges: readonly VelocityRange[] | null;
  /** Velocities around each border that sound both. */
  softEdge: number;
  /** What decides soft → hard. */
  order: 'names' | 'level';
  /** Below this clarity 0…1 a sound counts as unpitched. */
  leastClarity: number;
  corrections: Readonly<Record<number, Meaning>>;
}

export const PLAN_DEFAULTS: PlanOptions = { layout: 'names', from: 60, middleC: 4, step: 1, stretch: 'nearest', ranges: null, softEdge: 0, order: 'names', leastClarity: 0.85, corrections: {} };

/** Where one file goes. `placed` false: it stays out, for the reason in `problem`. */
export interface PlanRow {
  file: number;
  placed: boolean;
  problem: string | null;
  root: number;
  tuneCents: number;
  pitchPerKey: number;
  keyLow: number;
  keyHigh: number;
  velocityLow: number;
  velocityHigh: number;
  velocityFadeIn: number;
  velocityFadeOut: number;
  /** Which dynamic it belongs to, soft to hard. */
  dynamic: number;
  alternate: number | null;
  fullLength: boolean;
  /** Its keys and velocities come from the file itself and stay as they are. */
  own: boolean;
}

export interface Plan {
  rows: PlanRow[];
  /** How the names were read; null where the layout does not look at them. */
  reading: FolderReading | null;
  /** Names of the dynamics, soft to hard. */
  dynamics: string[];
  /** What was understood, in sentences. */
  explanation: string[];
  /** What should be looked at before it is applied. */
  warnings: string[];
}

/** Levels nearer than this count as equal. */
const SAME_DB = 0.5;
const EVERYTHING: VelocityRange = { low: 1, high: 127 };

/** Works out where files go. Files come in the order that is wanted; nothing is placed yet. */
export function makePlan(files: readonly PlanFile[], options: PlanOptions): Plan {
  const reading = options.layout === 'names' || options.layout === 'one-key' || options.layout === 'pitch' ? readNames(files.map((file) => file.path), options.middleC, options.corrections) : null;
  const explanation: string[] = reading ? [...reading.explanation] : [];
  const warnings: string[] = [];
  const rows = files.map((_, i): PlanRow => ({
    file: i, placed: true, problem: null, root: 60, tuneCents: 0, pitchPerKey: 100, keyLow: 0, keyHigh: 127, velocityLow: 1, velocityHigh: 127, velocityFadeIn: 0, velocityFadeOut: 0,
    dynamic: 0, alternate: null, fullLength: false, own: false,
  }));
  const leaveOut = (row: PlanRow, problem: string) => { row.placed = false; row.problem = problem; };
  LAY_OUT[options.layout]({ files, rows, reading, options, explanation, warnings, leaveOut });
  let dynamics: string[] = [];
  if (reading) {
    dynamics = setDynamics(files, rows, reading, options, explanation, warnings);
    setAlternates(rows, reading);
  }
  const placed = rows.filter((row) => row.placed);
  if (options.layout === 'names' || options.layout === 'run' || options.layout === 'pitch') stretchRows(placed.filter((row) => !row.own), options.stretch);
  warnings.push(...stackedRows(files, placed));
  const out = rows.length - placed.length;
  if (out > 0) warnings.push(`${out} of ${rows.length} files have no place; the table says why`);
  return { rows, reading, dynamics, explanation, warnings };
}

interface Work {
  files: readonly PlanFile[];
  rows: PlanRow[];
  reading: FolderReading | null;
  options: PlanOptions;
  explanation: string[];
  warnings: string[];
  leaveOut: (row: PlanRow, problem: string) => void;
}

const LAY_OUT: Record<Layout, (work: Work) => void> = {
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
        Object.assign(row, { own: true, keyLow: range.keyLow, keyHigh: range.keyHigh, velocityLow: range.velocityLow, velocityHigh: range.velocityHigh });
      }
      return undefined;
    });
    if (ownRanges > 0) explanation.push(`${ownRanges} of the files are put where their own sampler data says`);
    if (fromChunks > 0) explanation.push(`${fromChunks} roots come from the files’ own sampler data`);
  },
  run: ({ files, rows, options, leaveOut, explanation }) => {
    let key = options.from;
    rows.forEach((row, i) => {
      if (options.step === 'white') while (isBlackKey(key)) key++;
      if (key > 127) leaveOut(row, 'the keys end before it');
      row.root = row.keyLow = row.keyHigh = Math.min(127, key);
      row.tuneCents = files[i].tuneCents;
      key += options.step === 'white' ? 1 : options.step;
    });
    const last = rows.filter((row) => row.placed).pop();
    explanation.push(`one file ${options.step === 'white' ? 'for each white key' : options.step === 1 ? 'for each key' : `every ${options.step} semitones`}, from ${nameOfKey(options.from, options.middleC)} (${options.from})${last ? ` to ${nameOfKey(last.root, options.middleC)} (${last.root})` : ''}, each at its own pitch there`);
  },
  'one-key': ({ rows, options, explanation }) => {
    for (const row of rows) {
      row.root = row.keyLow = row.keyHigh = options.from;
      row.fullLength = true;
    }
    explanation.push(`all on ${nameOfKey(options.from, options.middleC)} (${options.from}), played to their ends however short the tap`);
  },
  effects: ({ rows, options, leaveOut, explanation }) => {
    rows.forEach((row, i) => {
      const key = options.from + i;
      if (key > 127) leaveOut(row, 'the keys end before it');
      row.root = row.keyLow = row.keyHigh = Math.min(127, key);
      row.pitchPerKey = 0;
      row.fullLength = true;
    });
    explanation.push(`one file for each key from ${nameOfKey(options.from, options.middleC)} (${options.from}), always at its own pitch, the same at every velocity`);
  },
  pitch: ({ files, rows, options, leaveOut, explanation }) => {
    rows.forEach((row, i) => {
      const { pitch } = files[i];
      if (pitch === undefined) return leaveOut(row, 'its pitch has not been listened for yet');
      if (pitch === null || pitch.clarity < options.leastClarity) return leaveOut(row, `unpitched${pitch ? ` (clarity ${Math.round(pitch.clarity * 100)} %)` : ''}`);
      row.root = row.keyLow = row.keyHigh = pitch.key;
      // A sample that is sharp is played as much flatter.
      row.tuneCents = -pitch.cents;
      return undefined;
    });
    explanation.push(`roots by ear: what is less clear than ${Math.round(options.leastClarity * 100)} % counts as unpitched and is not guessed`);
  },
};

/** Gives each row its dynamic and its velocities; gives the names of the dynamics in order. */
function setDynamics(files: readonly PlanFile[], rows: PlanRow[], reading: FolderReading, options: PlanOptions, explanation: string[], warnings: string[]): string[] {
  const byLevel = (groups: readonly string[], of: (row: number) => string | null) => {
    // Levels that are as good as equal say nothing about the order.
    const mean = new Map(groups.map((group) => {
      const levels = files.filter((_, i) => of(i) === group).map((file) => file.levelDb).filter(Number.isFinite);
      return [group, levels.length > 0 ? levels.reduce((a, b) => a + b, 0) / levels.length : -Infinity];
    }));
    const order = [...groups].sort((a, b) => mean.get(a)! - mean.get(b)!);
    return groups.every((group, i) => i === 0 || mean.get(group)! - mean.get(groups[i - 1])! > -SAME_DB) ? [...groups] : order;
  };
  // On one key every file, or set of alternates, is a dynamic of its own where the names tell of none.
  const everyFile = options.layout === 'one-key' && reading.dynamics.length === 0;
  const stem = (i: number) => (reading.files[i].alternate === null ? files[i].path : reading.files[i].parts.filter((part) => reading.columns[part.column]?.meaning !== 'alternate').map((part) => part.text).join(' '));
  const of = everyFile ? stem : (i: number) => reading.files[i].dynamic;
  const named = everyFile ? [...new Set(files.map((_, i) => stem(i)))] : reading.dynamics;
  if (named.length <= 1) return named;
  const heard = byLevel(named, of);
  const differ = named.some((name, i) => name !== heard[i]);
  const order = options.order === 'level' ? heard : named;
  if (differ) warnings.push(`soft to hard: the names say ${short(named)}, the measured levels say ${short(heard)}; ${options.order === 'level' ? 'the levels' : 'the names'} decide`);
  if (order.length > 127) {
    warnings.push(`${order.length} dynamics are more than there are velocities; all sound at once`);
    return order;
  }
  const typed = options.ranges !== null && options.ranges.length === order.length;
  if (options.ranges && !typed) warnings.push(`${options.ranges.length} ranges were typed for ${order.length} dynamics; they are shared out evenly instead`);
  const hardest = order.map((name) => rows.map((_, i) => (of(i) === name ? reading.files[i].velocity : null)).find((velocity) => velocity !== null) ?? null);
  const fromNames = !options.ranges && options.order === 'names' && hardest.every((velocity) => velocity !== null) && hardest.every((velocity, i) => i === 0 || velocity! > hardest[i - 1]!);
  const ranges = typed ? options.ranges! : fromNames
    ? hardest.map((velocity, i) => ({ low: i === 0 ? 1 : hardest[i - 1]! + 1, high: i === hardest.length - 1 ? 127 : velocity! }))
    : shareOut(order.length);
  if (typed) warnings.push(...gapsAndOverlaps(ranges));
  const soft = withSoftEdges(ranges, options.softEdge);
  explanation.push(`${order.length} dynamics on velocities ${ranges.length <= 4 ? ranges.map(({ low, high }) => `${low}–${high}`).join(', ') : `${ranges[0].low}–${ranges[0].high}, ${ranges[1].low}–${ranges[1].high} … ${ranges[ranges.length - 1].low}–127`}`);
  const place = new Map(order.map((name, i) => [name, i]));
  rows.forEach((row, i) => {
    if (row.own) return;
    const name = of(i);
    const dynamic = name === null ? undefined : place.get(name);
    const range = dynamic === undefined ? { ...EVERYTHING, fadeIn: 0, fadeOut: 0 } : soft[dynamic];
    row.dynamic = dynamic ?? 0;
    row.velocityLow = range.low;
    row.velocityHigh = range.high;
    row.velocityFadeIn = range.fadeIn;
    row.velocityFadeOut = range.fadeOut;
  });
  return order;
}

const short = (names: readonly string[]): string => (names.length <= 5 ? names.join(', ') : `${names.slice(0, 3).join(', ')} … ${names[names.length - 1]}`);

/** Files that share a place and differ in what the names call the alternate take turns, in that order. */
function setAlternates(rows: readonly PlanRow[], reading: FolderReading): void {
  if (reading.alternates.length === 0) return;
  const places = new Map<string, PlanRow[]>();
  for (const row of rows) {
    if (!row.placed || reading.files[row.file].alternate === null) continue;
    const place = `${row.root} ${row.dynamic}`;
    places.set(place, [...(places.get(place) ?? []), row]);
  }
  for (const place of places.values()) {
    if (place.length < 2) continue;
    place.sort((a, b) => reading.alternates.indexOf(reading.files[a.file].alternate!) - reading.alternates.indexOf(reading.files[b.file].alternate!));
    place.forEach((row, i) => { row.alternate = i; });
  }
}

/** Each dynamic is stretched on its own: its roots may be others than its neighbours'. */
function stretchRows(rows: readonly PlanRow[], stretch: Stretch): void {
  for (const dynamic of new Set(rows.map((row) => row.dynamic))) {
    const mine = rows.filter((row) => row.dynamic === dynamic);
    const keys = stretchedKeys(mine.map((row) => row.root), stretch);
    for (const row of mine) {
      const { low, high } = keys.get(row.root)!;
      row.keyLow = low;
      row.keyHigh = high;
    }
  }
}

/** The same audio twice in one place, and files that would all sound at once. */
function stackedRows(files: readonly PlanFile[], rows: readonly PlanRow[]): string[] {
  const warnings: string[] = [];
  const seen = new Map<string, PlanRow>();
  const places = new Map<string, number>();
  let twice = 0;
  let example = '';
  for (const row of rows) {
    const place = `${row.keyLow} ${row.keyHigh} ${row.velocityLow} ${row.velocityHigh}`;
    const audio = `${files[row.file].sampleId} ${place}`;
    const other = seen.get(audio);
    if (other) {
      twice++;
      example ||= `“${files[other.file].path}” and “${files[row.file].path}”`;
    } else seen.set(audio, row);
    if (row.alternate === null) places.set(place, (places.get(place) ?? 0) + 1);
  }
  if (twice > 0) warnings.push(`${example} hold the same audio in the same place${twice > 1 ? `, and ${twice - 1} more like them` : ''}: it would sound twice as loud`);
  const most = Math.max(0, ...places.values());
  if (most > 1) warnings.push(`${most} files share one place and would sound at once: give them velocities of their own, or make them alternates`);
  return warnings;
}
