import { updateLayer, updatePatch } from '../../rig/edits/layers';
import { quoted, type Rule } from '../finding';

/** Layers on a channel that nothing else in the rig speaks of. */
export const strangeChannel: Rule = {
  id: 'strange-channel',
  shelf: 'hands',
  title: 'A channel that nothing sends',
  why: 'A layer on the wrong channel is silent, and looks as if it were there.',
  help: 'Where controls were learned on certain MIDI channels, a layer that hears another channel alone is named. In a rig with two keyboards on two channels both will have been learned, and nothing is said.',
  *find({ rig, patch }) {
    const known = new Set(rig.controllers.bindings.flatMap(({ channel }) => (channel > 0 ? [channel] : [])));
    const { mpe } = rig.controllers;
    if (known.size === 0 || mpe.lower > 0 || mpe.upper > 0) return;
    for (const layer of patch.layers) {
      const { channel } = layer.receive;
      if (channel === 'any' || known.has(Number(channel))) continue;
      yield {
        grade: 'taste',
        where: { patchId: patch.id, layerIds: [layer.id] },
        hear: null,
        message: `${quoted(layer)} hears channel ${channel} alone; everything that was learned comes on ${known.size === 1 ? 'channel' : 'channels'} ${[...known].sort((a, b) => a - b).join(', ')}.`,
        fixes: [
          {
            label: 'It hears every channel',
            safe: false,
            edit: (old) =>
              updatePatch(old, patch.id, (value) =>
                updateLayer(value, layer.id, (each) => ({ ...each, receive: { ...each.receive, channel: 'any' } })),
              ),
          },
        ],
      };
    }
  },
};
