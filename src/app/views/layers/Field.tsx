import { contours, geoPath } from 'd3';
import { memo, useCallback, useEffect, useRef, type RefObject } from 'react';
import type { Mark, Patch } from '../../../core/rig/schema';
import { gainGrid, gainsAt, haveSameOrigins, originsOfGains } from '../../sound/gains';
import { prepared, writeVelocities } from '../../parts/canvas';
import { SHAPES } from '../../parts/Mark';
import { FIRST_KEY, LAST_KEY, useWidth, type KeyScale } from '../../parts/keyScale';
import { point, usePointed } from '../../parts/pointed';
import { useFrames, useRefresh } from '../../parts/useLive';
import { nameOfKey } from '../../../core/music/noteNames';
import { splitLayersAt } from '../../../core/rig/edits/windows';
import { session } from '../../sound/session';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { useTick } from '../../parts/useTick';
import { EdgeLabels } from './EdgeLabels';
import { splitsOf, type Split } from './neighbours';
import { drawShores, drawWash, LEVELS } from './waters';

type MarkShape = Mark['shape'];

const KEYS = Array.from({ length: LAST_KEY - FIRST_KEY + 1 }, (_, i) => FIRST_KEY + i);
const STEP = 2;
const VELOCITIES = Array.from({ length: 64 }, (_, i) => 1 + i * STEP);
const STRIKE_MS = 9000;

/** Keys × velocities as a chart: each layer a water whose depth is its computed gain. Strikes fall into it and fade. */
export function Field({ patch, scale }: { patch: Patch; scale: KeyScale }) {
  const [box, heightWidth] = useWidth<HTMLDivElement>();
  const chart = useRef<HTMLCanvasElement>(null);
  const strikes = useRef<HTMLCanvasElement>(null);
  const pointed = usePointed();
  const controls = useControls();
  const shown = useRefresh(session);
  // Windows that move by themselves breathe.
  const breathes = session.program?.layers.some((layer) => layer.movingWindows.length > 0) ?? false;
  const tick = useTick(breathes);
  const height = box.current?.getBoundingClientRect().height ?? 0;
  const theme = document.documentElement.dataset.theme;

  const watersNow = useRef(new Map<string, Water>());
  /** What it was drawn of last, and what was seen of that. */
  const drawn = useRef<readonly unknown[]>([]);
  const looked = useRef<readonly unknown[]>([]);
  useEffect(() => {
    // In the next frame, once, however much of this changes until then: an edit is compiled a moment after it is seen.
    const frame = requestAnimationFrame(() => {
      const seen = [session.program, session.ears.soloed, patch, scale, height, heightWidth, controls, theme, tick];
      if (!session.program || seen.every((each, i) => each === drawn.current[i])) return;
      const before = watersNow.current;
      watersNow.current = new Map();
      const origins = originsOfGains();
      for (const { id } of patch.layers) watersNow.current.set(id, waterOf(id, origins(id), before.get(id)));
      // An edit of what is not seen here draws nothing.
      const look = [
        ...[scale, height, heightWidth, theme],
        ...patch.layers.flatMap(({ id, mark }) => [watersNow.current.get(id)!.shapes, mark.colour]),
      ];
      const isSame = look.length === looked.current.length && look.every((each, i) => each === looked.current[i]);
      const context = isSame ? null : prepared(chart, scale.width, height);
      if (isSame || context) drawn.current = seen;
      if (!context) return;
      looked.current = look;
      const styles = getComputedStyle(document.documentElement);
      const variable = (name: string) => styles.getPropertyValue(name);
      context.fillStyle = variable('--sheet');
      context.fillRect(0, 0, scale.width, height);
      const waters = patch.layers.map(({ id, mark }) => {
        const water = watersNow.current.get(id)!;
        return { mark, grid: water.grid, paths: pathsOf(water, scale, height) };
      });
      const sheet = { columns: KEYS.length, rows: VELOCITIES.length, width: scale.width, height };
      const colour = ({ colour: name }: Mark) => variable(`--${name}`);
      drawWash(context, waters, sheet, colour);
      context.strokeStyle = variable('--line');
      context.lineWidth = 0.8;
      context.globalAlpha = 0.9;
      for (const key of KEYS) if (key % 12 === 0) line(context, scale.left(key), 0, scale.left(key), height);
      context.globalAlpha = 1;
      drawShores(context, waters, sheet, colour);
      writeVelocities(context, [127, 96, 64, 32, 1], 4, height, (velocity) => yOf(velocity, height));
    });
    return () => cancelAnimationFrame(frame);
  }, [patch, scale, height, heightWidth, controls, shown, theme, tick]);

  const patchRef = useRef(patch);
  useEffect(() => {
    patchRef.current = patch;
  }, [patch]);
  useFrames(useCallback(() => drawStrikes(strikes, patchRef.current, scale, height), [scale, height]));

  return (
    <div
      ref={box}
      className="relative min-h-0 overflow-hidden"
      data-testid="field"
      role="group"
      aria-label="Which layers sound for which keys and velocities; the readout below tells it in numbers"
      onPointerMove={(event) => {
        const { left, top, height: tall } = event.currentTarget.getBoundingClientRect();
        const key = Math.min(LAST_KEY, Math.max(FIRST_KEY, Math.floor(scale.keyAt(event.clientX - left))));
        point({ key, velocity: velocityAt(event.clientY - top, tall) });
      }}
      onPointerLeave={() => point(null)}
    >
      <canvas ref={chart} className="absolute inset-0" />
      <canvas ref={strikes} className="absolute inset-0" />
      {splitsOf(patch).map((split, i) => (
        <SplitLine key={`${split.lowerId} ${split.upperId} ${i}`} patch={patch} split={split} scale={scale} />
      ))}
      <EdgeLabels patch={patch} scale={scale} height={height} />
      {pointed && (
        <div
          className="pointer-events-none absolute inset-y-0 border-l border-dotted border-ink"
          style={{ left: scale.middle(pointed.key) }}
        />
      )}
      {pointed && (
        <div
          className="pointer-events-none absolute inset-x-0 border-t border-dotted border-ink"
          style={{ top: yOf(pointed.velocity, height) }}
        />
      )}
    </div>
  );
}

let gestures = 0;

/** Where two layers meet: dragging the line, or moving it by arrow keys, moves both sides. */
function SplitLine({ patch, split, scale }: { patch: Patch; split: Split; scale: KeyScale }) {
  const [lower, upper] = [split.lowerId, split.upperId].map(
    (id) => patch.layers.find((layer) => layer.id === id)!.name,
  );
  return (
    <SplitHandle
      patchId={patch.id}
      lowerId={split.lowerId}
      upperId={split.upperId}
      at={split.key}
      fade={split.fade}
      lower={lower}
      upper={upper}
      scale={scale}
    />
  );
}

/** Its line, drawn anew only where it stands elsewhere: layers that are split make one for each two of them. */
const SplitHandle = memo(function SplitHandle({
  patchId,
  lowerId,
  upperId,
  at,
  fade,
  lower,
  upper,
  scale,
}: Omit<Split, 'key'> & { patchId: string; at: number; lower: string; upper: string; scale: KeyScale }) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const drag = useRef<{ from: number; key: number; gesture: string } | null>(null);
  const move = (key: number, gesture: string) => {
    if (key !== at && key > 0 && key < 128)
      dispatch(editPatch(patchId, (old) => splitLayersAt(old, lowerId, upperId, key, fade), gesture));
  };
  const end = () => {
    drag.current = null;
    dispatch(rigSlice.actions.gestureEnded());
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={`Split of ${lower} and ${upper}`}
      aria-valuemin={1}
      aria-valuemax={127}
      aria-valuenow={at}
      aria-valuetext={nameOfKey(at, middleC)}
      aria-orientation="horizontal"
      title={`${lower} below, ${upper} from ${nameOfKey(at, middleC)}: drag to move both sides`}
      data-testid="split-line"
      className="group absolute inset-y-0 z-10 w-[11px] -translate-x-1/2 pointer-coarse:w-11 cursor-ew-resize touch-none"
      style={{ left: scale.left(at) }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { from: event.clientX, key: at, gesture: `split ${++gestures}` };
      }}
      onPointerMove={(event) => {
        if (drag.current)
          move(
            drag.current.key + Math.round((event.clientX - drag.current.from) / scale.keyWidth),
            drag.current.gesture,
          );
      }}
      onPointerUp={end}
      onPointerCancel={end}
      onKeyDown={(event) => {
        const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        move(at + by * (event.shiftKey ? 12 : 1), `split ${++gestures}`);
        end();
      }}
    >
      <div className="mx-auto h-full w-[1.5px] bg-ink/60 group-hover:w-[3px] group-hover:bg-ink group-focus-visible:w-[3px] group-focus-visible:bg-ink" />
    </div>
  );
});

const yOf = (velocity: number, height: number): number => height * (1 - (velocity - 0.5) / 127);
const velocityAt = (y: number, height: number): number => Math.min(127, Math.max(1, Math.ceil((1 - y / height) * 127)));

/** Counts moved controllers, at most once a frame. */
function useControls(): number {
  useRefresh(session.hands);
  return session.hands.controls;
}

function line(context: CanvasRenderingContext2D, x0: number, y0: number, x1: number, y1: number): void {
  context.beginPath();
  context.moveTo(x0, y0);
  context.lineTo(x1, y1);
  context.stroke();
}

/** The contours of a layer's gain, the gains they were drawn around, and what these came from. */
interface Water {
  from: readonly unknown[] | null;
  grid: Float64Array;
  shapes: ReturnType<ReturnType<typeof contours>>;
  /** The contours as they were drawn last, for keys so wide and a chart so high. */
  paths: { keyWidth: number; height: number; each: Path2D[] } | null;
}

/**
 * The contours of a layer's gain; those of before where nothing that they come from has changed. The grid gets one ring
 * of repeated values, so that shores run off the chart instead of along its rim.
 */
function waterOf(layerId: string, from: readonly unknown[] | null, before: Water | undefined): Water {
  if (before && haveSameOrigins(from, before.from)) return before;
  const grid = gainGrid(layerId, KEYS, VELOCITIES);
  if (before && grid.every((gain, i) => gain === before.grid[i])) return { ...before, from };
  const columns = KEYS.length + 2;
  const rows = VELOCITIES.length + 2;
  const ringed = new Array<number>(columns * rows);
  for (let y = 0, i = 0; y < rows; y++) {
    const row = Math.min(VELOCITIES.length - 1, Math.max(0, y - 1)) * KEYS.length;
    for (let x = 0; x < columns; x++, i++) ringed[i] = grid[row + Math.min(KEYS.length - 1, Math.max(0, x - 1))];
  }
  return { from, grid, shapes: contours().size([columns, rows]).smooth(true).thresholds(LEVELS)(ringed), paths: null };
}

/** The contours of a water as paths on the chart; those of before where neither it nor the chart has changed. */
function pathsOf(water: Water, { keyWidth }: KeyScale, height: number): Path2D[] {
  const { paths } = water;
  if (paths && paths.keyWidth === keyWidth && paths.height === height) return paths.each;
  const rowHeight = (height / 127) * STEP;
  const project = geoPath({
    stream: (output) => ({
      point: (x: number, y: number) => output.point((x - 1) * keyWidth, height - (y - 1) * rowHeight),
      lineStart: () => output.lineStart(),
      lineEnd: () => output.lineEnd(),
      polygonStart: () => output.polygonStart(),
      polygonEnd: () => output.polygonEnd(),
      sphere: () => undefined,
    }),
  });
  const each = water.shapes.map((shape) => new Path2D(project(shape) ?? ''));
  water.paths = { keyWidth, height, each };
  return each;
}

/** A layer's shape as in its mark, so that colour alone tells nothing. */
function drawMark(context: CanvasRenderingContext2D, shape: MarkShape, x: number, y: number): void {
  const { d, line } = SHAPES[shape];
  context.save();
  context.translate(x - 5.6, y - 5.6);
  context.scale(0.8, 0.8);
  context.lineWidth = 2.6;
  if (line) context.stroke(new Path2D(d));
  else context.fill(new Path2D(d));
  context.restore();
}

function drawStrikes(ref: RefObject<HTMLCanvasElement | null>, patch: Patch, scale: KeyScale, height: number): void {
  const now = performance.now();
  const { strikes } = session.hands;
  const fades = strikes.length > 0 && now - strikes[strikes.length - 1].at <= STRIKE_MS;
  // Where nothing fades, nothing is drawn: a page at rest costs nothing.
  if (!fades && ref.current?.dataset.clear === `${scale.width} ${height}`) return;
  const context = prepared(ref, scale.width, height);
  if (!context) return;
  context.clearRect(0, 0, scale.width, height);
  context.canvas.dataset.clear = fades ? '' : `${scale.width} ${height}`;
  const styles = getComputedStyle(document.documentElement);
  for (const { key, velocity, at } of session.hands.strikes) {
    const age = (now - at) / STRIKE_MS;
    if (age > 1) continue;
    const loudest = gainsAt(key, velocity).reduce((best, gain) => (gain.gain > best.gain ? gain : best), {
      layerId: '',
      name: '',
      gain: 0,
      db: 0,
    });
    const layer = patch.layers.find((candidate) => candidate.id === loudest.layerId);
    const x = scale.middle(key);
    const y = yOf(velocity, height);
    context.fillStyle = context.strokeStyle = styles.getPropertyValue(layer ? `--${layer.mark.colour}` : '--faint');
    context.globalAlpha = 1 - age;
    drawMark(context, layer?.mark.shape ?? 'dot', x, y);
    context.globalAlpha = 0.5 * (1 - age);
    context.beginPath();
    context.arc(x, y, 7 + 14 * Math.min(1, age * 6), 0, 2 * Math.PI);
    context.stroke();
  }
  context.globalAlpha = 1;
}
