import { nameOfKey } from '../../music/noteNames';
import { deleteZonesOf } from '../../rig/edits/zones';
import { roundsOf } from '../alternates';
import { quoted, strike, type Rule } from '../finding';
import { soundsPlayed } from '../recordings';

/** Alternates that are one and the same recording. */
export const sameAlternates: Rule = {
  id: 'same-alternates',
  shelf: 'strikes',
  title: 'Alternates that are the same audio',
  why: 'Taking turns with itself, a recording sounds as mechanical as without alternates.',
  help: 'Looks for alternates of one key and velocity that play the same stretch of the same recording, at the same pitch and the same way round.',
  *find({ rig, patch }) {
    for (const { layer, sound, struck } of soundsPlayed(rig, patch)) {
      const soundId = sound.id;
      for (const places of roundsOf(sound)) {
        const seen = new Set<string>();
        const again = places.filter((place) => {
          const { sampleId, start, end, reverse, tune, root } = sound.zones[place];
          const name = `${sampleId} ${start} ${end} ${reverse} ${tune} ${root}`;
          const had = seen.has(name);
          seen.add(name);
          return had;
        });
        if (again.length === 0) continue;
        const { key } = sound.zones[places[0]];
        yield {
          grade: 'sure',
          where: {
            patchId: patch.id,
            layerIds: [layer.id],
            soundId,
            zones: again,
            keys: [struck(key.low), struck(key.high)],
          },
          hear: strike(struck(key.low), 100, { alone: [layer.id] }),
          message: `On ${nameOfKey(key.low, 4)} of ${quoted(sound)} ${again.length === 1 ? 'one of the alternates is' : `${again.length} of the alternates are`} the same recording as another.`,
          fixes: [
            {
              label: again.length === 1 ? 'Remove the one that repeats' : 'Remove those that repeat',
              safe: true,
              edit: (old) => deleteZonesOf(old, soundId, new Set(again)),
            },
          ],
        };
      }
    }
  },
};
