import { useCallback, useEffect, useRef, useState, type PointerEvent } from 'react';
import { nameOfKey } from '../../../core/music/noteNames';
import { NOTE_VALUES, noteValue } from '../../../core/music/time';
import { isBlackKey } from '../../../core/music/pitch';
import {
  changeNotes,
  addNotes,
  deleteTake,
  quantise,
  renameTake,
  repeatStretch,
  setLength,
} from '../../../core/rig/edits/takes';
import type { Note } from '../../../core/rig/takes';
import type { Part, Patch, PatchTake } from '../../../core/rig/schema';
import { exportTake } from '../../jobs/files';
import { prepared, themeColour } from '../../parts/canvas';
import { FIRST_KEY, keyScaleOf, LAST_KEY, useWidth } from '../../parts/keyScale';
import { Named, Part as Section, Row } from '../../parts/Part';
import { Strip } from '../../parts/Strip';
import { useFrames } from '../../parts/useLive';
import { session } from '../../sound/session';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, told, useAppDispatch, useAppSelector } from '../../document/store';
import { mixSlice } from './mixSlice';
import { TakeParts } from './TakeParts';

const VELOCITY = {
  id: 'velocity',
  label: 'velocity',
  unit: '',
  low: 1,
  high: 127,
  default: 90,
  law: 'steps',
  reach: 'patch',
  sides: 1,
  help: 'How hard the chosen notes are struck.',
} as const;
const GRIDS = ['1/4', '1/8', '1/8 triplet', '1/16', '1/16 triplet', '1/32'];
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
  const middleC = useAppSelector((state) => state.settings.middleC);
  const [partId, setPartId] = useState(take.parts[0]?.id ?? '');
  const part = take.parts.find(({ id }) => id === partId) ?? take.parts[0];
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [grid, setGrid] = useState('1/16');
  const [share, setShare] = useState(100);
  const [stretch, setStretch] = useState<readonly [number, number]>([0, 4]);
  const [box, width] = useWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const drag = useRef<Drag | null>(null);
  const [height, setHeight] = useState(400);
  const scale = keyScaleOf(width);
  const pixels = Math.max(height - 6, take.quarters * 14);
  const perQuarter = (pixels - 6) / take.quarters;
  const yOf = useCallback((at: number) => pixels - at * perQuarter, [pixels, perQuarter]);
  const atOf = (y: number) => (pixels - y) / perQuarter;
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
    const line = themeColour('--line'),
      ink = themeColour('--ink'),
      colour = themeColour('--clay'),
      other = themeColour('--slate'),
      faint = themeColour('--faint');
    for (let key = FIRST_KEY; key <= LAST_KEY; key++) {
      if (isBlackKey(key)) {
        context.fillStyle = line;
        context.globalAlpha = 0.28;
        context.fillRect(scale.left(key), 0, scale.keyWidth, pixels);
      }
      if (key % 12 === 0) {
        context.globalAlpha = 1;
        context.fillStyle = line;
        context.fillRect(scale.left(key), 0, 1, pixels);
      }
    }
    for (let at = 0; at <= take.quarters; at += quarters * perQuarter < 5 ? 1 : quarters) {
      context.globalAlpha = at % 4 === 0 ? 1 : at % 1 === 0 ? 0.6 : 0.25;
      context.fillStyle = at % 4 === 0 ? faint : line;
      context.fillRect(0, Math.round(yOf(at)), width, 1);
      if (at % 4 === 0 && at < take.quarters) {
        context.globalAlpha = 1;
        context.fillStyle = faint;
        context.font = '10.5px sans-serif';
        context.fillText(String(at / 4 + 1), 3, yOf(at) - 3);
      }
    }
    const paint = (each: Part, own: boolean) =>
      each.notes.forEach(([at, length, key, velocity], place) => {
        const isChosen = own && chosen.has(place);
        context.globalAlpha = own ? 0.35 + (0.6 * velocity) / 127 : 0.22;
        context.fillStyle = own ? colour : other;
        const y = yOf(at + length);
        context.fillRect(
          scale.left(key) + 0.5,
          y,
          Math.max(3, scale.keyWidth - 1),
          Math.max(3, length * perQuarter - 1),
        );
        if (isChosen) {
          context.globalAlpha = 1;
          context.strokeStyle = ink;
          context.lineWidth = 2;
          context.strokeRect(
            scale.left(key) + 0.5,
            y,
            Math.max(3, scale.keyWidth - 1),
            Math.max(3, length * perQuarter - 1),
          );
        }
      });
    for (const each of take.parts) if (each !== part && each.on) paint(each, false);
    if (part) paint(part, true);
    // Where something is moved: a line at the rim.
    context.globalAlpha = 0.8;
    context.fillStyle = themeColour('--indigo');
    for (const [at] of part?.moves ?? []) context.fillRect(width - 4, yOf(at) - 1, 4, 2);
    context.globalAlpha = 1;
    const { current } = drag;
    if (current?.kind === 'box') {
      context.strokeStyle = ink;
      context.setLineDash([4, 3]);
      context.strokeRect(
        Math.min(current.x, current.to.x),
        Math.min(current.y, current.to.y),
        Math.abs(current.to.x - current.x),
        Math.abs(current.to.y - current.y),
      );
      context.setLineDash([]);
    }
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
  const under = ({ x, y }: { x: number; y: number }): number => {
    const key = Math.floor(scale.keyAt(x));
    const at = atOf(y);
    for (let i = notes.length - 1; i >= 0; i--)
      if (
        notes[i][2] === key &&
        at >= notes[i][0] - 3 / perQuarter &&
        at <= notes[i][0] + Math.max(notes[i][1], 4 / perQuarter)
      )
        return i;
    return -1;
  };
  const down = (event: PointerEvent<HTMLCanvasElement>) => {
    if (!part || event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.focus();
    const at = place(event);
    const hit = under(at);
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
    if (current.kind === 'box')
      return setChosen(new Set(notes.flatMap((note, i) => (inBox(note, current) ? [i] : []))));
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
    const wanted = [...current.places].map((n) => current.from[n]).filter(Boolean);
    const rest = current.from.filter((_, n) => !current.places.has(n));
    const moved = wanted.map((note): Note =>
      current.kind === 'end'
        ? [note[0], Math.max(1 / 32, note[1] + by), note[2], note[3]]
        : [note[0] + by, note[1], note[2] + keys, note[3]],
    );
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
    // Places follow the order of the notes.
    const all = [...rest, ...moved].sort((a, b) => a[0] - b[0] || a[2] - b[2]);
    setChosen(new Set(moved.map((note) => all.indexOf(note))));
  };
  const inBox = ([at, length, key]: Note, { x, y, to }: Drag) => {
    const left = Math.min(x, to.x),
      right = Math.max(x, to.x),
      top = Math.min(y, to.y),
      bottom = Math.max(y, to.y);
    return (
      scale.left(key) + scale.keyWidth > left && scale.left(key) < right && yOf(at) > top && yOf(at + length) < bottom
    );
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
  const velocity =
    chosen.size > 0
      ? Math.round([...chosen].reduce((sum, n) => sum + (notes[n]?.[3] ?? 0), 0) / chosen.size)
      : undefined;
  const one = chosen.size === 1 ? notes[[...chosen][0]] : undefined;
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
      <aside
        aria-label="The take"
        className="flex min-h-0 flex-col gap-2.5 overflow-y-auto border-l border-line p-3 text-[13px] [scrollbar-width:thin]"
      >
        <Named name={take.name} kind="take" onName={(name) => change((old) => renameTake(old, take.id, name))} />
        <p className="text-[12px] text-faint">
          Later is higher. Draw on empty ground; drag a note, or its end; Control and a box chooses, Delete takes away,
          arrows move (Shift: lengthen, octaves).
        </p>
        <Row label="bars">
          <input
            type="number"
            min={1}
            max={256}
            className="field number w-20"
            value={take.quarters / 4}
            onChange={(event) => {
              if (event.target.value !== '') change((old) => setLength(old, take.id, Number(event.target.value) * 4));
            }}
            onKeyDown={(event) => event.stopPropagation()}
          />
        </Row>
        <Row label="grid">
          <select className="field" value={grid} onChange={(event) => setGrid(event.target.value)}>
            {GRIDS.map((id) => (
              <option key={id}>{id}</option>
            ))}
          </select>
        </Row>
        <Section
          title={
            chosen.size === 0
              ? 'All notes'
              : one
                ? `${nameOfKey(one[2], middleC)}, velocity ${one[3]}`
                : `${chosen.size} notes`
          }
        >
          {velocity !== undefined && (
            <Strip
              parameter={VELOCITY}
              value={velocity}
              colour="var(--clay)"
              onEnd={() => dispatch(rigSlice.actions.gestureEnded())}
              onChange={(value, gesture) =>
                onChosen((note) => [note[0], note[1], note[2], note[3] + value - velocity], gesture)
              }
            />
          )}
          <div className="flex flex-wrap gap-1">
            {(
              [
                ['−12', -12],
                ['−1', -1],
                ['+1', 1],
                ['+12', 12],
              ] as const
            ).map(([words, by]) => (
              <button
                key={words}
                className="button px-2! py-0.5!"
                title={`Transposes by ${by} semitones`}
                onClick={() => onChosen((note) => [note[0], note[1], note[2] + by, note[3]])}
              >
                {words}
              </button>
            ))}
            <button
              className="button px-2! py-0.5!"
              disabled={chosen.size === 0}
              onClick={() => {
                onChosen(() => undefined);
                setChosen(new Set());
              }}
            >
              delete
            </button>
          </div>
          <div className="flex items-center gap-1.5">
            <button
              className="button px-2! py-0.5!"
              onClick={() => {
                if (part) change((old) => quantise(old, take.id, part.id, chosen, quarters, share / 100));
              }}
            >
              quantise
            </button>
            <label className="flex items-center gap-1 text-[12px] text-faint">
              by
              <input
                type="number"
                min={0}
                max={100}
                className="field number w-16"
                value={share}
                onChange={(event) => setShare(Math.min(100, Math.max(0, Number(event.target.value))))}
                onKeyDown={(event) => event.stopPropagation()}
              />
              %
            </label>
          </div>
          <div className="flex items-center gap-1.5 whitespace-nowrap">
            <button
              className="button px-2! py-0.5!"
              title="What lies between is repeated to the end of the take"
              onClick={() => {
                if (part) change((old) => repeatStretch(old, take.id, part.id, stretch[0], stretch[1]));
              }}
            >
              repeat
            </button>
            <span className="text-[12px] text-faint">beats</span>
            {([0, 1] as const).map((n) => (
              <input
                key={n}
                type="number"
                aria-label={n === 0 ? 'From beat' : 'To beat'}
                min={1}
                className="field number w-14"
                value={stretch[n] + 1}
                onChange={(event) =>
                  setStretch(
                    n === 0
                      ? [Number(event.target.value) - 1, stretch[1]]
                      : [stretch[0], Number(event.target.value) - 1],
                  )
                }
                onKeyDown={(event) => event.stopPropagation()}
              />
            ))}
          </div>
        </Section>
        {part && part.moves.length > 0 && (
          <Section title="Moves">
            {[...new Set(part.moves.map(([, what]) => what))].map((what) => (
              <Row key={what} label={what}>
                <button
                  className="button px-2! py-0! text-[11.5px]"
                  onClick={() =>
                    change((old) => ({
                      ...old,
                      takes: old.takes.map((each) =>
                        each.id !== take.id
                          ? each
                          : {
                              ...each,
                              parts: each.parts.map((p) =>
                                p.id === part.id ? { ...p, moves: p.moves.filter(([, moved]) => moved !== what) } : p,
                              ),
                            },
                      ),
                    }))
                  }
                >
                  take away
                </button>
              </Row>
            ))}
          </Section>
        )}
        <div className="flex flex-wrap gap-1.5">
          <button className="button" onClick={() => exportTake(patch, take)}>
            As a MIDI file
          </button>
          <button
            className="button"
            onClick={() => {
              change((old) => deleteTake(old, take.id));
              dispatch(mixSlice.actions.mixAsSet('river'));
              dispatch(told(`The take “${take.name}” is gone.`));
            }}
          >
            Delete
          </button>
        </div>
      </aside>
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
