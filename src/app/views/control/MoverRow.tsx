import { useCallback, useMemo, useRef } from 'react';
import { moverParam } from '../../../core/rig/defaults';
import type { Mover, Patch } from '../../../core/rig/schema';
import { moverNow } from '../../sound/live';
import { useWidth } from '../../parts/keyScale';
import { useFrames } from '../../parts/useLive';
import { useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { countMoved, describeMover } from './describe';
import { roundsShown, shapeOf } from './moverShape';
import { MARK_COLOURS } from '../../../core/rig/limits';

export const colourOfMover = (patch: Patch, mover: Mover): string =>
  `var(--${MARK_COLOURS[Math.max(0, patch.movers.indexOf(mover)) % 8]})`;

/** The movers of a patch, each drawn as its shape with a point that runs along it. */
export function MoverRow({ patch }: { patch: Patch }) {
  return (
    <ul
      aria-label="Movers"
      className="grid h-full auto-cols-[minmax(132px,480px)] grid-flow-col overflow-x-auto [scrollbar-width:thin]"
    >
      {patch.movers.map((mover) => (
        <Card key={`${mover.kind}.${mover.number}`} patch={patch} mover={mover} />
      ))}
    </ul>
  );
}

function Card({ patch, mover }: { patch: Patch; mover: Mover }) {
  const dispatch = useAppDispatch();
  const source = `${mover.kind}.${mover.number}`;
  const chosen = useAppSelector(
    (state) =>
      state.choosing.chosen !== null && 'source' in state.choosing.chosen && state.choosing.chosen.source === source,
  );
  const moves = countMoved(patch, source);
  return (
    <li className="min-w-0 border-r border-line [contain:layout_paint]">
      <button
        className={`flex h-full w-full flex-col px-2.5 py-1.5 text-left ${chosen ? 'bg-sheet shadow-[inset_0_0_0_2px_var(--ink)]' : ''} ${mover.on ? '' : 'opacity-50'}`}
        aria-pressed={chosen}
        onClick={() => dispatch(choosingSlice.actions.chosenSet({ source }))}
      >
        <span dir="auto" className="w-full truncate font-bold">
          {mover.name}
        </span>
        <span className="w-full truncate text-[11.5px] text-faint">{describeMover(mover)}</span>
        <MoverShape patch={patch} mover={mover} height={46} />
        <span className="text-[11.5px] text-faint">{mover.on ? `moves ${moves}` : 'off'}</span>
      </button>
    </li>
  );
}

/** A mover as it is worked out, with a point where it is now. */
export function MoverShape({ patch, mover, height }: { patch: Patch; mover: Mover; height: number }) {
  const point = useRef<HTMLDivElement>(null);
  const [box, width] = useWidth<HTMLDivElement>();
  const place = patch.movers.indexOf(mover);
  const shape = useMemo(() => shapeOf(mover), [mover]);
  const rounds = roundsShown(mover);
  const y = (value: number) => height / 2 - value * (height / 2 - 4);
  const path = useMemo(() => {
    // Steps and squares have corners: a point before each keeps them upright.
    const upright =
      ((mover.kind === 'steps' || mover.kind === 'hold') && moverParam(mover, 'glide') === 0) ||
      (mover.kind === 'lfo' && mover.shape !== 'sine' && mover.shape !== 'triangle' && mover.shape !== 'smooth random');
    return [...shape]
      .map(
        (value, i) =>
          `${i === 0 ? 'M' : upright && Math.abs(value - shape[i - 1]) > 0.3 ? `L${(i / (shape.length - 1)) * 120} ${y(shape[i - 1])}L` : 'L'}${(i / (shape.length - 1)) * 120} ${y(value)}`,
      )
      .join('');
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shape, height]);
  useFrames(
    useCallback(() => {
      const circle = point.current;
      if (!circle) return;
      const { value, phase } = moverNow(place);
      const share =
        mover.kind === 'envelope'
          ? Math.min(1, Math.max(0, phase / 6))
          : mover.kind === 'follower'
            ? 0.5
            : mover.kind === 'contour' && !mover.loop
              ? Math.min(1, phase)
              : (((phase % rounds) + rounds) % rounds) / rounds;
      // Moved without a new layout of anything.
      circle.style.transform = `translate(${(share * width - 4.5).toFixed(1)}px, ${(-value * (height / 2 - 4) - 4.5).toFixed(1)}px)`;
    }, [height, mover, place, rounds, width]),
  );
  return (
    <div ref={box} className="relative w-full" style={{ height }} aria-hidden>
      <svg viewBox={`0 0 120 ${height}`} preserveAspectRatio="none" className="block h-full w-full overflow-visible">
        <line x1={0} x2={120} y1={height / 2} y2={height / 2} stroke="var(--line)" vectorEffect="non-scaling-stroke" />
        <path
          d={path}
          fill="none"
          stroke={colourOfMover(patch, mover)}
          strokeWidth={1.6}
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <div
        ref={point}
        className="absolute h-[9px] w-[9px] rounded-full"
        style={{ background: colourOfMover(patch, mover), left: 0, top: height / 2 }}
      />
    </div>
  );
}
