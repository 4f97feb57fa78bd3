import { useSortable } from '@dnd-kit/sortable';
import { GripVertical, Trash2 } from 'lucide-react';
import { addToSong, deleteEntry, moveInSong, takeFromSong, updateEntry } from '../../../core/rig/edits/setlists';
import { nameOfEntry } from '../../../core/rig/setlist';
import type { Entry, Rig, Setlist } from '../../../core/rig/schema';
import { ActMenu } from '../../parts/ActMenu';
import { PageField } from './PageField';
import { NumberField } from '../../parts/NumberField';
import { TypedField } from '../../parts/TypedField';
import { edit, told, useAppDispatch } from '../../document/store';

export function EntryRow({
  rig,
  setlist,
  entry,
  n,
  current,
  patches,
}: {
  rig: Rig;
  setlist: Setlist;
  entry: Entry;
  n: number;
  current: boolean;
  patches: readonly (readonly [string, string])[];
}) {
  const dispatch = useAppDispatch();
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({ id: entry.id });
  const put = (to: Parameters<typeof updateEntry>[3]) =>
    dispatch(edit((old) => updateEntry(old, setlist.id, entry.id, to)));
  const name = nameOfEntry(rig, entry);
  const patchName = (id: string) => rig.patches.find((patch) => patch.id === id)?.name ?? '';
  const own = rig.patches.find(({ id }) => id === entry.patches[0]);
  return (
    <li
      ref={setNodeRef}
      aria-label={name}
      style={{ transform: transform ? `translateY(${transform.y}px)` : undefined, transition }}
      className={`flex items-start gap-2 border-b border-line py-1.5 ${isDragging ? 'relative z-10 bg-sheet shadow-lg' : ''} ${current ? 'bg-teal/10' : ''}`}
    >
      <button
        className="flex h-10 w-9 shrink-0 cursor-grab touch-none items-center justify-center text-faint"
        aria-label={`Move ${name} in the order`}
        {...attributes}
        {...listeners}
        role="button"
      >
        <GripVertical size={18} />
      </button>
      <span className="number mt-2.5 w-6 shrink-0 text-right text-faint">{n + 1}</span>
      <div className="flex min-w-0 flex-1 flex-col gap-1">
        <div className="flex flex-wrap items-center gap-1.5">
          <input
            className="field h-10 min-w-36 flex-1 text-[16px] font-semibold"
            aria-label={`Name of entry ${n + 1}`}
            key={entry.name}
            defaultValue={entry.name}
            placeholder={name}
            maxLength={200}
            onBlur={(event) => {
              if (event.target.value.trim() !== entry.name) put({ name: event.target.value });
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter') event.currentTarget.blur();
            }}
          />
          {entry.kind !== 'pause' && (
            <span className="w-28">
              <TypedField
                label="tempo"
                text={entry.tempo === null ? `(${own?.tempo ?? ''})` : String(entry.tempo)}
                commit={(typed) => {
                  const text = typed.replace(/[()]/g, '').trim();
                  const value = Number(text.replace(',', '.'));
                  if (text === '' || value === own?.tempo) {
                    put({ tempo: null });
                    return undefined;
                  }
                  if (!(value >= 20 && value <= 400)) return 'a tempo from 20 to 400, or nothing for the patch’s own';
                  put({ tempo: value });
                  return undefined;
                }}
              />
            </span>
          )}
          {entry.kind !== 'pause' && (
            <span className="w-32">
              <NumberField
                label="transposed"
                value={entry.transpose}
                low={-12}
                high={12}
                onChange={(transpose) => put({ transpose })}
              />
            </span>
          )}
          <span className="w-28">
            <NumberField
              label="minutes"
              value={Math.round(entry.minutes)}
              low={0}
              high={600}
              onChange={(minutes) => put({ minutes })}
            />
          </span>
          <button
            className="button-bare h-10! min-w-10!"
            aria-label={`Take ${name} out`}
            onClick={() => {
              dispatch(edit((old) => deleteEntry(old, setlist.id, entry.id)));
              dispatch(told(`“${name}” is out of the setlist; its patch stays.`));
            }}
          >
            <Trash2 size={17} />
          </button>
        </div>
        <NotesField
          label={`Notes for ${name}`}
          text={entry.notes}
          hint={own?.notes || 'Notes for the player'}
          onText={(notes) => put({ notes })}
        />
        {entry.kind !== 'pause' && (
          <div className="flex flex-wrap items-center gap-1.5">
            {entry.kind === 'song' &&
              entry.patches.map((id, at) => (
                <span key={`${id} ${at}`} className="inline-flex items-center gap-1 rounded-md border border-edge pl-2">
                  {at + 1} {patchName(id)}
                  {at > 0 && (
                    <button
                      className="button-bare h-9!"
                      aria-label={`${patchName(id)} earlier in ${name}`}
                      onClick={() => dispatch(edit((old) => moveInSong(old, setlist.id, entry.id, at, at - 1)))}
                    >
                      ←
                    </button>
                  )}
                  <button
                    className="button-bare h-9!"
                    aria-label={`Take ${patchName(id)} out of ${name}`}
                    onClick={() => dispatch(edit((old) => takeFromSong(old, setlist.id, entry.id, at)))}
                  >
                    ×
                  </button>
                </span>
              ))}
            <ActMenu
              label="and then …"
              title="Another patch that belongs to it: together they are a song"
              items={patches}
              onChoose={(id) => dispatch(edit((old) => addToSong(old, setlist.id, entry.id, id)))}
            />
            <PageField name={name} text={entry.page} onText={(page) => put({ page })} />
          </div>
        )}
      </div>
    </li>
  );
}

export function NotesField({
  label,
  text,
  hint = '',
  onText,
}: {
  label: string;
  text: string;
  hint?: string;
  onText: (text: string) => void;
}) {
  return (
    <textarea
      className="field min-h-9 w-full resize-y leading-snug [field-sizing:content]"
      rows={1}
      aria-label={label}
      placeholder={hint || label}
      key={text}
      defaultValue={text}
      maxLength={2000}
      onBlur={(event) => {
        if (event.target.value !== text) onText(event.target.value);
      }}
    />
  );
}
