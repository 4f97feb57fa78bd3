import { updateSound } from '../../rig/edits/zones';
import { CP, quoted, told, type Fix, type Rule } from '../finding';
import type { StepHeard } from '../heard';
import { evened, onKeys, placeOf, riseOf, together } from '../steps';

/** The zones on both sides of a border change their velocities, where there is one on each. */
function swapped(steps: readonly StepHeard[]): Fix[] {
  const pairs = steps.flatMap(({ from, to }) => {
    const a = from!.zones.filter((place) => !to!.zones.includes(place));
    const b = to!.zones.filter((place) => !from!.zones.includes(place));
    return a.length === 1 && b.length === 1 ? [[a[0], b[0]] as const] : [];
  });
  if (pairs.length < steps.length) return [];
  const { soundId } = steps[0].to!;
  return [
    {
      label: steps.length === 1 ? 'Let the two change places' : `Let them change places on all ${steps.length} keys`,
      safe: false,
      edit: (old) =>
        updateSound(old, soundId, (sound) => ({
          ...sound,
          zones: sound.zones.map((zone, place) => {
            const pair = pairs.find((each) => each.includes(place));
            return pair ? { ...zone, velocity: sound.zones[pair[0] === place ? pair[1] : pair[0]].velocity } : zone;
          }),
        })),
    },
  ];
}

/** Dynamics in the wrong order: a harder strike that is softer. */
export const wrongOrder: Rule = {
  id: 'wrong-order',
  shelf: 'strikes',
  title: 'Dynamics in the wrong order',
  why: 'Whoever plays harder and hears less stops trusting the keys.',
  help: 'Where a harder strike takes over with another sample and is softer than the one before, recordings were laid out in the wrong order, or one is too soft.',
  thresholds: {
    lu: { label: 'how much softer the harder may be', unit: 'LU', value: 2.5, low: 0, high: 12, source: CP },
  },
  *find({ patch, threshold, heard }) {
    const wrong = (heard?.steps ?? []).flatMap((step) => {
      const rise = riseOf(step);
      return step.along !== 'velocity' ||
        rise === undefined ||
        !step.from ||
        !step.to ||
        rise >= -threshold('lu') ||
        !patch.layers.some(({ id }) => id === step.layerIds[0])
        ? []
        : [{ step, rise, size: -rise }];
    });
    for (const group of together(wrong)) {
      const [{ step, rise }] = group;
      const steps = group.map((each) => each.step);
      const layer = patch.layers.find(({ id }) => id === step.layerIds[0])!;
      yield {
        grade: 'measured',
        where: placeOf(patch.id, steps),
        hear: { strikes: [step.soft, step.hard].map(({ key, velocity }) => ({ key, velocity })), alone: [layer.id] },
        message: `${quoted(layer)} ${onKeys(steps)}: velocity ${step.hard.velocity} is ${steps.length > 1 ? 'up to ' : ''}${told(-rise)} LU softer than velocity ${step.soft.velocity}.`,
        curve: {
          over: 'velocity',
          unit: 'LUFS',
          points: [step.soft, step.hard].map(({ velocity, lufs }) => [velocity, lufs!] as const),
          mark: step.hard.velocity,
        },
        fixes: [
          ...swapped(steps),
          ...evened(
            patch,
            group.map((each) => ({ step: each.step, db: -each.rise })),
          ),
        ],
      };
    }
  },
};
