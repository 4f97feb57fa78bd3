import { put, type PutPlace, type Putting } from '../../core/rig/edits/put';
import { soundsTwice } from '../../core/rig/twice';
import type { Rig } from '../../core/rig/schema';
import { edit, newId, notice, store } from './store';

/** Puts one sound or recording in one place, as one step of undo, and says what it did. */
export function putThere(thing: Putting, place: PutPlace, words: string): void {
  editAndListen(
    (old) => put(old, thing, place, newId),
    thing.samples.map(({ id }) => id),
    `“${thing.name}” ${words}. Control Z takes it away.`,
  );
}

/**
 * An edit that brings recordings in: says so, and says when one of them sounds twice at once in a patch that it
 * touched.
 */
export function editAndListen(change: (rig: Rig) => Rig, sampleIds: readonly string[], done?: string): void {
  const before = store.getState().rig.rig;
  store.dispatch(edit(change));
  const after = store.getState().rig.rig;
  if (!before || !after) return;
  if (after === before) return void store.dispatch(notice('info', 'There is no room for it there.', 'put'));
  if (done) store.dispatch(notice('info', done, 'put'));
  for (const patch of after.patches) {
    const old = before.patches.find(({ id }) => id === patch.id);
    const twice = soundsTwice(after, patch, sampleIds);
    if (!twice || (old && soundsTwice(before, old, sampleIds))) continue;
    const where =
      twice.first === twice.second
        ? `twice in “${twice.first.name}”`
        : `in “${twice.first.name}” and in “${twice.second.name}”`;
    store.dispatch(
      notice(
        'info',
        `The same recording sounds ${where} at once (${patch.name}): together they are up to 6 dB louder, or hollow where they differ in time or tuning. Control Z takes it away.`,
        'twice',
      ),
    );
    return;
  }
}
