import { useMemo } from 'react';
import { paste, pasteOutside, pasteSound } from '../../../core/rig/edits/carry';
import type { Patch } from '../../../core/rig/schema';
import { chosenLayers, copied } from '../../hands/clipboard';
import { edit, editPatch, newId, useAppDispatch, useAppSelector } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { SheetFrame } from '../../parts/Sheet';

/**
 * What a paste brings, shown before it is done; or only the outside, or only the sound, of the one layer that was
 * copied.
 */
export function PasteSheet({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const rig = useAppSelector((state) => state.rig.rig)!;
  const clip = useMemo(copied, []);
  const tried = useMemo(() => (clip ? paste(rig, patch.id, clip, newId) : null), [clip, rig, patch.id]);
  const done = () => dispatch(deskSlice.actions.sheetOpened(null));
  const { ids, name } = chosenLayers(patch);
  const only = clip?.layers.length === 1 && ids.length > 0 ? clip.layers[0] : undefined;
  if (!clip || !tried)
    return (
      <SheetFrame title="Paste">
        <p className="text-faint">Nothing was copied yet: choose layers or a group, and press Control C.</p>
      </SheetFrame>
    );
  return (
    <SheetFrame title={`Paste “${clip.name.slice(0, 40)}”`}>
      <p className="mb-1 text-[12.5px]">Into “{patch.name}” come:</p>
      <ul className="mb-2 max-h-60 list-disc overflow-y-auto pl-5 text-[12.5px]">
        {tried.brings.map((text, i) => (
          <li key={i}>{text}</li>
        ))}
      </ul>
      {tried.problem && (
        <p role="alert" className="mb-2 text-[12.5px] text-alarm">
          Nothing can be pasted: {tried.problem}.
        </p>
      )}
      <div className="flex flex-wrap gap-1.5">
        <button
          autoFocus
          className="button bg-ink! text-paper!"
          disabled={!!tried.problem}
          onClick={() => {
            dispatch(edit((old) => paste(old, patch.id, clip, newId).rig));
            done();
          }}
        >
          Paste all of it
        </button>
        {only && (
          <button
            className="button"
            title={`Windows, way of the notes and shape of “${only.name}”; the sound of “${name}” stays`}
            onClick={() => {
              dispatch(editPatch(patch.id, (old) => ids.reduce((left, id) => pasteOutside(left, id, only), old)));
              done();
            }}
          >
            only the outside, onto {ids.length > 1 ? `${ids.length} layers` : 'this layer'}
          </button>
        )}
        {only && (
          <button
            className="button"
            disabled={!rig.sounds.some(({ id }) => id === only.soundId)}
            title={`The sound of “${only.name}”; everything else of “${name}” stays`}
            onClick={() => {
              dispatch(editPatch(patch.id, (old) => ids.reduce((left, id) => pasteSound(left, id, only), old)));
              done();
            }}
          >
            only the sound
          </button>
        )}
      </div>
    </SheetFrame>
  );
}
