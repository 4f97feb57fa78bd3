import { readsSource } from '../../rig/moves';
import { deleteMacro } from '../../rig/edits/moves';
import { updatePatch } from '../../rig/edits/layers';
import type { Rule } from '../finding';

/** Macros that move nothing. */
export const idleMacro: Rule = {
  id: 'idle-macro',
  shelf: 'hands',
  title: 'A macro that moves nothing',
  why: 'On stage a hand reaches for it, and nothing happens.',
  help: 'A macro does something where a route reads it, a window looks at it, or a formula or another route is scaled by it. Routes that are switched off do not count.',
  *find({ patch }) {
    for (const { number, name } of patch.macros) {
      const source = `macro.${number}`;
      const used =
        patch.routes.some((route) => route.on && readsSource(route, source)) ||
        [...patch.layers, ...patch.groups].some(({ windows }) => windows.some((window) => window.source === source)) ||
        patch.movers.some(({ follows }) => follows === source);
      if (used) continue;
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds: [], macro: number },
        hear: null,
        message: `The macro “${name || number}” moves nothing.`,
        fixes: [
          {
            label: 'Remove the macro',
            safe: true,
            edit: (rig) => updatePatch(rig, patch.id, (old) => deleteMacro(old, number)),
          },
        ],
      };
    }
  },
};
