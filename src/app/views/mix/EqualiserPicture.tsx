import { useMemo, useRef, type PointerEvent } from 'react';
import { line, scaleLinear, scaleLog } from 'd3';
import { BAND_KINDS } from '../../../core/effects/equaliser';
import { pictureOf } from '../../../core/effects/picture';
import { effectParam } from '../../../core/rig/defaults';
import { setEffectParam } from '../../../core/rig/edits/mix';
import type { EffectSpec, Patch } from '../../../core/rig/schema';
import { useFrames } from '../../parts/useLive';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, useAppDispatch } from '../../document/store';
import { spectrumPath } from './EffectPicture';
import { write } from '../../parts/write';

const WIDTH = 240,
  HEIGHT = 150;
const across = scaleLog([20, 20000], [0, WIDTH]);
const up = scaleLinear([-24, 24], [HEIGHT - 6, 6]);
let gestures = 0;

/**
 * The curve of an equaliser over the live spectrum; its bands are dragged on it. A click on empty ground makes a bell.
 */
export function EqualiserPicture({ patch, effect }: { patch: Patch; effect: EffectSpec }) {
  const dispatch = useAppDispatch();
  const values = useMemo(() => Object.fromEntries(Object.entries(effect.params)), [effect.params]);
  const picture = useMemo(() => pictureOf('equaliser', values), [values]);
  const spectrum = useRef<SVGPathElement>(null);
  const box = useRef<SVGSVGElement>(null);
  const drag = useRef<{ band: number; gesture: string } | null>(null);
  useFrames(() => {
    write(spectrum.current, 'd', spectrumPath(WIDTH, HEIGHT));
  });
  const value = (id: string, n: number) => effectParam(effect, `${id}${n}`);
  const bands = [1, 2, 3, 4, 5, 6, 7, 8].filter((n) => value('kind', n) > 0);
  const set = (changes: Record<string, number>, gesture?: string) =>
    dispatch(
      editPatch(
        patch.id,
        (old) => Object.entries(changes).reduce((left, [id, x]) => setEffectParam(left, effect.id, id, x), old),
        gesture,
      ),
    );
  const at = (event: PointerEvent) => {
    const { left, top, width, height } = box.current!.getBoundingClientRect();
    return {
      hz: across.invert(((event.clientX - left) / width) * WIDTH),
      db: up.invert(((event.clientY - top) / height) * HEIGHT),
    };
  };
  const move = (n: number, hz: number, db: number, gesture?: string) =>
    set(
      {
        [`frequency${n}`]: Math.round(hz * 10) / 10,
        ...(value('kind', n) > 2 ? { [`gain${n}`]: Math.round(db * 10) / 10 } : {}),
      },
      gesture,
    );
  const d =
    line<number>(
      (_, i) => across(picture.x[i]),
      (y) => Math.max(-5, Math.min(HEIGHT + 5, up(y))),
    )(picture.y) ?? '';
  return (
    <svg
      ref={box}
      width="100%"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="shrink-0 touch-none rounded-md border border-edge bg-sheet"
      role="group"
      aria-label="The curve of the equaliser"
      onPointerDown={(event) => {
        if (event.target !== event.currentTarget && !(event.target as Element).hasAttribute('data-ground')) return;
        const free = [3, 4, 5, 6, 2, 7, 1, 8].find((n) => value('kind', n) === 0);
        if (!free) return;
        const { hz, db } = at(event);
        set({
          [`kind${free}`]: BAND_KINDS.indexOf('bell'),
          [`frequency${free}`]: Math.round(hz),
          [`gain${free}`]: Math.round(db * 10) / 10,
        });
      }}
    >
      {[50, 100, 200, 500, 1000, 2000, 5000, 10000].map((hz) => (
        <line key={hz} x1={across(hz)} x2={across(hz)} y1={0} y2={HEIGHT} stroke="var(--line)" />
      ))}
      {[-12, 0, 12].map((db) => (
        <line key={db} x1={0} x2={WIDTH} y1={up(db)} y2={up(db)} stroke="var(--line)" />
      ))}
      {[100, 1000, 10000].map((hz) => (
        <text key={hz} x={across(hz) + 2} y={HEIGHT - 2} fontSize={9} fill="var(--faint)" className="number">
          {hz >= 1000 ? `${hz / 1000}k` : hz}
        </text>
      ))}
      <path ref={spectrum} fill="var(--slate)" fillOpacity={0.22} pointerEvents="none" />
      <rect data-ground="" width={WIDTH} height={HEIGHT} fill="transparent">
        <title>Click to make a bell</title>
      </rect>
      <path d={d} fill="none" stroke="var(--clay)" strokeWidth={2} opacity={effect.on ? 1 : 0.4} pointerEvents="none" />
      {bands.map((n) => {
        const hz = value('frequency', n);
        const db = value('kind', n) > 2 ? value('gain', n) : 0;
        return (
          <g
            key={n}
            role="slider"
            tabIndex={0}
            aria-label={`Band ${n}, ${BAND_KINDS[value('kind', n)]}`}
            aria-valuemin={20}
            aria-valuemax={20000}
            aria-valuenow={Math.round(hz)}
            aria-valuetext={`${Math.round(hz)} Hz, ${db.toFixed(1)} dB`}
            className="cursor-grab outline-none [&:focus-visible>circle]:stroke-ink [&:focus-visible>circle]:[stroke-width:3]"
            onPointerDown={(event) => {
              event.stopPropagation();
              event.currentTarget.setPointerCapture(event.pointerId);
              drag.current = { band: n, gesture: `band ${++gestures}` };
            }}
            onPointerMove={(event) => {
              if (drag.current?.band === n) {
                const to = at(event);
                move(n, to.hz, to.db, drag.current.gesture);
              }
            }}
            onPointerUp={() => {
              drag.current = null;
              dispatch(rigSlice.actions.gestureEnded());
            }}
            onDoubleClick={() => set({ [`kind${n}`]: 0 })}
            onWheel={(event) => set({ [`q${n}`]: value('q', n) * 2 ** (-event.deltaY / 400) })}
            onKeyDown={(event) => {
              const way = {
                ArrowLeft: [2 ** (-1 / 12), 0],
                ArrowRight: [2 ** (1 / 12), 0],
                ArrowUp: [1, 1],
                ArrowDown: [1, -1],
              }[event.key];
              if (!way && event.key !== 'Delete') return;
              event.preventDefault();
              event.stopPropagation();
              if (way) move(n, hz * way[0], db + way[1] * (event.shiftKey ? 0.1 : 1));
              else set({ [`kind${n}`]: 0 });
            }}
          >
            <circle cx={across(hz)} cy={up(db)} r={8} fill="var(--sheet)" stroke="var(--clay)" strokeWidth={1.8} />
            <text
              x={across(hz)}
              y={up(db) + 3.5}
              textAnchor="middle"
              fontSize={10}
              className="number"
              fill="var(--ink)"
            >
              {n}
            </text>
            <title>{`Band ${n}: drag it; the wheel sets how narrow it is; double-click takes it away`}</title>
          </g>
        );
      })}
    </svg>
  );
}
