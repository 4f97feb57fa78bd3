import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import { setParam, updatePatch } from '../../rig/edits/layers';
import { CP, told, type Rule } from '../finding';
import { bySound, heardZones, strikeOf, zonesOf } from '../recordings';

/** Recordings that do not lie around zero. */
export const dcOffset: Rule = {
  id: 'dc',
  shelf: 'samples',
  title: 'A recording off its middle',
  why: 'Every start and end of such a sample is a small thump, and it takes headroom that nobody hears.',
  help: 'The mean of a recording should be zero. A low cut in the layer takes the rest away while it plays; recording again, or filtering the file, is better.',
  thresholds: {
    percent: { label: 'greatest mean', unit: '% of full scale', value: 0.5, low: 0.01, high: 20, source: CP },
  },
  *find(subject) {
    const { patch, threshold } = subject;
    for (const { layer, sound, zones } of bySound(heardZones(subject))) {
      const off = zones.filter(({ recording }) => Math.abs(recording.dc) * 100 > threshold('percent'));
      if (off.length === 0) continue;
      const worst = off.reduce((a, b) => (Math.abs(b.recording.dc) > Math.abs(a.recording.dc) ? b : a));
      yield {
        grade: 'measured',
        where: { patchId: patch.id, layerIds: [layer.id], soundId: sound.id, zones: off.map(({ place }) => place) },
        hear: { strikes: [strikeOf(patch, worst)], alone: [layer.id] },
        message: `${zonesOf(off.length, sound)} ${off.length === 1 ? 'lies' : 'lie'} off the middle, at most by ${told(worst.recording.dc * 100)} % of full scale.`,
        fixes: [
          {
            label: 'A low cut at 30 Hz in the layer',
            safe: false,
            edit: (old) =>
              updatePatch(old, patch.id, (value) =>
                setParam(
                  value,
                  layer.id,
                  'lowCut',
                  Math.max(
                    30,
                    value.layers.find(({ id }) => id === layer.id)?.params.lowCut ?? LAYER_PARAMETERS.lowCut.low,
                  ),
                ),
              ),
          },
        ],
      };
    }
  },
};
