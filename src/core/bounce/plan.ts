import { gainOfVelocity } from '../engine/program/touch';
import { duplicatePatch, withPatch } from '../rig/edits/patches';
import { fullWindow, markAt, newLayer, newPatch, newPath, newSound, newZone, paramOf } from '../rig/defaults';
import { type LayerParameterId } from '../rig/parameters';
import { LAYER_PARAMETERS } from '../rig/layerParameters';
import { withoutEffects } from '../rig/mix';
import { heldName } from '../rig/names';
import type { Layer, Patch, Rig, Sample, Zone, ZoneLoop } from '../rig/schema';
import { nameOfKey } from '../music/noteNames';

/** What is bounced: the whole patch, a group, a layer, or what a shared effect gives back. */
export type BounceWhat = { kind: 'patch' } | { kind: 'group' | 'layer' | 'pool'; id: string };

export interface BounceSettings {
  what: BounceWhat;
  /** Keys that are struck, from lowest to highest; each plays up to the middle to its neighbours. */
  keys: readonly number[];
  /** Lowest and highest key that the new sound answers. */
  low: number;
  high: number;
  /** Strikes, from softest to hardest; each plays from above the one before. */
  velocities: readonly number[];
  /** Draws of each strike that take turns. */
  alternates: number;
  /** Seconds that a key is held, and seconds after which a tail is cut at the latest. */
  seconds: number;
  longestTail: number;
  stereo: boolean;
  /** A loop is looked for in what is held. */
  loop: boolean;
  /** With effects; of a rebuilt patch they stay effects. */
  effects: boolean;
  /** The new sounds stand in a copy of the patch, each in the place of its layer. */
  rebuild: boolean;
  /** Where sources stand meanwhile: an XY position, macros, controllers. */
  set: Readonly<Record<string, number>>;
}

/** Every so many keys over a range, each in the middle of those that it stands for. */
export function everyKeys(low: number, high: number, every: number): number[] {
  const keys: number[] = [];
  for (let from = low; from <= high; from += every)
    keys.push(Math.min(high, from + Math.floor((Math.min(every, high - from + 1) - 1) / 2)));
  return keys;
}

/** Where the keys of each of some struck ones begin and end. */
export function rangesOf(keys: readonly number[], low: number, high: number): [number, number][] {
  return keys.map((key, n) => [
    n === 0 ? low : Math.floor((keys[n - 1] + key) / 2) + 1,
    n === keys.length - 1 ? high : Math.floor((key + keys[n + 1]) / 2),
  ]);
}

/**
 * A sound that is to be made: of what, and how it is heard. `program`: the patch that plays it, `listen`: the place
 * that is heard alone.
 */
export interface BounceTarget {
  /** The layer whose place it takes in a rebuilt patch; null: none. */
  layerId: string | null;
  name: string;
  patch: Patch;
  solo: readonly string[];
  listen: string | null;
  /** Layers that play in it: their releases and velocities count. */
  layers: readonly Layer[];
}

/** One strike to be rendered. */
export interface BounceStrike {
  target: number;
  key: number;
  velocity: number;
  alternate: number;
}

const FULL_VELOCITY = 127;

/** Parameters that a route moves together: where one of them is moved, all stay live. */
const TOGETHER: readonly (readonly LayerParameterId[])[] = [
  ['cutoff', 'resonance', 'filterKind', 'keyTrack', 'velocityTrack', 'envelopeToCutoff'],
  ['cutoff2', 'resonance2', 'filter2Kind', 'filterPaths', 'keyTrack2', 'velocityTrack2', 'envelopeToCutoff2', 'drive'],
  ['delay', 'startLevel', 'attack', 'hold', 'decay', 'sustain', 'attackCurve', 'decayCurve'],
  ['vibratoDepth', 'vibratoRate', 'vibratoOnset'],
  ['tilt', 'tiltPivot'],
  ['onset', 'onsetTime'],
];
/** What a rebuilt layer always keeps to itself: where it stands in the mix, and what hands do to it. */
const ALWAYS_LIVE: readonly LayerParameterId[] = [
  'level',
  'pan',
  'width',
  'bendRange',
  'velocityToLevel',
  'release',
  'releaseCurve',
  'vibratoDepth',
  'vibratoRate',
  'vibratoOnset',
  'choice',
  'strum',
  'arpRate',
  'arpGate',
  'arpSwing',
  'arpOctaves',
];

/**
 * Parameters that stay as they are in a rebuilt layer, because something moves them, or hands reach for them. All
 * others are in the new recordings.
 */
export function liveIn(patch: Patch, layerId: string): Set<LayerParameterId> {
  const live = new Set<LayerParameterId>(ALWAYS_LIVE);
  const prefix = `layer.${layerId}.`;
  for (const { on, target } of patch.routes) {
    const id = on && target.startsWith(prefix) ? (target.slice(prefix.length) as LayerParameterId) : undefined;
    if (!id || !(id in LAYER_PARAMETERS)) continue;
    for (const each of TOGETHER.find((group) => group.includes(id)) ?? [id]) live.add(each);
  }
  return live;
}

const neutral = (id: LayerParameterId): number => (id === 'velocityToLevel' ? 0 : LAYER_PARAMETERS[id].default);

/** What is to be rendered. Throws an Error where there is nothing of that name. */
export function targetsOf(patch: Patch, settings: BounceSettings): BounceTarget[] {
  const { what, rebuild, effects } = settings;
  const of = (layers: readonly Layer[]): readonly Layer[] => layers.filter(({ on }) => on);
  const members =
    what.kind === 'layer'
      ? patch.layers.filter(({ id }) => id === what.id)
      : what.kind === 'group'
        ? of(patch.layers.filter(({ groupId }) => groupId === what.id))
        : of(patch.layers);
  if (members.length === 0) throw new Error('nothing of it plays');
  if (rebuild && what.kind !== 'pool') {
    return members.map((layer) => {
      const live = liveIn(patch, layer.id);
      // What stays live is out of the way while the rest is recorded.
      const params = { ...layer.params };
      for (const id of live) if (id !== 'release' && id !== 'releaseCurve') params[id] = neutral(id);
      const bare: Layer = {
        ...layer,
        groupId: null,
        windows: [fullWindow('key'), fullWindow('velocity')],
        path: newPath(),
        touch: { curve: 0, outLow: 1, outHigh: FULL_VELOCITY, fixed: null },
        effects: [],
        on: true,
        params,
      };
      const alone = withoutEffects({
        ...patch,
        layers: [bare],
        groups: [],
        routes: patch.routes.filter(({ target }) => target.startsWith('macro.') || target.startsWith('xy.')),
        main: { level: 0, width: 100, effects: [] },
      });
      return { layerId: layer.id, name: layer.name, patch: alone, solo: [], listen: null, layers: [layer] };
    });
  }
  const heard = effects ? patch : withoutEffects(patch);
  const named =
    what.kind === 'patch'
      ? patch
      : what.kind === 'layer'
        ? members[0]
        : (what.kind === 'group' ? patch.groups : patch.pools).find(({ id }) => id === what.id);
  if (!named) throw new Error('there is no such shared effect');
  const { name } = named;
  return [
    {
      layerId: null,
      name,
      patch: heard,
      solo: what.kind === 'layer' || what.kind === 'group' ? members.map(({ id }) => id) : [],
      listen: what.kind === 'pool' ? `pool.${what.id}` : null,
      layers: members,
    },
  ];
}

/** Every strike of a bounce, in an order in which neighbours come near each other. */
export const strikesOf = (
  targets: readonly BounceTarget[],
  { keys, velocities, alternates }: BounceSettings,
): BounceStrike[] =>
  targets.flatMap((_, target) =>
    keys.flatMap((key) =>
      velocities.flatMap((velocity) =>
        Array.from({ length: alternates }, (__, alternate) => ({ target, key, velocity, alternate })),
      ),
    ),
  );

/** What became of a strike; `loop`: one was found. */
export interface Bounced extends BounceStrike {
  sample: Sample;
  loop: ZoneLoop | null;
  silent: boolean;
}

export const sampleName = (name: string, { key, velocity, alternate }: BounceStrike, alternates: number): string =>
  `${name.replace(/[\\/:*?"<>|]+/g, ' ').trim()} ${nameOfKey(key, 4)} v${velocity}${alternates > 1 ? ` ${alternate + 1}` : ''}.wav`;

/** The rig with what was bounced: new sounds, and a patch that plays them right after the original. */
export function withBounced(
  rig: Rig,
  patch: Patch,
  settings: BounceSettings,
  targets: readonly BounceTarget[],
  bounced: readonly Bounced[],
  ids: { patchId: string; soundIds: readonly string[]; layerId: string },
): Rig {
  const ranges = rangesOf(settings.keys, settings.low, settings.high);
  const sounds = targets.map((target, t) => {
    // In a rebuilt layer its own parameter does that; of a layer by itself the new one does as the old.
    const share =
      settings.velocities.length === 1 && target.layerId === null
        ? paramOf(target.layers[0], 'velocityToLevel') / 100
        : 0;
    const zones = bounced
      .filter((each) => each.target === t && !each.silent)
      .map((each): Zone => {
        const [low, high] = ranges[settings.keys.indexOf(each.key)];
        const v = settings.velocities.indexOf(each.velocity);
        const last = v === settings.velocities.length - 1;
        const zone = newZone(each.sample.id, each.key);
        const made = share > 0 ? -20 * Math.log10(gainOfVelocity(each.velocity, share)) : 0;
        return {
          ...zone,
          key: { ...zone.key, low, high },
          velocity: {
            ...zone.velocity,
            low: v === 0 ? 1 : settings.velocities[v - 1] + 1,
            high: last ? FULL_VELOCITY : each.velocity,
          },
          // A mono recording is spread to both sides at equal power, 3.01 dB down.
          gain: Math.max(
            -96,
            Math.min(48, Math.round((made + (settings.stereo ? 0 : 20 * Math.log10(Math.SQRT2))) * 1000) / 1000),
          ),
          alternate: settings.alternates > 1 ? each.alternate : null,
          loop: each.loop,
        };
      });
    return {
      ...newSound(ids.soundIds[t], heldName(`${target.name} bounced`), zones),
      notes: `Bounced from ${patch.name}.`,
    };
  });
  const samples = [
    ...rig.samples,
    ...bounced
      .filter(({ silent }) => !silent)
      .map(({ sample }) => sample)
      .filter(
        (sample, n, all) =>
          !rig.samples.some(({ id }) => id === sample.id) && all.findIndex(({ id }) => id === sample.id) === n,
      ),
  ];
  const withSounds: Rig = { ...rig, samples, sounds: [...rig.sounds, ...sounds] };
  if (settings.rebuild && targets[0].layerId !== null) {
    const copied = duplicatePatch(withSounds, patch.id, ids.patchId);
    return {
      ...copied,
      patches: copied.patches.map((each) =>
        each.id !== ids.patchId
          ? each
          : {
              ...each,
              name: heldName(`${patch.name} bounced`),
              versions: [],
              version: null,
              draws: [],
              drawn: null,
              routes: each.routes.filter(({ target }) => !ofKind(rig, patch, target)),
              layers: each.layers.map((layer) => {
                const t = targets.findIndex(({ layerId }) => layerId === layer.id);
                if (t < 0) return layer;
                const live = liveIn(patch, layer.id);
                const params = Object.fromEntries(
                  Object.entries(layer.params).filter(
                    ([id]) => live.has(id as LayerParameterId) && !('of' in LAYER_PARAMETERS[id as LayerParameterId]),
                  ),
                );
                // The recording begins as it is: what its attack was is in it.
                return {
                  ...layer,
                  soundId: sounds[t].id,
                  list: [],
                  morph: false,
                  transpose: 0,
                  params: live.has('attack') ? params : { ...params, startLevel: 100 },
                };
              }),
            },
      ),
    };
  }
  const release = Math.max(...targets[0].layers.map((layer) => paramOf(layer, 'release')));
  const share = settings.velocities.length === 1 ? paramOf(targets[0].layers[0], 'velocityToLevel') : 0;
  const layer: Layer = {
    ...newLayer(ids.layerId, heldName(targets[0].name), sounds[0].id, targets[0].layers[0]?.mark ?? markAt(0)),
    params: { startLevel: 100, release, velocityToLevel: share },
  };
  const made: Patch = {
    ...newPatch(ids.patchId, ''),
    name: heldName(`${targets[0].name} bounced`),
    tempo: patch.tempo,
    layers: [layer],
  };
  return withPatch(withSounds, made);
}

/** Whether a route moves what only the old kind of sound had. */
function ofKind(rig: Rig, patch: Patch, target: string): boolean {
  const [kind, layerId, id] = target.split('.');
  if (kind !== 'layer') return false;
  const parameter = LAYER_PARAMETERS[id as LayerParameterId] as { of?: string } | undefined;
  const layer = patch.layers.find((each) => each.id === layerId);
  return parameter?.of !== undefined && layer !== undefined && rig.sounds.some((sound) => sound.id === layer.soundId);
}
