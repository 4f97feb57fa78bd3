import { addEntry } from '../../../core/rig/edits/setlists';
import { newToShow } from '../../../core/rig/setlist';
import type { Rig, Setlist } from '../../../core/rig/schema';
import { edit, useAppDispatch, useAppSelector } from '../../document/store';

const MOST_NAMED = 6;

/** Patches that no show has yet: a new patch joins none by itself, and is offered here. */
export function NewToShow({ rig, setlist }: { rig: Rig; setlist: Setlist }) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const fresh = newToShow(rig);
  if (fresh.length === 0 || setlist.id === '') return null;
  const put = (ids: readonly string[]) =>
    dispatch(edit((old) => ids.reduce((now, id) => addEntry(now, setlist.id, 'patch', [id]), old)));
  return (
    <section
      aria-label="In no show yet"
      className="flex flex-wrap items-center gap-2 rounded-lg border border-line p-2 text-[14px]"
    >
      <p className="text-faint">In no show yet:</p>
      {fresh.slice(0, MOST_NAMED).map(({ id, name }) => (
        <button
          key={id}
          dir="auto"
          className="button h-10 max-w-60"
          disabled={readOnly}
          title={`“${name}” goes to the end of “${setlist.name}”`}
          onClick={() => put([id])}
        >
          <span className="truncate">+ {name}</span>
        </button>
      ))}
      {fresh.length > 1 && (
        <button className="button h-10" disabled={readOnly} onClick={() => put(fresh.map(({ id }) => id))}>
          put all {fresh.length} in
        </button>
      )}
    </section>
  );
}
