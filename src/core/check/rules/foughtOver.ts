import { isAction } from '../../rig/bindings';
import { labelOfControl } from '../../music/control';
import { labelOfSource } from '../../space/source';
import type { Rule } from '../finding';

/** Controls that move several things, and things that several controls move. */
export const foughtOver: Rule = {
  id: 'fought-over',
  shelf: 'hands',
  title: 'Fought over',
  why: 'Where two controls move one macro, the one that was touched last wins, and the other stands somewhere else.',
  help: 'Looks at what was learned for the whole rig, and says it once, at its first patch. One control that moves several macros may well be meant.',
  *find({ rig, patch }) {
    if (rig.patches[0]?.id !== patch.id) return;
    const { bindings } = rig.controllers;
    const overlaps = (a: (typeof bindings)[number], b: (typeof bindings)[number]) =>
      (a.channel === 0 || b.channel === 0 || a.channel === b.channel) &&
      (a.port === 'any' || b.port === 'any' || a.port === b.port);
    for (const [i, a] of bindings.entries()) {
      for (const b of bindings.slice(i + 1)) {
        const sameControl = a.control === b.control && overlaps(a, b);
        if (!sameControl && a.target !== b.target) continue;
        if (!sameControl && isAction(a.target)) continue;
        const message = sameControl
          ? `${labelOfControl(a.control)} was learned for both ${nameOf(a.target)} and ${nameOf(b.target)}.`
          : `Both ${labelOfControl(a.control)} and ${labelOfControl(b.control)} move ${nameOf(a.target)}.`;
        yield {
          grade: 'taste',
          where: { patchId: patch.id, layerIds: [] },
          hear: null,
          message,
          fixes: [a, b].map((binding) => ({
            label: `Let go of ${labelOfControl(binding.control)} for ${nameOf(binding.target)}`,
            safe: false,
            edit: (old) => ({
              ...old,
              controllers: {
                ...old.controllers,
                bindings: old.controllers.bindings.filter((each) => each !== binding),
              },
            }),
          })),
        };
      }
    }
  },
};
const nameOf = (target: string): string => (isAction(target) ? target.replace('.', ' ') : labelOfSource(target));
