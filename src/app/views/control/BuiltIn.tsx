import { builtInMoves } from '../../../core/rig/moves';
import { setBuiltIn } from '../../../core/rig/edits/moves';
import type { Patch } from '../../../core/rig/schema';
import { labelOfSource } from '../../../core/space/source';
import { editPatch, useAppDispatch, useAppSelector } from '../../state/store';

/** What moves layers without a route, because layers are built so: as much a part of what moves what as the routes, and as easily switched. */
export function BuiltIn({ patch, wanted }: { patch: Patch; wanted: string }) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const rows = builtInMoves(patch)
    .map((row) => ({ ...row, label: row.sources.map(labelOfSource).join(', ') }))
    .filter(({ label, does }) => wanted === '' || `${label} ${does}`.toLowerCase().includes(wanted));
  if (rows.length === 0 || patch.layers.length === 0) return null;
  return (
    <section aria-label="Built in" className="border-t border-edge">
      <h3 className="heading px-2 pt-1">Built in, without a route</h3>
      <table className="w-full table-fixed text-[12.5px]">
        <colgroup><col className="w-[20%]" /><col /><col className="w-[132px]" /></colgroup>
        <tbody>
          {rows.map(({ takesOff, label, does, hear, not }) => {
            const layers = hear.length === 0 ? 'no layer' : not.length === 0 ? (hear.length === 1 ? hear[0].name : `all ${hear.length} layers`) : hear.map(({ name }) => name).join(', ');
            return (
              <tr key={takesOff} className={`border-t border-line ${hear.length === 0 ? 'opacity-60' : ''}`}>
                <td className="truncate px-2">{label}</td>
                <td dir="auto" className="truncate px-2" title={layers}>{does} of {layers}</td>
                <td className="px-2 py-0.5 text-right whitespace-nowrap">
                  {([['on', true, not.length === 0], ['off', false, hear.length === 0]] as const).map(([word, on, is]) => (
                    <button key={word} className="button ml-1 px-2! py-0! text-[12px]" aria-pressed={is} aria-label={`${label}: ${word} for all layers`} disabled={readOnly || is} onClick={() => dispatch(editPatch(patch.id, (old) => setBuiltIn(old, takesOff, on)))}>{word}</button>
                  ))}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
