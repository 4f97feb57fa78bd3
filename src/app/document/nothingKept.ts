import { freeName, holdAnew } from './rigs';
import { rigSlice } from './rigSlice';
import { newId, notice, store } from './store';
import { toldSlice } from './toldSlice';
import { saveRig } from './storage/database';
import { returnToDisk } from './storage/returnToDisk';

/** This browser keeps nothing: said until it does. */
export function tellNothingKept(why: string): void {
  const again = async () => {
    const still = await tryDiskAgain();
    if (still !== undefined) return tellNothingKept(still);
    store.dispatch(toldSlice.actions.noticeClosed('memory'));
    store.dispatch(
      notice('info', 'This browser keeps what you do again; all that was made meanwhile is kept as well.'),
    );
  };
  const text = `What this browser keeps cannot be reached (${why}). Everything works from memory: export the rig before you close this page.`;
  store.dispatch(notice('loss', text, 'memory', { label: 'Try again', run: () => void again() }));
}

/**
 * Tries again to reach what this browser keeps; what was made in memory then comes beside what is there. Gives why it
 * cannot be reached, or undefined.
 */
async function tryDiskAgain(): Promise<string | undefined> {
  const before = store.getState().rig.rig;
  // As it is now, whatever was written of it.
  if (before) await saveRig(before);
  const answer = await returnToDisk(newId);
  if ('why' in answer) return answer.why;
  const { rig } = store.getState().rig;
  if (!rig) return undefined;
  const id = answer.ids.get(rig.id) ?? rig.id;
  await holdAnew(id);
  // One more edit, so that it is written and said to be.
  store.dispatch(rigSlice.actions.edited({ rig: { ...rig, id, name: await freeName(rig.name, id) } }));
  return undefined;
}
