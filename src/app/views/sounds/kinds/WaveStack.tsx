import { useEffect, useMemo, useRef, useState } from 'react';
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

/** A row of waves as a stack, far ones small: the one that plays now is lit. Dragging up and down moves through it. */
export function WaveStack({
  row,
  place,
  colour,
  onPlace,
  onEnd,
  name,
}: {
  row: number[][] | undefined;
  place: number;
  colour: string;
  onPlace: (place: number, gesture: string) => void;
  onEnd: () => void;
  name: string;
}) {
  const drag = useRef<{ y: number; from: number; gesture: string } | null>(null);
  const count = row?.length ?? 0;
  const lit = Math.round(place * (count - 1));
  const path = (wave: number[], w: number) => {
    const depth = count > 1 ? w / (count - 1) : 0;
    const scale = 1 - 0.22 * depth;
    const left = 6 + 58 * depth;
    const base = HEIGHT - 36 - (HEIGHT - 66) * depth;
    return wave
      .map(
        (y, i) =>
          `${i === 0 ? 'M' : 'L'}${(left + ((WIDTH - 48) * scale * i) / POINTS).toFixed(1)} ${(base - 62 * scale * y).toFixed(1)}`,
      )
      .join('');
  };
  const paths = useMemo(() => row?.map(path), [row]); // eslint-disable-line react-hooks/exhaustive-deps -- path depends on row alone
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="min-h-0 w-full flex-1 cursor-ns-resize touch-none"
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuemin={1}
      aria-valuemax={Math.max(1, count)}
      aria-valuenow={lit + 1}
      aria-valuetext={`wave ${lit + 1} of ${count}`}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { y: event.clientY, from: place, gesture: `stack ${Date.now()}` };
      }}
      onPointerMove={(event) => {
        const { current } = drag;
        if (current)
          onPlace(
            Math.min(1, Math.max(0, current.from + (current.y - event.clientY) / (event.shiftKey ? 1600 : 160))),
            current.gesture,
          );
      }}
      onPointerUp={() => {
        drag.current = null;
        onEnd();
      }}
      onPointerCancel={() => {
        drag.current = null;
        onEnd();
      }}
      onKeyDown={(event) => {
        const step = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
        const by = step === undefined ? undefined : step * (event.shiftKey ? 4 : 1);
        if (by === undefined || count < 2) return;
        onPlace(Math.min(1, Math.max(0, place + by / (count - 1))), '');
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      {!row && (
        <text x={WIDTH / 2} y={HEIGHT / 2} textAnchor="middle" fontSize={11} fill="var(--faint)">
          reading …
        </text>
      )}
      {paths?.map((_, n) => {
        const w = count - 1 - n;
        return w === lit ? null : (
          <path
            key={w}
            d={paths[w]}
            fill="none"
            stroke={colour}
            strokeWidth={0.8}
            strokeOpacity={0.28 + 0.4 * (1 - w / count)}
          />
        );
      })}
      {paths?.[lit] && <path d={paths[lit]} fill="none" stroke="var(--clay)" strokeWidth={2.2} />}
    </svg>
  );
}
