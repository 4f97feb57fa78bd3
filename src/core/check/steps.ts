import { setParam, updatePatch } from '../rig/edits/layers';
import { paramOf } from '../rig/defaults';
import { updateSound, updateZones } from '../rig/edits/zones';
import type { Patch, Rig } from '../rig/schema';
import { nameOfKey } from '../music/noteNames';
import type { Fix, Place } from './finding';
import type { StepHeard } from './heard';

/** What rules about steps between neighbours share. */

/**
 * Steps along velocities that lie at the same border of the same layers are one finding; along keys each is one of its
 * own. The first of each list is the worst.
 */
export function together<S extends { step: StepHeard; size: number }>(steps: readonly S[]): S[][] {
  const groups = new Map<string, S[]>();
  for (const each of steps) {
    const { along, layerIds, soft } = each.step;
    const name =
      along === 'velocity' ? `${layerIds.join(' ')} ${soft.velocity}` : `${layerIds.join(' ')} key ${soft.key}`;
    groups.set(name, [...(groups.get(name) ?? []), each]);
  }
  return [...groups.values()].map((list) => [...list].sort((a, b) => b.size - a.size));
}

/** Where a group of steps is: the places of all its zones, keys from the lowest to the highest. */
export function placeOf(patchId: string, steps: readonly StepHeard[]): Place {
  const [first] = steps;
  const keys = steps.flatMap(({ soft, hard }) => [soft.key, hard.key]);
  return {
    patchId,
    layerIds: first.layerIds,
    ...(first.to ? { soundId: first.to.soundId, zones: [...new Set(steps.flatMap(({ to }) => to?.zones ?? []))] } : {}),
    keys: [Math.min(...keys), Math.max(...keys)],
    velocities: [first.soft.velocity, first.hard.velocity],
  };
}

/** `on C4`, or `on 7 keys from C4`. */
export const onKeys = (steps: readonly StepHeard[]): string => {
  const low = Math.min(...steps.map(({ soft }) => soft.key));
  return steps.length === 1 ? `on ${nameOfKey(low, 4)}` : `on ${steps.length} keys from ${nameOfKey(low, 4)}`;
};

/** One edit after another. */
const chained = (label: string, fixes: readonly Fix[]): Fix[] =>
  fixes.length === 0 ? [] : [{ label, safe: false, edit: (rig) => fixes.reduce((now, { edit }) => edit(now), rig) }];

/** Each of several steps made even; of one, that one. `db`: by how much what is reached must be louder. */
export function evened(patch: Patch, steps: readonly { step: StepHeard; db: number }[]): Fix[] {
  const [worst] = steps;
  const own = louder(patch, worst.step, worst.db);
  return steps.length === 1
    ? own
    : chained(
        `Even out all ${steps.length} keys`,
        steps.flatMap(({ step, db }) => louder(patch, step, db)),
      );
}

/** By how much the second is louder than the first, in LU; undefined where one is silent. */
export const riseOf = ({ soft, hard }: StepHeard): number | undefined =>
  soft.lufs === null || hard.lufs === null ? undefined : hard.lufs - soft.lufs;

/** Makes what is reached so many dB louder (softer below 0): the zones of one layer, or the layers that come in. */
export function louder(patch: Patch, step: StepHeard, db: number): Fix[] {
  const by = Math.round(db * 10) / 10;
  const word = `${by < 0 ? 'Lower' : 'Raise'} ${step.along === 'velocity' ? 'the harder' : 'the upper'} ${step.to ? (step.to.zones.length === 1 ? 'zone' : 'zones') : 'layer'} by ${Math.abs(by)} dB`;
  if (step.to) {
    const { soundId } = step.to;
    const zones = step.to.zones.filter((place) => !step.from!.zones.includes(place));
    return [
      {
        label: word,
        safe: false,
        edit: (old: Rig) =>
          updateSound(old, soundId, (sound) =>
            updateZones(sound, new Set(zones), (zone) => ({
              ...zone,
              gain: Math.max(-96, Math.min(48, zone.gain + by)),
            })),
          ),
      },
    ];
  }
  const ids = step.hard.layerIds.filter((id) => !step.soft.layerIds.includes(id));
  return [
    {
      label: word,
      safe: false,
      edit: (old: Rig) =>
        updatePatch(old, patch.id, (value) =>
          ids.reduce((left, id) => {
            const layer = left.layers.find((each) => each.id === id);
            return layer ? setParam(left, id, 'level', Math.max(-60, Math.min(6, paramOf(layer, 'level') + by))) : left;
          }, value),
        ),
    },
  ];
}

/**
 * Fades the zones on both sides of a border along velocities into one another, over so many velocities, on every key of
 * some steps.
 */
export const crossing = (steps: readonly StepHeard[], over: number): Fix[] =>
  chained(
    `Cross ${steps.length === 1 ? 'the two' : `all ${steps.length}`} over ${over} velocities`,
    steps.flatMap((step) => crossed(step, over)),
  );

function crossed(step: StepHeard, over: number): Fix[] {
  if (!step.from || !step.to || step.along !== 'velocity') return [];
  const { soundId } = step.to;
  const border = step.soft.velocity;
  const left = step.from.zones.filter((place) => !step.to!.zones.includes(place));
  const come = step.to.zones.filter((place) => !step.from!.zones.includes(place));
  const half = over / 2;
  return [
    {
      label: '',
      safe: false,
      edit: (old: Rig) =>
        updateSound(old, soundId, (sound) => ({
          ...sound,
          zones: sound.zones.map((zone, place) => {
            const { velocity } = zone;
            if (left.includes(place) && velocity.high === border)
              return {
                ...zone,
                velocity: {
                  ...velocity,
                  high: Math.min(127, border + half),
                  fadeOut: Math.min(over, border + half - velocity.low),
                },
              };
            if (come.includes(place) && velocity.low === border + 1)
              return {
                ...zone,
                velocity: {
                  ...velocity,
                  low: Math.max(1, border + 1 - half),
                  fadeIn: Math.min(over, velocity.high - border - 1 + half),
                },
              };
            return zone;
          }),
        })),
    },
  ];
}
