import { nameOfKey } from '../../music/noteNames';
import { updateSound } from '../../rig/edits/zones';
import type { Zone } from '../../rig/schema';
import { runsOf } from '../answers';
import { CP, quoted, strike, type Rule } from '../finding';
import { soundsPlayed } from '../recordings';
import { isRow } from '../roles';

/** A few keys of a sound on which more samples sound at once than on all others: ranges that run over each other. */
export const doubledKeys: Rule = {
  id: 'doubled-keys',
  shelf: 'keys',
  title: 'More at once than meant',
  why: 'A key on which two neighbours’ samples sound together is louder than the rest, and beats.',
  help: 'Counts the samples that a strike of middle velocity plays on each key of a sound, without alternates, release samples and those with fades or windows of their own. Where nearly all keys play as many and a few play more, ranges overlap by mistake.',
  thresholds: {
    share: {
      label: 'most of the keys that may be doubled by mistake',
      unit: '%',
      value: 25,
      low: 1,
      high: 60,
      source: CP,
    },
  },
  *find({ rig, patch, threshold }) {
    for (const { layer, sound, struck } of soundsPlayed(rig, patch)) {
      if (isRow(rig, patch, layer)) continue;
      const soundId = sound.id;
      const plain = (zone: Zone) =>
        zone.trigger === 'attack' &&
        zone.alternate === null &&
        zone.windows.length === 0 &&
        zone.key.fadeIn === 0 &&
        zone.key.fadeOut === 0 &&
        zone.velocity.low <= 64 &&
        zone.velocity.high >= 64 &&
        zone.velocity.fadeIn === 0 &&
        zone.velocity.fadeOut === 0;
      const at = Array.from({ length: 128 }, (_, key) =>
        sound.zones.flatMap((zone, place) =>
          plain(zone) && key >= zone.key.low && key <= zone.key.high ? [place] : [],
        ),
      );
      const counts = at
        .map(({ length }) => length)
        .filter((count) => count > 0)
        .sort((a, b) => a - b);
      const usual = counts[counts.length >> 1] ?? 0;
      const more = at.flatMap((places, key) => (places.length > usual ? [key] : []));
      if (usual === 0 || more.length === 0 || more.length > counts.length * (threshold('share') / 100)) continue;
      const [low, high] = runsOf(more)[0];
      const zones = [...new Set(more.flatMap((key) => at[key]))];
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds: [layer.id], soundId, zones, keys: [struck(low), struck(high)] },
        hear: strike(struck(low), 64, { alone: [layer.id] }),
        message: `In ${quoted(sound)} ${more.length === 1 ? `the key ${nameOfKey(low, 4)} plays` : `${more.length} keys from ${nameOfKey(low, 4)} play`} ${at[low].length} samples at once, all others ${usual}.`,
        fixes: [
          {
            label: 'Each range ends where the next begins',
            safe: true,
            edit: (old) =>
              updateSound(old, soundId, (value) => ({
                ...value,
                zones: value.zones.map((zone, place) => {
                  if (!zones.includes(place)) return zone;
                  // The upper neighbour keeps its keys; this one ends below it.
                  const next = value.zones
                    .filter(
                      (other, n) =>
                        zones.includes(n) &&
                        other !== zone &&
                        other.key.low > zone.key.low &&
                        other.key.low <= zone.key.high,
                    )
                    .map((other) => other.key.low);
                  return next.length > 0 ? { ...zone, key: { ...zone.key, high: Math.min(...next) - 1 } } : zone;
                }),
              })),
          },
        ],
      };
    }
  },
};
