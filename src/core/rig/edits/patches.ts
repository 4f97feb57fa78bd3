import { newEntry, newPatch, newSetlist } from '../defaults';
import { copyName, freeName, heldName } from '../names';
import type { Entry, Patch, Rig, Setlist } from '../schema';
import { updatePatch } from './layers';
import { MOST_ENTRIES } from '../limits';

/** Edits of the rig as a whole: pure functions; what setlists and controllers say of a patch goes with it. */

/** The setlist of the next show, changed; a rig without one gets one. */
const inSetlist = (rig: Rig, change: (setlist: Setlist) => Setlist): Pick<Rig, 'setlists' | 'setlist'> => {
  const there = rig.setlists.find(({ id }) => id === rig.setlist);
  if (there)
    return { setlists: rig.setlists.map((each) => (each === there ? change(each) : each)), setlist: rig.setlist };
  const id = rig.setlists.some((each) => each.id === 'show') ? `show-${rig.setlists.length + 1}` : 'show';
  return { setlists: [...rig.setlists, change(newSetlist(id, 'Show'))], setlist: id };
};

const entryId = (rig: Rig, patchId: string): string => {
  const used = new Set(rig.setlists.flatMap(({ entries }) => entries.map(({ id }) => id)));
  let id = `entry-${patchId}`.slice(0, 70);
  for (let n = 2; used.has(id); n++) id = `${`entry-${patchId}`.slice(0, 70)}-${n}`;
  return id;
};

/** A patch at the end of the rig. It joins no show by itself: who has one in rehearsal says what belongs to it. */
export const withPatch = (rig: Rig, patch: Patch): Rig => ({ ...rig, patches: [...rig.patches, patch] });

/** The same, and at the end of the setlist as well: for a rig that is made in one go. */
export const withPatchInShow = (rig: Rig, patch: Patch): Rig => ({
  ...withPatch(rig, patch),
  ...inSetlist(rig, (setlist) =>
    setlist.entries.length < MOST_ENTRIES
      ? { ...setlist, entries: [...setlist.entries, newEntry(entryId(rig, patch.id), 'patch', [patch.id])] }
      : setlist,
  ),
});

/** What a new patch is called: by a number, so that no two are the same. */
export const freePatchName = ({ patches }: Pick<Rig, 'patches'>): string => freeName('New patch', patches);

/** An empty patch at the end of the rig. */
export const addPatch = (rig: Rig, id: string, name: string): Rig => withPatch(rig, newPatch(id, heldName(name)));

/** A copy right after the original; it joins no show by itself. */
export function duplicatePatch(rig: Rig, patchId: string, id: string): Rig {
  const original = rig.patches.find((patch) => patch.id === patchId);
  if (!original) return rig;
  const copy: Patch = { ...original, id, name: copyName(original.name) };
  return { ...rig, patches: rig.patches.flatMap((patch) => (patch === original ? [patch, copy] : [patch])) };
}

export const renamePatch = (rig: Rig, patchId: string, name: string): Rig =>
  heldName(name) === '' ? rig : updatePatch(rig, patchId, (patch) => ({ ...patch, name: heldName(name) }));

const withoutPatch = (entry: Entry, patchId: string): Entry[] => {
  if (!entry.patches.includes(patchId)) return [entry];
  const patches = entry.patches.filter((id) => id !== patchId);
  return patches.length === 0 ? [] : [{ ...entry, patches }];
};

export const deletePatch = (rig: Rig, patchId: string): Rig => ({
  ...rig,
  patches: rig.patches.filter((patch) => patch.id !== patchId),
  setlists: rig.setlists.map((setlist) => ({
    ...setlist,
    entries: setlist.entries.flatMap((entry) => withoutPatch(entry, patchId)),
  })),
  controllers: {
    ...rig.controllers,
    bindings: rig.controllers.bindings.filter(({ target }) => target !== `patch.${patchId}`),
  },
});
