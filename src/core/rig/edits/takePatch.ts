import { samplesIn } from '../defaults';
import { freeName } from '../names';
import type { Layer, Patch, Rig, Sound } from '../schema';
import { withPatch } from './patches';
import { addSamples } from './zones';

/** The rig with a sound of another one, and the id it has there: one that is there already, the same in everything, is used. */
export function takeSound(rig: Rig, from: Rig, soundId: string, newId: () => string): { rig: Rig; soundId: string } {
  const sound = from.sounds.find(({ id }) => id === soundId);
  if (!sound) return { rig, soundId };
  const there = rig.sounds.find(({ id }) => id === sound.id);
  if (there && JSON.stringify(there) === JSON.stringify(sound)) return { rig, soundId };
  const own: Sound = there ? { ...sound, id: newId() } : sound;
  const used = new Set(samplesIn(sound));
  const samples = from.samples.filter(({ id }) => used.has(id));
  return { rig: addSamples({ ...rig, sounds: [...rig.sounds, own] }, samples), soundId: own.id };
}

/**
 * A whole patch of another rig as one more of this one, with the sounds and samples that it plays. Gives the rig, and the
 * id of the new patch; the rig as it is and null where there is no such patch.
 */
export function takePatch(
  rig: Rig,
  from: Rig,
  patchId: string,
  newId: () => string,
): { rig: Rig; patchId: string | null } {
  const patch = from.patches.find(({ id }) => id === patchId);
  if (!patch) return { rig, patchId: null };
  const ids = new Map<string, string>();
  let next = rig;
  for (const id of new Set(patch.layers.flatMap(({ soundId, list }) => [soundId, ...list]))) {
    const taken = takeSound(next, from, id, newId);
    next = taken.rig;
    ids.set(id, taken.soundId);
  }
  const withOwnSounds = (layer: Layer): Layer => ({
    ...layer,
    soundId: ids.get(layer.soundId) ?? layer.soundId,
    list: layer.list.map((id) => ids.get(id) ?? id),
  });
  const own: Patch = {
    ...patch,
    id: newId(),
    name: freeName(patch.name, rig.patches),
    layers: patch.layers.map(withOwnSounds),
  };
  return { rig: withPatch(next, own), patchId: own.id };
}
