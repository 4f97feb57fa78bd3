import { hasZones } from '../parameters';
import { answersNearMiddleC } from '../answering';
import { freeMark, newLayer } from '../defaults';
import { heldName } from '../names';
import type { Layer, Patch, Rig, Sample, Sound, Zone } from '../schema';
import { intoPad, padSound } from './kit';
import { addLayerOf, MOST_TRANSPOSE, takeUp, updateLayer, updatePatch } from './layers';
import { addSamples, updateSound } from './zones';

/**
 * One sound, or one recording, is put where it was wanted: into a layer, on a pad, into a zone. Edits are pure
 * functions; a place that is gone leaves everything as it is.
 */

/**
 * What can be put somewhere: a sound of this rig, of another one, or of a file that was opened, with what it is made
 * of.
 */
export interface Putting {
  name: string;
  sound: Sound;
  samples: readonly Sample[];
}

/** Where it goes. A new layer comes with its id; a pad is named by its key; of a sound, the zone at a place. */
export type PutPlace =
  | { to: 'layer'; patchId: string; layerId: string }
  | { to: 'new layer'; patchId: string; layerId: string }
  | { to: 'pad'; patchId: string; key: number }
  | { to: 'zone'; soundId: string; zone: number };

/**
 * The rig with the sound in it, and the id it has there: that of the rig's own, or one that is free. One that is there
 * already, the same in everything, is used.
 */
function withSound(rig: Rig, { sound, samples }: Putting, newId: () => string): { rig: Rig; sound: Sound } {
  if (rig.sounds.includes(sound)) return { rig, sound };
  const there = rig.sounds.find(({ id }) => id === sound.id);
  if (there && JSON.stringify(there) === JSON.stringify(sound)) return { rig, sound: there };
  const own = there ? { ...sound, id: newId() } : sound;
  return { rig: addSamples({ ...rig, sounds: [...rig.sounds, own] }, samples), sound: own };
}

/**
 * Semitones by which a key must be moved to strike what a sound has: none where it answers there, else to the nearest
 * root.
 */
export function transposeTo(sound: Sound, key: number): number {
  if (!hasZones(sound.kind) || sound.zones.length === 0) return 0;
  // One recording for all keys sounds on a pad as it was recorded.
  if (sound.zones.length === 1) return sound.zones[0].pitchPerKey === 0 ? 0 : held(sound.zones[0].root - key);
  if (sound.zones.some((zone) => zone.key.low <= key && key <= zone.key.high)) return 0;
  const roots = sound.zones.map(({ root }) => root);
  const nearest = roots.reduce((best, root) => (Math.abs(root - key) < Math.abs(best - key) ? root : best));
  return held(nearest - key);
}
const held = (semitones: number): number => Math.min(MOST_TRANSPOSE, Math.max(-MOST_TRANSPOSE, semitones));

/** The zone of a sound that stands for it where one recording is wanted: what answers a strike near middle C. */
export const zoneOf = (sound: Sound): Zone | undefined =>
  answersNearMiddleC(sound.zones, 100)?.zones[0] ?? sound.zones[0];

/**
 * The same place with another recording in it: keys, velocities and playback are the place's, what belongs to the
 * recording comes with it.
 */
const exchanged = (old: Zone, { sampleId, start, end, loop, reverse }: Zone): Zone => ({
  ...old,
  sampleId,
  start,
  end,
  loop,
  reverse,
});

/** Puts one thing in one place. The rig stays as it is where the place is gone, or has no room. */
export function put(rig: Rig, thing: Putting, place: PutPlace, newId: () => string): Rig {
  if (place.to === 'zone') {
    const zone = zoneOf(thing.sound);
    const there = rig.sounds.find(({ id }) => id === place.soundId)?.zones[place.zone];
    if (!zone || !there) return rig;
    const zonesOf = (sound: Sound) => sound.zones.map((old, i) => (i === place.zone ? exchanged(old, zone) : old));
    return updateSound(addSamples(rig, thing.samples), place.soundId, (sound) => ({ ...sound, zones: zonesOf(sound) }));
  }
  const patch = rig.patches.find(({ id }) => id === place.patchId);
  if (!patch) return rig;
  if (place.to === 'new layer') {
    const made = withSound(rig, thing, newId);
    return updatePatch(made.rig, patch.id, (old) => addLayerOf(old, place.layerId, made.sound));
  }
  if (place.to === 'layer') {
    if (!patch.layers.some(({ id }) => id === place.layerId)) return rig;
    const made = withSound(rig, thing, newId);
    return updatePatch(made.rig, patch.id, (old) =>
      updateLayer(old, place.layerId, (layer) => takeUp(layer, made.sound)),
    );
  }
  const made = withSound(rig, rig.sounds.includes(thing.sound) ? thing : asPad(thing), newId);
  const layer = layerFor(patch, newId(), thing.name, made.sound, place.key);
  const next = intoPad(patch, place.key, layer, newId);
  return next === patch ? rig : updatePatch(made.rig, patch.id, () => next);
}

/** A single recording that comes to a pad plays to its end, as one dropped there does. */
function asPad(thing: Putting): Putting {
  const [zone, ...others] = thing.sound.zones;
  const sample = thing.samples.find(({ id }) => id === zone?.sampleId);
  return thing.sound.kind === 'multisample' && sample && others.length === 0
    ? { ...thing, sound: padSound(thing.sound.id, thing.name, sample) }
    : thing;
}

/** A layer that plays a sound on one key, whatever keys it has. */
function layerFor(patch: Patch, id: string, name: string, sound: Sound, key: number): Layer {
  const taken = takeUp(newLayer(id, heldName(name), sound.id, freeMark(patch)), sound);
  return { ...taken, transpose: transposeTo(sound, key) };
}
