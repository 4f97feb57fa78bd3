import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import {
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { GripHorizontal } from 'lucide-react';
import { useRef, useState, type PointerEvent } from 'react';
import { labelOfControl } from '../../../core/music/control';
import { connect, moveMacro, namePage } from '../../../core/rig/edits/moves';
import type { Macro, Patch } from '../../../core/rig/schema';
import { FrontStrips } from '../../parts/FrontStrips';
import { NameField, useRenaming } from '../../parts/NameField';
import { useStore } from '../../parts/useLive';
import { session } from '../../sound/session';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { sourceNow } from '../../sound/live';
import { whatItMoves } from '../../../core/rig/hands';
import { useTick } from '../../parts/useTick';
import { MARK_COLOURS } from '../../../core/rig/limits';

const ON_A_PAGE = 8;
/** A macro is as wide as its name needs on two lines; where there is less room, the page is scrolled. */
const LEAST_WIDTH = 78;
let gestures = 0;

/** Macros as tall strips, eight on a page, each with what it moves in words. */
export function MacroRow({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const [page, setPage] = useState(0);
  const pages = Math.max(1, Math.ceil(patch.macros.length / ON_A_PAGE));
  const shown = Math.min(page, pages - 1);
  const macros = patch.macros.slice(shown * ON_A_PAGE, (shown + 1) * ON_A_PAGE);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  if (patch.macros.length === 0) {
    return (
      <div className="grid h-full place-items-center p-6 text-center">
        <div>
          <p className="mb-1 font-bold">No macros yet.</p>
          <p className="text-faint">
            A macro moves several things at once, each its own way. Make one with “+ macro” below, take its connect sign
            and drag on strips.
          </p>
          <div className="mx-auto mt-3 w-56 text-left">
            <FrontStrips patch={patch} />
          </div>
        </div>
      </div>
    );
  }
  return (
    <section aria-label="Macros" className="flex h-full min-w-0 flex-col p-2.5">
      {pages > 1 && (
        <div className="mb-1.5 flex gap-1" role="tablist" aria-label="Pages of macros">
          {Array.from({ length: pages }, (_, i) => (
            <PageTab
              key={i}
              name={patch.macroPages[i] || `page ${i + 1}`}
              current={i === shown}
              onChoose={() => setPage(i)}
              onName={(name) => dispatch(editPatch(patch.id, (old) => namePage(old, i, name)))}
            />
          ))}
        </div>
      )}
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          if (over && over.id !== active.id)
            dispatch(
              editPatch(patch.id, (old) =>
                moveMacro(
                  old,
                  Number(active.id),
                  old.macros.findIndex((macro) => macro.number === Number(over.id)),
                ),
              ),
            );
        }}
      >
        <SortableContext items={macros.map((macro) => macro.number)} strategy={horizontalListSortingStrategy}>
          <div className="flex min-h-0 flex-1 gap-3 overflow-x-auto p-0.5 [scrollbar-width:thin]">
            <div
              className="grid min-h-0 flex-[1_1_auto] gap-2"
              style={{
                minWidth: macros.length * (LEAST_WIDTH + 8),
                gridTemplateColumns: `repeat(${macros.length}, minmax(0, 300px))`,
              }}
            >
              {macros.map((macro) => (
                <MacroStrip key={macro.number} patch={patch} macro={macro} />
              ))}
            </div>
            <div
              className={`shrink-0 overflow-y-auto [scrollbar-width:thin] ${patch.front.length > 0 ? 'w-52 max-[1000px]:w-40' : ''}`}
            >
              <FrontStrips patch={patch} />
            </div>
          </div>
        </SortableContext>
      </DndContext>
    </section>
  );
}

function PageTab({
  name,
  current,
  onChoose,
  onName,
}: {
  name: string;
  current: boolean;
  onChoose: () => void;
  onName: (name: string) => void;
}) {
  const renaming = useRenaming();
  if (renaming.renaming)
    return <NameField label="Name of the page" name={name} className="w-32" onName={onName} onEnd={renaming.end} />;
  return (
    <button
      role="tab"
      aria-selected={current}
      className="button px-2! py-0! text-[12px]"
      onClick={onChoose}
      onDoubleClick={renaming.begin}
      title="Double-click to name this page"
    >
      {name}
    </button>
  );
}

/** One macro: drag to play it, which never edits the patch; a line marks where it starts. */
function MacroStrip({ patch, macro }: { patch: Patch; macro: Macro }) {
  // At once, not at the next frame: the next key goes on from here.
  useStore(session.hands, (hands) => hands.controls);
  const dispatch = useAppDispatch();
  const { connecting, chosen } = useAppSelector((state) => state.choosing);
  const source = `macro.${macro.number}`;
  const selected = chosen !== null && 'source' in chosen && chosen.source === source;
  const live = session.liveOf(source) ?? macro.value;
  const isMoved = patch.routes.some((route) => route.on && route.target === source);
  useTick(isMoved && patch.movers.length > 0);
  const now = (isMoved ? sourceNow(source) : undefined) ?? live;
  const waiting = session.hearing.bindings.waiting(source);
  const binding = session.hearing.bindings.setup.bindings.find((candidate) => candidate.target === source);
  const box = useRef<HTMLDivElement>(null);
  const drag = useRef<{ y: number; from: number; gesture: string; depth: number } | null>(null);
  const { setNodeRef, attributes, listeners, transform, transition } = useSortable({ id: macro.number });
  const colour = `var(--${MARK_COLOURS[(macro.number - 1) % MARK_COLOURS.length]})`;
  const target =
    connecting && connecting !== source
      ? patch.routes.find((route) => route.target === source && route.source === connecting)
      : undefined;
  const isTarget = connecting !== null && connecting !== source;
  const play = (value: number) => session.moveLive(source, Math.min(1, Math.max(0, value)));
  const press = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    dispatch(choosingSlice.actions.chosenSet({ source }));
    drag.current = {
      y: event.clientY,
      from: live,
      gesture: `depth ${source} ${++gestures}`,
      depth: target?.depth ?? 0,
    };
    if (isTarget) return;
    if (macro.style === 'momentary') play(1);
    else if (macro.style === 'latched') play(live >= 0.5 ? 0 : 1);
  };
  const follow = (event: PointerEvent) => {
    if (!drag.current) return;
    const by = (drag.current.y - event.clientY) / box.current!.clientHeight;
    if (isTarget) {
      const { depth, gesture } = drag.current;
      if (Math.abs(by) > 0.01)
        dispatch(
          editPatch(
            patch.id,
            (old) => connect(old, connecting, source, Math.min(1, Math.max(-1, depth + by))),
            gesture,
          ),
        );
    } else if (macro.style === 'strip') play(drag.current.from + by * (event.shiftKey ? 0.2 : 1));
  };
  const end = () => {
    if (drag.current && !isTarget && macro.style === 'momentary') play(0);
    drag.current = null;
    dispatch(rigSlice.actions.gestureEnded());
  };
  return (
    <div
      ref={setNodeRef}
      style={{ transform: transform ? `translateX(${transform.x}px)` : undefined, transition }}
      className={`gripped relative flex min-w-0 flex-col overflow-hidden rounded-lg border bg-sheet ${isTarget ? 'border-indigo ring-2 ring-indigo/40' : selected ? 'border-ink ring-2 ring-ink' : 'border-edge'}`}
    >
      <div
        className="pointer-events-none absolute inset-x-0 bottom-0"
        style={{
          height: `${live * 100}%`,
          background: `color-mix(in srgb, ${colour} 24%, transparent)`,
          borderTop: `2px solid ${colour}`,
        }}
      />
      {now !== live && (
        <div
          className="pointer-events-none absolute inset-x-0"
          title="Where what moves it takes it"
          style={{
            bottom: `${Math.min(live, now) * 100}%`,
            height: `${Math.abs(now - live) * 100}%`,
            background: `repeating-linear-gradient(45deg, color-mix(in srgb, ${colour} 45%, transparent) 0 2px, transparent 2px 5px)`,
            borderTop: now > live ? `2px solid ${colour}` : undefined,
          }}
        />
      )}
      {macro.value !== live && (
        <div
          className="pointer-events-none absolute inset-x-0 border-t border-dashed border-ink/60"
          style={{ bottom: `${macro.value * 100}%` }}
          title="Where it starts"
        />
      )}
      {waiting && (
        <div
          className="pointer-events-none absolute inset-x-0 border-t-2 border-alarm"
          style={{ bottom: `${waiting.at * 100}%` }}
        />
      )}
      <div className="relative px-2">
        <span
          dir="auto"
          className="line-clamp-2 pt-1 leading-tight font-bold break-words hyphens-auto"
          title={macro.name}
        >
          {macro.name || `macro ${macro.number}`}
        </span>
        <button
          className="grip absolute top-0 right-0.5 rounded bg-sheet px-0.5 text-faint pointer-coarse:grid pointer-coarse:size-11 pointer-coarse:place-items-center pointer-coarse:bg-transparent"
          aria-label={`Move ${macro.name} in the order`}
          {...attributes}
          {...listeners}
          role="button"
        >
          <GripHorizontal size={13} />
        </button>
      </div>
      <div
        ref={box}
        role="slider"
        data-plays
        tabIndex={0}
        aria-label={macro.name || `macro ${macro.number}`}
        aria-orientation="vertical"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(live * 100)}
        className="relative flex min-h-0 flex-1 touch-none flex-col px-2 pb-1 select-none"
        title="A macro: drag it up and down, or use the arrow keys; double-click lets it go back to its start"
        onPointerDown={press}
        onPointerMove={follow}
        onPointerUp={end}
        onPointerCancel={end}
        onFocus={() => {
          if (!selected) dispatch(choosingSlice.actions.chosenSet({ source }));
        }}
        onDoubleClick={() => {
          if (!isTarget && macro.style === 'strip') session.play({ type: 'rest', kind: 'macro', number: macro.number });
        }}
        onKeyDown={(event) => {
          const step = event.shiftKey ? 0.005 : 0.04;
          const to = {
            ArrowUp: live + step,
            ArrowRight: live + step,
            ArrowDown: live - step,
            ArrowLeft: live - step,
            Home: 0,
            End: 1,
            Enter: macro.style === 'latched' ? (live >= 0.5 ? 0 : 1) : 1,
          }[event.key];
          if (to === undefined || (event.key === 'Enter' && macro.style === 'strip')) return;
          event.preventDefault();
          event.stopPropagation();
          play(to);
        }}
        onKeyUp={(event) => {
          if (event.key === 'Enter' && macro.style === 'momentary') play(0);
        }}
      >
        <span className="line-clamp-6 text-[12px] leading-tight text-ink/85">
          {whatItMoves(patch, source) || 'moves nothing yet'}
        </span>
        <span className="mt-auto flex items-baseline justify-between gap-1">
          <span className="number">
            {Math.round(live * 100)}
            {now !== live ? ` → ${Math.round(now * 100)}` : ''}
          </span>
          <span
            className="min-w-0 truncate text-[11.5px] text-ink/85"
            title={waiting ? 'The control stands elsewhere: it takes hold once it reaches the value' : undefined}
          >
            {waiting
              ? `${labelOfControl(waiting.control)} to ${Math.round(waiting.has * 100)}`
              : binding
                ? labelOfControl(binding.control)
                : macro.style === 'strip'
                  ? ''
                  : macro.style}
          </span>
        </span>
      </div>
    </div>
  );
}
