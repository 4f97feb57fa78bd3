import { shareOut, withSoftEdges } from '../../mapping/velocities';
import { stretchedKeys, type Stretch } from '../../mapping/stretch';
import { newSound, samplesIn } from '../defaults';
import { effectsIn } from '../mix';
import { copyName, heldName } from '../names';
import type { Layer, Rig, Sample, Sound, Zone } from '../schema';
import { deleteLayer, updateLayer, updatePatch } from './layers';
import { everywhere } from './versions';

/**
 * Edits of sounds and their zones: pure functions. Zones are named by their place in the sound; unchanged things stay
 * the same objects.
 */

export function updateSound(rig: Rig, soundId: string, change: (sound: Sound) => Sound): Rig {
  const sounds = rig.sounds.map((sound) => (sound.id === soundId ? change(sound) : sound));
  return sounds.every((sound, i) => sound === rig.sounds[i]) ? rig : { ...rig, sounds };
}

/** Changes some zones of a sound. `change` also gets how many it has changed before. */
export function updateZones(
  sound: Sound,
  places: ReadonlySet<number>,
  change: (zone: Zone, nth: number) => Zone,
): Sound {
  let nth = 0;
  const zones = sound.zones.map((zone, i) => (places.has(i) ? change(zone, nth++) : zone));
  return zones.every((zone, i) => zone === sound.zones[i]) ? sound : { ...sound, zones };
}

export const addZones = (sound: Sound, zones: readonly Zone[]): Sound =>
  zones.length === 0 ? sound : { ...sound, zones: [...sound.zones, ...zones] };

export const deleteZones = (sound: Sound, places: ReadonlySet<number>): Sound =>
  places.size === 0 ? sound : { ...sound, zones: sound.zones.filter((_, i) => !places.has(i)) };

/** The rig without some zones of a sound, and without samples that nothing needs any more. */
export const deleteZonesOf = (rig: Rig, soundId: string, places: ReadonlySet<number>): Rig =>
  withoutUnusedSamples(updateSound(rig, soundId, (sound) => deleteZones(sound, places)));

/** Samples the rig has not got yet join it. */
export function addSamples(rig: Rig, samples: readonly Sample[]): Rig {
  const there = new Set(rig.samples.map((sample) => sample.id));
  const fresh = samples.filter((sample) => !there.has(sample.id) && !!there.add(sample.id));
  return fresh.length === 0 ? rig : { ...rig, samples: [...rig.samples, ...fresh] };
}

export const addSound = (rig: Rig, id: string, name: string, zones: readonly Zone[] = []): Rig => ({
  ...rig,
  sounds: [...rig.sounds, newSound(id, heldName(name), zones)],
});

export const renameSound = (rig: Rig, soundId: string, name: string): Rig =>
  updateSound(rig, soundId, (sound) => (heldName(name) === '' ? sound : { ...sound, name: heldName(name) }));

export function duplicateSound(rig: Rig, soundId: string, id: string): Rig {
  const original = rig.sounds.find((sound) => sound.id === soundId);
  if (!original) return rig;
  return {
    ...rig,
    sounds: rig.sounds.flatMap((sound) =>
      sound === original ? [sound, { ...sound, id, name: copyName(sound.name) }] : [sound],
    ),
  };
}

/** A copy of the sound that the layers of one patch play from now on; in all others nothing changes. */
export function ownCopyFor(rig: Rig, soundId: string, patchId: string, id: string): Rig {
  const copied = duplicateSound(rig, soundId, id);
  if (copied === rig) return rig;
  const renamed = (each: string) => (each === soundId ? id : each);
  return updatePatch(copied, patchId, (patch) => ({
    ...patch,
    layers: patch.layers.map((layer) =>
      plays(layer, soundId) ? { ...layer, soundId: renamed(layer.soundId), list: layer.list.map(renamed) } : layer,
    ),
  }));
}

const plays = (layer: Layer, soundId: string): boolean => layer.soundId === soundId || layer.list.includes(soundId);

/** The patches in which a sound is heard. */
export const usersOf = (rig: Rig, soundId: string): Rig['patches'] =>
  rig.patches.filter((patch) => patch.layers.some((layer) => plays(layer, soundId)));

/**
 * Without the sound and the layers that play nothing else, and without samples that nothing needs any more; lists go on
 * without it.
 */
export function deleteSound(rig: Rig, soundId: string): Rig {
  const without = everywhere(rig, (patch) =>
    patch.layers
      .filter((layer) => plays(layer, soundId))
      .reduce((left, layer) => {
        const list = layer.list.filter((each) => each !== soundId);
        return list.length === 0
          ? deleteLayer(left, layer.id)
          : updateLayer(left, layer.id, (old) => ({
              ...old,
              list,
              soundId: list.includes(old.soundId) ? old.soundId : list[0],
            }));
      }, patch),
  );
  return withoutUnusedSamples({ ...without, sounds: rig.sounds.filter((sound) => sound.id !== soundId) });
}

export function withoutUnusedSamples(rig: Rig): Rig {
  const used = new Set<string | null>(rig.sounds.flatMap(samplesIn));
  // Effects and backings work with recordings too, in every version.
  for (const patch of rig.patches) {
    for (const content of [patch, ...patch.versions.map((version) => version.patch)]) {
      for (const { effect } of effectsIn(content)) used.add(effect.sampleId);
      for (const { sampleId } of content.backing) used.add(sampleId);
    }
  }
  return rig.samples.every((sample) => used.has(sample.id))
    ? rig
    : { ...rig, samples: rig.samples.filter((sample) => used.has(sample.id)) };
}

const clamp = (x: number, low: number, high: number): number => Math.min(high, Math.max(low, x));

/** A window moved or resized within `least … most`; fades shrink where they no longer fit. */
export function moveEdge<E extends Zone['key']>(edge: E, low: number, high: number, least: number, most: number): E {
  const [a, b] = [clamp(Math.round(low), least, most), clamp(Math.round(high), least, most)].sort((x, y) => x - y);
  const fadeIn = Math.min(edge.fadeIn, b - a);
  return { ...edge, low: a, high: b, fadeIn, fadeOut: Math.min(edge.fadeOut, b - a - (fadeIn === b - a ? fadeIn : 0)) };
}

/**
 * Moves zones together by keys and velocities, as far as the outermost of them lets; with `roots`, the roots go along.
 */
export function moveZones(
  sound: Sound,
  places: ReadonlySet<number>,
  keys: number,
  velocities: number,
  roots: boolean,
): Sound {
  const chosen = sound.zones.filter((_, i) => places.has(i));
  if (chosen.length === 0) return sound;
  if (Number.isNaN(keys) || Number.isNaN(velocities)) return sound;
  const by = clamp(
    Math.round(keys),
    -Math.min(...chosen.map((zone) => zone.key.low)),
    127 - Math.max(...chosen.map((zone) => zone.key.high)),
  );
  const steps = clamp(
    Math.round(velocities),
    1 - Math.min(...chosen.map((zone) => zone.velocity.low)),
    127 - Math.max(...chosen.map((zone) => zone.velocity.high)),
  );
  if (by === 0 && steps === 0) return sound;
  return updateZones(sound, places, (zone) => ({
    ...zone,
    root: roots ? clamp(zone.root + by, 0, 127) : zone.root,
    key: { ...zone.key, low: zone.key.low + by, high: zone.key.high + by },
    velocity: { ...zone.velocity, low: zone.velocity.low + steps, high: zone.velocity.high + steps },
  }));
}

/** The points of a zone's sample: fields of `zoneFields`. */
export type SamplePoint = 'start' | 'end' | 'loop.start' | 'loop.end' | 'loop.crossfade';

/**
 * Start, loop and end in their order after one of them was moved: it stops at its neighbours, and nothing else moves.
 * `frames` is the length of the sample.
 */
export function pointsInOrder(zone: Zone, moved: SamplePoint, frames: number): Zone {
  const most = zone.end ?? frames;
  const { loop } = zone;
  if (moved === 'start') return { ...zone, start: Math.max(0, Math.min(zone.start, loop ? loop.start : most - 1)) };
  if (moved === 'end')
    return zone.end === null ? zone : { ...zone, end: Math.max(zone.end, loop ? loop.end : zone.start + 1) };
  if (!loop) return zone;
  const start = Math.min(Math.max(loop.start, zone.start), Math.max(0, most - 1));
  const end = Math.max(start + 1, Math.min(loop.end, most));
  return { ...zone, loop: { ...loop, start, end, crossfade: Math.min(loop.crossfade, end - start) } };
}

const groupName = ({ velocity }: Zone): string => `${velocity.low} ${velocity.high}`;

/**
 * Shares all velocities out evenly over the chosen zones, key by key, in the order of their present velocities (or of
 * the list, where those are alike). Alternates
 * of one place stay together and count once. `softEdge` velocities around each border sound both.
 */
export function shareOutVelocities(sound: Sound, places: ReadonlySet<number>, softEdge = 0): Sound {
  const groups = new Map<string, { rank: number; places: number[] }[]>();
  sound.zones.forEach((zone, i) => {
    if (!places.has(i)) return;
    const pad = `${zone.key.low} ${zone.key.high}`;
    const pads = groups.get(pad) ?? [];
    groups.set(pad, pads);
    // Alternates with the same velocities are one dynamic; a repeated number begins the next.
    const mate =
      zone.alternate === null
        ? undefined
        : pads.find((dynamic) =>
            dynamic.places.every(
              (p) =>
                sound.zones[p].alternate !== null &&
                sound.zones[p].alternate !== zone.alternate &&
                groupName(sound.zones[p]) === groupName(zone),
            ),
          );
    if (mate) mate.places.push(i);
    else pads.push({ rank: zone.velocity.low + zone.velocity.high, places: [i] });
  });
  const rangeOf = new Map<number, ReturnType<typeof withSoftEdges>[number]>();
  for (const dynamics of groups.values()) {
    if (dynamics.length > 127) continue;
    const order = dynamics.map((dynamic, i) => ({ ...dynamic, i })).sort((a, b) => a.rank - b.rank || a.i - b.i);
    const ranges = withSoftEdges(shareOut(order.length), softEdge);
    order.forEach((dynamic, d) => dynamic.places.forEach((place) => rangeOf.set(place, ranges[d])));
  }
  return {
    ...sound,
    zones: sound.zones.map((zone, i) => {
      const range = rangeOf.get(i);
      return range ? { ...zone, velocity: { ...range, shape: 'sine' } } : zone;
    }),
  };
}

/** Stretches the chosen zones over the keys between their roots, each dynamic by itself. */
export function stretchZones(sound: Sound, places: ReadonlySet<number>, stretch: Stretch): Sound {
  const groups = new Map<string, number[]>();
  sound.zones.forEach((zone, i) => {
    if (places.has(i)) groups.set(groupName(zone), [...(groups.get(groupName(zone)) ?? []), zone.root]);
  });
  const keys = new Map([...groups].map(([name, roots]) => [name, stretchedKeys(roots, stretch)]));
  return updateZones(sound, places, (zone) => ({
    ...zone,
    key: { ...zone.key, ...keys.get(groupName(zone))!.get(zone.root)!, fadeIn: 0, fadeOut: 0 },
  }));
}

/**
 * Makes the chosen zones alternates of one another wherever they share keys and velocities: numbered in their order, or
 * no alternates any more.
 */
export function setAlternates(sound: Sound, places: ReadonlySet<number>, on: boolean): Sound {
  const next = new Map<string, number>();
  return updateZones(sound, places, (zone) => {
    if (!on) return zone.alternate === null ? zone : { ...zone, alternate: null };
    const place = `${zone.key.low} ${zone.key.high} ${groupName(zone)}`;
    const alternate = next.get(place) ?? 0;
    next.set(place, alternate + 1);
    return { ...zone, alternate };
  });
}

/** The order in which files fill a pad: soft to hard, alternates in turn. */
const byPlace = (a: Zone, b: Zone): number =>
  a.velocity.low - b.velocity.low || (a.alternate ?? 0) - (b.alternate ?? 0);

/**
 * Copies the structure of a pad (the chosen zones: ranges, playback, values of their own) so that its lowest key comes
 * to `toKey`, and puts other samples in, in the
 * order soft → hard and alternate after alternate. With fewer samples than zones the rest is left out; without any, the
 * pad keeps its own.
 */
export function copyPad(
  sound: Sound,
  places: ReadonlySet<number>,
  toKey: number,
  sampleIds: readonly string[] | null,
): Sound {
  const chosen = sound.zones.filter((_, i) => places.has(i)).sort(byPlace);
  if (chosen.length === 0) return sound;
  const by = toKey - Math.min(...chosen.map((zone) => zone.key.low));
  const copies = (sampleIds ? chosen.slice(0, sampleIds.length) : chosen).flatMap((zone, i): Zone[] => {
    const low = zone.key.low + by;
    const high = zone.key.high + by;
    if (low < 0 || high > 127) return [];
    const other = sampleIds ? { sampleId: sampleIds[i], start: 0, end: null, loop: null } : {};
    return [{ ...zone, ...other, root: clamp(zone.root + by, 0, 127), key: { ...zone.key, low, high } }];
  });
  return addZones(sound, copies);
}

/** In which order files fill the chosen zones, in words: by what the zones differ in. */
export function orderWords(sound: Sound, places: ReadonlySet<number>): string {
  const zones = [...places].flatMap((place) => sound.zones[place] ?? []);
  const differ = (of: (zone: Zone) => unknown) => new Set(zones.map(of)).size > 1;
  const words = [
    ...(differ(({ key }) => key.low) ? ['key by key from the lowest'] : []),
    ...(differ(({ velocity }) => velocity.low) ? ['soft to hard'] : []),
    ...(differ(({ alternate }) => alternate) ? ['alternate after alternate'] : []),
  ];
  return words.length > 0 ? `${words.join(', ')}, ` : '';
}

/**
 * Exchanges the samples of the chosen zones, in the order soft → hard and alternate after alternate; as many as there
 * are.
 */
export function exchangeSamples(sound: Sound, places: ReadonlySet<number>, sampleIds: readonly string[]): Sound {
  const order = [...places]
    .filter((place) => place < sound.zones.length)
    .sort((a, b) => sound.zones[a].key.low - sound.zones[b].key.low || byPlace(sound.zones[a], sound.zones[b]));
  const sampleOf = new Map(order.slice(0, sampleIds.length).map((place, i) => [place, sampleIds[i]]));
  return {
    ...sound,
    zones: sound.zones.map((zone, i) =>
      sampleOf.has(i) ? { ...zone, sampleId: sampleOf.get(i)!, start: 0, end: null, loop: null } : zone,
    ),
  };
}

/**
 * Zones that play the same audio where another one does already, as pairs of places. Each zone is named at most once as
 * the second of a pair.
 */
export function sameAudioTwice(zones: readonly Zone[]): [number, number][] {
  // By what must be equal, and then by key: whoever shares a key and velocities with an earlier zone repeats it.
  const byAudio = new Map<string, number[][]>();
  const found: [number, number][] = [];
  zones.forEach((zone, i) => {
    const { sampleId, start, end, reverse, alternate, trigger, key, velocity } = zone;
    const name = `${sampleId} ${start} ${end} ${reverse} ${alternate} ${trigger}`;
    let keys = byAudio.get(name);
    if (!keys) byAudio.set(name, (keys = []));
    let twin: number | undefined;
    for (let k = Math.ceil(key.low); k <= key.high; k++) {
      const here = (keys[k] ??= []);
      twin ??= here.find(
        (other) => zones[other].velocity.low <= velocity.high && velocity.low <= zones[other].velocity.high,
      );
      here.push(i);
    }
    if (twin !== undefined) found.push([twin, i]);
  });
  return found;
}

/**
 * Brings zones to one level by gain: `levels` are their samples' measured levels in dB by place. `share` 0…1 is how far
 * they go; with `keepDynamics`, zones that share
 * velocities go together, so that soft stays softer than hard. Gains are rounded to a tenth of a dB.
 */
export function matchLevels(
  sound: Sound,
  places: ReadonlySet<number>,
  levels: ReadonlyMap<number, number>,
  share: number,
  keepDynamics: boolean,
): Sound {
  const known = [...places].filter((place) => Number.isFinite(levels.get(place)) && place < sound.zones.length);
  const mean = (of: readonly number[]) =>
    of.reduce((sum, place) => sum + levels.get(place)! + sound.zones[place].gain, 0) / of.length;
  if (known.length === 0) return sound;
  const targetOf = new Map<number, number>();
  if (keepDynamics) {
    const groups = new Map<string, number[]>();
    for (const place of known)
      groups.set(groupName(sound.zones[place]), [...(groups.get(groupName(sound.zones[place])) ?? []), place]);
    for (const group of groups.values()) for (const place of group) targetOf.set(place, mean(group));
  } else for (const place of known) targetOf.set(place, mean(known));
  const zones = sound.zones.map((zone, i) => {
    const target = targetOf.get(i);
    if (target === undefined) return zone;
    const gain = clamp(Math.round((zone.gain + share * (target - levels.get(i)! - zone.gain)) * 10) / 10, -96, 48);
    return gain === zone.gain ? zone : { ...zone, gain };
  });
  return zones.every((zone, i) => zone === sound.zones[i]) ? sound : { ...sound, zones };
}

/** How pieces of a recording are placed: one a key upward, or all on one key as alternates. */
export type PiecesOn = 'keys' | 'alternates';
/** Seconds over which a piece goes out, so that it neither clicks nor breaks off. */
const PIECE_FADE = 0.004;

/**
 * A zone is replaced by pieces of its recording, each a zone: a key each from `key` upward at their own pitch, or as
 * alternates of one key. Those that have no key are left out.
 */
export function cutZone(
  sound: Sound,
  place: number,
  pieces: readonly { start: number; end: number }[],
  on: PiecesOn,
  key: number,
): Sound {
  const zone = sound.zones[place];
  if (!zone || pieces.length === 0) return sound;
  const made = pieces.flatMap(({ start, end }, i): Zone[] => {
    const at = on === 'keys' ? key + i : key;
    if (at > 127 || end <= start) return [];
    return [
      {
        ...zone,
        root: at,
        key: { ...zone.key, low: at, high: at, fadeIn: 0, fadeOut: 0 },
        start,
        end,
        loop: null,
        alternate: on === 'alternates' ? i : null,
        turns: null,
        fadeIn: 0.001,
        fadeOut: PIECE_FADE,
      },
    ];
  });
  if (made.length === 0) return sound;
  return { ...sound, zones: [...sound.zones.slice(0, place), ...made, ...sound.zones.slice(place + 1)] };
}

/** Frames of a loop that freezes. */
export const FREEZE_FRAMES = 1000;
/**
 * A zone frozen at a frame: a loop of about a thousand frames there, crossfaded as far as there is anything before it.
 */
export function frozenZone(zone: Zone, frame: number, frames: number): Zone {
  const length = Math.min(FREEZE_FRAMES, Math.max(8, frames - 8));
  const start = Math.round(Math.min(frames - length, Math.max(0, frame)));
  // It begins where it loops: what lies before would be heard first, for as long as it takes.
  return {
    ...zone,
    start,
    end: null,
    loop: { start, end: start + length, crossfade: Math.min(start, Math.round(length / 3)), until: 'end' },
    playback: 'while-held',
    trigger: 'attack',
  };
}

/**
 * By key: semitones by which what is nearest to its own pitch there is stretched; 0 where a key is recorded, null where
 * nothing answers.
 */
export function stretches({ zones }: Pick<Sound, 'zones'>): (number | null)[] {
  const found = new Array<number | null>(128).fill(null);
  for (const { key, root, pitchPerKey, trigger } of zones) {
    if (trigger !== 'attack') continue;
    for (let k = Math.ceil(key.low); k <= key.high; k++) {
      const by = Math.abs((k - root) * pitchPerKey) / 100;
      const before = found[k];
      if (before === null || by < before) found[k] = by;
    }
  }
  return found;
}
