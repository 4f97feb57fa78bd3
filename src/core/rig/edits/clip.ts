import { isMoverKind, parseSource, type SourceId } from '../../space/source';
import { samplesIn, soundsOf } from '../defaults';
import { LAYER_PARAMETERS } from '../layerParameters';
import { HOME, isPair, type PlaceId } from '../mix';
import { sourcesOf } from '../moves';
import { heldName } from '../names';
import { parseTarget, type LayerParameterId } from '../parameters';
import {
  type Connection,
  type EffectSpec,
  type Group,
  type Instrument,
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

/** Values of some parameters of a layer, kept apart: those that are absent have their defaults. */
export type Section = Partial<Record<LayerParameterId, number>>;

/** What a source belongs to: `macro.1`, `lfo.2`, `xy.1`, `blend.3`; undefined for what every patch has. */
export function ownerOf(id: SourceId): string | undefined {
  const source = parseSource(id);
  if (!source) return undefined;
  if (source.kind === 'macro' || source.kind === 'blend' || isMoverKind(source.kind))
    return `${source.kind}.${source.index}`;
  return source.kind === 'xyX' || source.kind === 'xyY' || source.kind === 'xyAnchor'
    ? `xy.${source.index}`
    : undefined;
}

/** A section as a file: its name, the part of a layer that it belongs to, and its values in their units. */
export interface SectionFile {
  name: string;
  part: string;
  section: Section;
}
export const SECTION_KIND = 'values of a layer';
export function parsed(text: string): { kind?: unknown; name?: unknown; part?: unknown; values?: unknown } | null {
  try {
    return JSON.parse(text) as ReturnType<typeof parsed>;
  } catch {
    return null;
  }
}

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
  /** Instruments outside that the layers play; absent in what was kept before there were any. */
  instruments?: readonly Instrument[];
  /** The pairs of outputs of its rig; absent likewise. */
  pairs?: Rig['pairs'];
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
    ({ from, to }) => places.has(from) && (to === 'main' || to === HOME || isPair(to) || places.has(to)),
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
    pairs: rig.pairs,
    instruments: rig.instruments.filter(({ id }) => layers.some(({ path }) => path.instrument === id)),
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
