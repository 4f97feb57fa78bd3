import { updatePatch } from '../../rig/edits/layers';
import type { Rule } from '../finding';

/** A take that leaves expression or volume at nothing. */
export const leftAtZero: Rule = {
  id: 'left-at-zero',
  shelf: 'hands',
  title: 'Expression left at nothing',
  why: 'The next strike is silent, and nobody on stage knows why.',
  help: 'Looks where the patch’s own take leaves expression (CC 11) and volume (CC 7) at its end, and whether a pedal that goes with it was learned: a foot can bring it back, a fader that is not there cannot.',
  *find({ rig, patch }) {
    for (const take of patch.takes) {
      for (const [controller, name] of [
        [11, 'expression'],
        [7, 'volume'],
      ] as const) {
        const last = take.parts
          .filter(({ on, plays }) => on && plays === 'patch')
          .flatMap(({ moves }) => moves.filter(([, what]) => what === `cc.${controller}`))
          .sort((a, b) => a[0] - b[0])
          .at(-1);
        if (!last || last[2] > 0) continue;
        if (rig.controllers.pedals.some((pedal) => pedal.controller === controller)) continue;
        yield {
          grade: 'sure',
          where: { patchId: patch.id, layerIds: [], macro: controller },
          hear: null,
          message: `The take “${take.name}” leaves ${name} at 0, and no pedal was learned that brings it back.`,
          fixes: [
            {
              label: `Bring ${name} back at the end of the take`,
              safe: true,
              edit: (old) =>
                updatePatch(old, patch.id, (value) => ({
                  ...value,
                  takes: value.takes.map((each) =>
                    each.id !== take.id
                      ? each
                      : {
                          ...each,
                          parts: each.parts.map((part) =>
                            part.plays === 'patch' && part.moves.some(([, what]) => what === `cc.${controller}`)
                              ? { ...part, moves: [...part.moves, [each.quarters, `cc.${controller}`, 127] as const] }
                              : part,
                          ),
                        },
                  ),
                })),
            },
          ],
        };
      }
    }
  },
};
