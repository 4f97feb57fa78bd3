import { nameOfKey } from '../../music/noteNames';
import { CP, named, quoted, told, type Rule } from '../finding';
import { isRow } from '../roles';
import { crossing, evened, onKeys, placeOf, riseOf, together } from '../steps';

/** Jumps of loudness between neighbouring dynamics and neighbouring keys. */
export const levelSteps: Rule = {
  id: 'level-step',
  shelf: 'strikes',
  title: 'A step in loudness',
  why: 'A strike that is one velocity harder, or one key higher, and suddenly much louder cannot be played evenly.',
  help: 'Listens to both sides of each border at which other samples, or other layers, take over, and compares the loudness (ITU-R BS.1770) of the first 0.4 s of the strikes. One velocity apart they should hardly differ. Drums and effects are left alone along the keys.',
  thresholds: {
    lu: { label: 'greatest step between dynamics', unit: 'LU', value: 3, low: 0.5, high: 24, source: CP },
    keysLu: { label: 'greatest step between keys', unit: 'LU', value: 4.5, low: 0.5, high: 24, source: CP },
    splitLu: {
      label: 'greatest step where layers meet along the keys',
      unit: 'LU',
      value: 12,
      low: 1,
      high: 40,
      source: CP,
    },
  },
  *find({ rig, patch, threshold, heard }) {
    const wrong = (heard?.steps ?? []).flatMap((step) => {
      const rise = riseOf(step);
      const layers = step.layerIds.flatMap((id) => patch.layers.find((layer) => layer.id === id) ?? []);
      // Other instruments may well be softer or louder, but not as if one of them had been forgotten.
      const most = threshold(step.along === 'velocity' ? 'lu' : step.from ? 'keysLu' : 'splitLu');
      if (rise === undefined || layers.length === 0 || (step.along === 'key' ? Math.abs(rise) : rise) <= most)
        return [];
      return step.along === 'key' && layers.every((layer) => isRow(rig, patch, layer))
        ? []
        : [{ step, rise, size: Math.abs(rise) }];
    });
    for (const group of together(wrong)) {
      const [{ step, rise }] = group;
      const steps = group.map((each) => each.step);
      const layers = step.layerIds.map((id) => patch.layers.find((layer) => layer.id === id)!);
      const sides = [step.soft, step.hard] as const;
      yield {
        grade: 'measured',
        where: placeOf(patch.id, steps),
        hear: { strikes: sides.map(({ key, velocity }) => ({ key, velocity })), alone: step.layerIds },
        message:
          step.along === 'velocity'
            ? `${layers.length === 1 ? quoted(layers[0]) : named(layers)} ${onKeys(steps)}: between velocities ${step.soft.velocity} and ${step.hard.velocity} the strike jumps by ${steps.length > 1 ? 'up to ' : ''}${told(rise)} LU.`
            : !step.from
              ? `From ${nameOfKey(step.soft.key, 4)} to ${nameOfKey(step.hard.key, 4)}, where ${named(layers)} meet, the same strike is ${told(Math.abs(rise))} LU ${rise > 0 ? 'louder' : 'softer'}.`
              : `${quoted(layers[0])}: from ${nameOfKey(step.soft.key, 4)} to ${nameOfKey(step.hard.key, 4)} the same strike is ${told(Math.abs(rise))} LU ${rise > 0 ? 'louder' : 'softer'}.`,
        curve: {
          over: step.along,
          unit: 'LUFS',
          points: sides.map((side) => [side[step.along], side.lufs!] as const),
          mark: step.hard[step.along],
          mended: [
            [step.soft[step.along], step.soft.lufs!],
            [step.hard[step.along], step.soft.lufs!],
          ],
        },
        fixes: [
          ...evened(
            patch,
            group.map((each) => ({ step: each.step, db: -each.rise })),
          ),
          ...crossing(steps, 12),
        ],
      };
    }
  },
};
