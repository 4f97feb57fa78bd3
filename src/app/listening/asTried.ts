import { put } from '../../core/rig/edits/put';
import { updateLayer } from '../../core/rig/edits/layers';
import type { Patch, Rig } from '../../core/rig/schema';
import type { Trying } from './trying';

/** Whether the place where something is tried is still in the patch; a pad is made where there is none. */
export const isThere = (patch: Patch, { at }: Trying): boolean =>
  at.to === 'pad' || patch.layers.some(({ id }) => id === at.layerId);

/**
 * The rig and the patch as they are heard while something is tried; what is heard of the patch may be less than what
 * the rig has.
 */
export function asTried(rig: Rig, patch: Patch, { at, candidate, levelDb }: Trying): { rig: Rig; patch: Patch } {
  const heard = { ...rig, patches: rig.patches.map((each) => (each.id === patch.id ? patch : each)) };
  let made = 0;
  const tried = put(heard, candidate, { ...at, patchId: patch.id }, () => `tried-${made++}`);
  const now = tried.patches.find(({ id }) => id === patch.id) ?? patch;
  const levelled =
    at.to === 'pad'
      ? now
      : updateLayer(now, at.layerId, (layer) => {
          const level = patch.layers.find(({ id }) => id === at.layerId)?.params.level ?? 0;
          return { ...layer, params: { ...layer.params, level: Math.min(6, Math.max(-59, level + levelDb)) } };
        });
  return { rig: { ...tried, patches: rig.patches }, patch: levelled };
}

/** It stays from now on: what the rig does not have comes in with it, under an id of its own. */
export const keepTried = (rig: Rig, { patchId, at, candidate }: Trying, newId: () => string): Rig =>
  put(rig, candidate, { ...at, patchId }, newId);
