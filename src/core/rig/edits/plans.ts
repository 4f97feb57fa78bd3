import type { Plan, PlanFile, PlanRow } from '../../mapping/planModel';
import { addLayer, updatePatch, updateLayer } from './layers';
import { addSamples, addSound, addZones, updateSound } from './zones';
import { newZone, plainLoop } from '../defaults';
import type { Layer, Rig, Sample, Zone } from '../schema';
import { LONGEST_NAME, MOST_CHOICES } from '../limits';

const shortName = (name: string): string => name.slice(0, LONGEST_NAME);

/** The zone a row of a plan stands for. */
export function zoneOfRow(row: PlanRow, file: PlanFile): Zone {
  const zone = newZone(file.sampleId, row.root);
  return {
    ...zone,
    tune: Math.max(-1200, Math.min(1200, row.tuneCents)),
    pitchPerKey: row.pitchPerKey,
    key: { ...zone.key, low: row.keyLow, high: row.keyHigh },
    velocity: {
      low: row.velocityLow,
      high: row.velocityHigh,
      fadeIn: row.velocityFadeIn,
      fadeOut: row.velocityFadeOut,
      shape: 'sine',
    },
    loop: row.fullLength ? null : plainLoop(file.loop),
    playback: row.fullLength ? 'full-length' : 'while-held',
    alternate: row.alternate,
    params: row.levelFollows === null ? zone.params : { ...zone.params, velocityToLevel: row.levelFollows },
  };
}

/**
 * What a layer that plays some rows has from the start: where all of them say what velocity does to the level, so does
 * its strip.
 */
export function paramsOfRows(rows: readonly Pick<PlanRow, 'levelFollows'>[]): Layer['params'] {
  const [first] = rows;
  return first && first.levelFollows !== null && rows.every(({ levelFollows }) => levelFollows === first.levelFollows)
    ? { velocityToLevel: first.levelFollows }
    : {};
}

export interface PlanTarget {
  /** A sound to add the zones to; null: a new one. */
  soundId: string | null;
  name: string;
  /** Ids for new sounds and layers, as many as may be needed. */
  newId: () => string;
  /** A patch that gets a layer for each new sound; null: none does. */
  patchId: string | null;
  /** Each dynamic becomes a sound and a layer of its own, its velocities the layer's window. */
  dynamicsApart: boolean;
  /**
   * The sounds become a list from which one layer chooses: those of the plan, or of a plan with one sound each of its
   * files, over all keys.
   */
  oneList?: boolean;
  /** How many layers get that list, each with a choice of its own; 1 when left out. */
  listLayers?: number;
}

/** Applies a plan as one edit. Gives the rig and the ids of the sounds that got zones. */
export function applyPlan(
  rig: Rig,
  plan: Plan,
  files: readonly PlanFile[],
  samples: readonly Sample[],
  target: PlanTarget,
): { rig: Rig; soundIds: string[] } {
  const rows = plan.rows.filter((row) => row.placed);
  const used = new Set(rows.map((row) => files[row.file].sampleId));
  let next = addSamples(
    rig,
    samples.filter((sample) => used.has(sample.id)),
  );
  const soundIds: string[] = [];
  const zones = (some: readonly PlanRow[]) => some.map((row) => zoneOfRow(row, files[row.file]));
  if (target.soundId !== null) {
    return {
      rig: updateSound(next, target.soundId, (sound) => addZones(sound, zones(rows))),
      soundIds: [target.soundId],
    };
  }
  const bring = (name: string, some: readonly PlanRow[], asLayerWindow: boolean) => {
    const soundId = target.newId();
    const layerId = target.newId();
    const made = zones(some);
    const own = asLayerWindow && some.length > 0 ? made[0].velocity : null;
    soundIds.push(soundId);
    next = addSound(
      next,
      soundId,
      name,
      own
        ? made.map((zone) => ({ ...zone, velocity: { ...zone.velocity, low: 1, high: 127, fadeIn: 0, fadeOut: 0 } }))
        : made,
    );
    if (target.patchId === null) return;
    next = updatePatch(next, target.patchId, (patch) => {
      const added = updateLayer(addLayer(patch, layerId, name, soundId), layerId, (layer) => ({
        ...layer,
        params: { ...layer.params, ...paramsOfRows(some) },
      }));
      return own
        ? updateLayer(added, layerId, (layer) => ({
            ...layer,
            windows: layer.windows.map((window) => (window.source === 'velocity' ? { ...window, ...own } : window)),
          }))
        : added;
    });
  };
  if (target.oneList) {
    const groups =
      plan.sounds.length > 0
        ? plan.sounds.map((name, sound) => ({ name, some: rows.filter((row) => row.sound === sound), whole: false }))
        : rows.slice(0, MOST_CHOICES).map((row) => ({
            name: files[row.file].path
              .split('/')
              .pop()!
              .replace(/\.\w+$/, ''),
            some: [row],
            whole: true,
          }));
    const made = groups
      .slice(0, MOST_CHOICES)
      .filter(({ some }) => some.length > 0)
      .map(({ name, some, whole }) => {
        const soundId = target.newId();
        const all = zones(some);
        next = addSound(
          next,
          soundId,
          shortName(name),
          whole
            ? all.map((zone) => ({
                ...zone,
                key: { ...zone.key, low: 0, high: 127, fadeIn: 0, fadeOut: 0 },
                velocity: { ...zone.velocity, low: 1, high: 127, fadeIn: 0, fadeOut: 0 },
              }))
            : all,
        );
        return soundId;
      });
    soundIds.push(...made);
    if (made.length === 0) return { rig: next, soundIds };
    const count = target.listLayers ?? 1;
    for (let n = 0; n < count && target.patchId !== null; n++) {
      const layerId = target.newId();
      next = updatePatch(next, target.patchId, (patch) =>
        updateLayer(
          addLayer(patch, layerId, shortName(count > 1 ? `${target.name} ${n + 1}` : target.name), made[0]),
          layerId,
          (layer) => ({ ...layer, list: made.length > 1 ? made : [] }),
        ),
      );
    }
    return { rig: next, soundIds };
  }
  if (plan.sounds.length > 1) {
    plan.sounds.forEach((name, sound) =>
      bring(
        shortName(name),
        rows.filter((row) => row.sound === sound),
        false,
      ),
    );
  } else if (target.dynamicsApart && plan.dynamics.length > 1) {
    plan.dynamics.forEach((dynamic, d) =>
      bring(
        shortName(`${target.name} ${dynamic}`),
        rows.filter((row) => row.dynamic === d),
        true,
      ),
    );
  } else bring(shortName(target.name), rows, false);
  return { rig: next, soundIds };
}
