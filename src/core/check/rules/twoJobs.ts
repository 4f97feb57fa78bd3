import { takeOff } from '../../rig/edits/moves';
import { updatePatch } from '../../rig/edits/layers';
import { secondJobs } from '../../rig/moves';
import { labelOfSource } from '../../space/source';
import type { Rule } from '../finding';
import { quoted } from '../finding';

/** Wheels and pedals that still do what they always do beside the work that they were given. */
export const twoJobs: Rule = {
  id: 'two-jobs',
  shelf: 'hands',
  title: 'One control, two jobs',
  why: 'What the wheel brings in comes with vibrato on it, and what the pedal opens is held as well.',
  help: 'A layer hears some controls of itself: vibrato on the wheel, volume, pedals. Where a window or a route gives such a control other work in the same layer, both happen. It may be meant; then say so.',
  *find({ patch }) {
    for (const job of secondJobs(patch)) {
      const layer = patch.layers.find(({ id }) => id === job.layerId)!;
      yield {
        grade: 'taste',
        where: { patchId: patch.id, layerIds: [job.layerId], what: `${job.source} ${job.does}` },
        hear: null,
        message: `In ${quoted(layer)} the control ${labelOfSource(job.source)} has work of its own (${job.other}) and still ${job.does}.`,
        fixes: [
          {
            label: `It no longer ${job.does}`,
            safe: true,
            edit: (rig) => updatePatch(rig, patch.id, (old) => takeOff(old, job)),
          },
        ],
      };
    }
  },
};
