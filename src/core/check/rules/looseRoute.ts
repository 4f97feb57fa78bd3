import { deleteRoute } from '../../rig/edits/moves';
import { updatePatch } from '../../rig/edits/layers';
import { hasSource, restOfTarget, sourcesOf } from '../../rig/moves';
import type { Rule } from '../finding';

/** Routes from or to what the patch does not have. */
export const looseRoute: Rule = {
  id: 'loose-route',
  shelf: 'hands',
  title: 'A route to nowhere',
  why: 'It stands in the list of what moves what, and moves nothing.',
  help: 'Looks for routes whose source or target the patch does not have: a macro, a pad, a blend or a mover of another patch, or something that was taken away.',
  *find({ patch }) {
    for (const route of patch.routes) {
      const gone = sourcesOf(route).find((id) => !hasSource(patch, id));
      const lost = restOfTarget(patch, route.target) === undefined;
      if (gone === undefined && !lost) continue;
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds: [], soundId: route.id },
        hear: null,
        message:
          gone !== undefined
            ? `A route to ${route.target} comes from ${gone}, which this patch does not have.`
            : `A route from ${sourcesOf(route)[0] ?? 'a formula'} goes to ${route.target}, which this patch does not have.`,
        fixes: [
          {
            label: 'Take the route away',
            safe: true,
            edit: (old) => updatePatch(old, patch.id, (now) => deleteRoute(now, route.id)),
          },
        ],
      };
    }
  },
};
