import { soundsOf, windowOn } from './defaults';
import type { Layer, Patch, Rig, Sound } from './schema';

/**
 * One recording that sounds twice at once: in two layers of a patch, or in two zones of one sound (then both are the
 * same layer).
 */
export interface Twice {
  sampleId: string;
  first: Layer;
  second: Layer;
  key: number;
}

interface Place {
  layer: Layer;
  name: string;
  keys: [number, number];
  velocities: [number, number];
}

/** Where a layer plays one of the recordings, as it is struck. */
function placesOf(layer: Layer, sounds: readonly Sound[], sampleIds: ReadonlySet<string>): Place[] {
  const keys = windowOn(layer, 'key')!;
  const strikes = windowOn(layer, 'velocity')!;
  // Of a list one sounds at a time: its members are no company for one another.
  const played =
    soundsOf(layer).length > 1 ? [] : sounds.filter(({ id, kind }) => id === layer.soundId && kind === 'multisample');
  return played.flatMap((sound) =>
    sound.zones.flatMap((zone): Place[] => {
      if (!sampleIds.has(zone.sampleId)) return [];
      const low = Math.max(keys.low, zone.key.low - layer.transpose);
      const high = Math.min(keys.high, zone.key.high - layer.transpose);
      const soft = Math.max(strikes.low, zone.velocity.low);
      const hard = Math.min(strikes.high, zone.velocity.high);
      const { sampleId, start, reverse, alternate, trigger } = zone;
      return low > high || soft > hard
        ? []
        : [
            {
              layer,
              name: `${sampleId} ${start} ${reverse} ${alternate} ${trigger}`,
              keys: [low, high],
              velocities: [soft, hard],
            },
          ];
    }),
  );
}

/** Key and group together: a member sounds only where its group does. */
function within(patch: Patch, place: Place): Place[] {
  const window = patch.groups
    .find(({ id }) => id === place.layer.groupId)
    ?.windows.find(({ source }) => source === 'key');
  if (!window) return [place];
  const keys: [number, number] = [Math.max(place.keys[0], window.low), Math.min(place.keys[1], window.high)];
  return keys[0] > keys[1] ? [] : [{ ...place, keys }];
}

/**
 * The first place where one of these recordings sounds twice at once in a patch: both together are up to 6 dB louder,
 * or hollow where they differ in tuning or time.
 */
export function soundsTwice(rig: Rig, patch: Patch, sampleIds: readonly string[]): Twice | undefined {
  const wanted = new Set(sampleIds);
  const places = patch.layers
    .filter(({ on }) => on)
    .flatMap((layer) => placesOf(layer, rig.sounds, wanted))
    .flatMap((place) => within(patch, place));
  const byName = new Map<string, Place[]>();
  for (const place of places) {
    const had = byName.get(place.name) ?? [];
    const twin = had.find((other) => overlap(other.keys, place.keys) && overlap(other.velocities, place.velocities));
    if (twin)
      return {
        sampleId: place.name.split(' ')[0],
        first: twin.layer,
        second: place.layer,
        key: Math.max(twin.keys[0], place.keys[0]),
      };
    byName.set(place.name, [...had, place]);
  }
  return undefined;
}

const overlap = (a: readonly [number, number], b: readonly [number, number]): boolean => a[0] <= b[1] && b[0] <= a[1];
