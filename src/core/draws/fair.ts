import { toNormal, parseTarget } from '../rig/parameters';
import type { Draw, Patch } from '../rig/schema';
import { draw, isLocked, putDrawable, valueOfDrawable, type Change, type Drawable, type DrawOptions } from './draw';

/** What a patch does on what is played: LUFS (null: silent), and the most voices at once. */
export interface Heard {
  lufs: number | null;
  voices: number;
}

/** A draw is brought to the loudness of what it came from by no more than this, in dB. */
export const MOST_EVENING_DB = 12;
/** One that stays softer than this, in LUFS, is as good as silent. */
export const SILENT_LUFS = -40;
/** One that takes so many times the voices would take those of others. */
export const MOST_TIMES_VOICES = 3;
/** So many numbers of a seed are tried. */
const TRIES = 6;
/** What nobody hears. */
const SMALL_DB = 0.5;

export interface FairDraw {
  patch: Patch;
  changes: Change[];
  /** dB by which it was turned up or down. */ evenedDb: number;
  /** How many draws of the seed were silent or too dear, and left. */ left: number;
}

/**
 * Draws what is open, and hears what came out: a draw that is silent, or takes more than three times the voices, is
 * drawn again from the seed's next numbers; what is kept is as loud as what it came from, as far as
 * {@link MOST_EVENING_DB} go. `hear` plays a patch and measures it; null: it cannot, and the draw stays as it is. The
 * same seed gives the same draw where the same is heard.
 */
export async function fairDraw(
  patch: Patch,
  open: readonly Drawable[],
  options: DrawOptions,
  hear: (patch: Patch) => Promise<Heard | null>,
): Promise<FairDraw> {
  const before = await hear(patch);
  let last: FairDraw = { ...draw(patch, open, options), evenedDb: 0, left: 0 };
  // Nothing to hold it against.
  if (!before || before.lufs === null || before.lufs < SILENT_LUFS) return last;
  let best: { fair: FairDraw; fault: number } | undefined;
  for (let n = 0; n < TRIES && last.changes.length > 0; n++) {
    if (n > 0) last = { ...draw(patch, open, { ...options, seed: nextSeed(options.seed, n) }), evenedDb: 0, left: n };
    const after = await hear(last.patch);
    if (!after) return last;
    const db = Math.max(-MOST_EVENING_DB, Math.min(MOST_EVENING_DB, before.lufs - (after.lufs ?? -Infinity)));
    const evened = after.lufs === null ? last : { ...evenedBy(last, db), left: n };
    const isSilent = after.lufs === null || after.lufs + evened.evenedDb < SILENT_LUFS;
    const isDear = after.voices > MOST_TIMES_VOICES * Math.max(1, before.voices);
    if (!isSilent && !isDear) return evened;
    const fault = (isSilent ? 2 : 0) + (isDear ? 1 : 0);
    if (!best || fault < best.fault) best = { fair: evened, fault };
  }
  return best?.fair ?? last;
}

/** The seed's next numbers (Weyl's sequence by the golden ratio, as whole numbers of 31 bits). */
const nextSeed = (seed: number, n: number): number => (seed + n * 0x9e3779b1) % 2 ** 31;

/** A draw turned up or down: main first, then what main has no room for by all layers alike. What is locked is left. */
function evenedBy({ patch, changes, left }: FairDraw, db: number): FairDraw {
  if (Math.abs(db) < SMALL_DB) return { patch, changes, evenedDb: 0, left };
  let next = patch;
  const all = [...changes];
  const turn = (what: Drawable, by: number): number => {
    const now = valueOfDrawable(next, what);
    const { parameter } = parseTarget(what)!;
    // What is silent stays so.
    if (typeof now !== 'number' || isLocked(patch, what) || now <= parameter.low) return 0;
    const to = Math.round(Math.max(parameter.low, Math.min(parameter.high, now + by)) * 10) / 10;
    if (to === now) return 0;
    next = putDrawable(next, what, to);
    const known = all.findIndex(([each]) => each === what);
    if (known >= 0) all[known] = [what, all[known][1], to];
    else all.push([what, now, to]);
    return to - now;
  };
  const byMain = turn('main.level', db);
  const rest = db - byMain;
  const byLayers = Math.abs(rest) < SMALL_DB ? [] : patch.layers.map(({ id }) => turn(`layer.${id}.level`, rest));
  // What the least of them gave is what all of it has gained for certain.
  const certain = byLayers.length === 0 ? 0 : byLayers.reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a));
  return { patch: next, changes: all, evenedDb: byMain + certain, left };
}

/**
 * Draws that an undo took away from a patch, as they are in what could be done again: a new draw puts them back into
 * its list, for every draw is kept.
 */
export function withUndone(patch: Patch, undone: readonly Draw[]): Patch {
  const draws = [...patch.draws];
  for (const each of undone) {
    const isThere = draws.some(({ id }) => id === each.id);
    if (!isThere && (each.from === null || draws.some(({ id }) => id === each.from))) draws.push(each);
  }
  return draws.length === patch.draws.length ? patch : { ...patch, draws };
}

/** What a draw changed most, by how far of its range each value went; what has no number counts as all of it. */
export function mostChanged({ changes }: Pick<Draw, 'changes'>, most: number): Change[] {
  const farOf = ([what, before, after]: Change): number => {
    const parameter = parseTarget(what)?.parameter;
    return parameter && typeof before === 'number' && typeof after === 'number'
      ? Math.abs(toNormal(parameter, after) - toNormal(parameter, before))
      : 1;
  };
  return [...changes].sort((a, b) => farOf(b) - farOf(a)).slice(0, most);
}
