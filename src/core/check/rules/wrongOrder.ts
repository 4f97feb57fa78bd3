import { nameOfKey } from '../../music/noteNames';
import { updateSound } from '../../rig/edits/zones';
import { CP, quoted, told, type Rule } from '../finding';
import { louder, riseOf } from '../steps';

/** Dynamics in the wrong order: a harder strike that is softer. */
export const wrongOrder: Rule = {
  id: 'wrong-order', shelf: 'strikes', title: 'Dynamics in the wrong order', why: 'Whoever plays harder and hears less stops trusting the keys.',
  help: 'Where a harder strike takes over with another sample and is softer than the one before, recordings were laid out in the wrong order, or one is too soft.',
  thresholds: { lu: { label: 'how much softer the harder may be', unit: 'LU', value: 1.5, low: 0, high: 12, source: CP } },
  *find({ patch, threshold, heard }) {
    for (const step of heard?.steps ?? []) {
      const rise = riseOf(step);
      const layer = patch.layers.find(({ id }) => id === step.layerIds[0]);
      if (step.along !== 'velocity' || rise === undefined || !layer || !step.from || !step.to || rise >= -threshold('lu')) continue;
      const { from, to } = step;
      const a = from.zones.filter((place) => !to.zones.includes(place));
      const b = to.zones.filter((place) => !from.zones.includes(place));
      yield {
        grade: 'measured', where: { patchId: patch.id, layerIds: [layer.id], soundId: to.soundId, zones: to.zones, keys: [step.soft.key, step.hard.key], velocities: [step.soft.velocity, step.hard.velocity] },
        hear: { strikes: [step.soft, step.hard].map(({ key, velocity }) => ({ key, velocity })), alone: [layer.id] },
        message: `${quoted(layer)} on ${nameOfKey(step.soft.key, 4)}: velocity ${step.hard.velocity} is ${told(-rise)} LU softer than velocity ${step.soft.velocity}.`,
        curve: { over: 'velocity', unit: 'LUFS', points: [step.soft, step.hard].map(({ velocity, lufs }) => [velocity, lufs!] as const), mark: step.hard.velocity },
        fixes: [
          ...(a.length === 1 && b.length === 1 ? [{ label: 'Let the two change places', safe: false, edit: (old: Parameters<typeof updateSound>[0]) => updateSound(old, to.soundId, (sound) => ({ ...sound, zones: sound.zones.map((zone, place) => (place === a[0] ? { ...zone, velocity: sound.zones[b[0]].velocity } : place === b[0] ? { ...zone, velocity: sound.zones[a[0]].velocity } : zone)) })) }] : []),
          ...louder(patch, step, -rise),
        ],
      };
    }
  },
};
