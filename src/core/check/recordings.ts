import { soundsOf } from '../rig/defaults';
import type { Layer, Patch, Rig, Sound, Zone } from '../rig/schema';
import type { Recording } from '../measure/recording';
import { transposeOf } from './answers';
import type { Subject } from './finding';

/** A zone of a patch with its recording, as it was heard. */
export interface HeardZone {
  layer: Layer;
  sound: Sound;
  zone: Zone;
  place: number;
  recording: Recording;
}

/**
 * Every sound of samples that a patch plays, each once, with the first layer that plays it: what is wrong with a sound
 * is told once. `struck`: the key of the controller that plays a key of the sound.
 */
export function* soundsPlayed(
  rig: Rig,
  patch: Patch,
): Iterable<{ layer: Layer; sound: Sound; struck: (key: number) => number }> {
  const seen = new Set<string>();
  for (const layer of patch.layers) {
    for (const soundId of soundsOf(layer)) {
      const sound = seen.has(soundId) ? undefined : rig.sounds.find(({ id }) => id === soundId);
      seen.add(soundId);
      if (sound?.kind === 'multisample') yield { layer, sound, struck: (key) => struckFor(patch, layer, key) };
    }
  }
}

const struckFor = (patch: Patch, layer: Layer, key: number): number =>
  Math.min(127, Math.max(0, Math.round(key) - transposeOf(patch, layer)));

/** Every zone of them whose recording was heard. */
export function* heardZones({ rig, patch, heard }: Pick<Subject, 'rig' | 'patch' | 'heard'>): Iterable<HeardZone> {
  for (const { layer, sound } of soundsPlayed(rig, patch)) {
    for (const [place, zone] of sound.zones.entries()) {
      const recording = heard?.samples[zone.sampleId];
      if (recording) yield { layer, sound, zone, place, recording };
    }
  }
}

/** What was found in several zones of a sound is one finding about the sound: zones by sound. */
export function bySound(zones: Iterable<HeardZone>): { layer: Layer; sound: Sound; zones: HeardZone[] }[] {
  const found = new Map<string, { layer: Layer; sound: Sound; zones: HeardZone[] }>();
  for (const each of zones) {
    const there = found.get(each.sound.id);
    if (there) there.zones.push(each);
    else found.set(each.sound.id, { layer: each.layer, sound: each.sound, zones: [each] });
  }
  return [...found.values()];
}

/**
 * Cents by which a zone sounds above the key of its root; undefined where its pitch is not clear, or does not follow
 * the keys.
 */
export function offPitch(
  { zone, recording }: Pick<HeardZone, 'zone' | 'recording'>,
  clarity: number,
): number | undefined {
  if (recording.hz === null || recording.clarity < clarity || zone.pitchPerKey !== 100) return undefined;
  return 1200 * Math.log2(recording.hz / (440 * 2 ** ((zone.root - 69) / 12))) + zone.tune;
}

/** The key and velocity that play a zone through its layer. */
export const strikeOf = (
  patch: Patch,
  { layer, zone }: Pick<HeardZone, 'layer' | 'zone'>,
): { key: number; velocity: number } => ({
  key: struckFor(patch, layer, Math.min(zone.key.high, Math.max(zone.key.low, zone.root))),
  velocity: Math.round(Math.min(zone.velocity.high, Math.max(zone.velocity.low, 100))),
});

/** How many zones, and what they have in common. */
export const zonesOf = (count: number, sound: Sound): string =>
  count === 1 ? `A zone of “${sound.name}”` : `${count} zones of “${sound.name}”`;
