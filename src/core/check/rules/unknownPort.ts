import { updateLayer, updatePatch } from '../../rig/edits/layers';
import { quoted, type Rule } from '../finding';

/** Layers that wait for a MIDI port that the rig does not know. */
export const unknownPort: Rule = {
  id: 'unknown-port',
  shelf: 'hands',
  title: 'A port that is not there',
  why: 'The layer waits for a controller that this rig does not know, and stays silent.',
  help: 'A layer may hear one port alone, by its name. Where that name is none of the ports that the rig tells apart, nothing reaches the layer.',
  *find({ rig, patch }) {
    for (const layer of patch.layers) {
      if (layer.receive.port === 'any' || rig.controllers.ports.includes(layer.receive.port)) continue;
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds: [layer.id] },
        hear: null,
        message: `${quoted(layer)} hears only the port “${layer.receive.port}”, which this rig does not know.`,
        fixes: [
          {
            label: 'It hears any port',
            safe: true,
            edit: (old) =>
              updatePatch(old, patch.id, (value) =>
                updateLayer(value, layer.id, (each) => ({ ...each, receive: { ...each.receive, port: 'any' } })),
              ),
          },
        ],
      };
    }
  },
};
