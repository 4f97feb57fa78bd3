import { hasZones } from '../rig/parameters';
import { hasPath } from '../engine/program/compiledPath';
import { groupParam, soundsOf } from '../rig/defaults';
import type { Layer, LayerWindow, Patch, Rig, Sound, Zone } from '../rig/schema';

/**
 * What a layer could answer whatever its further windows, routes and movers do: rules about keys ask this, and not what
 * sounds while the wheel rests.
 */

export const windowsOn = (patch: Patch, layer: Layer, source: string): LayerWindow[] =>
  [...layer.windows, ...(patch.groups.find(({ id }) => id === layer.groupId)?.windows ?? [])].filter(
    (window) => window.source === source,
  );
export const within = (windows: readonly LayerWindow[], x: number): boolean =>
  windows.every(({ low, high }) => x >= low && x <= high);

/** Semitones by which a layer and its group move what is played. */
export const transposeOf = (patch: Patch, layer: Layer): number => {
  const group = patch.groups.find(({ id }) => id === layer.groupId);
  return Math.min(48, Math.max(-48, layer.transpose + (group ? groupParam(group, 'transpose') : 0)));
};

/** Whether what a key becomes is only known when it is played: a path, or a route on the transposition. */
export const isMoving = (patch: Patch, layer: Layer): boolean =>
  hasPath(layer.path) ||
  patch.routes.some(
    ({ on, target }) =>
      on && (target === `layer.${layer.id}.transpose` || target === `group.${layer.groupId}.transpose`),
  );

export const soundsIn = (rig: Rig, layer: Layer): Sound[] =>
  soundsOf(layer).flatMap((id) => rig.sounds.find((sound) => sound.id === id) ?? []);

/**
 * The zones of a layer's sounds that a key reaches at a velocity; for oscillators, which answer everywhere, an empty
 * list where the key is heard and undefined where it is not.
 */
export function zonesAt(
  rig: Rig,
  patch: Patch,
  layer: Layer,
  key: number,
  velocity: number,
): { sound: Sound; zone: Zone; at: number }[] | undefined {
  if (!within(windowsOn(patch, layer, 'key'), key) || !within(windowsOn(patch, layer, 'velocity'), velocity))
    return undefined;
  const sounds = soundsIn(rig, layer);
  const played = key + transposeOf(patch, layer);
  if (played < 0 || played > 127) return undefined;
  const found = sounds.flatMap((sound) =>
    !hasZones(sound.kind)
      ? []
      : sound.zones.flatMap((zone, at) =>
          zone.trigger === 'attack' &&
          played >= zone.key.low &&
          played <= zone.key.high &&
          velocity >= zone.velocity.low &&
          velocity <= zone.velocity.high
            ? [{ sound, zone, at }]
            : [],
        ),
  );
  return found.length > 0 || sounds.some(({ kind }) => !hasZones(kind)) || isMoving(patch, layer) ? found : undefined;
}

/** Whether a layer that is on could answer a key at any of some velocities. */
export const answers = (rig: Rig, patch: Patch, layer: Layer, key: number, velocities: readonly number[]): boolean =>
  layer.on &&
  (patch.groups.find(({ id }) => id === layer.groupId)?.on ?? true) &&
  velocities.some((velocity) => zonesAt(rig, patch, layer, key, velocity) !== undefined);

/** Softest to hardest strike of the controller, a few of them. */
export const strikesOfController = ({ controllers: { velocityLow, velocityHigh } }: Rig): number[] => [
  ...new Set([0, 0.25, 0.5, 0.75, 1].map((share) => Math.round(velocityLow + share * (velocityHigh - velocityLow)))),
];

/**
 * Whether a layer is a pad: a group on one key, or a sound that keeps its pitch whatever the key. Dead keys around it
 * are meant.
 */
export const isPad = (rig: Rig, patch: Patch, layer: Layer): boolean =>
  windowsOn(patch, layer, 'key').some(({ low, high }) => low === high) ||
  soundsIn(rig, layer).some(
    ({ zones }) => zones.length > 0 && zones.every(({ pitchPerKey, key }) => pitchPerKey === 0 || key.low === key.high),
  );

/** Runs of whole numbers, each from its first to its last. */
export function runsOf(list: readonly number[]): [number, number][] {
  const runs: [number, number][] = [];
  for (const x of list) {
    const last = runs[runs.length - 1];
    if (last && x === last[1] + 1) last[1] = x;
    else runs.push([x, x]);
  }
  return runs;
}
