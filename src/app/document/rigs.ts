import type { Archive } from '../../core/formats/rigArchive';
import { newRig } from '../../core/rig/defaults';
import { copyName, heldName } from '../../core/rig/names';
import { sealOf } from '../../core/rig/seal';
import type { Rig } from '../../core/rig/schema';
import { patchBefore, rememberPatch } from './inSight';
import { reading } from './reading';
import { rigSlice } from './rigSlice';
import { newId, notice, store } from './store';
import { toldSlice } from './toldSlice';
import {
  deleteRig,
  hasSample,
  keepsNothing,
  listRigs,
  loadRig,
  loadState,
  makeCurrent,
  rawRig,
  saveArchive,
  saveRig,
} from './storage/database';
import type { BigArchive } from './storage/bigArchive';
import { expectFromServer, goOnFetching, takeIn, type Folder } from './storage/demoSamples';
import { RIG_VERSION } from '../../core/rig/limits';

/** The rigs in this browser: which is open, in which tab, and what can be done with the others. */

let release: (() => void) | undefined;
let heldId: string | undefined;
const lockOf = (rigId: string): string => `wavicle-rig-${rigId}`;

/**
 * Claims a rig for this tab. When another tab has it, this one opens it read-only, and takes over as soon as the other
 * is closed.
 */
export async function holdRig(rigId: string): Promise<void> {
  if (heldId === rigId) return;
  release?.();
  heldId = rigId;
  // What is only in this page's memory no other tab can have.
  if (keepsNothing()) {
    store.dispatch(rigSlice.actions.readOnlyChanged(false));
    return;
  }
  const claimed = await claim(rigId, { ifAvailable: true });
  store.dispatch(rigSlice.actions.readOnlyChanged(!claimed));
  if (claimed) return;
  void claim(rigId, {}).then(async (got) => {
    if (got && heldId === rigId) await takeOverNow(rigId, 'The other tab was closed: this one can edit now.');
  });
}

/** The same for one that was held as something else, or not at all. */
export function holdAnew(rigId: string): Promise<void> {
  heldId = undefined;
  return holdRig(rigId);
}

/**
 * Waits for the lock of a rig and holds it from then on. Gives whether it was got; loses it to a tab that takes over.
 */
function claim(rigId: string, options: LockOptions): Promise<boolean> {
  return new Promise<boolean>((resolve) => {
    navigator.locks
      .request(lockOf(rigId), options, (lock) => {
        resolve(lock !== null);
        return lock
          ? new Promise<void>((done) => {
              release = done;
            })
          : undefined;
      })
      .catch(() => {
        // Taken by another tab, which edits from now on.
        resolve(false);
        if (heldId !== rigId) return;
        store.dispatch(rigSlice.actions.readOnlyChanged(true));
        void claim(rigId, {}).then(async (got) => {
          if (got && heldId === rigId) await takeOverNow(rigId, 'The other tab was closed: this one can edit now.');
        });
      });
  });
}

async function takeOverNow(rigId: string, text: string): Promise<void> {
  const rig = await loadRig(rigId);
  store.dispatch(rigSlice.actions.readOnlyChanged(false));
  if (rig?.id === rigId) store.dispatch(rigSlice.actions.opened(rig));
  store.dispatch(notice('info', text));
}

/** Takes the rig in view away from the tab that has it; that one becomes read-only. */
export async function takeOver(): Promise<void> {
  const rigId = heldId;
  if (rigId === undefined) return;
  if (await claim(rigId, { steal: true }))
    await takeOverNow(rigId, 'This tab edits now; the other one has become read-only.');
}

/** Shows a kept rig. */
export async function takeUp(rig: Rig): Promise<void> {
  await holdRig(rig.id);
  store.dispatch(rigSlice.actions.opened(rig));
}

/** A name that no other kept rig has. */
export async function freeName(name: string, ownId: string): Promise<string> {
  const names = new Set((await listRigs()).filter(({ id }) => id !== ownId).map((entry) => entry.name));
  let out = heldName(name) || 'Rig';
  for (let n = 2; names.has(out); n++) out = `${heldName(name).slice(0, 190)} (${n})`;
  return out;
}

/** Opens an archive as one more rig beside those that are there; it is stored first, all or nothing. */
export async function addRig(archive: Archive): Promise<Rig> {
  const there = (await listRigs()).some(({ id }) => id === archive.rig.id);
  const id = there ? newId() : archive.rig.id;
  const rig: Rig = { ...archive.rig, id, name: await freeName(archive.rig.name, id) };
  await saveArchive({ rig, wavs: archive.wavs });
  await takeUp(rig);
  return rig;
}

/**
 * Opens a large archive as one more rig: at once, with the samples of the patch in view first; the others are taken in
 * while one plays.
 */
export async function addBigRig({ rig: given, sample }: BigArchive): Promise<Rig> {
  const there = (await listRigs()).some(({ id }) => id === given.id);
  const id = there ? newId() : given.id;
  const rig: Rig = { ...given, id, name: await freeName(given.name, id) };
  await saveRig(rig);
  const missing = [];
  for (const each of rig.samples) if (!(await hasSample(each.id))) missing.push(each.id);
  const taken = takeIn(missing, sample, (left) =>
    store.dispatch(
      toldSlice.actions.busySet(
        left > 0
          ? `Taking in “${rig.name}”: ${left} of ${missing.length} samples to come; it plays already, leave this page open`
          : null,
      ),
    ),
  );
  void taken.then((bad) => {
    if (bad.length > 0)
      store.dispatch(
        notice(
          'problem',
          `${bad.length} ${bad.length === 1 ? 'sample' : 'samples'} of “${rig.name}” could not be read from the file: ${rig.samples.find((each) => each.id === bad[0])?.name ?? bad[0]}${bad.length > 1 ? ' and others' : ''}. Their zones stay silent.`,
        ),
      );
    else store.dispatch(notice('info', `All samples of “${rig.name}” are kept in this browser.`));
  });
  await takeUp(rig);
  return rig;
}

/** A rig that comes along, as the server has it. */
export async function rigAtServer(folder: Folder): Promise<{ rig: Rig; opensOn?: string }> {
  const answer = await fetch(`/${folder}/rig.json`);
  if (!answer.ok)
    throw new Error(
      folder === 'demo'
        ? 'the demo rig is not on the server; start it with “npm start”'
        : 'the store is not on the server yet: after the first start it takes a minute or two until it is made',
    );
  // Checked when it was made; one that does not look like it is checked here.
  const { seal, opensOn, rig } = (await answer.json()) as { seal: number; opensOn?: string; rig: unknown };
  const isAsMade = sealOf(rig) === seal && (rig as Rig).version === RIG_VERSION;
  return { opensOn, rig: isAsMade ? (rig as Rig) : (await reading()).readRig(rig) };
}

/**
 * A rig that comes along as one more: its text first, and then its samples, those of the patch in view before the others.
 */
export async function openDemo(folder: Folder = 'demo'): Promise<void> {
  const { rig: demo, opensOn } = await rigAtServer(folder);
  const there = (await listRigs()).some(({ id }) => id === demo.id);
  const id = there ? newId() : demo.id;
  const rig: Rig = { ...demo, id, name: there ? await freeName(demo.name, id) : demo.name };
  expectFromServer(
    rig.samples.map((sample) => sample.id),
    folder,
  );
  if (opensOn !== undefined && patchBefore(id) === null) rememberPatch(id, opensOn);
  // Shown at once; it is kept like every edit, a moment later.
  await takeUp(rig);
  if (there || folder === 'store') void goOnFetching();
}

export async function openKept(id: string): Promise<void> {
  const rig = await loadRig(id);
  if (!rig) throw new Error('this rig is not in this browser any more');
  await makeCurrent(id);
  await takeUp(rig);
}

export const addEmptyRig = (): Promise<void> => addNewRig(newRig(newId(), 'New rig'));

/** One that was just made, as one more, by a name that is free. */
export async function addNewRig(made: Rig): Promise<void> {
  const rig = { ...made, name: await freeName(made.name, made.id) };
  await saveRig(rig);
  await takeUp(rig);
}

export async function duplicateRig(id: string): Promise<void> {
  const rig = await loadRig(id);
  if (!rig) return;
  const copy = newId();
  const current = store.getState().rig.rig;
  await saveRig({ ...rig, id: copy, name: await freeName(copyName(rig.name), copy) });
  // The copy is one more beside the one in view.
  if (current) await makeCurrent(current.id);
}

/** Another name for a kept rig; the one in view changes by an edit, which can be undone. */
export async function renameRig(id: string, name: string): Promise<void> {
  const rig = await loadRig(id);
  if (!rig || heldName(name) === '') return;
  const current = store.getState().rig.rig;
  await saveRig({ ...rig, name: heldName(name) });
  if (current) await makeCurrent(current.id);
}

export const forgetRig = (id: string): Promise<void> => deleteRig(id);

/** Goes back to an earlier state of the rig in view, as an edit: undo brings the present back. */
export async function goBackTo(stateId: number): Promise<void> {
  const { rig } = store.getState().rig;
  const earlier = await loadState(stateId);
  if (!rig || !earlier) throw new Error('this state is not in this browser any more');
  store.dispatch(rigSlice.actions.edited({ rig: { ...earlier, id: rig.id } }));
}

/** What can be read of a rig that cannot be opened, as one more rig; the damaged one stays. Gives what was mended. */
export async function openSalvaged(id: string): Promise<string[]> {
  const { salvageRig } = await reading();
  const salvaged = salvageRig(await rawRig(id));
  if (!salvaged) throw new Error('nothing of it can be read as a rig');
  const copy = newId();
  const rig: Rig = {
    ...salvaged.rig,
    id: copy,
    name: await freeName(`${salvaged.rig.name.slice(0, 180)} (rescued)`, copy),
  };
  await saveRig(rig);
  await takeUp(rig);
  return salvaged.mended;
}

/** The damaged rig needs nobody's attention any more. */
export const unreadableDealtWith = (): void => {
  store.dispatch(toldSlice.actions.unreadableFound(null));
};
