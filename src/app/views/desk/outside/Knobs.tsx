import { X } from 'lucide-react';
import { useState } from 'react';
import { addKnob, deleteKnob, updateKnob } from '../../../../core/rig/edits/outside';
import { labelOfSource } from '../../../../core/space/source';
import type { Instrument, Patch } from '../../../../core/rig/schema';
import { editPatch, useAppDispatch } from '../../../document/store';
import { NumberField } from '../../../parts/NumberField';
import { TargetStrip } from '../../../parts/TargetStrip';
import { TextBox } from '../../../parts/TextBox';
import { LONGEST_NAME, MOST_KNOBS } from '../../../../core/rig/limits';

/** Values of an instrument outside that rest somewhere in a patch, and that anything can move. */
export function Knobs({ instrument, patch }: { instrument: Instrument; patch: Patch }) {
  const dispatch = useAppDispatch();
  const [chosen, setController] = useState<number | null>(null);
  const mine = patch.knobs.filter(({ instrumentId }) => instrumentId === instrument.id);
  // The brightness of most instruments, then what is free after it.
  const taken = new Set(mine.map((knob) => knob.controller));
  const controller = chosen ?? [74, ...Array.from({ length: 128 }, (_, cc) => cc)].find((cc) => !taken.has(cc)) ?? 74;
  return (
    <section aria-label="Values that move" className="border-t border-line pt-2">
      <h3 className="heading mb-1">Values of it that move here</h3>
      <ul className="flex flex-col gap-1.5">
        {mine.map((knob) => (
          <li key={knob.id} className="grid grid-cols-[minmax(0,1fr)_88px_minmax(0,1.4fr)_24px] items-center gap-1.5">
            <TextBox
              label={`Name of ${knob.name}`}
              text={knob.name}
              longest={LONGEST_NAME}
              onChange={(name) => dispatch(editPatch(patch.id, (old) => updateKnob(old, knob.id, { name })))}
            />
            <NumberField
              label="CC"
              value={knob.controller}
              low={0}
              high={127}
              onChange={(to) => dispatch(editPatch(patch.id, (old) => updateKnob(old, knob.id, { controller: to })))}
            />
            <TargetStrip patch={patch} target={`knob.${knob.id}.value`} label={knob.name} />
            <button
              className="button-bare"
              aria-label={`Remove ${knob.name}`}
              onClick={() => dispatch(editPatch(patch.id, (old) => deleteKnob(old, knob.id)))}
            >
              <X size={14} />
            </button>
          </li>
        ))}
      </ul>
      {patch.knobs.length < MOST_KNOBS && (
        <div className="mt-1.5 flex items-center gap-1.5">
          <span className="w-24">
            <NumberField label="CC" value={controller} low={0} high={127} onChange={setController} />
          </span>
          <button
            className="button"
            onClick={() => {
              setController(null);
              dispatch(
                editPatch(patch.id, (old) => addKnob(old, instrument, controller, nameOf(controller))?.patch ?? old),
              );
            }}
          >
            + value
          </button>
          <span className="text-[12px] text-faint">
            rests where it is put, is told on entering, and moves as anything else does
          </span>
        </div>
      )}
    </section>
  );
}

/** What a controller is called by the standard, or by its number. */
const nameOf = (controller: number): string => labelOfSource(`cc.${controller}`);
