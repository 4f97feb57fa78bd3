import type { KeyMapping, Tuning } from '../../music/tunings';
import { EQUAL, HIGHEST_A4_HZ, LOWEST_A4_HZ } from '../../music/tunings';
import type { Layer, Patch, Rig } from '../schema';
import { updateLayer, updatePatch } from './layers';

/** Where a tuning is said: for all, for a patch, for one of its layers. */
export type TuningPlace =
  { of: 'rig' } | { of: 'patch'; patchId: string } | { of: 'layer'; patchId: string; layerId: string };

const heldPitch = (a4: number): number => Math.min(HIGHEST_A4_HZ, Math.max(LOWEST_A4_HZ, Math.round(a4 * 10) / 10));

/** Concert pitch in Hz, held within what an orchestra plays at, to a tenth. */
export const setConcertPitch = (rig: Rig, a4: number): Rig => ({ ...rig, pitch: { ...rig.pitch, a4: heldPitch(a4) } });

/** The same of one patch; null: as the rig. */
export const setPatchPitch = (rig: Rig, patchId: string, a4: number | null): Rig =>
  updatePatch(rig, patchId, (patch) => ({ ...patch, a4: a4 === null ? null : heldPitch(a4) }));

/** Where the A of a patch is, in Hz. */
export const a4Of = (rig: Pick<Rig, 'pitch'>, patch: Pick<Patch, 'a4'> | null | undefined): number =>
  patch?.a4 ?? rig.pitch.a4;

/** Another tuning there; null: as what is above it. */
export function setTuning(rig: Rig, place: TuningPlace, tuning: Tuning | null): Rig {
  if (place.of === 'rig') return { ...rig, pitch: { ...rig.pitch, tuning: tuning ?? EQUAL } };
  return updatePatch(rig, place.patchId, (patch) =>
    place.of === 'patch' ? { ...patch, tuning } : updateLayer(patch, place.layerId, (layer) => ({ ...layer, tuning })),
  );
}

/** Whether a layer stays as it was recorded, whatever all else is tuned to. */
export const setStays = (rig: Rig, patchId: string, layerId: string, staysEqual: boolean): Rig =>
  updatePatch(rig, patchId, (patch) => updateLayer(patch, layerId, (layer) => ({ ...layer, staysEqual })));

/** A scale of a file as a tuning. */
export const ownScale = (
  { description, degrees }: { description: string; degrees: readonly number[] },
  before: Tuning = EQUAL,
): Tuning => ({ ...before, scale: 'own', name: description.slice(0, 200), degrees: [...degrees], mapping: null });

export const withMapping = (tuning: Tuning, mapping: KeyMapping | null): Tuning => ({ ...tuning, mapping });

/** A patch that says nothing of tunings itself; layers that stay as they were recorded stay. */
export const saysNoTuning = (patch: Patch): Patch => ({
  ...patch,
  tuning: null,
  a4: null,
  layers: patch.layers.map((layer) => ({ ...layer, tuning: null })),
});

/** The tuning that holds for a patch, or for a layer in it; null: the layer stays as it was recorded. */
export const tuningOf = (rig: Rig, patch: Patch, layer?: Layer): Tuning | null =>
  layer?.staysEqual ? null : (layer?.tuning ?? patch.tuning ?? rig.pitch.tuning);
