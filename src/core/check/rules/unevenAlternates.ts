import { nameOfKey } from '../../music/noteNames';
import { updateSound } from '../../rig/edits/zones';
import { roundsOf } from '../alternates';
import { CP, quoted, told, type Rule } from '../finding';
import { soundsPlayed } from '../recordings';

/** Alternates of one strike that differ in level. */
export const unevenAlternates: Rule = {
  id: 'uneven-alternates',
  shelf: 'strikes',
  title: 'Alternates of unequal level',
  why: 'Alternates are there so that repeated strikes differ in detail; one that is louder makes a rhythm that nobody plays.',
  help: 'Compares the loudness of the recordings that take turns on one key and velocity, with the gain of their zones.',
  thresholds: { lu: { label: 'greatest difference', unit: 'LU', value: 3, low: 0.5, high: 12, source: CP } },
  *find({ rig, patch, threshold, heard }) {
    for (const { layer, sound, struck } of soundsPlayed(rig, patch)) {
      const soundId = sound.id;
      if (!heard) continue;
      for (const places of roundsOf(sound)) {
        const levels = places.map((place) => {
          const lufs = heard.samples[sound.zones[place].sampleId]?.lufs;
          return lufs === null || lufs === undefined ? NaN : lufs + sound.zones[place].gain;
        });
        const spread = Math.max(...levels) - Math.min(...levels);
        if (!(spread > threshold('lu'))) continue;
        const { key, velocity } = sound.zones[places[0]];
        const mean = levels.reduce((a, b) => a + b, 0) / levels.length;
        yield {
          grade: 'measured',
          where: {
            patchId: patch.id,
            layerIds: [layer.id],
            soundId,
            zones: places,
            keys: [struck(key.low), struck(key.high)],
          },
          hear: {
            strikes: places.map(() => ({ key: struck(key.low), velocity: Math.min(velocity.high, 100) })),
            alone: [layer.id],
          },
          message: `On ${nameOfKey(key.low, 4)} of ${quoted(sound)} ${places.length} alternates differ by ${told(spread)} LU.`,
          curve: {
            over: 'alternate',
            unit: 'LUFS',
            points: levels.map((level, n) => [n + 1, level] as const),
            mark: levels.indexOf(Math.max(...levels)) + 1,
          },
          fixes: [
            {
              label: 'Bring them to one level',
              safe: true,
              edit: (old) =>
                updateSound(old, soundId, (value) => ({
                  ...value,
                  zones: value.zones.map((zone, place) => {
                    const n = places.indexOf(place);
                    return n < 0
                      ? zone
                      : {
                          ...zone,
                          gain: Math.max(-96, Math.min(48, Math.round((zone.gain + mean - levels[n]) * 10) / 10)),
                        };
                  }),
                })),
            },
          ],
        };
      }
    }
  },
};
