import { setParam, updatePatch } from '../../rig/edits/layers';
import { paramOf } from '../../rig/defaults';
import { CP, named, told, type Rule } from '../finding';

/** Two layers that take each other away when both sides are summed. */
export const cancelling: Rule = {
  id: 'cancelling',
  shelf: 'samples',
  title: 'Layers that cancel',
  why: 'Two layers whose waves are opposite become thin together, and vanish on a mono system.',
  help: 'Plays both layers alone on a key that both answer, sums each to mono and compares the waves: −1 are opposites, 0 strangers, 1 the same. Layers of very unequal level cannot cancel.',
  thresholds: {
    likeness: { label: 'likeness below which they cancel', unit: '−1…1', value: -0.5, low: -1, high: 0, source: CP },
    apart: { label: 'levels that are close', unit: 'dB', value: 12, low: 1, high: 40, source: CP },
  },
  *find({ patch, threshold, heard }) {
    for (const { layerIds, key, velocity, likeness, apartDb } of heard?.pairs ?? []) {
      const layers = layerIds.flatMap((id) => patch.layers.find((layer) => layer.id === id) ?? []);
      if (layers.length < 2 || likeness >= threshold('likeness') || apartDb > threshold('apart')) continue;
      yield {
        grade: 'measured',
        where: { patchId: patch.id, layerIds, keys: [key, key] },
        hear: { strikes: [{ key, velocity }], alone: layerIds },
        message: `${named(layers)} are opposites of one another (likeness ${told(likeness)}): together they are softer than each alone.`,
        fixes: [
          {
            label: `Detune “${layers[1].name}” by 6 cents`,
            safe: false,
            edit: (old) =>
              updatePatch(old, patch.id, (value) =>
                setParam(value, layerIds[1], 'tune', Math.min(1200, paramOf(layers[1], 'tune') + 6)),
              ),
          },
          {
            label: `Delay “${layers[1].name}” by 8 ms`,
            safe: false,
            edit: (old) =>
              updatePatch(old, patch.id, (value) =>
                setParam(value, layerIds[1], 'delay', Math.min(20, paramOf(layers[1], 'delay') + 0.008)),
              ),
          },
        ],
      };
    }
  },
};
