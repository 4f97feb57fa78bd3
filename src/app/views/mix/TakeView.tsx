import { TakeSide } from './TakeSide';
import { draggedNotes, notesInBox, noteUnder, paintTake, timeOfY, yOfTime } from './takeDrawing';
import { useCallback, useEffect, useRef, useState, type PointerEvent, useMemo } from 'react';
import { NOTE_VALUES, noteValue } from '../../../core/music/time';
import { changeNotes, addNotes } from '../../../core/rig/edits/takes';
import type { Note } from '../../../core/rig/takes';
import type { Patch, PatchTake } from '../../../core/rig/schema';
import { prepared } from '../../parts/canvas';
import { keyScaleOf, useWidth } from '../../parts/keyScale';
import { useFrames } from '../../parts/useLive';
import { session } from '../../sound/session';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, useAppDispatch } from '../../document/store';
import { mixSlice } from './mixSlice';
import { TakeParts } from './TakeParts';

const END_PIXELS = 7;
let gestures = 0;

type Drag = {
  kind: 'move' | 'end' | 'box' | 'draw';
  x: number;
  y: number;
  from: Note[];
  places: ReadonlySet<number>;
  gesture: string;
  to: { x: number; y: number };
};

/**
 * A take in a picture of notes over time, above the keys: later is higher. Beside it what plays what, and what plays
 * along.
 */
export function TakeView({ patch, take }: { patch: Patch; take: PatchTake }) {
  const dispatch = useAppDispatch();
  const [partId, setPartId] = useState(take.parts[0]?.id ?? '');
  const part = take.parts.find(({ id }) => id === partId) ?? take.parts[0];
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [grid, setGrid] = useState('1/16');
  const [box, width] = useWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const drag = useRef<Drag | null>(null);
  const [height, setHeight] = useState(400);
  const scale = useMemo(() => keyScaleOf(width), [width]);
  const pixels = Math.max(height - 6, take.quarters * 14);
  const perQuarter = (pixels - 6) / take.quarters;
  const space = useMemo(() => ({ scale, width, pixels, perQuarter }), [scale, width, pixels, perQuarter]);
  const yOf = useCallback((at: number) => yOfTime(space, at), [space]);
  const atOf = (y: number) => timeOfY(space, y);
  const quarters = NOTE_VALUES[noteValue(grid)].quarters;
  const snapped = (at: number) => Math.round(at / quarters) * quarters;
  const change = (edit: (old: Patch) => Patch, gesture?: string) => dispatch(editPatch(patch.id, edit, gesture));
  const notes = part?.notes ?? [];
  useEffect(() => {
    setChosen(new Set());
  }, [partId, take.id]);
  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const measure = () => setHeight(element.clientHeight);
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    // The beginning lies at the keys.
    element.scrollTop = element.scrollHeight;
    return () => observer.disconnect();
  }, [box]);

  useEffect(() => {
    const context = prepared(canvas, width, pixels);
    if (!context) return;
    context.clearRect(0, 0, width, pixels);
    paintTake(context, space, {
      take,
      part,
      chosen,
      grid: quarters,
      box: drag.current?.kind === 'box' ? drag.current : null,
    });
  });

  const head = useRef<HTMLDivElement>(null);
  useFrames(
    useCallback(() => {
      const { takes } = session;
      if (!head.current) return;
      const at = takes.take && takes.take.seconds > 0 ? (takes.position / takes.take.seconds) * take.quarters : 0;
      head.current.style.transform = `translateY(${yOf(at)}px)`;
      head.current.style.opacity = takes.playing ? '1' : '0';
    }, [take.quarters, yOf]),
  );

  const place = (event: PointerEvent) => {
    const { left, top } = canvas.current!.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };
  const down = (event: PointerEvent<HTMLCanvasElement>) => {
    if (!part || event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.focus();
    const at = place(event);
    const hit = noteUnder(notes, space, at);
    const gesture = `take ${++gestures}`;
    if (hit >= 0) {
      const next = event.shiftKey
        ? new Set(chosen.has(hit) ? [...chosen].filter((n) => n !== hit) : [...chosen, hit])
        : chosen.has(hit)
          ? chosen
          : new Set([hit]);
      setChosen(next);
      const [start, length] = notes[hit];
      drag.current = {
        kind: at.y - yOf(start + length) < END_PIXELS && length * perQuarter > 2 * END_PIXELS ? 'end' : 'move',
        ...at,
        from: [...notes],
        places: next,
        gesture,
        to: at,
      };
    } else if (event.ctrlKey || event.metaKey || event.shiftKey)
      drag.current = { kind: 'box', ...at, from: [...notes], places: chosen, gesture, to: at };
    else {
      // Empty ground: a note is drawn, as long as the pointer goes up.
      const key = Math.floor(scale.keyAt(at.x));
      const from = Math.max(0, Math.floor(atOf(at.y) / quarters) * quarters);
      change((old) => addNotes(old, take.id, part.id, [[from, quarters, key, 90]]), gesture);
      drag.current = {
        kind: 'draw',
        ...at,
        from: [...notes, [from, quarters, key, 90]],
        places: new Set(),
        gesture,
        to: at,
      };
      setChosen(new Set());
    }
  };
  const move = (event: PointerEvent) => {
    const { current } = drag;
    if (!current || !part) return;
    current.to = place(event);
    const keys = Math.floor(scale.keyAt(current.to.x)) - Math.floor(scale.keyAt(current.x));
    const by = event.altKey
      ? (current.y - current.to.y) / perQuarter
      : snapped((current.y - current.to.y) / perQuarter);
    if (current.kind === 'box') return setChosen(new Set(notesInBox(notes, space, current)));
    if (current.kind === 'draw') {
      const drawn = current.from[current.from.length - 1];
      const length = Math.max(quarters, snapped(atOf(current.to.y) - drawn[0]) || quarters);
      return change(
        (old) =>
          changeNotes(old, take.id, part.id, (note) =>
            note[0] === drawn[0] && note[2] === drawn[2] ? [note[0], length, note[2], note[3]] : note,
          ),
        current.gesture,
      );
    }
    const { rest, moved, places } = draggedNotes(current.from, current.places, current.kind === 'end', by, keys);
    change(
      (old) =>
        addNotes(
          changeNotes(old, take.id, part.id, () => undefined),
          take.id,
          part.id,
          [...rest, ...moved],
        ),
      current.gesture,
    );
    setChosen(places);
  };
  const up = () => {
    if (drag.current && drag.current.kind !== 'box') dispatch(rigSlice.actions.gestureEnded());
    drag.current = null;
  };
  const onChosen = (edit: (note: Note) => Note | undefined, gesture?: string) => {
    if (part)
      change(
        (old) =>
          changeNotes(old, take.id, part.id, (note, n) => (chosen.size === 0 || chosen.has(n) ? edit(note) : note)),
        gesture,
      );
  };
  return (
    <div className="grid h-full min-h-0 grid-cols-[var(--left)_minmax(0,1fr)_var(--right)]">
      <TakeParts patch={patch} take={take} partId={part?.id ?? ''} onPart={setPartId} />
      <div
        ref={box}
        className="relative min-h-0 overflow-x-hidden overflow-y-auto [scrollbar-width:none]"
        tabIndex={-1}
      >
        <canvas
          ref={canvas}
          className="block touch-none outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--ink)]"
          tabIndex={0}
          role="application"
          aria-label={`Notes of ${part?.name ?? 'the take'}: ${notes.length}. Draw on empty ground, drag a note to move it, its end to lengthen it; with Control, draw a box to choose.`}
          data-testid="notes"
          data-count={notes.length}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
          onPointerCancel={up}
          onKeyDown={(event) => {
            const control = event.ctrlKey || event.metaKey;
            const by = { ArrowUp: [quarters, 0], ArrowDown: [-quarters, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[
              event.key
            ];
            const act =
              event.key === 'Delete' || event.key === 'Backspace'
                ? () => {
                    if (chosen.size > 0) {
                      onChosen(() => undefined);
                      setChosen(new Set());
                    }
                  }
                : control && event.key.toLowerCase() === 'a'
                  ? () => setChosen(new Set(notes.map((_, i) => i)))
                  : by && chosen.size > 0
                    ? () =>
                        onChosen((note) =>
                          event.shiftKey && by[1] === 0
                            ? [note[0], Math.max(1 / 32, note[1] + by[0]), note[2], note[3]]
                            : [note[0] + by[0], note[1], note[2] + (event.shiftKey ? 12 * by[1] : by[1]), note[3]],
                        )
                    : undefined;
            if (!act) return;
            event.preventDefault();
            event.stopPropagation();
            act();
          }}
        />
        <div ref={head} aria-hidden className="pointer-events-none absolute inset-x-0 top-0 h-[2px] bg-ink opacity-0" />
      </div>
      <TakeSide
        patch={patch}
        take={take}
        part={part}
        chosen={chosen}
        grid={grid}
        quarters={quarters}
        onGrid={setGrid}
        onChosen={onChosen}
        onChoose={setChosen}
      />
    </div>
  );
}

export function TakeActions() {
  const dispatch = useAppDispatch();
  return (['river', 'strips'] as const).map((as) => (
    <button key={as} className="button" onClick={() => dispatch(mixSlice.actions.mixAsSet(as))}>
      Back to the {as}
    </button>
  ));
}
