import type { Layer, Patch, Rig, Role } from '../rig/schema';
import { isPad } from './answers';
import { paramOf } from '../rig/defaults';

/**
 * Highest key of what counts as a bass where others play above it: the E above the bass clef's middle, about where a
 * left hand ends (common practice, no source).
 */
const BASS_TOP = 55;
const SLOW_ATTACK_SECONDS = 0.25;

/** What a layer is for: as the player says, or as its windows, sound and notes make likely. */
export function roleOf(rig: Rig, patch: Patch, layer: Layer): Role {
  if (layer.role !== 'unsaid') return layer.role;
  if (isPad(rig, patch, layer)) return 'drums';
  const windows = [...layer.windows, ...(patch.groups.find(({ id }) => id === layer.groupId)?.windows ?? [])].filter(
    ({ source }) => source === 'key',
  );
  const high = Math.min(127, ...windows.map((window) => window.high));
  if (
    high <= BASS_TOP &&
    patch.layers.some(
      (other) =>
        other !== layer && other.on && other.windows.some((window) => window.source === 'key' && window.high > high),
    )
  )
    return 'bass';
  if (layer.path.playing !== 'poly') return 'lead';
  return paramOf(layer, 'attack') >= SLOW_ATTACK_SECONDS ? 'pad' : 'keys';
}

/**
 * Whether a sound is a row of effects or of drums: most of its zones lie on one key each, at their own pitch. Keys
 * without any, and neighbours unlike each other, are meant then.
 */
export const isRow = (rig: Rig, patch: Patch, layer: Layer): boolean =>
  ['drums', 'effects'].includes(roleOf(rig, patch, layer));
