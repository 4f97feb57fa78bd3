import { withoutLoose } from '../mix';
import { freeId, freeName, heldName } from '../names';
import type { Click, Patch, PatchContent, Rig } from '../schema';
import { MOST_PAIRS } from '../limits';

/** Edits of pairs of outputs and of the click: pure functions. */

/** A pair more; unchanged where there is no room. */
export function addPair(rig: Rig, name: string): Rig {
  if (rig.pairs.length >= MOST_PAIRS) return rig;
  const free = freeName(heldName(name) || 'pair', rig.pairs);
  // Words that know the patch alone tell its id: it is as near to the name as an id can be.
  const id = free.replace(/[^A-Za-z0-9_-]+/g, '-').slice(0, 60);
  const isFree = /[A-Za-z0-9]/.test(id) && !rig.pairs.some((each) => each.id === id);
  const pair = { id: isFree ? id : freeId('pair', rig.pairs), name: free };
  return { ...rig, pairs: [...rig.pairs, pair] };
}

export const renamePair = (rig: Rig, id: string, name: string): Rig =>
  heldName(name) === ''
    ? rig
    : { ...rig, pairs: rig.pairs.map((pair) => (pair.id === id ? { ...pair, name: heldName(name) } : pair)) };

/**
 * Without a pair: what went there by an output goes its own way again, sends to it are gone, recordings go to the first.
 * The first pair stays.
 */
export function deletePair(rig: Rig, id: string): Rig {
  if (rig.pairs[0].id === id || !rig.pairs.some((pair) => pair.id === id)) return rig;
  const to = `pair.${id}`;
  const without = <P extends PatchContent>(patch: P): P =>
    patch.connections.some((connection) => connection.to === to) || patch.backing.some(({ pair }) => pair === id)
      ? withoutLoose({
          ...patch,
          connections: patch.connections.filter((connection) => connection.to !== to),
          backing: patch.backing.map((each) => (each.pair === id ? { ...each, pair: null } : each)),
        })
      : patch;
  return {
    ...rig,
    pairs: rig.pairs.filter((pair) => pair.id !== id),
    click: rig.click.pair === id ? { ...rig.click, pair: null } : rig.click,
    patches: rig.patches.map((patch): Patch => {
      const next = without(patch);
      return next.versions.length === 0
        ? next
        : { ...next, versions: next.versions.map((version) => ({ ...version, patch: without(version.patch) })) };
    }),
  };
}

/**
 * A patch of another rig with its pairs as this one has them: those of the same name are the same. What went to one that
 * is not here goes its own way.
 */
export function withPairs<P extends PatchContent>(patch: P, from: Rig['pairs'], here: Rig['pairs']): P {
  const idOf = new Map<string, string>(
    from.flatMap(({ id, name }) => {
      const there = here.find((pair) => pair.name === name);
      return there ? [[`pair.${id}`, `pair.${there.id}`] as const] : [];
    }),
  );
  const connections = patch.connections.flatMap((connection) => {
    if (!connection.to.startsWith('pair.')) return [connection];
    const to = idOf.get(connection.to);
    return to === undefined ? [] : [{ ...connection, to }];
  });
  const backing = patch.backing.map((each) =>
    each.pair === null ? each : { ...each, pair: idOf.get(`pair.${each.pair}`)?.slice('pair.'.length) ?? null },
  );
  return withoutLoose({ ...patch, connections, backing });
}

export const setClick = (rig: Rig, change: Partial<Click>): Rig => ({ ...rig, click: { ...rig.click, ...change } });
