import { newPatch, newRig } from '../../core/rig/defaults';
import { mergePatches } from '../../core/rig/edits/merge';
import { freePatchName, withPatch } from '../../core/rig/edits/patches';
import { heldName } from '../../core/rig/names';
import type { Patch, Rig } from '../../core/rig/schema';
import { patchBy, type Template } from '../../core/rig/templates';
import { addNewRig } from '../document/rigs';
import { edit, newId, store } from '../document/store';

/**
 * A patch to begin with, named at once, in the rig in view or in a new one: empty, or by a template with the sounds of
 * the rig in view, those first that its patch in view does not play. Gives its id.
 */
export async function startPatch(
  given: string,
  ownRig: boolean,
  { template, inView }: { template?: Template; inView?: Patch },
): Promise<string> {
  const rig = store.getState().rig.rig!;
  const id = newId();
  const name = heldName(given) || (ownRig ? 'New patch' : freePatchName(rig));
  const made = (template && patchBy(template, id, freshSounds(rig, inView), newId)) ?? newPatch(id, name);
  const patch = { ...made, name };
  if (ownRig) {
    const whole = mergePatches(newRig(newId(), 'My rig'), { ...rig, patches: [patch] }, [id], newId);
    await addNewRig(whole.rig);
  } else store.dispatch(edit((old) => withPatch(old, patch)));
  return id;
}

/** The sounds of a rig; those that a patch plays come last. */
const freshSounds = ({ sounds }: Rig, inView?: Patch): Rig['sounds'] => {
  const plays = (soundId: string) => Number(inView?.layers.some((layer) => layer.soundId === soundId) ?? false);
  return [...sounds].sort((a, b) => plays(a.id) - plays(b.id));
};
