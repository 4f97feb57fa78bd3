import { contours, geoPath } from 'd3';
import { useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { curvesOfRecording, curvesOfTable } from '../../../../core/sounds/synth/pictures';
import { TABLES } from '../../../../core/sounds/synth/tables';
import type { Waves } from '../../../../core/rig/schema';
import { soundLab } from '../../../document/soundLab';

const POINTS = 72;
const WIDTH = 240,
  HEIGHT = 236;

/** The waves of a row as curves; undefined while a recording is read. */
export function useWaveRow({ table, length }: Waves): number[][] | undefined {
  const own = TABLES.some(({ id }) => id === table);
  const [read, setRead] = useState<{ key: string; row: number[][] } | null>(null);
  const key = `${table} ${length}`;
  useEffect(() => {
    if (own) return;
    let live = true;
    soundLab.audio(table).then(
      (audio) => {
        if (live) setRead({ key, row: curvesOfRecording(audio.data, audio.channels, length, POINTS) });
      },
      () => undefined,
    );
    return () => {
      live = false;
    };
  }, [own, table, length, key]);
  const ours = useMemo(() => (own ? rowOf(table) : undefined), [own, table]);
  return ours ?? (read?.key === key ? read.row : undefined);
}
const rows = new Map<string, number[][]>();
function rowOf(table: string): number[][] {
  let row = rows.get(table);
  if (!row) rows.set(table, (row = curvesOfTable(table, POINTS)!));
  return row;
}

interface Props {
  row: number[][] | undefined;
  /** Where in the row it plays now, and where it rests, 0…1. */
  place: number;
  rest: number;
  onPlace: (place: number, gesture: string) => void;
  onEnd: () => void;
  name: string;
}

/**
 * A row of waves as a sea chart: one cycle to the right, the row upward, lines join equal heights, land is above nothing
 * and water below, the bold line is the coast. The line across is where it plays; dragging it goes through the row.
 */
export function WaveChart({ row, place, rest, onPlace, onEnd, name }: Props) {
  const drag = useRef<{ y: number; from: number; gesture: string } | null>(null);
  const count = row?.length ?? 0;
  const at = Math.round(place * (count - 1));
  const lands = useMemo(() => (row ? landsOf(row, WIDTH, HEIGHT) : []), [row]);
  const yOf = (share: number) => HEIGHT * (1 - share);
  const move = (event: PointerEvent<SVGSVGElement>) => {
    const { current } = drag;
    if (!current) return;
    const { height } = event.currentTarget.getBoundingClientRect();
    const by = (current.y - event.clientY) / (height * (event.shiftKey ? 10 : 1));
    onPlace(Math.min(1, Math.max(0, current.from + by)), current.gesture);
  };
  const end = () => {
    drag.current = null;
    onEnd();
  };
  return (
    <div className="flex min-h-0 flex-1 gap-1">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="min-h-0 min-w-0 flex-1 cursor-ns-resize touch-none border border-ink"
        role="slider"
        tabIndex={0}
        aria-label={name}
        aria-valuemin={1}
        aria-valuemax={Math.max(1, count)}
        aria-valuenow={at + 1}
        aria-valuetext={`wave ${at + 1} of ${count}`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          const { top, height } = event.currentTarget.getBoundingClientRect();
          const from = Math.min(1, Math.max(0, 1 - (event.clientY - top) / height));
          drag.current = { y: event.clientY, from, gesture: `row ${Date.now()}` };
          onPlace(from, drag.current.gesture);
        }}
        onPointerMove={move}
        onPointerUp={end}
        onPointerCancel={end}
        onKeyDown={(event) => {
          const step = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
          const by = step === undefined ? undefined : step * (event.shiftKey ? 4 : 1);
          if (by === undefined || count < 2) return;
          onPlace(Math.min(1, Math.max(0, rest + by / (count - 1))), '');
          event.preventDefault();
          event.stopPropagation();
        }}
      >
        <rect width={WIDTH} height={HEIGHT} fill={fillOf(-1)} />
        {lands.map(({ height, d }) => (
          <path
            key={height}
            d={d}
            fill={fillOf(height)}
            stroke={isCoast(height) ? 'var(--ink)' : 'var(--faint)'}
            strokeWidth={isCoast(height) ? 1.8 : 0.5}
            vectorEffect="non-scaling-stroke"
          />
        ))}
        {row && (
          <line
            x2={WIDTH}
            y1={yOf(place)}
            y2={yOf(place)}
            stroke="var(--clay)"
            strokeWidth={2.4}
            vectorEffect="non-scaling-stroke"
          />
        )}
        {!row && (
          <text x={WIDTH / 2} y={HEIGHT / 2} textAnchor="middle" fontSize={11} fill="var(--ink)">
            reading …
          </text>
        )}
      </svg>
      {/* Where it rests, and how far it is from there. */}
      <svg viewBox={`0 0 9 ${HEIGHT}`} preserveAspectRatio="none" aria-hidden className="w-[9px] shrink-0">
        <rect
          x={5}
          width={4}
          y={yOf(Math.max(place, rest))}
          height={Math.abs(place - rest) * HEIGHT}
          fill="var(--clay)"
          opacity={0.5}
        />
        <path d={`M0 ${yOf(rest)} 9 ${yOf(rest) - 5}V${yOf(rest) + 5}Z`} fill="var(--clay)" />
      </svg>
    </div>
  );
}

const HEIGHTS = [-0.8, -0.6, -0.4, -0.2, 0, 0.2, 0.4, 0.6, 0.8];
const isCoast = (height: number): boolean => height === 0;
/** Land is sand and rises into it, water is teal and deepens. */
const fillOf = (height: number): string =>
  height >= 0
    ? `color-mix(in srgb, var(--ochre) ${Math.round(14 + 26 * height)}%, var(--sheet))`
    : `color-mix(in srgb, var(--teal) ${Math.round(8 + 42 * -height)}%, var(--sheet))`;

/** What lies above each height, as paths in a box; the first wave at the bottom. */
export function landsOf(
  row: readonly (readonly number[])[],
  width: number,
  height: number,
): { height: number; d: string }[] {
  // One wave alone is a row of two that are alike.
  const rows = row.length > 1 ? row : [row[0], row[0]];
  const columns = row[0].length;
  const most = Math.max(1e-9, ...rows.flatMap((wave) => wave.map(Math.abs)));
  // One ring of repeated values, so that coasts run off the chart instead of along its rim.
  const ringed = [rows[0], ...rows, rows[rows.length - 1]].flatMap((wave) =>
    [wave[0], ...wave, wave[columns - 1]].map((y) => y / most),
  );
  const project = geoPath({
    stream: (output) => ({
      point: (x: number, y: number) =>
        output.point(((x - 1.5) / (columns - 1)) * width, height - ((y - 1.5) / (rows.length - 1)) * height),
      lineStart: () => output.lineStart(),
      lineEnd: () => output.lineEnd(),
      polygonStart: () => output.polygonStart(),
      polygonEnd: () => output.polygonEnd(),
      sphere: () => undefined,
    }),
  });
  return contours()
    .size([columns + 2, rows.length + 2])
    .smooth(true)
    .thresholds(HEIGHTS)(ringed)
    .map((shape) => ({ height: shape.value, d: project(shape) ?? '' }));
}
