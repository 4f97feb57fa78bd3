import { textScale } from '../../parts/textScale';
import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useVirtualizer } from '@tanstack/react-virtual';
import { DropdownMenu } from 'radix-ui';
import { GripVertical, Volume2, X } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { MEANINGS, type Meaning, type NamePart } from '../../../core/mapping/names';
import type { Plan, PlanRow } from '../../../core/mapping/planModel';
import { nameOfKey } from '../../../core/music/noteNames';
import type { Patch, Sound } from '../../../core/rig/schema';
import { putThere } from '../../document/putting';
import { audition } from '../../jobs/audition';
import { notice, selectedLayerOf, stepBack, useAppDispatch, useAppSelector } from '../../document/store';
import { tray, type TrayFile } from '../../jobs/tray';
import { puttingOf } from '../../jobs/candidates';
import { PutThere, usePlaces } from './PutThere';

const GRID = 'grid grid-cols-[26px_26px_minmax(140px,1fr)_50px_86px_70px_40px_62px_26px] items-center';
const rowHeight = (): number => 30 * textScale();
const MEANING_WORDS: Record<Meaning, string> = {
  note: 'a note name',
  number: 'a key number',
  dynamic: 'a dynamic',
  velocity: 'the hardest velocity',
  alternate: 'an alternate',
  run: 'a running count',
  nothing: 'nothing',
};
const MEANING_COLOURS: Record<Meaning, string> = {
  note: 'var(--teal)',
  number: 'var(--teal)',
  dynamic: 'var(--clay)',
  velocity: 'var(--clay)',
  alternate: 'var(--plum)',
  run: 'var(--moss)',
  nothing: 'var(--faint)',
};

interface Props {
  plan: Plan | null;
  patch: Patch;
  sound: Sound | undefined;
  chosen: number;
  onChoose: (file: number) => void;
}

/**
 * The files in their order: stepped through by arrow keys and heard, moved about, put in one place, their names read
 * piece by piece.
 */
export function TrayFiles({ plan, patch, sound, chosen, onChoose }: Props) {
  const dispatch = useAppDispatch();
  const layer = useAppSelector((state) => selectedLayerOf(patch, state.choosing.selectedLayerId));
  const [through, setThrough] = useState<'dry' | 'layer'>('dry');
  const places = usePlaces(patch, sound);
  const [where, setWhere] = useState('');
  const [put, setPut] = useState<ReadonlyMap<string, string>>(new Map());
  const scroller = useRef<HTMLDivElement>(null);
  const files = tray.files;
  const rows = useVirtualizer({
    count: files.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight(),
    overscan: 6,
  });
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ready = tray.ready;
  const readyPlace = useMemo(() => new Map(ready.map((file, i) => [file.path, i])), [ready]);
  const rowOf = (file: TrayFile): PlanRow | undefined => {
    const place = readyPlace.get(file.path);
    return place === undefined ? undefined : plan?.rows[place];
  };
  const chosenPath = ready[chosen]?.path;
  const at = files.findIndex((file) => file.path === chosenPath);
  useEffect(() => {
    if (at >= 0) rows.scrollToIndex(at, { align: 'auto' });
  }, [at, rows]);

  const hear = useCallback(
    async (file: TrayFile) => {
      if (!file.brought) return;
      const place = tray.ready.findIndex((other) => other.path === file.path);
      const row = tray.busy ? undefined : tray.plan.rows[place];
      const problem = await audition(
        file.brought.sample,
        row?.placed ? row.root : (file.brought.plan.root ?? 60),
        through === 'layer' ? (layer ?? null) : null,
      );
      if (problem) dispatch(notice('problem', problem, 'audition'));
    },
    [dispatch, layer, through],
  );
  /** The file that is heard goes to the chosen place, alone. */
  const putIt = (file: TrayFile): boolean => {
    const place = places.find(({ id }) => id === where);
    if (!place || !file.brought) return false;
    putThere(puttingOf(file.path, file.brought), place.place, place.words);
    const mark = (on: boolean) =>
      setPut(
        (old) => new Map([...old].filter(([path]) => path !== file.path).concat(on ? [[file.path, place.words]] : [])),
      );
    mark(true);
    tray.rememberOutside((way) => {
      void dispatch(stepBack(way));
      mark(way === 'redone');
    });
    return true;
  };
  const step = (to: number) => {
    const file = files[Math.min(files.length - 1, Math.max(0, to))];
    const place = file && readyPlace.get(file.path);
    if (place !== undefined) onChoose(place);
    if (file) void hear(file);
  };
  const keys = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget || files.length === 0) return;
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    const done = () => {
      event.preventDefault();
      event.stopPropagation();
    };
    if (by !== 0 && event.altKey && at >= 0) {
      const to = at + by;
      if (to >= 0 && to < files.length) {
        tray.move(at, to);
        onChoose(tray.ready.findIndex((file) => file.path === chosenPath));
      }
      done();
    } else if (by !== 0) {
      step(at < 0 ? 0 : at + by);
      done();
    } else if (event.key === 'Enter' || event.key === ' ') {
      if (at >= 0 && !(event.key === 'Enter' && putIt(files[at]))) void hear(files[at]);
      done();
    }
  };

  return (
    <div className="flex min-h-0 flex-col text-[12px]">
      <div className="flex h-9 items-center gap-2 border-b border-line px-2">
        <span className="font-semibold whitespace-nowrap" title="In the order in which they are laid out">
          {files.length} {files.length === 1 ? 'file' : 'files'}
        </span>
        <button className="button px-2! py-0!" onClick={() => tray.sort('name')}>
          by name
        </button>
        <button className="button px-2! py-0!" onClick={() => tray.sort('level')}>
          by level
        </button>
        <span className="ml-auto" />
        <PutThere
          places={places}
          chosen={places.some(({ id }) => id === where) ? where : ''}
          onChoose={(id) => {
            setWhere(id);
            scroller.current?.focus();
          }}
        />
        <label className="flex items-center gap-1.5">
          heard
          <select
            className="field"
            aria-label="Auditions are heard"
            value={through}
            onChange={(event) => setThrough(event.target.value as 'dry' | 'layer')}
          >
            <option value="dry">dry</option>
            <option value="layer" disabled={!layer}>
              through {layer?.name ?? 'a layer'}
            </option>
          </select>
        </label>
      </div>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          if (over && over.id !== active.id)
            tray.move(
              files.findIndex((file) => file.path === active.id),
              files.findIndex((file) => file.path === over.id),
            );
        }}
      >
        <SortableContext items={files.map((file) => file.path)} strategy={verticalListSortingStrategy}>
          <div
            ref={scroller}
            tabIndex={0}
            role="application"
            aria-label="Files: arrow keys step through and play them, Alt with arrow keys moves one, Space plays it again, Enter puts it where the list above says"
            data-testid="tray-files"
            className="min-h-0 flex-1 overflow-y-auto bg-sheet [scrollbar-width:thin]"
            onKeyDown={keys}
          >
            <ul aria-label="Files" className="relative" style={{ height: rows.getTotalSize() }}>
              {rows.getVirtualItems().map(({ index, start }) => (
                <FileRow
                  key={files[index].path}
                  file={files[index]}
                  start={start}
                  row={rowOf(files[index])}
                  chosen={files[index].path === chosenPath}
                  meaningOf={(part) => plan?.reading?.columns[part.column]?.meaning ?? 'nothing'}
                  parts={plan?.reading?.files[readyPlace.get(files[index].path) ?? -1]?.parts}
                  put={put.get(files[index].path)}
                  onHear={() => step(index)}
                />
              ))}
            </ul>
          </div>
        </SortableContext>
      </DndContext>
    </div>
  );
}

interface RowProps {
  file: TrayFile;
  start: number;
  row: PlanRow | undefined;
  chosen: boolean;
  parts: readonly NamePart[] | undefined;
  meaningOf: (part: NamePart) => Meaning;
  put: string | undefined;
  onHear: () => void;
}

function FileRow({ file, start, row, chosen, parts, meaningOf, put, onHear }: RowProps) {
  const middleC = useAppSelector((state) => state.settings.middleC);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: file.path });
  const level = file.brought?.levels.lufs;
  const trouble = file.problem ?? (row && !row.placed ? row.problem : null);
  return (
    <li
      ref={setNodeRef}
      className={`${GRID} absolute inset-x-0 border-b border-line/60 ${chosen ? 'bg-paper shadow-[inset_3px_0_0_var(--ink)]' : ''} ${isDragging ? 'z-10 bg-sheet shadow' : ''}`}
      style={{ top: start, height: rowHeight(), transform: CSS.Translate.toString(transform), transition }}
    >
      <button
        className="grid h-full cursor-grab place-items-center text-faint"
        aria-label={`Move ${file.path}`}
        {...attributes}
        {...listeners}
        tabIndex={-1}
      >
        <GripVertical size={13} />
      </button>
      <button
        className="button-bare"
        aria-label={`Play ${file.path}`}
        disabled={!file.brought}
        tabIndex={-1}
        onClick={onHear}
      >
        <Volume2 size={14} />
      </button>
      <span className="flex min-w-0 items-center gap-0.5 overflow-hidden" title={file.path}>
        {parts ? (
          parts.map((part) => <PartButton key={part.column} part={part} meaning={meaningOf(part)} />)
        ) : (
          <span className="truncate px-1">{file.path}</span>
        )}
        {put && (
          <span className="shrink-0 rounded bg-line/60 px-1 text-[11px]" title={`It ${put}`}>
            put
          </span>
        )}
      </span>
      {trouble ? (
        <span className="col-span-5 truncate px-1 text-alarm" title={trouble}>
          {trouble}
        </span>
      ) : (
        <>
          <span className="number px-1 text-right" title="root">
            {row ? nameOfKey(row.root, middleC) : file.state === 'waiting' ? '…' : ''}
          </span>
          <span className="number px-1 text-right whitespace-nowrap" title="keys">
            {row
              ? row.keyLow === row.keyHigh
                ? ''
                : `${nameOfKey(row.keyLow, middleC)}–${nameOfKey(row.keyHigh, middleC)}`
              : ''}
          </span>
          <span className="number px-1 text-right" title="velocities">
            {row ? `${row.velocityLow}–${row.velocityHigh}` : ''}
          </span>
          <span className="number px-1 text-right" title="alternate">
            {row && row.alternate !== null ? `a${row.alternate + 1}` : ''}
          </span>
          <span className="number px-1 text-right text-faint" title="loudness">
            {level !== undefined && Number.isFinite(level) ? level.toFixed(1).replace('-', '−') : ''}
          </span>
        </>
      )}
      <button
        className="button-bare"
        aria-label={`Leave ${file.path} out`}
        tabIndex={-1}
        onClick={() => tray.remove(file)}
      >
        <X size={13} />
      </button>
    </li>
  );
}

/** A piece of a name: pointing at it says what that piece means in all names. */
function PartButton({ part, meaning }: { part: NamePart; meaning: Meaning }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        tabIndex={-1}
        className={`max-w-36 shrink-0 truncate rounded px-1 leading-5 ${meaning === 'nothing' ? 'text-faint' : 'font-semibold'}`}
        style={
          meaning === 'nothing'
            ? undefined
            : {
                boxShadow: `inset 0 -2px 0 ${MEANING_COLOURS[meaning]}`,
                background: `color-mix(in srgb, ${MEANING_COLOURS[meaning]} 14%, transparent)`,
              }
        }
        title={`“${part.text}” is read as ${MEANING_WORDS[meaning]}. Click to say what it means.`}
      >
        {part.text}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" className="panel min-w-48 p-1.5!">
          <DropdownMenu.Label className="px-2 pb-1 text-[12px] text-faint">
            “{part.text}”, and what stands there in the other names, is
          </DropdownMenu.Label>
          {MEANINGS.map((each) => (
            <DropdownMenu.Item
              key={each}
              className={`menu-item ${each === meaning ? 'font-bold' : ''}`}
              onSelect={() => tray.setOptions({ corrections: { ...tray.options.corrections, [part.column]: each } })}
            >
              {MEANING_WORDS[each]}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export { MEANING_WORDS };
