import { isMoverKind, parseSource, type SourceId } from '../../space/source';
import { freeMark, newLayer, samplesIn, soundsOf } from '../defaults';
import { freeId, freshEffects, heldName } from '../names';
import { LAYER_PARAMETERS, parseTarget, type LayerParameterId } from '../parameters';
import { HOME, outputId, withoutLoose, type PlaceId } from '../mix';
import { sourcesOf } from '../moves';
import {
  MOST_CONNECTIONS,
  MOST_GROUPS,
  MOST_MOVERS,
  MOST_POOLS,
  type Connection,
  type EffectSpec,
  type Group,
  type Layer,
  type Mover,
  type Patch,
  type Pool,
  type Rig,
  type Route,
  type Sample,
  type Sound,
  type XyPad,
} from '../schema';
import { addSamples } from './zones';
import { setParam, updateLayer, updatePatch } from './layers';

/**
 * Layers of a patch with everything that goes with them: their groups, what moves them and what moves that, their
 * sounds. Made to be put into another patch, or another rig.
 */
export interface Clip {
  name: string;
  layers: readonly Layer[];
  groups: readonly Group[];
  routes: readonly Route[];
  macros: Patch['macros'];
  movers: readonly Mover[];
  xyPads: readonly XyPad[];
  blends: Patch['blends'];
  /**
   * Shared effects that they send to, the ways between all these, and the effects of main: those only come into a patch
   * that has no layer yet. Absent in what was kept before there was a mix.
   */
  pools?: readonly Pool[];
  connections?: readonly Connection[];
  mainEffects?: readonly EffectSpec[];
  sounds: readonly Sound[];
  samples: readonly Sample[];
}

/** What a source belongs to: `macro.1`, `lfo.2`, `xy.1`, `blend.3`; undefined for what every patch has. */
function ownerOf(id: SourceId): string | undefined {
  const source = parseSource(id);
  if (!source) return undefined;
  if (source.kind === 'macro' || source.kind === 'blend' || isMoverKind(source.kind))
    return `${source.kind}.${source.index}`;
  return source.kind === 'xyX' || source.kind === 'xyY' || source.kind === 'xyAnchor'
    ? `xy.${source.index}`
    : undefined;
}

/** Takes layers out of a patch, with all that goes with them. */
export function clipOf(rig: Rig, patch: Patch, layerIds: readonly string[], name: string): Clip {
  const layers = patch.layers.filter((layer) => layerIds.includes(layer.id));
  const groups = patch.groups.filter((group) => layers.some((layer) => layer.groupId === group.id));
  // Shared effects that anything of it flows to, and those that they flow to.
  const places = new Set<PlaceId>([...layers.map(({ id }) => `layer.${id}`), ...groups.map(({ id }) => `group.${id}`)]);
  for (let before = -1; before < places.size;) {
    before = places.size;
    for (const { from, to } of patch.connections) if (places.has(from) && to.startsWith('pool.')) places.add(to);
  }
  const pools = patch.pools.filter(({ id }) => places.has(`pool.${id}`));
  const connections = patch.connections.filter(
    ({ from, to }) => places.has(from) && (to === 'main' || to === HOME || places.has(to)),
  );
  const mainEffects = layers.length === patch.layers.length ? patch.main.effects : [];
  const chains = [...layers, ...groups, ...pools].map(({ effects }) => effects).concat([mainEffects]);
  const owners = new Set<string>();
  const routes = new Set<Route>();
  const grow = (ids: readonly SourceId[]) => {
    for (const id of ids) {
      const owner = ownerOf(id);
      if (owner) owners.add(owner);
    }
  };
  grow([...layers, ...groups].flatMap(({ windows }) => windows.map(({ source }) => source)));
  grow(
    rig.sounds
      .filter((sound) => layers.some((layer) => soundsOf(layer).includes(sound.id)))
      .flatMap(({ zones }) => zones.flatMap((zone) => zone.windows.map(({ source }) => source))),
  );
  const isTaken = ({ target }: Route): boolean => {
    const found = parseTarget(target);
    if (!found) return false;
    if (found.kind === 'layer') return layers.some((layer) => layer.id === found.layerId);
    if (found.kind === 'group') return groups.some((group) => group.id === found.groupId);
    if (found.kind === 'effect') return chains.some((effects) => effects.some(({ id }) => id === found.id));
    if (found.kind === 'pool') return pools.some(({ id }) => id === found.id);
    if (found.kind === 'connection') return connections.some(({ id }) => id === found.id);
    return 'number' in found && owners.has(`${found.kind}.${found.number}`);
  };
  for (let before = -1; before < routes.size + owners.size;) {
    before = routes.size + owners.size;
    for (const route of patch.routes) {
      if (routes.has(route) || !isTaken(route)) continue;
      routes.add(route);
      grow(sourcesOf(route));
    }
    for (const mover of patch.movers)
      if (owners.has(`${mover.kind}.${mover.number}`) && mover.kind === 'hold') grow([mover.follows]);
  }
  const used = new Set(layers.flatMap(soundsOf));
  const sounds = rig.sounds.filter(({ id }) => used.has(id));
  const sampleIds = new Set<string | null>([
    ...sounds.flatMap(samplesIn),
    ...chains.flatMap((effects) => effects.map(({ sampleId }) => sampleId)),
  ]);
  return {
    name,
    pools,
    connections,
    mainEffects,
    layers,
    groups,
    routes: patch.routes.filter((route) => routes.has(route)),
    macros: patch.macros.filter(({ number }) => owners.has(`macro.${number}`)),
    movers: patch.movers.filter(({ kind, number }) => owners.has(`${kind}.${number}`)),
    xyPads: patch.xyPads.filter(({ number }) => owners.has(`xy.${number}`)),
    blends: patch.blends.filter(({ number }) => owners.has(`blend.${number}`)),
    sounds,
    samples: rig.samples.filter(({ id }) => sampleIds.has(id)),
  };
}

/** A sound alone, with its samples. */
export const clipOfSound = (rig: Rig, sound: Sound): Clip => {
  const used = new Set(samplesIn(sound));
  return {
    name: sound.name,
    layers: [],
    groups: [],
    routes: [],
    macros: [],
    movers: [],
    xyPads: [],
    blends: [],
    sounds: [sound],
    samples: rig.samples.filter(({ id }) => used.has(id)),
  };
};

/** What a paste brings, in words: for showing before it is done. `problem`: why it cannot be. */
export interface Carried {
  rig: Rig;
  brings: string[];
  problem?: string;
}

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
  const { pools: allPools = [], connections: clipConnections = [], mainEffects = [] } = clip;
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
  const layers = clip.layers.map((layer) => {
    // What was kept by an older version may lack what layers have now.
    const made = windowed({
      ...newLayer('', '', layer.soundId, layer.mark),
      ...layer,
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

/** Values of some parameters of a layer, kept apart: those that are absent have their defaults. */
export type Section = Partial<Record<LayerParameterId, number>>;

export const sectionOf = (layer: Layer, ids: readonly LayerParameterId[]): Section =>
  Object.fromEntries(ids.flatMap((id) => (layer.params[id] === undefined ? [] : [[id, layer.params[id]]])));

/**
 * Gives a layer the values of a section, each held within its range, and nothing else; what the section does not have
 * goes back to its default.
 */
export const putSection = (patch: Patch, layerId: string, ids: readonly LayerParameterId[], section: Section): Patch =>
  ids.reduce((left, id) => setParam(left, layerId, id, section[id] ?? LAYER_PARAMETERS[id].default), patch);

/** A section as a file: its name, the part of a layer that it belongs to, and its values in their units. */
export interface SectionFile {
  name: string;
  part: string;
  section: Section;
}

export const writeSection = ({ name, part, section }: SectionFile): string =>
  JSON.stringify({ kind: SECTION_KIND, name, part, values: section }, null, 2);

/** Reads what {@link writeSection} wrote. Throws an Error that says what is wrong with it. */
export function readSection(text: string): SectionFile {
  const found = parsed(text);
  if (
    found?.kind !== SECTION_KIND ||
    typeof found.part !== 'string' ||
    typeof found.values !== 'object' ||
    found.values === null
  )
    throw new Error('these are no values of a layer');
  for (const [id, value] of Object.entries(found.values)) {
    if (!Object.hasOwn(LAYER_PARAMETERS, id)) throw new Error(`values.${id.slice(0, 40)}: there is no such parameter`);
    if (typeof value !== 'number' || !Number.isFinite(value))
      throw new Error(`values.${id}: ${JSON.stringify(value).slice(0, 40)} is not a number`);
  }
  return {
    name: heldName(typeof found.name === 'string' ? found.name : '') || found.part,
    part: found.part,
    section: found.values,
  };
}
const SECTION_KIND = 'values of a layer';
function parsed(text: string): { kind?: unknown; name?: unknown; part?: unknown; values?: unknown } | null {
  try {
    return JSON.parse(text) as ReturnType<typeof parsed>;
  } catch {
    return null;
  }
}
