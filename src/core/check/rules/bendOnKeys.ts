import { updateLayer, updatePatch } from '../../rig/edits/layers';
import { windowOn } from '../../rig/defaults';
import { quoted, strike, type Rule } from '../finding';
import { roleOf } from '../roles';

/** Chords that the bend of a lead takes along. */
export const bendOnKeys: Rule = {
  id: 'bend-on-keys',
  shelf: 'hands',
  title: 'The bend on the keys',
  why: 'A bend that is meant for the lead pulls the chords of the other hand out of tune.',
  help: 'Where a patch has a layer that plays one note at a time (or that the player calls a lead) and hears the bend, other layers on other keys that hear it as well are named.',
  *find({ rig, patch }) {
    const hears = patch.layers.filter((layer) => layer.on && layer.receive.bend);
    const lead = hears.find((layer) => roleOf(rig, patch, layer) === 'lead');
    if (!lead) return;
    const range = windowOn(lead, 'key');
    for (const layer of hears) {
      const keys = windowOn(layer, 'key');
      if (
        layer === lead ||
        !keys ||
        !range ||
        !['keys', 'pad', 'bass'].includes(roleOf(rig, patch, layer)) ||
        (keys.low <= range.high && range.low <= keys.high)
      )
        continue;
      yield {
        grade: 'taste',
        where: { patchId: patch.id, layerIds: [layer.id, lead.id] },
        hear: strike(Math.round((keys.low + keys.high) / 2), 100, { set: { bend: 1 } }),
        message: `The bend that is meant for ${quoted(lead)} bends ${quoted(layer)} as well.`,
        fixes: [
          {
            label: `${quoted(layer)} no longer hears the bend`,
            safe: true,
            edit: (old) =>
              updatePatch(old, patch.id, (value) =>
                updateLayer(value, layer.id, (each) => ({ ...each, receive: { ...each.receive, bend: false } })),
              ),
          },
        ],
      };
    }
  },
};
