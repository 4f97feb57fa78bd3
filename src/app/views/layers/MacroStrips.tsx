import { setMacro } from '../../../core/rig/edits/layers';
import { SHARE } from '../../../core/rig/parameters';
import type { Patch } from '../../../core/rig/schema';
import { Strip } from '../../parts/Strip';
import { rigSlice } from '../../state/rigSlice';
import { editPatch, useAppDispatch } from '../../state/store';

/** The patch's macros: where they rest is where they are put. */
export function MacroStrips({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  if (patch.macros.length === 0) return null;
  return (
    <div className="flex flex-col gap-1.5">
      <h2 className="heading">Macros</h2>
      {patch.macros.map((macro) => (
        <Strip key={macro.number} parameter={{ ...SHARE, label: `${macro.number} ${macro.name}`, help: 'A macro moves what is routed to it, and whatever windows look at it.' }} value={macro.value} colour="var(--plum)"
          onChange={(value, gesture) => dispatch(editPatch(patch.id, (old) => setMacro(old, macro.number, value), gesture))}
          onEnd={() => dispatch(rigSlice.actions.gestureEnded())} />
      ))}
    </div>
  );
}
