import { axisLeft, contours, geoPath, line, scaleLinear, select } from 'd3';
import { useEffect, useMemo, useRef, useState } from 'react';
import { dbOfGain } from '../../../core/music/pitch';
import { labelIn } from '../../../core/rig/moves';
import { setWindow } from '../../../core/rig/edits/windows';
import type { Mark, Patch } from '../../../core/rig/schema';
import { nameOfKey } from '../../../core/music/noteNames';
import { parseSource } from '../../../core/space/source';
import { FADE_SHAPES, type FadeShape } from '../../../core/space/window';
import { gainPlane } from '../../sound/gains';
import { prepared } from '../../parts/canvas';
import { formatDb } from '../../parts/format';
import { useWidth } from '../../parts/keyScale';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { useTick } from '../../parts/useTick';
import { drawShores, drawWash, LEVELS } from './waters';

const COLUMNS = 65,
  ROWS = 33;
const LOWEST_DB = -30,
  HIGHEST_DB = 9;
const CUT_HEIGHT = 118;

/**
 * The field on any two sources: what each layer lets through, and a cut through it in dB with the sum, so that a dip or
 * a bulge is seen.
 */
export function Plane({ patch, x, y }: { patch: Patch; x: string; y: string }) {
  useRefresh(session);
  useRefresh(session.hands);
  const moves = session.program?.layers.some((layer) => layer.movingWindows.length > 0) ?? false;
  useTick(moves);
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const [box, width] = useWidth<HTMLDivElement>();
  const [cut, setCut] = useState(0.75);
  const chart = useRef<HTMLCanvasElement>(null);
  const axis = useRef<SVGGElement>(null);
  const height = Math.max(40, (box.current?.getBoundingClientRect().height ?? 200) - CUT_HEIGHT);
  const planes = gainPlane(x, y, COLUMNS, ROWS);
  const shown = (id: string, share: number) => {
    const source = parseSource(id)!;
    const value = source.low + (source.high - source.low) * share;
    return source.kind === 'key'
      ? nameOfKey(Math.round(value), middleC)
      : source.whole
        ? String(Math.round(value))
        : value.toFixed(2);
  };

  useEffect(() => {
    const context = prepared(chart, width, height);
    if (!context) return;
    const styles = getComputedStyle(document.documentElement);
    context.fillStyle = styles.getPropertyValue('--sheet');
    context.fillRect(0, 0, width, height);
    const project = geoPath({
      stream: (output) => ({
        point: (px: number, py: number) =>
          output.point(((px - 0.5) / (COLUMNS - 1)) * width, height - ((py - 0.5) / (ROWS - 1)) * height),
        lineStart: () => output.lineStart(),
        lineEnd: () => output.lineEnd(),
        polygonStart: () => output.polygonStart(),
        polygonEnd: () => output.polygonEnd(),
        sphere: () => undefined,
      }),
    });
    const waters = patch.layers.flatMap(({ id, mark }) => {
      const grid = planes.get(id);
      if (!grid) return [];
      const shapes = contours().size([COLUMNS, ROWS]).smooth(true).thresholds(LEVELS)([...grid]);
      return [{ mark, grid, paths: shapes.map((shape) => new Path2D(project(shape) ?? '')) }];
    });
    const sheet = { columns: COLUMNS, rows: ROWS, width, height };
    const colour = ({ colour: name }: Mark) => styles.getPropertyValue(`--${name}`);
    drawWash(context, waters, sheet, colour);
    drawShores(context, waters, sheet, colour);
  });

  const row = Math.round(cut * (ROWS - 1));
  const toX = scaleLinear([0, COLUMNS - 1], [34, Math.max(40, width - 6)]);
  const toY = scaleLinear([LOWEST_DB, HIGHEST_DB], [CUT_HEIGHT - 16, 6]).clamp(true);
  useEffect(() => {
    if (axis.current) select(axis.current).call(axisLeft(toY).tickValues([-24, -12, -6, 0, 6]).tickSize(3) as never);
  });
  const soundOf = useMemo(() => new Map(patch.layers.map((layer) => [layer.id, layer.soundId])), [patch.layers]);
  // Layers of the same sound play the same samples, which add up as amplitudes; others add up as powers.
  const sums = Array.from({ length: COLUMNS }, (_, i) => {
    const bySound = new Map<string, number>();
    planes.forEach((plane, id) =>
      bySound.set(soundOf.get(id) ?? id, (bySound.get(soundOf.get(id) ?? id) ?? 0) + plane[row * COLUMNS + i]),
    );
    return Math.sqrt([...bySound.values()].reduce((sum, amplitude) => sum + amplitude * amplitude, 0));
  });
  const draw = line<number>(
    (_, i) => toX(i),
    (gain) => toY(dbOfGain(Math.max(1e-6, gain))),
  );
  const fading = patch.layers.filter((layer) =>
    layer.windows.some((window) => window.source === x && (window.fadeIn > 0 || window.fadeOut > 0)),
  );
  const alike =
    fading.filter((layer) => fading.some((other) => other !== layer && other.soundId === layer.soundId)).length > 1;
  const shapes = new Set(
    fading.flatMap((layer) => layer.windows.filter((window) => window.source === x).map((window) => window.shape)),
  );
  const setShape = (shape: FadeShape) =>
    dispatch(
      editPatch(patch.id, (old) =>
        fading.reduce((left, layer) => {
          const window = left.layers.find((each) => each.id === layer.id)?.windows.find((each) => each.source === x);
          return window ? setWindow(left, layer.id, { ...window, shape }) : left;
        }, old),
      ),
    );
  return (
    <div
      ref={box}
      className="relative min-h-0 overflow-hidden"
      data-testid="plane"
      role="group"
      aria-label={`What each layer lets through, ${labelIn(patch, x)} from left to right, ${labelIn(patch, y)} from bottom to top`}
    >
      <canvas
        ref={chart}
        className="block cursor-ns-resize touch-none"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerMove={(event) => {
          if (event.buttons & 1 || event.pointerType === 'mouse')
            setCut(
              Math.min(1, Math.max(0, 1 - (event.clientY - event.currentTarget.getBoundingClientRect().top) / height)),
            );
        }}
      />
      <div
        className="pointer-events-none absolute inset-x-0 border-t border-dotted border-ink"
        style={{ top: (1 - cut) * height }}
      />
      <span className="number pointer-events-none absolute bottom-[120px] left-1 rounded bg-sheet/80 px-1 text-[11px] text-faint">
        {shown(x, 0)}
      </span>
      <span className="number pointer-events-none absolute right-1 bottom-[120px] rounded bg-sheet/80 px-1 text-[11px] text-faint">
        {shown(x, 1)} {labelIn(patch, x)} →
      </span>
      <span className="number pointer-events-none absolute top-1 left-1 rounded bg-sheet/80 px-1 text-[11px] text-faint">
        {shown(y, 1)} {labelIn(patch, y)} ↑
      </span>
      <svg
        width={width}
        height={CUT_HEIGHT}
        className="block border-t border-ink bg-sheet"
        role="img"
        aria-label={`Cut at ${labelIn(patch, y)} ${shown(y, cut)}, in dB: each layer, and the sum`}
      >
        <line x1={34} x2={width} y1={toY(0)} y2={toY(0)} stroke="var(--line)" />
        {patch.layers.map((layer) => {
          const plane = planes.get(layer.id);
          return (
            plane && (
              <path
                key={layer.id}
                d={draw([...plane.subarray(row * COLUMNS, (row + 1) * COLUMNS)]) ?? ''}
                fill="none"
                stroke={`var(--${layer.mark.colour})`}
                strokeWidth={1.6}
              />
            )
          );
        })}
        <path d={draw(sums) ?? ''} fill="none" stroke="var(--ink)" strokeWidth={2.2} strokeDasharray="5 3" />
        <g ref={axis} transform="translate(34,0)" className="number text-[10px] text-faint" />
        <text x={40} y={CUT_HEIGHT - 4} fontSize={11} fill="var(--faint)">
          cut at {labelIn(patch, y)} {shown(y, cut)}: each layer, and dashed the sum,{' '}
          {Math.min(...sums) > 1e-5
            ? `${formatDb(dbOfGain(Math.min(...sums)))} … ${formatDb(dbOfGain(Math.max(...sums)))}`
            : 'silent somewhere'}
        </text>
      </svg>
      {fading.length > 0 && (
        <div className="absolute right-1 bottom-[90px] flex items-center gap-1 rounded bg-sheet/90 px-1">
          <span
            className="text-[11.5px] text-faint"
            title={
              alike
                ? 'They add up as amplitudes: a linear fade keeps the sum level, a constant-power one makes a bulge of 3 dB'
                : undefined
            }
          >
            {alike ? 'the same samples on both sides: linear fits' : 'fades'}
          </span>
          {FADE_SHAPES.map((shape) => (
            <button
              key={shape}
              className="button px-1.5! py-0! text-[11.5px]"
              aria-pressed={shapes.size === 1 && shapes.has(shape)}
              onClick={() => setShape(shape)}
            >
              {shape}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}
