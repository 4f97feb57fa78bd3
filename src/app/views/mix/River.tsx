import { useCallback, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { moveEffect, takeConnection } from '../../../core/rig/edits/mix';
import { isPair, nameOfPlace, placesIn } from '../../../core/rig/mix';
import type { Patch } from '../../../core/rig/schema';
import { CONNECTION_PARAMETERS } from '../../../core/rig/parameters';
import { formatDb } from '../../parts/format';
import { Mark } from '../../parts/Mark';
import { useFrames } from '../../parts/useLive';
import { choosePlace, pointingOf } from '../../hands/choosing';
import { session } from '../../sound/session';
import { editPatch, notice, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice, type MixChosen } from '../../hands/choosingSlice';
import {
  layOutRiver,
  leastHeight,
  nearestStretch,
  orderAt,
  pathOf,
  placeUnder,
  type Point,
  type Stretch,
} from './layout';
import { shortNameOf } from './words';
import { Water, Grip, Chain } from './RiverMarks';

const WIDEST = 38;
/** Width of water for a level as an amplitude: nothing at −60 dB. */
export const widthOf = (amplitude: number): number =>
  WIDEST * Math.max(0, 1 + (20 * Math.log10(amplitude + 1e-9)) / 60) ** 1.4;

/**
 * The mix as a river: layers are springs, waters meet in groups, shared effects are pools, main is the mouth. The width
 * of each stretch is its level now.
 */
export function River({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const { mixChosen: chosen, chosenLayerIds: together } = useAppSelector((state) => state.choosing);
  const listens = useAppSelector((state) => state.listening.mixListens);
  const pairs = useAppSelector((state) => state.rig.rig!.pairs);
  const box = useRef<HTMLDivElement>(null);
  const outer = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const element = outer.current!;
    const measure = () => {
      const { width, height } = element.getBoundingClientRect();
      setSize({ width, height });
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  // Many springs need more room than there is in view: then the river is scrolled.
  const height = Math.max(size.height, leastHeight(patch));
  const layout = useMemo(
    () => (size.width > 0 ? layOutRiver(patch, size.width, height) : null),
    [patch, size.width, height],
  );
  const [carried, setCarried] = useState<{ effect: string; at: Point } | { connection: string; at: Point } | null>(
    null,
  );
  const waters = useRef(new Map<string, SVGPathElement>());
  const numbers = useRef(new Map<string, HTMLElement>());

  const draw = useCallback(() => {
    for (const [id, path] of waters.current) {
      const level = id === 'main' ? session.meters.levelOfPlace('main') : session.meters.levelOfConnection(id);
      path.style.strokeWidth = `${widthOf(level).toFixed(1)}px`;
    }
    for (const [place, element] of numbers.current) {
      const level = session.meters.levelOfPlace(place);
      const words = level < 1e-3 ? '' : formatDb(20 * Math.log10(level)).replace(' dB', '');
      if (element.textContent !== words) element.textContent = words;
    }
  }, []);
  useFrames(draw);

  /** What is no layer is chosen alone. */
  const choose = (next: MixChosen) => {
    dispatch(choosingSlice.actions.layersChosen([]));
    dispatch(choosingSlice.actions.mixChosenSet(next));
  };
  const isChosen = (kind: string, id: string) => chosen?.kind === kind && chosen.id === id;
  const hear = (stretch: Stretch | null) => {
    if (listens)
      session.ears.listenTo(
        stretch ? (stretch.connection ? { kind: 'connection', id: stretch.id } : { kind: 'place', id: 'main' }) : null,
      );
  };

  /** Puts a carried effect or the end of a connection down where the pointer is. */
  const putDown = (at: Point) => {
    if (!carried || !layout) return;
    if ('effect' in carried) {
      const found = nearestStretch(layout, at);
      if (found)
        dispatch(
          editPatch(patch.id, (old) =>
            moveEffect(
              old,
              carried.effect,
              found.stretch.from,
              orderAt(old, found.stretch.from, found.t, carried.effect),
            ),
          ),
        );
    } else {
      const to = placeUnder(layout, at);
      let done = false;
      if (to)
        dispatch(
          editPatch(patch.id, (old) => {
            const next = takeConnection(old, carried.connection, to);
            done = next !== old;
            return next;
          }),
        );
      if (to && !done)
        dispatch(
          notice(
            'info',
            `It cannot flow to ${nameOfPlace(patch, to)}: it comes from there, or flows there already.`,
            'flow',
          ),
        );
    }
    setCarried(null);
  };
  const at = (event: { clientX: number; clientY: number }): Point => {
    const { left, top } = box.current!.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };
  const target =
    carried && layout
      ? 'effect' in carried
        ? nearestStretch(layout, carried.at)?.stretch.from
        : placeUnder(layout, carried.at)
      : undefined;

  return (
    <div
      ref={outer}
      className="min-h-0 min-w-0 scroll-pt-12 overflow-x-hidden overflow-y-auto [scrollbar-width:thin]"
      tabIndex={height > size.height ? 0 : undefined}
    >
      <div
        ref={box}
        style={{ height }}
        className="relative overflow-hidden"
        role="group"
        aria-label="The mix as a river"
        onPointerMove={(event) => {
          if (carried) setCarried({ ...carried, at: at(event) });
        }}
        onPointerUp={(event) => putDown(at(event))}
        onPointerLeave={() => setCarried(null)}
      >
        {layout && (
          <>
            <svg width={size.width} height={height} className="absolute inset-0">
              {Array.from({ length: 13 }, (_, i) => (
                <line
                  key={i}
                  x1={(size.width * (i + 1)) / 14}
                  x2={(size.width * (i + 1)) / 14}
                  y1={0}
                  y2={height}
                  stroke="var(--line)"
                  strokeWidth={0.7}
                  opacity={0.6}
                />
              ))}
              {layout.stretches.map((stretch) => (
                <Water
                  key={stretch.id}
                  patch={patch}
                  stretch={stretch}
                  chosen={isChosen('connection', stretch.id)}
                  target={target !== undefined && stretch.from === target}
                  refOf={(element) => {
                    if (element) waters.current.set(stretch.id, element);
                    else waters.current.delete(stretch.id);
                  }}
                />
              ))}
              {layout.stretches.map((stretch) => (
                <Grip
                  key={stretch.id}
                  patch={patch}
                  stretch={stretch}
                  onHear={hear}
                  onChoose={() =>
                    choose(stretch.connection ? { kind: 'connection', id: stretch.id } : { kind: 'place', id: 'main' })
                  }
                />
              ))}
            </svg>
            {patch.pools.map((pool) => {
              const spot = layout.spots.get(`pool.${pool.id}`)!;
              const first = pool.effects[0];
              const isFed = layout.stretches.some(
                ({ connection, to }) =>
                  to === spot.place &&
                  connection !== null &&
                  connection.on &&
                  connection.level > CONNECTION_PARAMETERS.level.low,
              );
              const open = isChosen('place', spot.place) || (first && isChosen('effect', first.id));
              return (
                <button
                  key={pool.id}
                  className={`absolute z-10 grid place-items-center rounded-[50%] border text-[12.5px] leading-tight ${open ? 'border-2 border-ink' : ''} ${target === spot.place ? 'ring-2 ring-ink' : ''} ${pool.on && isFed ? '' : 'border-dashed text-faint'}`}
                  style={{
                    left: spot.x - spot.width / 2,
                    top: spot.y - spot.height / 2,
                    width: spot.width,
                    height: spot.height,
                    background: isFed ? 'color-mix(in srgb, var(--plum) 18%, var(--sheet))' : 'var(--paper)',
                    borderColor: open ? undefined : 'var(--plum)',
                  }}
                  aria-label={`Shared effect ${pool.name}`}
                  title={isFed ? 'What is sent here comes out changed' : 'Nothing is sent here: it is not heard'}
                  onClick={() => choose({ kind: 'place', id: spot.place })}
                >
                  <span dir="auto" className="max-w-[88px] truncate">
                    {pool.name}
                  </span>
                  {!isFed && <span className="text-[10.5px]">dry</span>}
                </button>
              );
            })}
            {layout.springs.map((place) => {
              const layer = patch.layers.find(({ id }) => `layer.${id}` === place)!;
              const spot = layout.spots.get(place)!;
              const isOne = isChosen('place', place) || together.includes(layer.id);
              return (
                <button
                  key={place}
                  aria-pressed={isOne}
                  className={`absolute flex items-center gap-2 rounded-[7px] border bg-sheet px-2.5 text-left text-[13px] ${isOne ? 'border-2 border-ink' : 'border-edge'} ${layer.on ? '' : 'text-faint line-through'}`}
                  style={{ left: spot.x, top: spot.y - spot.height / 2, width: spot.width, height: spot.height }}
                  aria-label={`Layer ${layer.name}`}
                  onClick={(event) => choosePlace(patch, place, pointingOf(event))}
                  onPointerEnter={() => {
                    if (listens) session.ears.listenTo({ kind: 'place', id: place });
                  }}
                  onPointerLeave={() => hear(null)}
                >
                  <Mark mark={layer.mark} size={12} />
                  <span dir="auto" className="min-w-0 flex-1 truncate font-semibold">
                    {layer.name}
                  </span>
                  <span
                    className="number text-[12px]"
                    ref={(element) => {
                      if (element) numbers.current.set(place, element);
                      else numbers.current.delete(place);
                    }}
                  />
                </button>
              );
            })}
            {patch.groups.map((group) => {
              const place = `group.${group.id}`;
              const spot = layout.spots.get(place)!;
              return (
                <button
                  key={group.id}
                  className={`absolute flex items-baseline gap-1.5 rounded px-1 text-[12.5px] ${isChosen('place', place) ? 'bg-ink text-paper' : 'hover:bg-sheet'} ${target === place ? 'ring-2 ring-ink' : ''}`}
                  style={{
                    left: spot.x - 6,
                    top: Math.max(
                      44,
                      spot.y - 24 - 9 * Math.min(4, patch.layers.filter(({ groupId }) => groupId === group.id).length),
                    ),
                  }}
                  aria-label={`Group ${group.name}`}
                  onClick={() => choose({ kind: 'place', id: place })}
                >
                  <b dir="auto" className="max-w-40 truncate">
                    {group.name}
                  </b>
                  <span
                    className="number text-[11.5px]"
                    ref={(element) => {
                      if (element) numbers.current.set(place, element);
                      else numbers.current.delete(place);
                    }}
                  />
                </button>
              );
            })}
            <button
              className={`absolute right-2 rounded px-1.5 text-[13px] font-bold ${isChosen('place', 'main') ? 'bg-ink text-paper' : 'hover:bg-sheet'}`}
              style={{ top: Math.max(40, layout.meets.y - 62) }}
              aria-label="Main"
              onClick={() => choose({ kind: 'place', id: 'main' })}
            >
              Main{' '}
              <span
                className="number font-normal"
                ref={(element) => {
                  if (element) numbers.current.set('main', element);
                  else numbers.current.delete('main');
                }}
              />
            </button>
            {[...layout.spots.values()]
              .filter(({ place }) => isPair(place))
              .map(({ place, x, y, width: wide, height: high }) => (
                <span
                  key={place}
                  dir="auto"
                  className="pointer-events-none absolute truncate rounded-l-full border border-edge bg-sheet px-2 text-[12px] leading-[22px]"
                  style={{ left: x - wide / 2, top: y - high / 2, width: wide, height: high }}
                >
                  {nameOfPlace(patch, place, pairs).replace(' (outputs)', '')}
                </span>
              ))}
            {placesIn(patch).map((place) => (
              <Chain
                key={place}
                patch={patch}
                place={place}
                layout={layout}
                chosen={chosen}
                onChoose={(id) => choose({ kind: 'effect', id })}
                onCarry={(effect, event) => setCarried({ effect, at: at(event) })}
              />
            ))}
            {layout.stretches.map(
              (stretch) =>
                stretch.connection && (
                  <span
                    key={stretch.id}
                    aria-hidden
                    data-end={stretch.id}
                    className={`absolute z-10 h-4 w-4 -translate-1/2 cursor-grab touch-none rounded-full border-[1.5px] bg-sheet ${isChosen('connection', stretch.id) ? 'border-ink opacity-100' : 'border-edge opacity-0 hover:opacity-100'}`}
                    style={{ left: stretch.b.x - 4, top: stretch.b.y }}
                    title="Drag it to where this water is to flow"
                    onPointerDown={(event) => {
                      event.preventDefault();
                      setCarried({ connection: stretch.id, at: at(event) });
                    }}
                  />
                ),
            )}
            {carried &&
              'connection' in carried &&
              (() => {
                const stretch = layout.stretches.find(({ id }) => id === carried.connection);
                return (
                  stretch && (
                    <svg width={size.width} height={height} className="pointer-events-none absolute inset-0 z-20">
                      <path
                        d={pathOf({ ...stretch, b: carried.at })}
                        fill="none"
                        stroke="var(--ink)"
                        strokeWidth={2}
                        strokeDasharray="5 4"
                      />
                    </svg>
                  )
                );
              })()}
            {carried && 'effect' in carried && (
              <span
                className="pointer-events-none absolute z-20 -translate-1/2 rounded-full border border-ink bg-sheet px-2.5 text-[12px]"
                style={{ left: carried.at.x, top: carried.at.y }}
              >
                {shortNameOf(patch, carried.effect)}
              </span>
            )}
            {patch.layers.length === 0 && (
              <p className="absolute inset-0 grid place-items-center text-faint">
                No layer yet: add one in the Layers view, and it springs here.
              </p>
            )}
            <p className="pointer-events-none absolute bottom-2 left-4 text-[12px] text-faint">
              {listens
                ? 'Point at water to hear it alone.'
                : 'Drag a stretch for its level, an effect to another place, the end of a stretch to where it is to flow.'}
            </p>
          </>
        )}
      </div>
    </div>
  );
}
