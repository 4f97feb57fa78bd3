import { builtInMoves } from '../../../core/rig/moves';
import { setBuiltIn } from '../../../core/rig/edits/moves';
import type { Patch } from '../../../core/rig/schema';
import { labelOfSource } from '../../../core/space/source';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';

/**
 * What moves layers without a route, because layers are built so: as much a part of what moves what as the routes, and
 * as easily switched.
 */
export function BuiltIn({ patch, wanted }: { patch: Patch; wanted: string }) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const rows = builtInMoves(patch)
    .map((row) => ({ ...row, label: row.sources.map(labelOfSource).join(', ') }))
    .filter(({ label, does }) => wanted === '' || `${label} ${does}`.toLowerCase().includes(wanted));
  if (rows.length === 0 || patch.layers.length === 0) return null;
  return (
    <section aria-label="Built in" className="border-t border-edge">
      <h2 className="heading px-2 pt-1">Built in, without a route</h2>
      <ul className="text-[12.5px]">
        {rows.map(({ takesOff, label, does, hear, not }) => {
          const layers =
            hear.length === 0
              ? 'no layer'
              : not.length === 0
                ? hear.length === 1
                  ? hear[0].name
                  : hear.length === 2
                    ? 'both layers'
                    : `all ${hear.length} layers`
                : hear.map(({ name }) => name).join(', ');
          return (
            <li
              key={takesOff}
              className={`grid grid-cols-[30%_minmax(0,1fr)_auto] items-center border-t border-line px-2 py-0.5 ${hear.length === 0 ? 'text-faint' : ''}`}
            >
              <span className="truncate pr-2">{label}</span>
              <span dir="auto" className="truncate pr-2" title={layers}>
                {does} of {layers}
              </span>
              <span className="flex gap-1">
                {(
                  [
                    ['on', true, not.length === 0],
                    ['off', false, hear.length === 0],
                  ] as const
                ).map(([word, on, is]) => (
                  <button
                    key={word}
                    className="button px-2! py-0! text-[12px]"
                    aria-pressed={is}
                    aria-label={`${label}: ${word} for all layers`}
                    disabled={readOnly}
                    onClick={() => dispatch(editPatch(patch.id, (old) => setBuiltIn(old, takesOff, on)))}
                  >
                    {word}
                  </button>
                ))}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
