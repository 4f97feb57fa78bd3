import { updateLayer, updatePatch } from '../../rig/edits/layers';
import { roleOf } from '../roles';
import { windowOn } from '../../rig/defaults';
import { CP, quoted, strike, type Rule } from '../finding';

/** Basses of a split that the sustain pedal holds. */
export const pedalOnBass: Rule = {
  id: 'pedal-on-bass',
  shelf: 'hands',
  title: 'The pedal on the bass',
  why: 'Under a pedal that is meant for the chords, bass notes pile up and turn to mud.',
  help: 'Looks at layers that only answer the lower keys of a split, with another layer above them, and that hear the sustain pedal. Where both sides are meant to be held, say so.',
  thresholds: { key: { label: 'highest key of a bass', unit: 'key', value: 55, low: 24, high: 84, source: CP } },
  *find({ rig, patch, threshold }) {
    const top = threshold('key');
    const range = (id: string) =>
      windowOn(
        patch.layers.find((layer) => layer.id === id)!,
        'key',
      )!;
    for (const layer of patch.layers) {
      const window = range(layer.id);
      if (
        !layer.on ||
        !layer.receive.sustain ||
        window.low === window.high ||
        layer.groupId !== null ||
        (layer.role !== 'bass' &&
          (layer.role !== 'unsaid' || window.high > top || roleOf(rig, patch, layer) === 'drums'))
      )
        continue;
      const above = patch.layers.filter(
        (other) =>
          other.on &&
          other.groupId === null &&
          range(other.id).low > window.low &&
          range(other.id).high > window.high + 12,
      );
      if (above.length === 0) continue;
      yield {
        grade: 'taste',
        where: { patchId: patch.id, layerIds: [layer.id], keys: [window.low, window.high] },
        hear: strike(window.high, 100),
        message: `The sustain pedal holds ${quoted(layer)} as well as ${quoted(above[0])} above it.`,
        fixes: [
          {
            label: `The pedal leaves ${quoted(layer)} alone`,
            safe: true,
            edit: (now) =>
              updatePatch(now, patch.id, (old) =>
                updateLayer(old, layer.id, (each) => ({ ...each, receive: { ...each.receive, sustain: false } })),
              ),
          },
        ],
      };
    }
  },
};
