import { setlistOf, stepsOf } from '../../rig/setlist';
import { CP, quoted, type Rule } from '../finding';

/** Knobs that stand elsewhere after a change of patch, and jump when they are touched. */
export const takeoverJump: Rule = {
  id: 'takeover-jump',
  shelf: 'hands',
  title: 'A jump when a knob is touched',
  why: 'After a change of patch the knob stands where the last patch had it: the first touch jumps.',
  help: 'Where controls take over at once (*jump*), and a macro that was learned rests at very different places in two patches that follow one another in the setlist, its first touch after the change is a jump. *Pick up* and *in proportion* avoid it.',
  thresholds: {
    share: { label: 'distance that is a jump', unit: '% of its way', value: 50, low: 5, high: 100, source: CP },
  },
  *find({ rig, patch, threshold }) {
    const { takeover, bindings } = rig.controllers;
    if (takeover !== 'jump') return;
    const learned = new Set(
      bindings.flatMap(({ target, coding, control }) =>
        coding === 'absolute' && /^(cc|cc14|nrpn)\./.test(control) && target.startsWith('macro.')
          ? [Number(target.slice(6))]
          : [],
      ),
    );
    if (learned.size === 0) return;
    const steps = stepsOf(rig, setlistOf(rig));
    for (const [n, step] of steps.entries()) {
      const before = steps[n - 1]?.patch;
      if (step.patch?.id !== patch.id || !before || before.id === patch.id) continue;
      for (const { number, name, value } of patch.macros) {
        const earlier = before.macros.find((macro) => macro.number === number);
        if (!learned.has(number) || !earlier || 100 * Math.abs(earlier.value - value) < threshold('share')) continue;
        yield {
          grade: 'taste',
          where: { patchId: patch.id, layerIds: [], macro: number },
          hear: null,
          message: `After ${quoted(before)} the knob of “${name || `macro ${number}`}” stands ${Math.round(100 * Math.abs(earlier.value - value))} % away from where this patch rests it.`,
          fixes: [
            {
              label: 'Controls pick their values up',
              safe: true,
              edit: (old) => ({ ...old, controllers: { ...old.controllers, takeover: 'pick-up' } }),
            },
          ],
        };
        return;
      }
    }
  },
};
