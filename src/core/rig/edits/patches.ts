import { newPatch } from '../defaults';
import { copyName, heldName } from '../names';
import type { Patch, Rig } from '../schema';
import { updatePatch } from './layers';

/** Edits of the rig as a whole: pure functions; a setlist entry goes with its patch. */

/** An empty patch at the end of the rig and of the setlist. */
export const addPatch = (rig: Rig, id: string, name: string): Rig =>
  ({ ...rig, patches: [...rig.patches, newPatch(id, heldName(name))], setlist: [...rig.setlist, id] });

/** A copy right after the original. */
export function duplicatePatch(rig: Rig, patchId: string, id: string): Rig {
  const original = rig.patches.find((patch) => patch.id === patchId);
  if (!original) return rig;
  const copy: Patch = { ...original, id, name: copyName(original.name) };
  return {
    ...rig,
    patches: rig.patches.flatMap((patch) => (patch === original ? [patch, copy] : [patch])),
    setlist: rig.setlist.flatMap((entry) => (entry === patchId ? [entry, id] : [entry])),
  };
}

export const renamePatch = (rig: Rig, patchId: string, name: string): Rig => (heldName(name) === '' ? rig : updatePatch(rig, patchId, (patch) => ({ ...patch, name: heldName(name) })));

export const deletePatch = (rig: Rig, patchId: string): Rig => ({
  ...rig,
  patches: rig.patches.filter((patch) => patch.id !== patchId),
  setlist: rig.setlist.filter((entry) => entry !== patchId),
});
