import { useRef } from 'react';
import { effectKind } from '../../../core/effects';
import { deleteConnection, deleteEffect, moveEffect, updateConnection } from '../../../core/rig/edits/mix';
import { chainOf, nameOfPlace, placesIn, type PlaceId } from '../../../core/rig/mix';
import type { EffectSpec, Patch } from '../../../core/rig/schema';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, told, useAppDispatch, useAppSelector } from '../../document/store';
import { type MixChosen } from '../../hands/choosingSlice';
import { formatDb } from '../../parts/format';
import { colourOf } from '../../parts/Mark';
import { session } from '../../sound/session';
import { inARow, pathOf, placeOfMark, pointOf, stretchOfPlace, type RiverLayout, type Stretch } from './layout';
import { shortNameOf } from './words';

/** Of the bed, which is there while nothing flows. */
export const bedOf = (db: number): number => 5 + 17 * Math.max(0, Math.min(1.2, 1 + db / 36));
export const DB_PER_PIXEL = 0.25;

export const colourOfPlace = (patch: Patch, place: PlaceId): string => {
  const [kind, id] = place.split('.');
  const owner = kind === 'layer' ? patch.layers.find((layer) => layer.id === id) : undefined;
  return owner ? colourOf(owner.mark) : kind === 'pool' ? 'var(--plum)' : 'var(--slate)';
};

export let gestures = 0;

/** Layers whose effects are named on their stretches. */
export const MOST_NAMED = 9;

/** The bed of a stretch, and the water in it. */
export function Water({
  patch,
  stretch,
  chosen,
  target,
  refOf,
}: {
  patch: Patch;
  stretch: Stretch;
  chosen: boolean;
  target: boolean;
  refOf: (element: SVGPathElement | null) => void;
}) {
  const { connection } = stretch;
  const colour = colourOfPlace(patch, stretch.from);
  const isSend = connection?.kind === 'send';
  const off = connection?.on === false;
  const bed = isSend ? Math.max(3, bedOf(connection.level) / 3) : connection === null ? 44 : bedOf(connection.level);
  const words = pointOf(stretch, isSend ? 0.55 : 0.82);
  const lines = isSend ? [0] : [-bed * 0.24, 0, bed * 0.24];
  return (
    <g opacity={off ? 0.35 : 1}>
      <path
        d={pathOf(stretch)}
        fill="none"
        stroke={colour}
        strokeOpacity={target ? 0.4 : 0.16}
        strokeWidth={bed}
        strokeDasharray={off ? '6 6' : undefined}
      />
      <path
        ref={refOf}
        d={pathOf(stretch)}
        fill="none"
        stroke={colour}
        strokeOpacity={0.38}
        style={{ strokeWidth: 0 }}
      />
      {lines.map((aside) => (
        <path
          key={aside}
          d={pathOf(stretch, aside)}
          fill="none"
          stroke={colour}
          strokeOpacity={0.65}
          strokeWidth={0.8}
          strokeDasharray={isSend && connection.tap === 'before' ? '7 3' : undefined}
        />
      ))}
      {chosen && <path d={pathOf(stretch)} fill="none" stroke="var(--ink)" strokeWidth={2} strokeDasharray="2 5" />}
      {connection && connection.level !== 0 && (
        <text
          x={words.x}
          y={words.y + (isSend ? 4 : bed / 2 + 13)}
          textAnchor="middle"
          fontSize={11.5}
          fill={isSend ? 'var(--ink)' : 'var(--faint)'}
          stroke="var(--paper)"
          strokeWidth={isSend ? 5 : 0}
          paintOrder="stroke"
          className="number"
        >
          {formatDb(connection.level <= -60 ? -Infinity : connection.level)}
        </text>
      )}
    </g>
  );
}

/** What one takes a stretch by: up and down for its level, a click to choose it. */
export function Grip({
  patch,
  stretch,
  onHear,
  onChoose,
}: {
  patch: Patch;
  stretch: Stretch;
  onHear: (stretch: Stretch | null) => void;
  onChoose: () => void;
}) {
  const dispatch = useAppDispatch();
  const pairs = useAppSelector((state) => state.rig.rig!.pairs);
  const drag = useRef<{ y: number; level: number; gesture: string; moved: boolean } | null>(null);
  const { connection } = stretch;
  const level = connection?.level ?? patch.main.level;
  const low = -60,
    high = connection ? 12 : 6;
  const set = (next: number, gesture?: string) => {
    const held = Math.round(Math.min(high, Math.max(low, next)) * 10) / 10;
    dispatch(
      editPatch(
        patch.id,
        (old) =>
          connection
            ? updateConnection(old, stretch.id, { level: held })
            : { ...old, main: { ...old.main, level: held } },
        gesture,
      ),
    );
  };
  const name = connection
    ? `${connection.kind === 'send' ? 'Send' : 'Way'} from ${nameOfPlace(patch, stretch.from)} to ${nameOfPlace(patch, stretch.to, pairs)}`
    : 'Main, to the mouth';
  return (
    <path
      d={pathOf(stretch)}
      fill="none"
      stroke="transparent"
      strokeWidth={connection?.kind === 'send' ? 16 : 26}
      pointerEvents="stroke"
      className="cursor-ns-resize touch-none outline-none focus-visible:[stroke:color-mix(in_srgb,var(--ink)_25%,transparent)]"
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuemin={low}
      aria-valuemax={high}
      aria-valuenow={level}
      aria-valuetext={`${formatDb(level <= low ? -Infinity : level)}${connection?.on === false ? ', muted' : ''}`}
      data-stretch={stretch.id}
      onPointerEnter={() => onHear(stretch)}
      onPointerLeave={() => onHear(null)}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { y: event.clientY, level, gesture: `stretch ${++gestures}`, moved: false };
      }}
      onPointerMove={(event) => {
        const { current } = drag;
        if (!current) return;
        const way = current.y - event.clientY;
        if (Math.abs(way) > 3) current.moved = true;
        if (current.moved) set(current.level + way * DB_PER_PIXEL, current.gesture);
      }}
      onPointerUp={() => {
        if (drag.current && !drag.current.moved) onChoose();
        if (drag.current?.moved) dispatch(rigSlice.actions.gestureEnded());
        drag.current = null;
      }}
      onDoubleClick={() => set(0)}
      onKeyDown={(event) => {
        const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
        const act =
          by !== undefined
            ? () => set(level + by * (event.shiftKey ? 0.1 : 1))
            : event.key === 'Enter'
              ? onChoose
              : event.key === 'm' && connection
                ? () =>
                    dispatch(editPatch(patch.id, (old) => updateConnection(old, stretch.id, { on: !connection.on })))
                : event.key === 'l'
                  ? () =>
                      session.ears.listenTo(
                        session.ears.listening
                          ? null
                          : connection
                            ? { kind: 'connection', id: stretch.id }
                            : { kind: 'place', id: 'main' },
                      )
                  : event.key === 'Delete' && connection?.kind === 'send'
                    ? () => {
                        dispatch(editPatch(patch.id, (old) => deleteConnection(old, stretch.id)));
                        dispatch(told('The send is gone.'));
                      }
                    : undefined;
        if (!act) return;
        event.preventDefault();
        event.stopPropagation();
        act();
      }}
    >
      <title>{`${name}: ${formatDb(level <= low ? -Infinity : level)}`}</title>
    </path>
  );
}

/** The effects of a place, as marks on its stretch; the first of a shared effect is the pool itself. */
export function Chain({
  patch,
  place,
  layout,
  chosen,
  onChoose,
  onCarry,
}: {
  patch: Patch;
  place: PlaceId;
  layout: RiverLayout;
  chosen: MixChosen;
  onChoose: (id: string) => void;
  onCarry: (effect: string, event: { clientX: number; clientY: number }) => void;
}) {
  const stretch = stretchOfPlace(layout, place);
  const chain = chainOf(patch, place)!;
  if (!stretch) return null;
  const crowding = chain.length > 2 ? 110 / (Math.abs(stretch.b.x - stretch.a.x) / chain.length) : 0;
  const rows = crowding > 2 ? 3 : crowding > 1 ? 2 : 1;
  // Where many layers lie close, their marks are small and stand in a row beside the spring, where its water runs level.
  const small = place.startsWith('layer.') && patch.layers.length > MOST_NAMED;
  const rowOf = small
    ? inARow(
        chain.map(({ id }) => shortNameOf(patch, id)),
        0.8 * (layout.meets.x - stretch.a.x),
      )
    : [];
  return chain.map((effect, n) => {
    const spot = small
      ? { x: stretch.a.x + rowOf[n].x, y: stretch.a.y }
      : pointOf(stretch, placeOfMark(n, chain.length));
    return (
      <EffectMark
        key={effect.id}
        patch={patch}
        place={place}
        effect={effect}
        n={n}
        small={small}
        letter={small && rowOf[n].isLetter}
        x={spot.x}
        y={spot.y + (small ? 0 : ((n % rows) - (rows - 1) / 2) * 25)}
        chosen={chosen?.kind === 'effect' && chosen.id === effect.id}
        onChoose={() => onChoose(effect.id)}
        onCarry={(event) => onCarry(effect.id, event)}
      />
    );
  });
}

function EffectMark({
  patch,
  place,
  effect,
  n,
  small,
  letter,
  x,
  y,
  chosen,
  onChoose,
  onCarry,
}: {
  patch: Patch;
  place: PlaceId;
  effect: EffectSpec;
  n: number;
  small: boolean;
  /** There is no room for more than its first letter; whoever points at it reads its name. */
  letter: boolean;
  x: number;
  y: number;
  chosen: boolean;
  onChoose: () => void;
  onCarry: (event: { clientX: number; clientY: number }) => void;
}) {
  const dispatch = useAppDispatch();
  const press = useRef<{ x: number; y: number } | null>(null);
  const name = shortNameOf(patch, effect.id);
  const { label } = effectKind(effect.kind);
  const places = placesIn(patch);
  const move = (to: PlaceId, order: number) =>
    dispatch(editPatch(patch.id, (old) => moveEffect(old, effect.id, to, order)));
  return (
    <button
      className={`absolute z-10 touch-none rounded-full border whitespace-nowrap ${small ? 'group -translate-y-1/2 px-1.5 text-[11px] leading-[16px] hover:z-20 focus-visible:z-20' : '-translate-1/2 px-2.5 py-px text-[12px]'} ${chosen ? 'border-ink bg-ink text-paper' : effect.on ? 'border-ink bg-sheet' : 'border-dashed border-edge bg-paper text-faint'}`}
      style={{ left: x, top: y }}
      aria-label={`${name === label ? '' : `${name}: `}${label} on ${nameOfPlace(patch, place)}${effect.on ? '' : ', off'}`}
      aria-pressed={chosen}
      data-effect={effect.id}
      title="Click to open it; drag it to another place. Left and right change its order, up and down its place, Delete takes it away."
      onPointerDown={(event) => {
        if (event.button === 0) press.current = { x: event.clientX, y: event.clientY };
      }}
      onPointerMove={(event) => {
        if (!press.current || Math.hypot(event.clientX - press.current.x, event.clientY - press.current.y) < 5) return;
        press.current = null;
        onCarry(event);
      }}
      onPointerUp={() => {
        press.current = null;
      }}
      onClick={onChoose}
      onKeyDown={(event) => {
        const along = places.indexOf(place);
        const act =
          event.key === 'ArrowLeft'
            ? () => move(place, Math.max(0, n - 1))
            : event.key === 'ArrowRight'
              ? () => move(place, n + 1)
              : event.key === 'ArrowUp' && along > 0
                ? () => move(places[along - 1], Infinity)
                : event.key === 'ArrowDown' && along < places.length - 1
                  ? () => move(places[along + 1], Infinity)
                  : event.key === 'Delete'
                    ? () => {
                        dispatch(editPatch(patch.id, (old) => deleteEffect(old, effect.id)));
                        dispatch(told(`The ${effectKind(effect.kind).label} is gone.`));
                      }
                    : undefined;
        if (!act) return;
        event.preventDefault();
        event.stopPropagation();
        act();
      }}
    >
      {letter ? (
        <>
          <span className="block min-w-2.5 group-hover:hidden group-focus-visible:hidden">{name.slice(0, 1)}</span>
          <span className="hidden px-1.5 group-hover:block group-focus-visible:block">{name}</span>
        </>
      ) : (
        name
      )}
    </button>
  );
}
