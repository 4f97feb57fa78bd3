import { nameOfKey } from '../../music/noteNames';
import { roundsOf } from '../alternates';
import { quoted, strike, type Rule } from '../finding';
import { soundsPlayed } from '../recordings';

/** Pads of one kit that have unequal numbers of alternates. */
export const unequalCounts: Rule = {
  id: 'unequal-counts',
  shelf: 'strikes',
  title: 'Unequal numbers of alternates',
  why: 'One pad that repeats itself sooner than its neighbours gives the kit away.',
  help: 'Counts the alternates of each key of a sound that has any. Where nearly all keys have as many and one has fewer, a recording may be missing.',
  *find({ rig, patch }) {
    for (const { layer, sound, struck } of soundsPlayed(rig, patch)) {
      const soundId = sound.id;
      const rounds = roundsOf(sound);
      if (rounds.length < 3) continue;
      const counts = rounds.map(({ length }) => length).sort((a, b) => a - b);
      const usual = counts[counts.length >> 1];
      const fewer = rounds.filter(({ length }) => length < usual);
      if (fewer.length === 0 || fewer.length > rounds.length / 3) continue;
      const { key } = sound.zones[fewer[0][0]];
      yield {
        grade: 'taste',
        where: {
          patchId: patch.id,
          layerIds: [layer.id],
          soundId,
          zones: fewer.flat(),
          keys: [struck(key.low), struck(key.high)],
        },
        hear: strike(struck(key.low), 100, { alone: [layer.id] }),
        fixes: [],
        message: `${quoted(sound)} has ${usual} alternates on nearly every key, but ${fewer[0].length} on ${nameOfKey(key.low, 4)}${fewer.length > 1 ? ` and on ${fewer.length - 1} more` : ''}.`,
      };
    }
  },
};
