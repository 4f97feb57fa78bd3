import { samplesIn } from '../rig/defaults';
import { addSamples } from '../rig/edits/zones';
import type { Draw, Patch, Rig, Sample, Sound } from '../rig/schema';
import { parseTarget, toNormal, fromNormal } from '../rig/parameters';
import { heldName } from '../rig/names';
import { putDrawable, valueOfDrawable, type Change } from './draw';
import { MOST_CHANGES, MOST_DRAWS } from '../rig/limits';

/**
 * The history of draws: each one knows from which it was made, so that one goes back, on from anywhere, and between
 * two. Pure functions.
 */

/**
 * The way from one draw to another, through what they have in common: draws to be undone, and to be done again, in
 * order. Null stands for the patch before any draw.
 */
export function wayBetween(
  { draws }: Pick<Patch, 'draws'>,
  from: string | null,
  to: string | null,
): { back: Draw[]; on: Draw[] } {
  const lineOf = (id: string | null): Draw[] => {
    const line: Draw[] = [];
    for (let at = draws.find((each) => each.id === id); at; at = draws.find((each) => each.id === at!.from)) {
      if (line.includes(at)) break;
      line.push(at);
    }
    return line;
  };
  const back = lineOf(from);
  const on = lineOf(to);
  while (back.length > 0 && on.length > 0 && back[back.length - 1] === on[on.length - 1]) {
    back.pop();
    on.pop();
  }
  return { back, on: on.reverse() };
}

/**
 * Ids of the sounds that draws put into layers or took out of them: they must be in the rig for a draw to be gone to.
 */
export const soundsOfDraws = (draws: readonly Pick<Draw, 'changes'>[]): Set<string> =>
  new Set(
    draws.flatMap(({ changes }) =>
      changes.flatMap(([what, before, after]) => (what.endsWith('.sound') ? [String(before), String(after)] : [])),
    ),
  );

/** A rig with those of some sounds that its draws, or a patch, need and it does not have, and their recordings. */
export function withNeededSounds(
  rig: Rig,
  needed: ReadonlySet<string>,
  from: readonly { sounds: readonly Sound[]; samples: readonly Sample[] }[],
): Rig {
  const there = new Set(rig.sounds.map(({ id }) => id));
  const sounds: Sound[] = [];
  const samples: Sample[] = [];
  for (const source of from) {
    for (const sound of source.sounds) {
      if (!needed.has(sound.id) || there.has(sound.id)) continue;
      there.add(sound.id);
      sounds.push(sound);
      const used = new Set(samplesIn(sound));
      samples.push(...source.samples.filter(({ id }) => used.has(id)));
    }
  }
  return sounds.length === 0 ? rig : addSamples({ ...rig, sounds: [...rig.sounds, ...sounds] }, samples);
}

/**
 * Goes to a draw, or with null to where none was: what draws changed is put back or done again; everything else stays
 * as it is.
 */
export function goTo(patch: Patch, id: string | null): Patch {
  if (id !== null && !patch.draws.some((each) => each.id === id)) return patch;
  const { back, on } = wayBetween(patch, patch.drawn, id);
  let next = patch;
  for (const { changes } of back)
    for (const [what, before] of [...changes].reverse()) next = putDrawable(next, what, before);
  for (const { changes } of on) for (const [what, , after] of changes) next = putDrawable(next, what, after);
  return { ...next, drawn: id };
}

/**
 * Keeps a draw: the patch stands for it from now on. Beyond {@link MOST_DRAWS} the oldest goes that nothing was made
 * from and nobody starred.
 */
export function keepDraw(
  patch: Patch,
  changes: readonly Change[],
  { id, seed, amount, scope, name = '' }: { id: string; seed: number; amount: number; scope: string; name?: string },
): Patch {
  const { draws, drawn } = roomFor(patch);
  const kept: Draw = {
    id,
    name: heldName(name),
    starred: false,
    from: drawn,
    seed,
    amount,
    scope: heldName(scope),
    changes: changes.slice(0, MOST_CHANGES),
  };
  return { ...patch, draws: [...draws, kept], drawn: id };
}

function roomFor(patch: Patch): Patch {
  const { draws, drawn } = patch;
  if (draws.length < MOST_DRAWS) return patch;
  const parents = new Set(draws.map(({ from }) => from));
  const gone = draws.find(({ id, starred }) => !starred && !parents.has(id) && id !== drawn);
  return forgetDraw(patch, (gone ?? draws[0]).id);
}

export const updateDraw = (patch: Patch, id: string, change: Partial<Pick<Draw, 'name' | 'starred'>>): Patch => ({
  ...patch,
  draws: patch.draws.map((each) =>
    each.id === id
      ? { ...each, ...change, ...(change.name === undefined ? {} : { name: heldName(change.name) }) }
      : each,
  ),
});

/**
 * Forgets a draw: what was made from it comes of what it came from. The patch stays as it sounds; if it stood for that
 * draw, it stands for the one before, with what the draw changed as if by hand.
 */
export function forgetDraw(patch: Patch, id: string): Patch {
  const gone = patch.draws.find((each) => each.id === id);
  if (!gone) return patch;
  // What came of it must be able to go back past it: it takes its changes over.
  const draws = patch.draws.flatMap((each) =>
    each === gone
      ? []
      : each.from === id
        ? [{ ...each, from: gone.from, changes: joined(gone.changes, each.changes) }]
        : [each],
  );
  return { ...patch, draws, drawn: patch.drawn === id ? gone.from : patch.drawn };
}

function joined(first: readonly Change[], then: readonly Change[]): Change[] {
  const befores = new Map(first.map(([what, before]) => [what, before]));
  const afters = new Map(first.map(([what, , after]) => [what, after]));
  for (const [what, before, after] of then) {
    if (!befores.has(what)) befores.set(what, before);
    afters.set(what, after);
  }
  return [...befores].map(([what, before]) => [what, before, afters.get(what)!] as const).slice(0, MOST_CHANGES);
}

/**
 * What lies between two draws, at 0…1 of the way from the first to the second: numbers in between, of all else the
 * nearer one. Gives the patch and what changes from how it is now.
 */
export function between(
  patch: Patch,
  first: string | null,
  second: string | null,
  share: number,
): { patch: Patch; changes: Change[] } {
  const [a, b] = [goTo(patch, first), goTo(patch, second)];
  const { back, on } = wayBetween(patch, first, second);
  const involved = new Set(
    [
      ...wayBetween(patch, patch.drawn, first).back,
      ...wayBetween(patch, patch.drawn, first).on,
      ...back,
      ...on,
    ].flatMap(({ changes }) => changes.map(([what]) => what)),
  );
  const changes: Change[] = [];
  let next = patch;
  for (const what of involved) {
    const [x, y, now] = [valueOfDrawable(a, what), valueOfDrawable(b, what), valueOfDrawable(patch, what)];
    if (x === undefined || y === undefined || now === undefined) continue;
    const wanted = typeof x === 'number' && typeof y === 'number' ? mixed(what, x, y, share) : share < 0.5 ? x : y;
    if (wanted === now) continue;
    next = putDrawable(next, what, wanted);
    changes.push([what, now, valueOfDrawable(next, what)!]);
  }
  return { patch: next, changes };
}

function mixed(what: string, x: number, y: number, share: number): number {
  if (share <= 0 || x === y) return x;
  if (share >= 1) return y;
  const { parameter } = parseTarget(what)!;
  return fromNormal(parameter, toNormal(parameter, x) + (toNormal(parameter, y) - toNormal(parameter, x)) * share);
}
