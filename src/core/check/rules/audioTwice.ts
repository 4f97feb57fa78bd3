import { deleteZonesOf, sameAudioTwice } from '../../rig/edits/zones';
import { quoted, strike, type Rule } from '../finding';
import { soundsPlayed } from '../recordings';

/** The same recording twice in one place. */
export const audioTwice: Rule = {
  id: 'audio-twice',
  shelf: 'samples',
  title: 'The same audio twice',
  why: 'The same recording under itself is 6 dB louder and nothing else, or hollow where it is a frame late.',
  help: 'Looks for zones of a sound that share keys and velocities and play the same stretch of the same recording, the same way round and in the same turn.',
  *find({ rig, patch }) {
    for (const { layer, sound, struck } of soundsPlayed(rig, patch)) {
      const soundId = sound.id;
      const pairs = sameAudioTwice(sound.zones).filter(
        ([a, b]) =>
          sound.zones[a].windows.length === 0 &&
          sound.zones[b].windows.length === 0 &&
          sound.zones[a].tune === sound.zones[b].tune &&
          sound.zones[a].root === sound.zones[b].root,
      );
      if (pairs.length === 0) continue;
      const again = pairs.map(([, b]) => b);
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds: [layer.id], soundId, zones: again },
        hear: strike(struck(sound.zones[again[0]].key.low), 100, { alone: [layer.id] }),
        message: `${again.length === 1 ? 'One zone' : `${again.length} zones`} of ${quoted(sound)} ${again.length === 1 ? 'plays' : 'play'} what another one in the same place plays already.`,
        fixes: [
          {
            label: again.length === 1 ? 'Remove the second' : 'Remove the second of each',
            safe: true,
            edit: (old) => deleteZonesOf(old, soundId, new Set(again)),
          },
        ],
      };
    }
  },
};
