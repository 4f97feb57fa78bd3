import { addPatch } from '../../../core/rig/edits/patches';
import { addDemo, addStore } from '../../jobs/files';
import { deskSlice } from '../../hands/deskSlice';
import { edit, newId, useAppDispatch } from '../../document/store';

/** A rig without a patch: says what to do next, and offers it. */
export function EmptyRig() {
  const dispatch = useAppDispatch();
  return (
    <main className="grid h-full place-items-center">
      <div className="panel flex max-w-96 flex-col items-start gap-3">
        <h1 className="text-lg font-bold">This rig has no patch yet</h1>
        <p>A patch is what lies under the hands at one moment: its layers, where they sound, and what moves them.</p>
        <button className="button" onClick={() => dispatch(edit((rig) => addPatch(rig, newId(), 'New patch')))}>
          Make a patch
        </button>
        <button className="button" onClick={() => void addStore()}>
          Open Harbour Store: thirty patches to play
        </button>
        <button className="button" onClick={() => dispatch(deskSlice.actions.sheetOpened('rigs'))}>
          Other rigs in this browser
        </button>
        <button className="button" onClick={() => void addDemo()}>
          Open the demo rig instead
        </button>
      </div>
    </main>
  );
}
