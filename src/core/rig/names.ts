import { effectsIn, type PlaceId } from './mix';
import type { Connection, EffectSpec, PatchContent, Route } from './schema';
import { LONGEST_NAME } from './limits';

/** A name as long as a rig takes; blanks around it are none of it. */
export const heldName = (name: string): string => name.trim().slice(0, LONGEST_NAME).trim();

/** The name of a copy: what is too long makes room for the word. */
export const copyName = (name: string): string => `${name.slice(0, LONGEST_NAME - COPY.length).trimEnd()}${COPY}`;
const COPY = ' copy';

/** A name that none of those in use is: as it is, or with the lowest number from 2 on. */
export function freeName(name: string, used: readonly { name: string }[]): string {
  const taken = new Set(used.map((each) => each.name));
  let n = 1;
  while (taken.has(n === 1 ? name : `${name} ${n}`)) n++;
  return n === 1 ? name : `${name} ${n}`;
}

/** An id that none of those in use has: the prefix and the lowest free number. */
export function freeId(prefix: string, used: readonly { id: string }[]): string {
  const taken = new Set(used.map(({ id }) => id));
  let n = 1;
  while (taken.has(`${prefix}-${n}`)) n++;
  return `${prefix}-${n}`;
}

/**
 * Routes with copies, under ids made anew (those of copies of copies would grow without end), of each whose target
 * `copyOf` gives another one.
 */
export const withCopies = (routes: readonly Route[], copyOf: (target: string) => string | undefined): Route[] =>
  routes.reduce<Route[]>(
    (all, route) => {
      const target = copyOf(route.target);
      return target === undefined ? all : [...all, { ...route, id: freeId('route', all), target }];
    },
    [...routes],
  );

/** Copies of effects under ids that no effect of the patch has, and which is a copy of which. */
export function freshEffects(patch: Parameters<typeof effectsIn>[0]): {
  copies(effects: readonly EffectSpec[]): EffectSpec[];
  idOf: ReadonlyMap<string, string>;
  target(target: string): string | undefined;
} {
  const used = effectsIn(patch).map(({ effect }) => ({ id: effect.id }));
  const idOf = new Map<string, string>();
  return {
    idOf,
    copies: (effects) =>
      effects.map((effect) => {
        const id = freeId('effect', used);
        used.push({ id });
        idOf.set(effect.id, id);
        return { ...effect, id };
      }),
    target: (target) => {
      const [kind, owner, ...rest] = target.split('.');
      const copy = kind === 'layer' || kind === 'group' ? undefined : idOf.get(owner);
      return copy === undefined ? undefined : [kind, copy, ...rest].join('.');
    },
  };
}

/**
 * Connections, with copies of what leaves the originals leaving their copies; an output of a member to the group stays
 * with its group.
 */
export const sendsOfCopies = (
  connections: PatchContent['connections'],
  copyOf: ReadonlyMap<PlaceId, PlaceId>,
): PatchContent['connections'] =>
  connections.reduce<readonly Connection[]>((all, connection) => {
    const from = copyOf.get(connection.from);
    return from === undefined
      ? all
      : [
          ...all,
          { ...connection, id: freeId('connection', all), from, to: copyOf.get(connection.to) ?? connection.to },
        ];
  }, connections) as PatchContent['connections'];
