import { samplesIn, soundsOf } from '../../rig/defaults';
import { deleteZonesOf } from '../../rig/edits/zones';
import { quoted, type Rule } from '../finding';

/** Recordings that are not there. */
export const missingSamples: Rule = {
  id: 'missing-samples',
  shelf: 'show',
  title: 'Recordings that are missing',
  why: 'Their zones stay silent.',
  help: 'A rig names its recordings; where one of them is not in this browser (or not in the archive), its zones cannot sound. Open the archive that the rig came in again, or bring the files in once more.',
  *find({ rig, patch, missing }) {
    for (const soundId of new Set(patch.layers.flatMap(soundsOf))) {
      const sound = rig.sounds.find(({ id }) => id === soundId);
      if (!sound) continue;
      const lost = samplesIn(sound).filter((id) => missing.has(id));
      if (lost.length === 0) continue;
      const zones = sound.zones.flatMap(({ sampleId }, place) => (missing.has(sampleId) ? [place] : []));
      const name = rig.samples.find(({ id }) => id === lost[0])?.name ?? lost[0];
      yield {
        grade: 'sure',
        where: {
          patchId: patch.id,
          layerIds: patch.layers.filter((layer) => soundsOf(layer).includes(soundId)).map(({ id }) => id),
          soundId,
          zones,
        },
        hear: null,
        message: `${lost.length === 1 ? `The recording “${name}”` : `${lost.length} recordings`} of ${quoted(sound)} ${lost.length === 1 ? 'is' : 'are'} missing.`,
        fixes:
          zones.length > 0 && zones.length < sound.zones.length
            ? [
                {
                  label: 'Remove the zones that are silent',
                  safe: false,
                  edit: (old) => deleteZonesOf(old, soundId, new Set(zones)),
                },
              ]
            : [],
      };
    }
  },
};
