import { updateLayer, updatePatch } from '../../rig/edits/layers';
import { CP, named, quoted, told, type Rule } from '../finding';

/** Two layers that play the same wave at once. */
export const sameWave: Rule = {
  id: 'same-wave',
  shelf: 'samples',
  title: 'The same wave in two layers',
  why: 'The same recording under itself is up to 6 dB louder and nothing else; a frame late it is hollow.',
  help: 'Plays both layers alone on a key that both answer, sums each to mono and compares the waves: 1 is the same wave. Layers that are detuned, delayed or made in another way are far from that.',
  thresholds: {
    likeness: {
      label: 'likeness from which they are the same',
      unit: '−1…1',
      value: 0.98,
      low: 0.5,
      high: 1,
      source: CP,
    },
  },
  *find({ patch, threshold, heard }) {
    for (const { layerIds, key, velocity, likeness, apartDb } of heard?.pairs ?? []) {
      const layers = layerIds.flatMap((id) => patch.layers.find((layer) => layer.id === id) ?? []);
      if (layers.length < 2 || likeness < threshold('likeness')) continue;
      // Amplitudes of one wave add up: 1 + 10^(−d/20) of the louder one.
      const more = 20 * Math.log10(1 + 10 ** (-Math.abs(apartDb) / 20));
      yield {
        grade: 'measured',
        where: { patchId: patch.id, layerIds, keys: [key, key] },
        hear: { strikes: [{ key, velocity }], alone: layerIds },
        message: `${named(layers)} play the same wave at once: together they are ${told(more)} dB louder than the louder of them, and nothing else.`,
        fixes: [
          {
            label: `Mute ${quoted(layers[1])}`,
            safe: false,
            edit: (old) =>
              updatePatch(old, patch.id, (value) =>
                updateLayer(value, layerIds[1], (layer) => ({ ...layer, on: false })),
              ),
          },
        ],
      };
    }
  },
};
