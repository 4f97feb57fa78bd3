import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { Pause, Play, Printer, Smartphone, Square, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import {
  addEntry,
  addSetlist,
  chooseSetlist,
  deleteSetlist,
  duplicateSetlist,
  moveEntry,
  noteSetlist,
  renameSetlist,
} from '../../../core/rig/edits/setlists';
import { setlistOf } from '../../../core/rig/setlist';
import type { Rig, Setlist } from '../../../core/rig/schema';
import type { Take } from '../../../core/music/take';
import { fetchTakes, SHOW_TAKE } from '../../jobs/takesThere';
import { ActMenu } from '../../parts/ActMenu';
import { NameField, useRenaming } from '../../parts/NameField';
import { signed } from '../../parts/format';
import { useStore } from '../../parts/useLive';
import { session } from '../../sound/session';
import { show, stepsOfShow, titleOfStep } from '../../show/show';
import { edit, told, useAppDispatch, useAppSelector } from '../../document/store';
import { showSlice } from '../../show/showSlice';
import { NewToShow } from './NewToShow';
import { PairingPart } from './PairingPart';
import { PrintedSetlist } from './PrintedSetlist';
import { Switching } from './Switching';
import { EntryRow, NotesField } from './SetlistEntry';

/** The setlist beside the show: to go to any of its steps, and, unlocked, to put it in order. */
export function SetlistPanel({ rig, place, locked }: { rig: Rig; place: number; locked: boolean }) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const [pairing, setPairing] = useState(false);
  const setlist = setlistOf(rig);
  const close = () => dispatch(showSlice.actions.stagePanelOpened(null));
  const edits = !locked && !readOnly;
  return (
    <section
      role="dialog"
      aria-label="Setlist"
      className={`panel fixed top-16 right-3 bottom-3 z-40 flex flex-col gap-2 text-[15px] max-sm:left-3 ${edits ? 'w-[min(760px,calc(100vw-24px))]' : 'w-[min(480px,calc(100vw-24px))]'}`}
    >
      <div className="flex shrink-0 items-center gap-2">
        {edits ? (
          <SetlistChoice rig={rig} setlist={setlist} />
        ) : (
          <h2 dir="auto" className="min-w-0 flex-1 truncate text-[20px] font-bold">
            {setlist.name}
          </h2>
        )}
        <Walk />
        <button className="button h-11" title="The setlist on one page" onClick={() => window.print()}>
          <Printer size={18} /> <span className="max-sm:sr-only">Print</span>
        </button>
        {edits && (
          <button
            className="button h-11"
            aria-pressed={pairing}
            title="A tablet as a pad, a phone as the list"
            onClick={() => setPairing(!pairing)}
          >
            <Smartphone size={18} /> <span className="max-sm:sr-only">Devices</span>
          </button>
        )}
        <button className="button-bare h-11! min-w-11!" aria-label="Close" onClick={close}>
          <X size={22} />
        </button>
      </div>
      {pairing && edits ? (
        <PairingPart />
      ) : edits ? (
        <Editor rig={rig} setlist={setlist} place={place} />
      ) : (
        <Steps rig={rig} place={place} />
      )}
      <PrintedSetlist rig={rig} setlist={setlist} />
    </section>
  );
}

/** Plays the walk through the whole show, where there is one for this setlist. */
function Walk() {
  const id = useAppSelector((state) => state.rig.rig?.setlist);
  const [take, setTake] = useState<Take | undefined>();
  const walking = useStore(session, () => show.walking);
  useEffect(() => {
    let live = true;
    fetchTakes().then(
      (all) => {
        if (live) setTake(all.get(`${SHOW_TAKE}${id}`));
      },
      () => undefined,
    );
    return () => {
      live = false;
    };
  }, [id]);
  return take ? (
    <button
      className="button h-11"
      aria-pressed={walking}
      title="Plays through the whole show, with its changes of patch"
      onClick={() => void show.walk(take)}
    >
      {walking ? <Square size={16} fill="currentColor" /> : <Play size={16} fill="currentColor" />}{' '}
      {walking ? 'Stop' : 'Walk through'}
    </button>
  ) : null;
}

/** Every step to be touched. */
function Steps({ rig, place }: { rig: Rig; place: number }) {
  const steps = stepsOfShow(rig);
  return (
    <ol className="min-h-0 flex-1 overflow-y-auto" aria-label="Steps">
      {steps.map((step, n) => {
        const { title, song } = titleOfStep(rig, step);
        return (
          <li key={step.id}>
            <button
              ref={(node) => {
                if (n === place) node?.scrollIntoView?.({ block: 'nearest' });
              }}
              aria-current={n === place ? 'step' : undefined}
              className="flex min-h-12 w-full items-center gap-3 rounded-lg px-3 py-1 text-left aria-[current=step]:bg-ink aria-[current=step]:text-paper"
              onClick={() => show.goTo(n)}
            >
              <span className="number w-7 shrink-0 text-right opacity-75">{n + 1}</span>
              <span className="min-w-0 flex-1 leading-tight">
                <span dir="auto" className="block truncate text-[19px]">
                  {step.patch ? (
                    title
                  ) : (
                    <span className="inline-flex items-center gap-2">
                      <Pause size={16} /> {title}
                    </span>
                  )}
                </span>
                {song && <span className="block truncate text-[13px] opacity-80">{song}</span>}
              </span>
              {step.entry.transpose !== 0 && (
                <span className="number shrink-0 text-[14px] opacity-80">{signed(step.entry.transpose)}</span>
              )}
              {step.at === 0 && step.entry.minutes > 0 && (
                <span className="number shrink-0 text-[14px] opacity-75">{step.entry.minutes}′</span>
              )}
            </button>
          </li>
        );
      })}
      {steps.length === 0 && (
        <li className="p-4 text-faint">Nothing is in this setlist yet: unlock the Stage to put patches in.</li>
      )}
    </ol>
  );
}

function SetlistChoice({ rig, setlist }: { rig: Rig; setlist: Setlist }) {
  const dispatch = useAppDispatch();
  const renaming = useRenaming();
  const act = (id: string) => {
    if (id === 'rename') renaming.begin();
    else if (id === 'empty' || id === 'full') dispatch(edit((old) => addSetlist(old, 'New setlist', id === 'full')));
    else if (id === 'copy') dispatch(edit((old) => duplicateSetlist(old, setlist.id)));
    else if (id === 'delete') {
      dispatch(edit((old) => deleteSetlist(old, setlist.id)));
      dispatch(told(`The setlist “${setlist.name}” is gone.`));
    }
  };
  const has = setlist.id !== '';
  return (
    <div className="flex min-w-0 flex-1 items-center gap-2">
      {renaming.renaming ? (
        <NameField
          label="Name of the setlist"
          name={setlist.name}
          className="h-11 min-w-0 flex-1 text-[18px] font-bold"
          onName={(name) => dispatch(edit((old) => renameSetlist(old, setlist.id, name)))}
          onEnd={renaming.end}
        />
      ) : (
        <select
          className="field h-11 min-w-0 flex-1 text-[18px] font-bold"
          aria-label="Setlist of the next show"
          value={setlist.id}
          onChange={(event) => dispatch(edit((old) => chooseSetlist(old, event.target.value)))}
        >
          {!has && <option value="">none</option>}
          {rig.setlists.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      )}
      <ActMenu
        className="h-11"
        label="setlists"
        title="Another setlist, and more"
        items={[
          ...(has
            ? ([
                ['rename', 'Rename …'],
                ['copy', 'Duplicate'],
                ['delete', 'Delete'],
              ] as const)
            : []),
          ['empty', 'New, empty'],
          ['full', 'New, with every patch'],
        ]}
        onChoose={act}
      />
    </div>
  );
}

function Editor({ rig, setlist, place }: { rig: Rig; setlist: Setlist; place: number }) {
  const dispatch = useAppDispatch();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const patches = rig.patches.map(({ id, name }) => [id, name] as const);
  const here = stepsOfShow(rig)[place]?.entry.id;
  const minutes = setlist.entries.reduce((sum, entry) => sum + entry.minutes, 0);
  if (setlist.id === '')
    return (
      <div className="flex flex-col items-start gap-3 p-4">
        <p className="text-faint">This rig has no setlist.</p>
        <button className="button h-11" onClick={() => dispatch(edit((old) => addSetlist(old, 'Show', true)))}>
          Make one with every patch
        </button>
      </div>
    );
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto">
      <NotesField
        label="Notes on the evening"
        text={setlist.notes}
        onText={(notes) => dispatch(edit((old) => noteSetlist(old, setlist.id, notes)))}
      />
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          if (over && over.id !== active.id)
            dispatch(
              edit((old) =>
                moveEntry(
                  old,
                  setlist.id,
                  setlist.entries.findIndex(({ id }) => id === active.id),
                  setlist.entries.findIndex(({ id }) => id === over.id),
                ),
              ),
            );
        }}
      >
        <SortableContext items={setlist.entries.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
          <ol aria-label="Entries" className="flex flex-col">
            {setlist.entries.map((entry, n) => (
              <EntryRow
                key={entry.id}
                rig={rig}
                setlist={setlist}
                entry={entry}
                n={n}
                current={entry.id === here}
                patches={patches}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      <div className="flex flex-wrap items-center gap-2">
        <ActMenu
          className="h-11"
          label="+ patch"
          title="A patch at the end"
          items={patches}
          onChoose={(id) => dispatch(edit((old) => addEntry(old, setlist.id, 'patch', [id])))}
        />
        <button
          className="button h-11"
          onClick={() => dispatch(edit((old) => addEntry(old, setlist.id, 'pause', [], 'Pause')))}
        >
          + pause
        </button>
        <span className="number ml-auto text-faint">
          {minutes > 0
            ? `${Math.floor(minutes / 60) > 0 ? `${Math.floor(minutes / 60)} h ` : ''}${Math.round(minutes % 60)} min`
            : ''}
        </span>
      </div>
      <NewToShow rig={rig} setlist={setlist} />
      <Switching />
    </div>
  );
}
