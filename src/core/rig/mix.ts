import { CycleError, topologicalOrder } from '../space/order';
import { parseTarget } from './parameters';
import type { Connection, EffectSpec, Patch, PatchContent } from './schema';

/** Where sound comes from and goes to: `layer.ID`, `group.ID`, `pool.ID`, `main`. */
export type PlaceId = string;

type MixOf = Pick<PatchContent, 'layers' | 'groups' | 'pools' | 'connections'>;

/** Every place of a patch's mix: layers, groups, shared effects, main. */
export const placesIn = ({ layers, groups, pools }: Pick<MixOf, 'layers' | 'groups' | 'pools'>): PlaceId[] => [
  ...layers.map(({ id }) => `layer.${id}`),
  ...groups.map(({ id }) => `group.${id}`),
  ...pools.map(({ id }) => `pool.${id}`),
  'main',
];

/** Whether a place is an end of the rig: a pair of outputs, `pair.ID`. */
export const isPair = (place: PlaceId): boolean => place.startsWith('pair.');

/** Where the sound of a place goes by itself: that of a layer to its group, if it has one; all else to main. */
export function homeOf({ layers }: Pick<MixOf, 'layers'>, from: PlaceId): PlaceId {
  const groupId = from.startsWith('layer.') ? (layers.find(({ id }) => `layer.${id}` === from)?.groupId ?? null) : null;
  return groupId === null ? 'main' : `group.${groupId}`;
}

/** Where an output goes that is written down for its level alone. */
export const HOME = 'home';

/** The id of the output of a place that nobody has set: it is there without being written down. */
export const outputId = (from: PlaceId): string => `out-${from.replace('.', '-')}`;

/** All connections of a patch: for each place its output, as it was set or as it goes by itself, then its sends. */
export function connectionsOf(patch: MixOf): Connection[] {
  const homes = new Map(
    patch.layers.map(({ id, groupId }) => [`layer.${id}`, groupId === null ? 'main' : `group.${groupId}`]),
  );
  const homeFrom = (from: PlaceId): PlaceId => homes.get(from) ?? 'main';
  const written = new Map<PlaceId, Connection[]>();
  for (const connection of patch.connections)
    written.set(connection.from, [...(written.get(connection.from) ?? []), connection]);
  return placesIn(patch).flatMap((from) => {
    const mine = written.get(from) ?? [];
    // Main ends in the first pair; what else goes out of it is sent.
    if (from === 'main') return mine.filter(({ kind }) => kind === 'send');
    const own = mine.find(({ kind }) => kind === 'output');
    const output: Connection = own
      ? { ...own, to: own.to === HOME ? homeFrom(from) : own.to }
      : { id: outputId(from), kind: 'output', from, to: homeFrom(from), level: 0, on: true, tap: 'after' };
    return [output, ...mine.filter(({ kind }) => kind === 'send')];
  });
}

/** The effects of a place, in order. */
export function chainOf(
  patch: Pick<PatchContent, 'layers' | 'groups' | 'pools' | 'main'>,
  place: PlaceId,
): readonly EffectSpec[] | undefined {
  if (place === 'main') return patch.main.effects;
  const [kind, id] = place.split('.');
  return (kind === 'layer' ? patch.layers : kind === 'group' ? patch.groups : patch.pools).find(
    (owner) => owner.id === id,
  )?.effects;
}

/** Every effect of a patch, with the place whose chain it is in. */
export const effectsIn = (
  patch: Pick<PatchContent, 'layers' | 'groups' | 'pools' | 'main'>,
): { place: PlaceId; effect: EffectSpec }[] =>
  placesIn(patch).flatMap((place) => chainOf(patch, place)!.map((effect) => ({ place, effect })));

/** What each place must wait for: what flows into it, and what its effects listen to. */
export function flowsInto(patch: MixOf & Pick<PatchContent, 'main'>): (place: PlaceId) => PlaceId[] {
  const into = new Map<PlaceId, PlaceId[]>();
  for (const { from, to } of connectionsOf(patch)) into.set(to, [...(into.get(to) ?? []), from]);
  const layers = new Set(patch.layers.map(({ id }) => id));
  return (place) => [
    ...(into.get(place) ?? []),
    ...(chainOf(patch, place) ?? []).flatMap(({ listens }) =>
      listens === null || `layer.${listens}` === place || !layers.has(listens) ? [] : [`layer.${listens}`],
    ),
  ];
}

/**
 * Places in an order in which everything comes after what flows into it. Throws a CycleError that names those that flow
 * in a circle.
 */
export const flowOrder = (patch: MixOf & Pick<PatchContent, 'main'>): PlaceId[] =>
  topologicalOrder(placesIn(patch), flowsInto(patch));

/** The places that flow in a circle; undefined where none do. */
export function circleIn(patch: MixOf & Pick<PatchContent, 'main'>): readonly PlaceId[] | undefined {
  try {
    flowOrder(patch);
    return undefined;
  } catch (error) {
    if (error instanceof CycleError) return error.members;
    throw error;
  }
}

/** What is called what: names of places, for words about the mix. */
export function nameOfPlace(
  patch: Pick<Patch, 'layers' | 'groups' | 'pools'>,
  place: PlaceId,
  pairs: readonly { id: string; name: string }[] = [],
): string {
  if (place === 'main') return 'main';
  const [kind, id] = place.split('.');
  if (kind === 'pair') return `${pairs.find((pair) => pair.id === id)?.name ?? id} (outputs)`;
  return (
    (kind === 'layer' ? patch.layers : kind === 'group' ? patch.groups : patch.pools).find((owner) => owner.id === id)
      ?.name ?? 'a place that is gone'
  );
}

/**
 * Without connections, side chains, routes and strips whose places, effects or layers are gone: for edits that take
 * something away. Unchanged where nothing is loose.
 */
export function withoutLoose<P extends PatchContent>(patch: P): P {
  const places = new Set(placesIn(patch));
  const layerIds = new Set(patch.layers.map(({ id }) => id));
  const fits = ({ from, to }: Connection) => places.has(from) && (to === HOME || isPair(to) || places.has(to));
  const isDeaf = ({ listens }: EffectSpec) => listens !== null && !layerIds.has(listens);
  const mended = <T extends { readonly effects: readonly EffectSpec[] }>(owner: T): T =>
    owner.effects.some(isDeaf)
      ? { ...owner, effects: owner.effects.map((effect) => (isDeaf(effect) ? { ...effect, listens: null } : effect)) }
      : owner;
  const mendedAll = <T extends { readonly effects: readonly EffectSpec[] }>(owners: readonly T[]): readonly T[] =>
    owners.some(({ effects }) => effects.some(isDeaf)) ? owners.map(mended) : owners;
  const hears = {
    ...patch,
    connections: patch.connections.every(fits) ? patch.connections : patch.connections.filter(fits),
    layers: mendedAll(patch.layers),
    groups: mendedAll(patch.groups),
    pools: mendedAll(patch.pools),
    main: mended(patch.main),
    takes: patch.takes.every(({ parts }) => parts.every(({ plays }) => !isGone(plays, patch)))
      ? patch.takes
      : patch.takes.map((take) => ({
          ...take,
          parts: take.parts.map((part) => (isGone(part.plays, patch) ? { ...part, plays: 'patch' } : part)),
        })),
  };
  const effects = new Set(effectsIn(hears).map(({ effect }) => `${effect.kind}.${effect.id}`));
  const outputs = new Set(connectionsOf(hears).map(({ id }) => id));
  const holds = (id: string): boolean => {
    const target = parseTarget(id);
    if (target?.kind === 'effect') return effects.has(`${target.effectKind}.${target.id}`);
    if (target?.kind === 'knob') return patch.knobs.some(({ id: knobId }) => knobId === target.id);
    if (target?.kind === 'pool') return places.has(`pool.${target.id}`);
    return target?.kind === 'connection'
      ? outputs.has(target.id)
      : target?.kind === 'layer'
        ? layerIds.has(target.layerId)
        : target?.kind === 'group'
          ? places.has(`group.${target.groupId}`)
          : true;
  };
  return {
    ...hears,
    routes: patch.routes.every(({ target }) => holds(target))
      ? patch.routes
      : patch.routes.filter(({ target }) => holds(target)),
    front: patch.front.every(holds) ? patch.front : patch.front.filter(holds),
  };
}

const isGone = (plays: string, patch: Pick<PatchContent, 'layers' | 'groups'>): boolean => {
  const [kind, id] = plays.split('.');
  return (
    ((kind === 'layer' || kind === 'notes') && !patch.layers.some((layer) => layer.id === id)) ||
    (kind === 'group' && !patch.groups.some((group) => group.id === id))
  );
};

/**
 * A patch whose layers go to its end as they are: no effects, no shared ones, no sends. For listening to layers by
 * themselves, and for bouncing them.
 */
export function withoutEffects<P extends PatchContent>(patch: P): P {
  const pools = new Set<string>(patch.pools.map(({ id }) => `pool.${id}`));
  return withoutLoose({
    ...patch,
    pools: [],
    connections: patch.connections.filter(
      ({ kind, from, to }) => kind === 'output' && !pools.has(from) && !pools.has(to),
    ),
    layers: patch.layers.map((layer) => (layer.effects.length > 0 ? { ...layer, effects: [] } : layer)),
    groups: patch.groups.map((group) => (group.effects.length > 0 ? { ...group, effects: [] } : group)),
    main: { ...patch.main, effects: [] },
  });
}
