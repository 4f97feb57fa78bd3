import type { TunedKeys } from '../../../music/tunings';
import { paramOf } from '../../../rig/defaults';
import { fromNormal, levelGain, toNormal, type LayerParameterId } from '../../../rig/parameters';
import { LAYER_PARAMETERS } from '../../../rig/layerParameters';
import { addressOf, NO_PORT } from '../../hands/controllers';
import type { Layer, LayerWindow, Patch, Sound } from '../../../rig/schema';
import { kindOf, ownRoutesOf, type CompiledSound } from './kinds';
import { ofObject } from '../ofObject';
import { ownValuesOf } from '../ownValues';
import { gainOfVelocity, touchTable } from '../touch';
import { compilePath, hasPath } from '../compiledPath';
import { pathRestsOf } from '../pathValues';
import {
  MOVED_PARAMETERS,
  PATH_PARAMETERS,
  STRIKE_PARAMETERS,
  type CompiledRoute,
  type OwnTable,
  type ProgramLayer,
  type Voicing,
} from '../program';
import { envelopeOf, strikeRestsOf } from '../strikeValues';
import { restsOf } from '../voiceValues';
import type { Offsets } from './groups';
import { hasStripLevel } from './mix';
import type { Slots } from './slots';
import { windowsAsPlayed, windowSetOf } from './windows';

/** The number of a port by its name; one that the rig does not know is a port from which nothing comes. */
const portOf = (name: string, ports: readonly string[]): number =>
  name === 'any' ? 0 : ports.includes(name) ? ports.indexOf(name) + 1 : NO_PORT;

/** The most sounds between which a choice can crossfade: each of them sounds all the time. */
export const MOST_MORPHED = 8;

const NO_OFFSETS: Offsets = {};
/** By layer, what its values make where neither a zone nor a sound nor a group has any. */
const plainVoicings = ofObject((_layer: Layer): { voicing?: Voicing } => ({}));

/** A layer as the engine has it; `sets` are the values of their own that zones have, by place of their voicing. */
export function compileLayer(
  layer: Layer,
  tuned: TunedKeys | null,
  sounds: readonly (CompiledSound | undefined)[],
  sets: readonly ValueSet[],
  used: ReadonlySet<number>,
  ports: readonly string[],
  slots: Slots,
  own: OwnTable[] | null,
  offsets: Offsets = NO_OFFSETS,
): ProgramLayer {
  const { slotOf, reachedBy } = slots;
  const routesTo = slots.routesOfLayer(layer.id);
  const asPlayed = windowsAsPlayed(layer);
  const isEntry = ({ source }: LayerWindow): boolean => source === 'key' || source === 'velocity';
  const path = hasPath(layer.path)
    ? compilePath(layer.path, windowSetOf(asPlayed.filter(isEntry), slotOf).followed)
    : null;
  const windows = windowSetOf(path ? asPlayed.filter((window) => !isEntry(window)) : asPlayed, slotOf);
  const routes = MOVED_PARAMETERS.map((id) => (id === 'choice' && !layer.morph ? [] : routesTo(id)));
  const pathRoutes = PATH_PARAMETERS.map(routesTo);
  const strikeRoutes = STRIKE_PARAMETERS.map(routesTo);
  const isMoving = (slot: number) => slots.slots[slot].moving;
  const isMoved = (route: CompiledRoute) => isMoving(route.source) || (route.scaledBy >= 0 && isMoving(route.scaledBy));
  const ownRoutes = ownRoutesOf(
    sounds.flatMap((sound) => (sound ? [kindOf(sound)] : [])),
    routesTo,
    isMoved,
  );
  const allOwn = ownRoutes.flatMap((each) => (each ? [...each.routes, ...each.strikeRoutes] : []));
  const zoneWindows = sounds.flatMap((sound) => sound?.zones.flatMap((zone) => zone.windows) ?? []);
  const ofZones = [...new Set(zoneWindows.map((window) => slotOf.get(window.source)!))];
  const needed = reachedBy([
    ...[...windows.atStrike, ...windows.followed, ...(path?.entry ?? [])].map(({ source }) => source),
    ...ofZones,
    ...[...routes, ...strikeRoutes, ...pathRoutes, ...allOwn].flatMap((list) =>
      list.flatMap(({ source, scaledBy }) => (scaledBy < 0 ? [source] : [source, scaledBy])),
    ),
  ]);
  const movingPlaces = MOVED_PARAMETERS.flatMap((_, place) => (routes[place].some(isMoved) ? [place] : []));
  const movingWindows = windows.followed.filter(({ source }) => isMoving(source));
  const zoneWindowsMove = ofZones.some(isMoving);
  const movingOwn = ownRoutes.flatMap((each) => (each ? each.movingPlaces.map((place) => each.routes[place]) : []));
  const moves = movingPlaces.length > 0 || movingWindows.length > 0 || zoneWindowsMove || movingOwn.length > 0;
  // The level is worked out anew with whatever else shapes it, so what a note adds to it is read as well.
  const level = MOVED_PARAMETERS.indexOf('level');
  const levelMoves =
    movingWindows.length > 0 ||
    zoneWindowsMove ||
    movingPlaces.some((place) => place === level || MOVED_PARAMETERS[place] === 'choice');
  const movingNote = reachedBy([
    ...[...movingPlaces.map((place) => routes[place]), ...(levelMoves ? [routes[level]] : []), ...movingOwn].flatMap(
      (list) => list.flatMap(({ source, scaledBy }) => (scaledBy < 0 ? [source] : [source, scaledBy])),
    ),
    ...movingWindows.map(({ source }) => source),
    ...(zoneWindowsMove ? ofZones : []),
  ]).filter((slot) => slots.slots[slot].ofNote);
  // Of most layers the values are those they had: what groups add is not theirs.
  const plain = offsets === NO_OFFSETS ? plainVoicings(layer) : null;
  const voicings: Voicing[] = [];
  sets.forEach((set, i) => {
    if (i > 0 && !used.has(i)) voicings.push(voicings[0]);
    else if (!plain || set.kind !== 0 || !isEmpty(set.params) || !isEmpty(set.ofSound))
      voicings.push(voicingOf(layer, set, offsets));
    else voicings.push((plain.voicing ??= voicingOf(layer, set, offsets)));
  });
  return {
    id: layer.id,
    tuned,
    name: layer.name,
    on: layer.on,
    channel: addressOf(
      portOf(layer.receive.port, ports),
      layer.receive.channel === 'any' ? 0 : (layer.receive.channel as number),
    ),
    receive: layer.receive,
    transpose: layer.transpose,
    windows,
    routes,
    strikeRoutes,
    ownRoutes,
    voicings,
    touch: touchTable(layer.touch),
    outLow: layer.touch.outLow,
    outHigh: layer.touch.outHigh,
    fixed: layer.touch.fixed ?? 0,
    shared: needed.filter((slot) => !slots.slots[slot].ofNote),
    ofNote: needed.filter((slot) => slots.slots[slot].ofNote),
    movingPlaces,
    movingBits: movingPlaces.reduce((bits, place) => bits | (1 << place), 0),
    movingWindows,
    stillWindows: windows.followed.filter((window) => !movingWindows.includes(window)),
    zoneWindowsMove,
    movingNote: moves ? movingNote : [],
    moves,
    path,
    pathRoutes,
    pathNormals: Float64Array.from(PATH_PARAMETERS, (id) => toNormal(LAYER_PARAMETERS[id], paramOf(layer, id))),
    pathRests: pathRestsOf((id) => paramOf(layer, id)),
    levelShare: hasStripLevel(layer) ? 1 / levelGain(paramOf(layer, 'level'), LAYER_PARAMETERS.level.low) : 1,
    pad: -1,
    choke: 0,
    limit: layer.path.limit,
    kept: layer.kept ?? -1,
    glideByRate: layer.path.glide === 'rate',
    own,
    morph: layer.morph && own !== null && layer.list.length > 1 && layer.list.length <= MOST_MORPHED,
    alternation: sounds[0]?.alternation ?? 'in-turn',
    stands: standingOf(layer, sounds),
  };
}

/** The note of a layer that hears an input always: in the middle of what its windows let through. */
function standingOf(layer: Layer, sounds: readonly (CompiledSound | undefined)[]): ProgramLayer['stands'] {
  const isInput = sounds.length > 0 && sounds.every((sound) => sound?.kind === 'input');
  if (!isInput || paramOf(layer, 'inputOpen') < 0.5 || hasPath(layer.path)) return null;
  const [keys, velocities] = ['key', 'velocity'].map((source) => layer.windows.find((each) => each.source === source));
  return {
    key: keys ? Math.round((keys.low + keys.high) / 2) : 60,
    // As loud as it can be: what comes in has its own dynamics.
    velocity: velocities ? Math.max(1, Math.floor(velocities.high - velocities.fadeOut)) : 127,
  };
}

/** Whether a layer finds its zones itself, because what it plays is only known at the strike. */
export const findsItself = (layer: Layer, patch: Patch): boolean =>
  layer.list.length > 0 ||
  hasPath(layer.path) ||
  patch.routes.some(
    (route) =>
      route.on && (route.target === `layer.${layer.id}.transpose` || route.target === `layer.${layer.id}.touch`),
  );

/** Who may sound for each key of a sound. */
export function ownTable(sound: CompiledSound | undefined, firstZone: number): OwnTable {
  const byKey: number[][] = Array.from({ length: 128 }, () => []);
  const zones = sound?.zones ?? [];
  const order = zones.map((_, i) => i).sort((a, b) => (zones[a].alternate ?? -1) - (zones[b].alternate ?? -1) || a - b);
  for (const z of order)
    for (let key = Math.ceil(zones[z].key.low); key <= zones[z].key.high; key++) byKey[key].push(z);
  const all = byKey.flat();
  let sum = 0;
  return {
    keyStart: Uint32Array.from([0, ...byKey.map((list) => (sum += list.length))]),
    zone: Uint32Array.from(all, (z) => firstZone + z),
    low: Uint8Array.from(all, (z) => Math.ceil(zones[z].velocity.low)),
    high: Uint8Array.from(all, (z) => Math.floor(zones[z].velocity.high)),
    alternate: Int16Array.from(all, (z) => zones[z].alternate ?? -1),
    turns: Uint16Array.from(all, (z) => zones[z].turns ?? 0),
    release: Uint8Array.from(all, (z) => (zones[z].trigger === 'release' ? 1 : 0)),
    alternation: sound?.alternation ?? 'in-turn',
  };
}

/**
 * A set of values that zones have of their own, the kind of their sound, and what comes with it: that holds where a
 * layer chooses among several sounds; one that plays a single sound has its values itself.
 */
export interface ValueSet {
  kind: number;
  params: Sound['params'];
  ofSound: Sound['params'];
}

export const isEmpty = (params: Sound['params']): boolean => {
  for (const _ in params) return false;
  return true;
};

const inText = (params: Sound['params']): string[] =>
  Object.entries(params)
    .map(([id, value]) => `${id} ${value}`)
    .sort();
export const keyOfValues = ({ kind, params, ofSound }: ValueSet): string =>
  [
    ...(kind > 0 ? [`kind ${kind}`] : []),
    ...inText(params),
    ...(isEmpty(ofSound) ? [] : ['of its sound', ...inText(ofSound)]),
  ].join(' ');

function voicingOf(layer: Layer, values: ValueSet, offsets: Offsets): Voicing {
  const { kind } = values;
  const set = layer.list.length > 0 ? { ...values.ofSound, ...values.params } : values.params;
  const normalOf = (id: LayerParameterId) =>
    Math.min(1, Math.max(0, toNormal(LAYER_PARAMETERS[id], paramOf(layer, id, set)) + (offsets[id] ?? 0)));
  const baseNormals = Float64Array.from(MOVED_PARAMETERS, normalOf);
  const strikeNormals = Float64Array.from(STRIKE_PARAMETERS, normalOf);
  const share = paramOf(layer, 'velocityToLevel', set) / 100;
  const strikeRests = strikeRestsOf((id) =>
    offsets[id] === undefined ? paramOf(layer, id, set) : fromNormal(LAYER_PARAMETERS[id], normalOf(id)),
  );
  return {
    key: keyOfValues(values),
    kind,
    own: kind === 0 ? null : ownValuesOf(kind, (id) => paramOf(layer, id, set)),
    baseNormals,
    rests: restsOf(baseNormals),
    strikeNormals,
    strikeRests,
    envelope: envelopeOf(strikeRests),
    velocityGain: Float32Array.from(touchTable(layer.touch), (velocity) => gainOfVelocity(velocity, share)),
  };
}
