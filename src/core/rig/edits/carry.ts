import { parseSource } from '../../space/source';
import { freeMark, newLayer } from '../defaults';
import { freeId, freshEffects } from '../names';
import type { LayerParameterId } from '../parameters';
import { LAYER_PARAMETERS } from '../layerParameters';
import { isPair, outputId, withoutLoose, type PlaceId } from '../mix';
import type { Connection, Layer, NotePath, Patch, Pool, Rig, Route } from '../schema';
import { bringInstruments } from './outside';
import { addSamples } from './zones';
import { setParam, updateLayer, updatePatch } from './layers';
import { ownerOf, SECTION_KIND, type Clip, type Section, type SectionFile } from './clip';
import { MOST_CONNECTIONS, MOST_GROUPS, MOST_MOVERS, MOST_POOLS } from '../limits';

/** What a paste brings, in words: for showing before it is done. `problem`: why it cannot be. */
export interface Carried {
  rig: Rig;
  brings: string[];
  problem?: string;
}

/** Connections of what was taken, with pairs of outputs as this rig has them by their names; others go their own way. */
function connectionsHere({ connections = [], pairs = [] }: Clip, here: Rig['pairs']): readonly Connection[] {
  return connections.flatMap((connection) => {
    if (!isPair(connection.to)) return [connection];
    const name = pairs.find(({ id }) => `pair.${id}` === connection.to)?.name;
    const there = here.find((pair) => pair.name === name);
    return there ? [{ ...connection, to: `pair.${there.id}` }] : [];
  });
}

/** A path whose instrument outside has another id here; where there is none for it, the layer plays its sound. */
const pathIn = (path: NotePath, idOf: ReadonlyMap<string, string>): NotePath =>
  path.instrument === null ? path : { ...path, instrument: idOf.get(path.instrument) ?? null };

/**
 * Puts what was taken into a patch, under free numbers and new ids. What the patch has no room for is the reason why
 * nothing is done.
 */
export function paste(rig: Rig, patchId: string, clip: Clip, newId: () => string): Carried {
  const patch = rig.patches.find(({ id }) => id === patchId);
  if (!patch) return { rig, brings: [], problem: 'there is no such patch' };
  const brings: string[] = [];
  const owners = new Map<string, string>();
  const numbers = <T extends { number: number; name: string }>(
    what: string,
    kind: (item: T) => string,
    all: readonly T[],
    used: (item: T) => readonly number[],
    most: number,
  ): string | undefined => {
    const taken = new Map<string, Set<number>>();
    for (const item of all) {
      const name = kind(item);
      const set = taken.get(name) ?? new Set(used(item));
      const free = Array.from({ length: most }, (_, i) => i + 1).find((n) => !set.has(n));
      if (free === undefined) return `there is no room for ${what} “${item.name}”`;
      set.add(free);
      taken.set(name, set);
      owners.set(`${name}.${item.number}`, `${name}.${free}`);
      brings.push(`${what} “${item.name}”${free === item.number ? '' : ` as ${name}.${free}`}`);
    }
    return undefined;
  };
  for (const layer of clip.layers) brings.push(`layer “${layer.name}”`);
  for (const group of clip.groups) brings.push(`group “${group.name}”`);
  const { pools: allPools = [], mainEffects = [] } = clip;
  const clipConnections = connectionsHere(clip, rig.pairs);
  // A shared effect that the patch has already, the same in everything, is sent to.
  const clipPools = allPools.filter(
    (pool) => !patch.pools.some((there) => there.id === pool.id && JSON.stringify(there) === JSON.stringify(pool)),
  );
  for (const pool of clipPools) brings.push(`shared effect “${pool.name}”`);
  const problem =
    (patch.pools.length + clipPools.length > MOST_POOLS ? 'there is no room for more shared effects' : undefined) ??
    (patch.connections.length + clipConnections.length > MOST_CONNECTIONS
      ? 'there is no room for more connections'
      : undefined) ??
    (patch.groups.length + clip.groups.length > MOST_GROUPS ? 'there is no room for more groups' : undefined) ??
    (patch.movers.length + clip.movers.length > MOST_MOVERS ? 'there is no room for more movers' : undefined) ??
    numbers(
      'macro',
      () => 'macro',
      clip.macros,
      () => patch.macros.map(({ number }) => number),
      16,
    ) ??
    numbers(
      'mover',
      ({ kind }) => kind,
      clip.movers,
      ({ kind }) => patch.movers.filter((mover) => mover.kind === kind).map(({ number }) => number),
      16,
    ) ??
    numbers(
      'XY pad',
      () => 'xy',
      clip.xyPads,
      () => patch.xyPads.map(({ number }) => number),
      4,
    ) ??
    numbers(
      'blend',
      () => 'blend',
      clip.blends,
      () => patch.blends.map(({ number }) => number),
      8,
    );
  if (problem) return { rig, brings, problem };

  const renumbered = (id: string): string => {
    const owner = ownerOf(id);
    const to = owner === undefined ? undefined : owners.get(owner);
    return to === undefined ? id : to + id.slice(owner!.length);
  };
  const inFormula = (formula: string): string =>
    formula.replace(/[a-zA-Z]+\.\d+(?:\.[a-z]+(?:\.\d+)?)?/g, (name) => (parseSource(name) ? renumbered(name) : name));
  const layerIds = new Map(clip.layers.map((layer) => [layer.id, newId()]));
  const groupIds = new Map(clip.groups.map((group) => [group.id, newId()]));
  // A sound that the rig has already, the same in everything, is used; another one of that id comes under a new one.
  const soundIds = new Map(
    clip.sounds.map((sound) => {
      const there = rig.sounds.find(({ id }) => id === sound.id);
      return [
        sound.id,
        !there || there === sound || JSON.stringify(there) === JSON.stringify(sound) ? sound.id : newId(),
      ];
    }),
  );
  const newSounds = clip.sounds.filter((sound) => !rig.sounds.some(({ id }) => id === soundIds.get(sound.id)));
  for (const sound of newSounds) brings.push(`sound “${sound.name}”`);
  const windowed = <T extends { windows: Layer['windows'] }>(owner: T): T => ({
    ...owner,
    windows: owner.windows.map((window) => ({ ...window, source: renumbered(window.source) })),
  });
  let marks = patch;
  const fresh = freshEffects(patch);
  const chained = (effects: Layer['effects']) =>
    fresh.copies(effects).map((effect) => ({
      ...effect,
      listens: effect.listens === null ? null : (layerIds.get(effect.listens) ?? null),
    }));
  const poolIds = new Map(allPools.map((pool) => [pool.id, clipPools.includes(pool) ? newId() : pool.id]));
  const pools = clipPools.map((pool): Pool => ({ ...pool, id: poolIds.get(pool.id)!, effects: chained(pool.effects) }));
  const placeIn = (place: PlaceId): PlaceId => {
    const [kind, id] = place.split('.');
    const to =
      kind === 'layer'
        ? layerIds.get(id)
        : kind === 'group'
          ? groupIds.get(id)
          : kind === 'pool'
            ? poolIds.get(id)
            : undefined;
    return to === undefined ? place : `${kind}.${to}`;
  };
  const connectionIds = new Map<string, string>();
  const connections = clipConnections.reduce<readonly Connection[]>((all, connection) => {
    // What leaves a shared effect that is there already leaves it already.
    if (connection.from.startsWith('pool.') && !clipPools.some(({ id }) => `pool.${id}` === connection.from))
      return all;
    const id = connection.kind === 'output' ? outputId(placeIn(connection.from)) : freeId('send', all);
    connectionIds.set(connection.id, id);
    return [...all, { ...connection, id, from: placeIn(connection.from), to: placeIn(connection.to) }];
  }, patch.connections);
  const main =
    patch.layers.length === 0 && mainEffects.length > 0 ? { ...patch.main, effects: chained(mainEffects) } : patch.main;
  const groups = clip.groups.map((group) =>
    windowed({ ...group, id: groupIds.get(group.id)!, effects: chained(group.effects) }),
  );
  const outside = bringInstruments(rig, clip.instruments, newId);
  brings.push(...outside.instruments.slice(rig.instruments.length).map(({ name }) => `instrument outside “${name}”`));
  const layers = clip.layers.map((layer) => {
    // What was kept by an older version may lack what layers have now.
    const blank = newLayer('', '', layer.soundId, layer.mark);
    const made = windowed({
      ...blank,
      ...layer,
      path: pathIn({ ...blank.path, ...layer.path }, outside.idOf),
      effects: chained(layer.effects),
      id: layerIds.get(layer.id)!,
      groupId: layer.groupId === null ? null : (groupIds.get(layer.groupId) ?? null),
      soundId: soundIds.get(layer.soundId) ?? layer.soundId,
      list: layer.list.map((id) => soundIds.get(id) ?? id),
      mark: freeMark(marks),
    });
    marks = { ...marks, layers: [...marks.layers, made] };
    return made;
  });
  const target = (id: string): string => {
    const [kind, owner, ...rest] = id.split('.');
    if (kind === 'layer') return ['layer', layerIds.get(owner) ?? owner, ...rest].join('.');
    if (kind === 'group') return ['group', groupIds.get(owner) ?? owner, ...rest].join('.');
    if (kind === 'pool') return ['pool', poolIds.get(owner) ?? owner, ...rest].join('.');
    if (kind === 'connection') return ['connection', connectionIds.get(owner) ?? owner, ...rest].join('.');
    const copied = fresh.target(id);
    if (copied !== undefined) return copied;
    const to = owners.get(`${kind}.${owner}`);
    return to === undefined ? id : [to, ...rest].join('.');
  };
  const routes = clip.routes.reduce<Route[]>(
    (all, route) => [
      ...all,
      {
        ...route,
        id: freeId('route', all),
        target: target(route.target),
        source:
          typeof route.source === 'string' ? renumbered(route.source) : { formula: inFormula(route.source.formula) },
        ...(route.scaledBy ? { scaledBy: renumbered(route.scaledBy) } : {}),
      },
    ],
    [...patch.routes],
  );
  if (clip.routes.length > 0) brings.push(`${clip.routes.length} ${clip.routes.length === 1 ? 'route' : 'routes'}`);
  const numbered = <T extends { number: number }>(kind: string, item: T): T => ({
    ...item,
    number: Number(owners.get(`${kind}.${item.number}`)!.split('.')[1]),
  });
  const next: Patch = {
    ...patch,
    layers: [...patch.layers, ...layers],
    groups: [...patch.groups, ...groups],
    pools: [...patch.pools, ...pools],
    connections,
    main,
    routes,
    macros: [...patch.macros, ...clip.macros.map((macro) => numbered('macro', macro))],
    blends: [...patch.blends, ...clip.blends.map((blend) => numbered('blend', blend))],
    movers: [
      ...patch.movers,
      ...clip.movers.map((mover) => ({
        ...numbered(mover.kind, mover),
        follows:
          mover.kind === 'follower'
            ? (layerIds.get(mover.follows) ?? 'main')
            : mover.kind === 'hold'
              ? renumbered(mover.follows)
              : mover.follows,
      })),
    ],
    xyPads: [
      ...patch.xyPads,
      ...clip.xyPads.map((pad) => ({
        ...numbered('xy', pad),
        anchors: pad.anchors.map((anchor) => ({
          ...anchor,
          layerId:
            anchor.layerId === null ? null : (layerIds.get(anchor.layerId) ?? groupIds.get(anchor.layerId) ?? null),
        })),
      })),
    ],
  };
  const withSounds = addSamples(
    {
      ...rig,
      instruments: outside.instruments,
      sounds: [
        ...rig.sounds,
        ...newSounds.map((sound) => ({ ...sound, id: soundIds.get(sound.id)!, zones: sound.zones.map(windowed) })),
      ],
    },
    clip.samples.filter(
      ({ id }) =>
        newSounds.some(({ zones }) => zones.some(({ sampleId }) => sampleId === id)) ||
        [...layers, ...groups, ...pools, main].some(({ effects }) => effects.some(({ sampleId }) => sampleId === id)),
    ),
  );
  return { rig: updatePatch(withSounds, patchId, () => withoutLoose(next)), brings };
}

/**
 * The outside of a layer: windows, way of the notes, shape; its sound stays. Windows on what only the other patch has
 * are left out.
 */
export const pasteOutside = (patch: Patch, layerId: string, from: Layer): Patch =>
  updateLayer(patch, layerId, (layer) => ({
    ...layer,
    windows: from.windows.filter(({ source }) => ownerOf(source) === undefined),
    receive: from.receive,
    transpose: from.transpose,
    path: from.path,
    touch: from.touch,
    params: from.params,
  }));

/** The sound alone, and its list. */
export const pasteSound = (patch: Patch, layerId: string, from: Layer): Patch =>
  updateLayer(patch, layerId, (layer) => ({ ...layer, soundId: from.soundId, list: from.list, morph: from.morph }));

export const sectionOf = (layer: Layer, ids: readonly LayerParameterId[]): Section =>
  Object.fromEntries(ids.flatMap((id) => (layer.params[id] === undefined ? [] : [[id, layer.params[id]]])));

/**
 * Gives a layer the values of a section, each held within its range, and nothing else; what the section does not have
 * goes back to its default.
 */
export const putSection = (patch: Patch, layerId: string, ids: readonly LayerParameterId[], section: Section): Patch =>
  ids.reduce((left, id) => setParam(left, layerId, id, section[id] ?? LAYER_PARAMETERS[id].default), patch);

export const writeSection = ({ name, part, section }: SectionFile): string =>
  JSON.stringify({ kind: SECTION_KIND, name, part, values: section }, null, 2);
