import { type FoldersRead } from './folders';
import { type FolderReading } from './names';
import { type PlanFile, type PlanOptions, type PlanRow } from './planModel';
import { stretchedKeys, type Stretch } from './stretch';
import { gapsAndOverlaps, shareOut, withSoftEdges, type VelocityRange } from './velocities';

/** Levels nearer than this count as equal. */
export const SAME_DB = 0.5;
export const EVERYTHING: VelocityRange = { low: 1, high: 127 };

/** Dynamics whose recordings are as loud as one another within this were brought to one level by whoever made them. */
export const EVEN_DB = 1.5;

/** Of a long list what it has where it first differs from another, so that both can be told apart. */
export function fromFirst(names: readonly string[], others: readonly string[]): string {
  if (names.length <= 5) return names.join(', ');
  const first = Math.max(
    0,
    names.findIndex((name, i) => name !== others[i]),
  );
  const shown = names.slice(first, first + 4);
  return `${first > 0 ? '… ' : ''}${shown.join(', ')}${first + shown.length < names.length ? ' …' : ''}`;
}

/** Decides what velocity does to the level: nothing on top of what was recorded. */
export function setLevels(
  files: readonly PlanFile[],
  rows: readonly PlanRow[],
  dynamics: readonly string[],
  options: PlanOptions,
  explanation: string[],
): void {
  const placed = rows.filter((row) => row.placed);
  if (options.layout === 'effects') {
    for (const row of placed) row.levelFollows = 0;
    explanation.push('level follows velocity: 0 %, so that every velocity sounds the same');
    return;
  }
  if (dynamics.length < 2) return;
  const mean = (dynamic: number) => {
    const levels = placed
      .filter((row) => row.dynamic === dynamic)
      .map((row) => files[row.file].levelDb)
      .filter(Number.isFinite);
    return levels.length > 0 ? levels.reduce((sum, each) => sum + each, 0) / levels.length : NaN;
  };
  const levels = dynamics.map((_, dynamic) => mean(dynamic)).filter(Number.isFinite);
  if (levels.length > 1 && Math.max(...levels) - Math.min(...levels) < EVEN_DB) {
    explanation.push('the dynamics are recorded at one level, so the level goes on following velocity: 100 %');
    return;
  }
  for (const row of placed) row.levelFollows = 0;
  explanation.push('level follows velocity: 0 %, because the dynamics were recorded as loud as they are');
}

/**
 * Gives each row its dynamic and its velocities; gives the names of the dynamics in order. Folders say more than names.
 */
export function setDynamics(
  files: readonly PlanFile[],
  rows: PlanRow[],
  folders: FoldersRead | null,
  reading: FolderReading | null,
  options: PlanOptions,
  explanation: string[],
  warnings: string[],
): string[] {
  const byFolder = folders?.meaning === 'dynamics' ? folders : null;
  if (!byFolder && !reading) return [];
  const byLevel = (groups: readonly string[], of: (row: number) => string | null) => {
    // Levels that are as good as equal say nothing about the order.
    const mean = new Map(
      groups.map((group) => {
        const levels = files
          .filter((_, i) => of(i) === group)
          .map((file) => file.levelDb)
          .filter(Number.isFinite);
        return [group, levels.length > 0 ? levels.reduce((a, b) => a + b, 0) / levels.length : -Infinity];
      }),
    );
    const order = [...groups].sort((a, b) => mean.get(a)! - mean.get(b)!);
    return groups.every((group, i) => i === 0 || mean.get(group)! - mean.get(groups[i - 1])! > -SAME_DB)
      ? [...groups]
      : order;
  };
  // On one key every file, or set of alternates, is a dynamic of its own where the names tell of none.
  const everyFile =
    !byFolder && options.layout === 'one-key' && reading!.dynamics.length === 0 && folders?.meaning !== 'alternates';
  const stem = (i: number) =>
    reading!.files[i].alternate === null
      ? files[i].path
      : reading!.files[i].parts
          .filter((part) => reading!.columns[part.column]?.meaning !== 'alternate')
          .map((part) => part.text)
          .join(' ');
  const of = byFolder
    ? (i: number) => byFolder.names[byFolder.ofFile[i]] ?? null
    : everyFile
      ? stem
      : (i: number) => reading!.files[i].dynamic;
  const named = byFolder ? byFolder.names : everyFile ? [...new Set(files.map((_, i) => stem(i)))] : reading!.dynamics;
  if (named.length <= 1) return named;
  const heard = byLevel(named, of);
  const differ = named.some((name, i) => name !== heard[i]);
  const order = options.order === 'level' ? heard : named;
  if (differ)
    warnings.push(
      `soft to hard: the names say ${fromFirst(named, heard)}, the measured levels say ${fromFirst(heard, named)}; ${options.order === 'level' ? 'the levels' : 'the names'} decide`,
    );
  if (order.length > 127) {
    warnings.push(`${order.length} dynamics are more than there are velocities; all sound at once`);
    return order;
  }
  const typed = options.ranges !== null && options.ranges.length === order.length;
  if (options.ranges && !typed)
    warnings.push(
      `${options.ranges.length} ranges were typed for ${order.length} dynamics; they are shared out evenly instead`,
    );
  const hardest = byFolder?.ranges
    ? order.map((name) => byFolder.ranges![byFolder.names.indexOf(name)].high)
    : order.map(
        (name) =>
          rows
            .map((_, i) => (of(i) === name ? (reading?.files[i].velocity ?? null) : null))
            .find((velocity) => velocity !== null) ?? null,
      );
  const fromNames =
    !options.ranges &&
    options.order === 'names' &&
    hardest.every((velocity) => velocity !== null) &&
    hardest.every((velocity, i) => i === 0 || velocity! > hardest[i - 1]!);
  const ranges = typed
    ? options.ranges!
    : fromNames
      ? hardest.map((velocity, i) => ({
          low: i === 0 ? 1 : hardest[i - 1]! + 1,
          high: i === hardest.length - 1 ? 127 : velocity!,
        }))
      : shareOut(order.length);
  if (typed) warnings.push(...gapsAndOverlaps(ranges));
  const soft = withSoftEdges(ranges, options.softEdge);
  explanation.push(
    `${order.length} dynamics on velocities ${ranges.length <= 4 ? ranges.map(({ low, high }) => `${low}–${high}`).join(', ') : `${ranges[0].low}–${ranges[0].high}, ${ranges[1].low}–${ranges[1].high} … ${ranges[ranges.length - 1].low}–127`}`,
  );
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

/**
 * Files that share a place and differ in what the names or folders call the alternate take turns, in that order. Inside
 * a folder that is a dynamic, files on one key are alternates.
 */
export function setAlternates(
  rows: readonly PlanRow[],
  folders: FoldersRead | null,
  reading: FolderReading | null,
): void {
  const byFolder = folders?.meaning === 'alternates' ? folders : null;
  const order = byFolder ? byFolder.names : (reading?.alternates ?? []);
  const of = (row: PlanRow) =>
    byFolder ? (byFolder.names[byFolder.ofFile[row.file]] ?? null) : (reading?.files[row.file].alternate ?? null);
  const inDynamics = folders?.meaning === 'dynamics' && order.length === 0;
  if (order.length === 0 && !inDynamics) return;
  const places = new Map<string, PlanRow[]>();
  for (const row of rows) {
    if (!row.placed || (!inDynamics && of(row) === null)) continue;
    const place = `${row.root} ${row.dynamic}`;
    places.set(place, [...(places.get(place) ?? []), row]);
  }
  for (const place of places.values()) {
    if (place.length < 2) continue;
    if (!inDynamics) place.sort((a, b) => order.indexOf(of(a)!) - order.indexOf(of(b)!));
    place.forEach((row, i) => {
      row.alternate = i;
    });
  }
}

/** Each dynamic is stretched on its own: its roots may be others than its neighbours'. */
export function stretchRows(rows: readonly PlanRow[], stretch: Stretch): void {
  for (const dynamic of new Set(rows.map((row) => row.dynamic))) {
    const mine = rows.filter((row) => row.dynamic === dynamic);
    const keys = stretchedKeys(
      mine.map((row) => row.root),
      stretch,
    );
    for (const row of mine) {
      const { low, high } = keys.get(row.root)!;
      row.keyLow = low;
      row.keyHigh = high;
    }
  }
}

/** The same audio twice in one place, and files that would all sound at once. */
export function stackedRows(files: readonly PlanFile[], rows: readonly PlanRow[]): string[] {
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
  if (twice > 0)
    warnings.push(
      `${example} hold the same audio in the same place${twice > 1 ? `, and ${twice - 1} more like them` : ''}: it would sound twice as loud`,
    );
  const most = Math.max(0, ...places.values());
  if (most > 1)
    warnings.push(
      `${most} files share one place and would sound at once: give them velocities of their own, or make them alternates`,
    );
  return warnings;
}
