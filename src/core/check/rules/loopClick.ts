import { updateSound } from '../../rig/edits/zones';
import { loopName } from '../heard';
import { CP, told, type Rule } from '../finding';
import { bySound, heardZones, strikeOf, zonesOf } from '../recordings';

/** Loops whose joint is heard. */
export const loopClick: Rule = {
  id: 'loop-click',
  shelf: 'samples',
  title: 'A loop that clicks',
  why: 'A held note ticks once in each round of the loop.',
  help: 'Compares what leads up to the end of a loop with what leads up to its start: a jump of the level, or of the slope, against the greatest amplitude near by. Loops with a crossfade are blended there and are left alone.',
  thresholds: {
    step: { label: 'greatest jump', unit: '% of the amplitude', value: 8, low: 0.1, high: 100, source: CP },
  },
  *find(subject) {
    const { patch, threshold, heard } = subject;
    for (const { layer, sound, zones } of bySound(heardZones(subject))) {
      if (
        patch.routes.some(
          ({ target }) => target === `layer.${layer.id}.loopPosition` || target === `layer.${layer.id}.loopLength`,
        )
      )
        continue;
      const steps = zones.flatMap((each) => {
        const loop =
          each.zone.loop && each.zone.loop.crossfade === 0
            ? heard?.loops[loopName(each.zone.sampleId, each.zone.loop)]
            : undefined;
        const step = loop ? 100 * Math.max(loop.levelStep, 2 * loop.slopeStep) : 0;
        return step > threshold('step') ? [{ ...each, step }] : [];
      });
      if (steps.length === 0) continue;
      const worst = steps.reduce((a, b) => (b.step > a.step ? b : a));
      yield {
        grade: 'measured',
        where: { patchId: patch.id, layerIds: [layer.id], soundId: sound.id, zones: steps.map(({ place }) => place) },
        hear: { strikes: [strikeOf(patch, worst)], alone: [layer.id] },
        message: `${zonesOf(steps.length, sound)} ${steps.length === 1 ? 'jumps' : 'jump'} at the joint of the loop, at most by ${told(worst.step)} % of the amplitude.`,
        fixes: [
          {
            label: 'Crossfade the loop',
            safe: true,
            edit: (old) =>
              updateSound(old, sound.id, (value) => ({
                ...value,
                zones: value.zones.map((zone, place) =>
                  steps.some((each) => each.place === place) && zone.loop
                    ? {
                        ...zone,
                        loop: {
                          ...zone.loop,
                          crossfade: Math.max(
                            1,
                            Math.min(zone.loop.start, (zone.loop.end - zone.loop.start) >> 1, 4800),
                          ),
                        },
                      }
                    : zone,
                ),
              })),
          },
        ],
      };
    }
  },
};
