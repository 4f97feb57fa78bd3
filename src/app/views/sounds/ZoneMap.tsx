import { Lasso } from 'lucide-react';
import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type DragEvent,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import { nameOfKey } from '../../../core/music/noteNames';
import { deleteZonesOf, moveZones, updateZones, stretches } from '../../../core/rig/edits/zones';
import type { Sound, Zone } from '../../../core/rig/schema';
import { changeField, zoneField } from '../../../core/rig/zoneFields';
import { mayTake } from '../../document/carrying';
import { prepared, themeColour, writeVelocities } from '../../parts/canvas';
import { FIRST_KEY, LAST_KEY, useWidth, type KeyScale } from '../../parts/keyScale';
import { point } from '../../parts/pointed';
import { useFrames } from '../../parts/useLive';
import { rigSlice } from '../../document/rigSlice';
import { soundsSlice } from './soundsSlice';
import { edit, editSound, told, useAppDispatch, useAppSelector } from '../../document/store';
import { answersOf } from './answers';
import {
  boxOf,
  drawAnswer,
  drawGround,
  drawStretches,
  drawZone,
  isInside,
  velocityAtY,
  yOfVelocity,
  type Box,
  type MapSpace,
} from './mapDrawing';
import { handlesOf, drawHandles, drawRails } from './zoneHandles';
import { RAIL } from './zoneHandles';
import { type Part } from './zoneHandles';

const NEAR = 6;
const ANSWER_MS = 900;
/**
 * What a press began: moving zones, pulling an edge or a fade, drawing a line around zones, or choosing columns or
 * rows.
 */
type Drag =
  | { kind: 'move'; key: number; velocity: number; sound: Sound; moved: boolean }
  | { kind: 'pull'; edge: 'key' | 'velocity'; part: Part; sound: Sound; from: number }
  | { kind: 'lasso'; points: [number, number][]; adds: boolean; clicked?: number }
  | { kind: 'column'; from: number; adds: boolean }
  | { kind: 'row'; from: number; adds: boolean };

const CURSORS = {
  'key.low': 'ew-resize',
  'key.high': 'ew-resize',
  'velocity.low': 'ns-resize',
  'velocity.high': 'ns-resize',
} as Record<string, string>;

/** `onDrop` has the place of the zone that something was dropped on. */
interface Props {
  sound: Sound;
  scale: KeyScale;
  colour: string;
  onDrop: (event: DragEvent, over: number | null) => void;
}

/**
 * Keys × velocities with the zones of a sound as waters: chosen by click, by a line drawn around them, by key column or
 * velocity row; moved and shaped by drag.
 */
export function ZoneMap({ sound, scale, colour, onDrop }: Props) {
  const [box, width] = useWidth<HTMLDivElement>();
  const base = useRef<HTMLCanvasElement>(null);
  const middle = useRef<HTMLCanvasElement>(null);
  const over = useRef<HTMLCanvasElement>(null);
  const dispatch = useAppDispatch();
  const selected = useAppSelector((state) => state.sounds.selected);
  const leader = useAppSelector((state) => state.sounds.leader);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const theme = useAppSelector((state) => state.settings.theme);
  const tall = box.current?.getBoundingClientRect().height ?? 0;
  // The water ends where the lower rail begins.
  const height = Math.max(0, tall - RAIL);
  const space = useMemo<MapSpace>(() => ({ scale, height }), [scale, height]);
  const chosen = useMemo(() => new Set(selected), [selected]);
  const drag = useRef<Drag | null>(null);
  const [hovered, setHovered] = useState<number | null>(null);
  const [cursor, setCursor] = useState('default');
  /** A press draws a line around zones, wherever it begins. */
  const [lassoing, setLassoing] = useState(false);

  const look = useCallback(
    (zone: Zone, isChosen: boolean, isHovered: boolean, ink: string, shade: string) => ({
      colour: shade,
      ink,
      depth: (zone.velocity.low + zone.velocity.high) / 254,
      chosen: isChosen,
      hovered: isHovered,
      root: zone.root,
    }),
    [],
  );
  const rest = useUnchanged(useMemo(() => sound.zones.filter((_, i) => !chosen.has(i)), [sound, chosen]));

  // What is not chosen is drawn once and stays, however the chosen zones are dragged over it.
  const by = useMemo(() => stretches(sound), [sound]);
  useEffect(() => {
    const context = prepared(base, width, tall);
    if (!context) return;
    const shade = themeColour(`--${colour}`);
    const ink = themeColour('--ink');
    drawGround(context, space, tall, themeColour('--sheet'), themeColour('--line'));
    for (const zone of rest) drawZone(context, zone, space, look(zone, false, false, ink, shade));
    drawStretches(context, by, space, { ink, colour: shade, alarm: themeColour('--alarm') });
  }, [rest, by, space, width, tall, colour, theme, look]);

  useEffect(() => {
    const context = prepared(middle, width, tall);
    if (!context) return;
    const shade = themeColour(`--${colour}`);
    const ink = themeColour('--ink');
    context.clearRect(0, 0, width, tall);
    if (hovered !== null && !chosen.has(hovered) && sound.zones[hovered])
      drawZone(context, sound.zones[hovered], space, look(sound.zones[hovered], false, true, ink, shade));
    for (const place of chosen)
      if (sound.zones[place])
        drawZone(context, sound.zones[place], space, look(sound.zones[place], true, place === hovered, ink, shade));
    const lead = leader === null ? undefined : sound.zones[leader];
    if (lead && chosen.size === 1) drawHandles(context, handlesOf(lead, space), ink);
    writeVelocities(context, [127, 96, 64, 32, 1], RAIL + 3, height, (velocity) => yOfVelocity(velocity, height));
    drawRails(context, scale, width, tall);
  }, [sound, space, scale, width, tall, height, chosen, hovered, leader, colour, theme, look]);

  const soundRef = useRef(sound);
  useEffect(() => {
    soundRef.current = sound;
  }, [sound]);
  useFrames(
    useCallback(
      (now: number) => {
        const answers = answersOf(soundRef.current.id).filter(({ at }) => now - at < ANSWER_MS);
        const busy = answers.length > 0 || drag.current?.kind === 'lasso';
        // Where nothing moves, nothing is drawn.
        if (!busy && over.current?.dataset.clear === `${width} ${tall}`) return;
        const context = prepared(over, width, tall);
        if (!context) return;
        context.clearRect(0, 0, width, tall);
        context.canvas.dataset.clear = busy ? '' : `${width} ${tall}`;
        const shade = themeColour(`--${colour}`);
        for (const { zone, key, at } of answers) {
          const age = (now - at) / ANSWER_MS;
          if (age < 1 && soundRef.current.zones[zone])
            drawAnswer(context, soundRef.current.zones[zone], space, key, Math.max(0, age), shade);
        }
        if (drag.current?.kind === 'lasso' && drag.current.points.length > 1) {
          context.strokeStyle = themeColour('--ink');
          context.setLineDash([4, 3]);
          context.beginPath();
          drag.current.points.forEach(([x, y], i) => (i === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
          context.closePath();
          context.stroke();
          context.setLineDash([]);
        }
      },
      [width, tall, space, colour],
    ),
  );

  const placeOf = (event: PointerEvent) => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const x = event.clientX - left;
    const y = event.clientY - top;
    return { x, y, key: Math.min(127, Math.max(0, Math.floor(scale.keyAt(x)))), velocity: velocityAtY(y, height) };
  };
  const zonesAt = (x: number, y: number): number[] => {
    const found: number[] = [];
    sound.zones.forEach((zone, i) => {
      if (contains(boxOf(zone, space), x, y)) found.push(i);
    });
    return found;
  };
  /** The zone that a drag is over: one that is chosen before others. */
  const topAt = (event: DragEvent): number | null => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const here = zonesAt(event.clientX - left, event.clientY - top);
    return here.find((place) => chosen.has(place)) ?? here[here.length - 1] ?? null;
  };
  /** The edge or fade of the leader under a point. */
  const grip = (x: number, y: number): { edge: 'key' | 'velocity'; part: Part } | null => {
    const lead = leader === null || !chosen.has(leader) ? undefined : sound.zones[leader];
    if (!lead) return null;
    if (chosen.size === 1) {
      const handle = handlesOf(lead, space).find((each) => Math.hypot(each.x - x, each.y - y) < NEAR + 2);
      if (handle) return handle;
    }
    const { x0, x1, y0, y1 } = boxOf(lead, space);
    const reachX = Math.min(NEAR, (x1 - x0) / 3.5);
    const reachY = Math.min(NEAR, (y1 - y0) / 3.5);
    if (y > y0 && y < y1) {
      if (Math.abs(x - x0) < reachX) return { edge: 'key', part: 'low' };
      if (Math.abs(x - x1) < reachX) return { edge: 'key', part: 'high' };
    }
    if (x > x0 && x < x1) {
      if (Math.abs(y - y0) < reachY) return { edge: 'velocity', part: 'high' };
      if (Math.abs(y - y1) < reachY) return { edge: 'velocity', part: 'low' };
    }
    return null;
  };
  const choose = (places: readonly number[], adds: boolean) =>
    dispatch(soundsSlice.actions.zonesChosen(adds ? [...new Set([...selected, ...places])] : places));
  const span = (a: number, b: number) => [Math.min(a, b), Math.max(a, b)] as const;

  const press = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const { x, y, key, velocity } = placeOf(event);
    const adds = event.shiftKey;
    if (y > height) {
      drag.current = { kind: 'column', from: key, adds };
      return choose(inColumns(sound, key, key), adds);
    }
    if (x < RAIL) {
      drag.current = { kind: 'row', from: velocity, adds };
      return choose(inRows(sound, velocity, velocity), adds);
    }
    if (lassoing) {
      drag.current = { kind: 'lasso', points: [[x, y]], adds };
      return adds ? undefined : choose([], false);
    }
    const held = adds ? null : grip(x, y);
    if (held) {
      drag.current = { kind: 'pull', ...held, sound, from: held.edge === 'key' ? key : velocity };
      return undefined;
    }
    const here = zonesAt(x, y);
    if (here.length === 0) {
      drag.current = { kind: 'lasso', points: [[x, y]], adds };
      return adds ? undefined : choose([], false);
    }
    // With Shift a click adds or takes away a zone, and a drag draws a line around zones, also where they cover
    // everything.
    if (adds) {
      drag.current = { kind: 'lasso', points: [[x, y]], adds, clicked: here[here.length - 1] };
      return undefined;
    }
    const mine = here.filter((place) => chosen.has(place));
    drag.current = { kind: 'move', key, velocity, sound, moved: false };
    if (mine.length === 0) choose([here[here.length - 1]], false);
    return undefined;
  };
  const move = (event: PointerEvent<HTMLDivElement>) => {
    const { x, y, key, velocity } = placeOf(event);
    point({ key: Math.min(LAST_KEY, Math.max(FIRST_KEY, key)), velocity });
    const now = drag.current;
    if (!now) {
      const held = grip(x, y);
      setCursor(
        y > height || x < RAIL
          ? 'pointer'
          : lassoing
            ? 'crosshair'
            : held
              ? (CURSORS[`${held.edge}.${held.part}`] ?? 'grab')
              : 'default',
      );
      const here = zonesAt(x, y);
      const top = here.find((place) => chosen.has(place)) ?? here[here.length - 1] ?? null;
      if (top !== hovered) setHovered(top);
      return;
    }
    if (now.kind === 'lasso') now.points.push([x, y]);
    else if (now.kind === 'column') choose(inColumns(sound, ...span(now.from, key)), now.adds);
    else if (now.kind === 'row') choose(inRows(sound, ...span(now.from, velocity)), now.adds);
    else if (now.kind === 'move') {
      const keys = key - now.key;
      const velocities = velocity - now.velocity;
      now.moved ||= keys !== 0 || velocities !== 0;
      if (now.moved)
        dispatch(
          editSound(
            sound.id,
            () => moveZones(now.sound, chosen, keys, event.altKey ? 0 : velocities, !event.altKey),
            'zones moved',
          ),
        );
    } else {
      const { edge, part, from } = now;
      const by = (edge === 'key' ? key : velocity) - from;
      const field = zoneField(`${edge}.${part}`);
      const signed = part === 'fadeOut' ? -by : by;
      dispatch(
        editSound(
          sound.id,
          () => updateZones(now.sound, chosen, (zone) => changeField(zone, field, 'shift', signed)),
          'zones shaped',
        ),
      );
    }
  };
  const lift = (event: PointerEvent<HTMLDivElement>) => {
    const now = drag.current;
    drag.current = null;
    if (!now) return;
    if (now.kind === 'lasso' && reachOf(now.points) < CLICK_REACH) {
      if (now.clicked !== undefined) dispatch(soundsSlice.actions.zoneToggled(now.clicked));
    } else if (now.kind === 'lasso' && now.points.length > 3) {
      choose(
        sound.zones.flatMap((zone, i) => {
          const { x0, x1, y0, y1 } = boxOf(zone, space);
          return isInside(now.points, (x0 + x1) / 2, (y0 + y1) / 2) ? [i] : [];
        }),
        now.adds,
      );
    }
    if (now.kind === 'move' && !now.moved) {
      // A second click on the same place goes on to what lies beneath.
      const { x, y } = placeOf(event);
      const here = zonesAt(x, y);
      const at = here.findIndex((place) => chosen.has(place));
      if (here.length > 0 && chosen.size === 1 && at >= 0 && leader === here[at] && event.detail > 0)
        choose([here[(at - 1 + here.length) % here.length]], false);
      else if (here.length > 0 && !event.shiftKey && chosen.size > 1) choose([here[Math.max(0, at)]], false);
    }
    dispatch(rigSlice.actions.gestureEnded());
  };
  const keys = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 10 : 1;
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
    const done = () => {
      event.preventDefault();
      event.stopPropagation();
    };
    if (by && selected.length > 0) {
      dispatch(editSound(sound.id, (old) => moveZones(old, chosen, by[0], by[1], true)));
      done();
    } else if (event.key === 'Delete' && selected.length > 0) {
      dispatch(edit((rig) => deleteZonesOf(rig, sound.id, chosen)));
      dispatch(told(`${chosen.size} ${chosen.size === 1 ? 'zone is' : 'zones are'} gone from “${sound.name}”.`));
      choose([], false);
      done();
    } else if (event.key.toLowerCase() === 'a' && (event.ctrlKey || event.metaKey)) {
      choose(
        sound.zones.map((_, i) => i),
        false,
      );
      done();
    }
  };
  const shown = hovered === null ? undefined : sound.zones[hovered];

  return (
    <div
      ref={box}
      tabIndex={0}
      role="application"
      data-testid="zone-map"
      className="relative min-h-0 touch-none overflow-hidden"
      style={{ cursor }}
      aria-label={`Map of ${sound.zones.length} zones, ${selected.length} chosen. Arrow keys move the chosen zones, Delete removes them, Control A chooses all; the table beside it holds the same.`}
      onPointerDown={press}
      onPointerMove={move}
      onPointerUp={lift}
      onPointerCancel={lift}
      onKeyDown={keys}
      onPointerLeave={() => {
        point(null);
        setHovered(null);
      }}
      onDragOver={(event) => {
        if (event.dataTransfer.types.includes('Files') || mayTake(event)) setHovered(topAt(event));
      }}
      onDragLeave={() => setHovered(null)}
      onDrop={(event) => {
        setHovered(null);
        onDrop(event, topAt(event));
      }}
    >
      <canvas ref={base} className="absolute inset-0" />
      <canvas ref={middle} className="pointer-events-none absolute inset-0" />
      <canvas ref={over} className="pointer-events-none absolute inset-0" />
      <button
        className="button absolute bottom-4 left-9 z-10 px-2! py-0! text-[11.5px]"
        aria-pressed={lassoing}
        title="Choose zones by a line drawn around them (or Shift and drag)"
        onPointerDown={(event) => event.stopPropagation()}
        onClick={() => setLassoing(!lassoing)}
      >
        <Lasso size={12} /> line
      </button>
      {shown && (
        <div className="pointer-events-none absolute top-1.5 right-2 rounded bg-paper/90 px-1.5 text-[11.5px] text-faint">
          {nameOfKey(shown.key.low, middleC)}–{nameOfKey(shown.key.high, middleC)}, velocities {shown.velocity.low}–
          {shown.velocity.high}
        </div>
      )}
    </div>
  );
}

/** The list of before as long as it holds the same things. */
function useUnchanged<T>(list: readonly T[]): readonly T[] {
  const kept = useRef(list);
  if (kept.current.length !== list.length || kept.current.some((item, i) => item !== list[i])) kept.current = list;
  return kept.current;
}

/** How far a drawn line goes; one that goes nowhere is a click. */
const reachOf = (points: readonly [number, number][]): number =>
  Math.max(0, ...points.map(([x, y]) => Math.hypot(x - points[0][0], y - points[0][1])));
const CLICK_REACH = 5;

const contains = ({ x0, y0, x1, y1 }: Box, x: number, y: number): boolean => x >= x0 && x < x1 && y >= y0 && y < y1;
const inColumns = ({ zones }: Sound, low: number, high: number): number[] =>
  zones.flatMap(({ key }, i) => (key.low <= high && key.high >= low ? [i] : []));
const inRows = ({ zones }: Sound, low: number, high: number): number[] =>
  zones.flatMap(({ velocity }, i) => (velocity.low <= high && velocity.high >= low ? [i] : []));
