import type { Rig } from '../../../../core/rig/schema';
import { useAppSelector } from '../../../document/store';
import { SheetFrame } from '../../../parts/Sheet';
import { ClickPart } from './ClickPart';
import { DevicePart } from './DevicePart';
import { PairsPart } from './PairsPart';

/** Where sound leaves: the device of this machine, pairs of outputs by name, the click. */
export function OutputsSheet({ rig }: { rig: Rig }) {
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  return (
    <SheetFrame title="Outputs" wide>
      <DevicePart />
      <fieldset disabled={readOnly} className="min-w-0">
        <PairsPart rig={rig} />
        <ClickPart rig={rig} />
      </fieldset>
    </SheetFrame>
  );
}
