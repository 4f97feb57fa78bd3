import { nameOfKey } from '../../music/noteNames';
import { CP, named, quoted, told, type Rule } from '../finding';
import { isRow } from '../roles';
import { crossing, onKeys, placeOf, together } from '../steps';

/** Jumps of colour between neighbouring dynamics and keys. */
export const toneSteps: Rule = {
  id: 'tone-step',
  shelf: 'strikes',
  title: 'A step in tone',
  why: 'Where the colour jumps from one key or velocity to the next, a line sounds as if two instruments played it.',
  help: 'Compares where the middle of the spectrum lies (by thirds of octaves, IEC 61260) on both sides of each border at which other samples take over. A key apart a sound moves by a twelfth of an octave and hardly changes otherwise.',
  thresholds: { octaves: { label: 'greatest step', unit: 'octaves', value: 1, low: 0.1, high: 4, source: CP } },
  *find({ rig, patch, threshold, heard }) {
    const wrong = (heard?.steps ?? []).flatMap((step) => {
      const { soft, hard } = step;
      const layers = step.layerIds.flatMap((id) => patch.layers.find((layer) => layer.id === id) ?? []);
      if (
        soft.lufs === null ||
        hard.lufs === null ||
        layers.length === 0 ||
        soft.middleHz <= 0 ||
        hard.middleHz <= 0 ||
        !step.to
      )
        return [];
      const octaves = Math.log2(hard.middleHz / soft.middleHz) - (hard.key - soft.key) / 12;
      return Math.abs(octaves) <= threshold('octaves') ||
        (step.along === 'key' && layers.every((layer) => isRow(rig, patch, layer)))
        ? []
        : [{ step, octaves, size: Math.abs(octaves) }];
    });
    for (const group of together(wrong)) {
      const [{ step, octaves }] = group;
      const { soft, hard } = step;
      const steps = group.map((each) => each.step);
      const layers = step.layerIds.map((id) => patch.layers.find((layer) => layer.id === id)!);
      yield {
        grade: 'measured',
        where: placeOf(patch.id, steps),
        hear: { strikes: [soft, hard].map(({ key, velocity }) => ({ key, velocity })), alone: step.layerIds },
        message: `${layers.length === 1 ? quoted(layers[0]) : named(layers)}: ${step.along === 'velocity' ? `${onKeys(steps)} between velocities ${soft.velocity} and ${hard.velocity}` : `from ${nameOfKey(soft.key, 4)} to ${nameOfKey(hard.key, 4)}`} the tone is ${told(Math.abs(octaves))} octaves ${octaves > 0 ? 'brighter' : 'darker'} at once.`,
        curve: {
          over: step.along,
          unit: 'Hz',
          points: [
            [soft[step.along], soft.middleHz],
            [hard[step.along], hard.middleHz],
          ],
          mark: hard[step.along],
        },
        fixes: crossing(steps, 16),
      };
    }
  },
};
