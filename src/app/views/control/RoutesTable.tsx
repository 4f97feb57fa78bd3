import { textScale } from '../../parts/textScale';
import { ArrowDownUp } from 'lucide-react';
import { useState } from 'react';
import { CURVE_NAMES } from '../../../core/space/curve';
import {
  depthFor,
  isTwoSided,
  labelIn,
  labelOfTarget,
  reachOfRoute,
  restOfTarget,
  sourcesIn,
} from '../../../core/rig/moves';
import { fromNormal, parseTarget, toNormal } from '../../../core/rig/parameters';
import type { Patch, Route } from '../../../core/rig/schema';
import { scaleRoute, setReach, updateRoute } from '../../../core/rig/edits/moves';
import { formatValue, readValue } from '../../parts/format';
import { movedValue, sourceName } from '../../parts/moved';
import { signed } from '../../parts/TargetStrip';
import { BuiltIn } from './BuiltIn';
import { TypedField } from '../../parts/TypedField';
import { useRefresh } from '../../parts/useLive';
import { useTick } from '../../parts/useTick';
import { session } from '../../sound/session';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';

const COLUMNS = ['what moves', 'what is moved', 'reach', 'depth', 'curve', 'scaled by', 'now'] as const;
type Column = (typeof COLUMNS)[number];
/** Rows that are drawn at once; the rest come with scrolling. */
const rowHeight = (): number => 27 * textScale();

/** The whole list of routes, from either end. */
export function RoutesTable({ patch }: { patch: Patch }) {
  useRefresh(session.hands);
  useRefresh(session);
  useTick(patch.movers.length > 0 || patch.xyPads.length > 0);
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((state) => state.choosing.chosen);
  const [filter, setFilter] = useState('');
  const [sorted, setSorted] = useState<Column | null>(null);
  const [top, setTop] = useState(0);
  const wanted = filter.trim().toLowerCase();
  const rows = patch.routes
    .map((route) => ({ route, source: sourceName(patch, route), target: labelOfTarget(patch, route.target) }))
    .filter(({ source, target }) => wanted === '' || `${source} ${target}`.toLowerCase().includes(wanted));
  if (sorted)
    rows.sort((a, b) =>
      sorted === 'what is moved'
        ? a.target.localeCompare(b.target)
        : sorted === 'depth'
          ? b.route.depth - a.route.depth
          : a.source.localeCompare(b.source),
    );
  const first = Math.max(0, Math.floor(top / rowHeight()) - 4);
  const shown = rows.slice(first, first + 24);
  if (patch.routes.length === 0)
    return (
      <div className="h-full overflow-y-auto p-3">
        <TempoFields patch={patch} />
        <p className="mt-2 text-faint">
          No routes yet: take a source by its connect sign and drag on a strip, or open the small sign on any strip.
        </p>
        <BuiltIn patch={patch} wanted="" />
      </div>
    );
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex items-center gap-2 px-2.5 py-1">
        <h2 className="heading">Routes</h2>
        <input
          className="field w-48"
          placeholder="filter by either end"
          aria-label="Filter the routes"
          value={filter}
          onChange={(event) => setFilter(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Escape') event.stopPropagation();
          }}
        />
        <TempoFields patch={patch} />
        <span className="text-[12px] text-faint">
          {rows.length === patch.routes.length ? `${rows.length} in all` : `${rows.length} of ${patch.routes.length}`}
        </span>
      </div>
      <div
        className="min-h-0 flex-1 overflow-y-auto [scrollbar-width:thin]"
        onScroll={(event) => setTop(event.currentTarget.scrollTop)}
        tabIndex={0}
        aria-label="Routes"
      >
        <table className="w-full table-fixed text-[12.5px]">
          <colgroup>
            <col className="w-[20%]" />
            <col className="w-[25%]" />
            <col className="w-[18%]" />
            <col className="w-[13%]" />
            <col className="w-[9%]" />
            <col className="w-[12%]" />
            <col className="w-[11%]" />
          </colgroup>
          <thead className="sticky top-0 z-10 bg-paper">
            <tr>
              {COLUMNS.map((column) => (
                <th
                  key={column}
                  className="px-2 text-left font-normal text-faint"
                  aria-sort={sorted === column ? 'ascending' : 'none'}
                >
                  {column === 'what moves' || column === 'what is moved' || column === 'depth' ? (
                    <button
                      className="inline-flex items-center gap-1"
                      title="Sort"
                      onClick={() => setSorted(sorted === column ? null : column)}
                    >
                      {column}
                      <ArrowDownUp size={10} className={sorted === column ? '' : 'opacity-40'} />
                    </button>
                  ) : (
                    column
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {first > 0 && (
              <tr style={{ height: first * rowHeight() }}>
                <td />
              </tr>
            )}
            {shown.map(({ route, source, target }) => (
              <tr
                key={route.id}
                className={`border-t border-line ${chosen && 'route' in chosen && chosen.route === route.id ? 'bg-sheet shadow-[inset_3px_0_0_var(--ink)]' : ''} ${route.on ? '' : 'opacity-50'}`}
                style={{ height: rowHeight() }}
                onClick={() => dispatch(choosingSlice.actions.chosenSet({ route: route.id }))}
              >
                <td className="truncate px-2">
                  <button className="w-full truncate text-left" title={source}>
                    {source}
                  </button>
                </td>
                <td className="truncate px-2" title={target}>
                  {target}
                </td>
                <td className="number truncate px-2 text-[12px]">{reachText(patch, route)}</td>
                <td className="px-2">
                  <DepthBar patch={patch} route={route} />
                </td>
                <td className="px-2">
                  <CurveSelect patch={patch} route={route} />
                </td>
                <td className="px-2">
                  <ScaleSelect patch={patch} route={route} />
                </td>
                <td className="number truncate px-2 text-[12px]">{nowText(patch, route)}</td>
              </tr>
            ))}
            {first + shown.length < rows.length && (
              <tr style={{ height: (rows.length - first - shown.length) * rowHeight() }}>
                <td />
              </tr>
            )}
          </tbody>
        </table>
        <BuiltIn patch={patch} wanted={wanted} />
      </div>
    </div>
  );
}

/** The tempo: of the patch, or as it was tapped; and the transport back to its beginning. */
function TempoFields({ patch }: { patch: Patch }) {
  useRefresh(session.hands);
  const dispatch = useAppDispatch();
  const { tempo } = session.hands;
  return (
    <span className="order-last ml-auto flex items-center gap-1.5">
      <span className="w-32">
        <TypedField
          label={tempo === null ? 'tempo' : 'tempo, for now'}
          text={String(Math.round((tempo ?? patch.tempo) * 10) / 10)}
          step={(by) =>
            dispatch(editPatch(patch.id, (old) => ({ ...old, tempo: Math.min(400, Math.max(20, old.tempo + by)) })))
          }
          commit={(typed) => {
            const read = Number(typed.replace(',', '.'));
            if (typed.trim() === '' || !(read >= 20 && read <= 400)) return 'quarters a minute from 20 to 400';
            if (tempo !== null) session.input.endTapping();
            dispatch(editPatch(patch.id, (old) => ({ ...old, tempo: read })));
            return undefined;
          }}
        />
      </span>
      <button className="button px-2! py-0!" title="Tap the tempo (T)" onClick={() => session.input.tap()}>
        tap
      </button>
      {tempo !== null && (
        <button
          className="button px-2! py-0!"
          onClick={() => {
            dispatch(editPatch(patch.id, (old) => ({ ...old, tempo })));
            session.input.endTapping();
          }}
        >
          keep
        </button>
      )}
      {tempo !== null && (
        <button
          className="button px-2! py-0!"
          title="The patch’s own tempo again"
          onClick={() => session.input.endTapping()}
        >
          let go
        </button>
      )}
      <button
        className="button px-2! py-0!"
        title="The transport goes to its beginning, and everything in time with it"
        onClick={() => session.play({ type: 'position', quarters: 0 })}
      >
        restart
      </button>
    </span>
  );
}

export function reachText(patch: Patch, route: Route): string {
  const reach = reachOfRoute(patch, route);
  const parameter = parseTarget(route.target)?.parameter;
  if (!reach || !parameter) return '';
  const [from, to] = [formatValue(parameter, reach.from), formatValue(parameter, reach.to)];
  const unit = / (dB|Hz|kHz|ms|s|ct|st|%)$/.exec(to)?.[0];
  return `${unit && from.endsWith(unit) ? from.slice(0, -unit.length) : from} … ${to}`;
}

/** Where a route's target is now; while another is heard alone, where it rests. */
const nowText = (patch: Patch, route: Route): string => {
  const parameter = parseTarget(route.target)?.parameter;
  const now = movedValue(patch, route.target) ?? restOfTarget(patch, route.target);
  return !route.on ? 'off' : parameter && now !== undefined ? formatValue(parameter, now) : '';
};

let gestures = 0;
/** The depth as a bar from the middle: dragged, or stepped by arrow keys. */
function DepthBar({ patch, route }: { patch: Patch; route: Route }) {
  const dispatch = useAppDispatch();
  const [drag, setDrag] = useState<{ x: number; depth: number; gesture: string } | null>(null);
  const set = (depth: number, gesture?: string) =>
    dispatch(
      editPatch(patch.id, (old) => updateRoute(old, route.id, { depth: Math.round(depth * 1000) / 1000 }), gesture),
    );
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={`Depth of ${sourceName(patch, route)} on ${labelOfTarget(patch, route.target)}`}
      aria-valuemin={-100}
      aria-valuemax={100}
      aria-valuenow={Math.round(route.depth * 100)}
      title={signed(route.depth)}
      className="relative h-[12px] w-full touch-none overflow-hidden rounded border border-edge bg-sheet"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setDrag({ x: event.clientX, depth: route.depth, gesture: `depth ${++gestures}` });
      }}
      onPointerMove={(event) => {
        if (drag && Math.abs(event.clientX - drag.x) > 2)
          set(
            drag.depth + ((event.clientX - drag.x) / event.currentTarget.clientWidth) * 2 * (event.shiftKey ? 0.1 : 1),
            drag.gesture,
          );
      }}
      onPointerUp={() => setDrag(null)}
      onPointerCancel={() => setDrag(null)}
      onKeyDown={(event) => {
        const by = { ArrowRight: 0.02, ArrowUp: 0.02, ArrowLeft: -0.02, ArrowDown: -0.02 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        set(route.depth + by * (event.shiftKey ? 0.1 : 1));
      }}
    >
      <div
        className="absolute inset-y-0 bg-indigo/45"
        style={{ left: `${50 + Math.min(0, route.depth) * 50}%`, width: `${Math.abs(route.depth) * 50}%` }}
      />
      {isTwoSided(route) && (
        <div
          className="absolute inset-y-0 bg-indigo/20"
          style={{ left: `${50 + Math.min(0, -route.depth) * 50}%`, width: `${Math.abs(route.depth) * 50}%` }}
        />
      )}
      <div className="absolute inset-y-0 left-1/2 w-px bg-ink" />
    </div>
  );
}

export function CurveSelect({ patch, route }: { patch: Patch; route: Route }) {
  const dispatch = useAppDispatch();
  const drawn = typeof route.curve !== 'string';
  return (
    <select
      className="w-full bg-transparent text-[12px]"
      aria-label="Curve"
      value={drawn ? 'drawn' : (route.curve as string)}
      onChange={(event) => {
        const { value } = event.target;
        dispatch(
          editPatch(patch.id, (old) =>
            updateRoute(old, route.id, {
              curve:
                value === 'drawn'
                  ? {
                      points: [
                        [0, 0],
                        [0.5, 0.5],
                        [1, 1],
                      ],
                    }
                  : (value as Route['curve']),
            }),
          ),
        );
      }}
    >
      {CURVE_NAMES.map((name) => (
        <option key={name} value={name}>
          {name}
        </option>
      ))}
      <option value="drawn">drawn</option>
    </select>
  );
}

export function ScaleSelect({ patch, route }: { patch: Patch; route: Route }) {
  const dispatch = useAppDispatch();
  const known = sourcesIn(patch).filter(({ id }) => id !== route.target);
  return (
    <select
      className="w-full bg-transparent text-[12px]"
      aria-label="Scaled by"
      value={route.scaledBy ?? ''}
      onChange={(event) =>
        dispatch(editPatch(patch.id, (old) => scaleRoute(old, route.id, event.target.value || undefined)))
      }
    >
      <option value="">–</option>
      {route.scaledBy && !known.some(({ id }) => id === route.scaledBy) && (
        <option value={route.scaledBy}>{labelIn(patch, route.scaledBy)}</option>
      )}
      {known.map(({ id, label }) => (
        <option key={id} value={id}>
          {label}
        </option>
      ))}
    </select>
  );
}

/** The reach of a route in its target's own unit, typed: the other view of its depth. */
export function ReachFields({ patch, route }: { patch: Patch; route: Route }) {
  const dispatch = useAppDispatch();
  const target = parseTarget(route.target);
  const reach = reachOfRoute(patch, route);
  if (!target || !reach) return null;
  const { parameter } = target;
  const field = (end: 'from' | 'to') => (
    <TypedField
      label={end}
      text={formatValue(parameter, reach[end])}
      step={(by) => {
        const moved = fromNormal(
          parameter,
          toNormal(parameter, reach[end]) +
            by * (parameter.law === 'steps' ? 1 / (parameter.high - parameter.low) : 0.01),
        );
        dispatch(
          editPatch(patch.id, (old) =>
            setReach(old, route.id, end === 'from' ? moved : reach.from, end === 'to' ? moved : reach.to),
          ),
        );
      }}
      commit={(typed) => {
        const read = readValue(parameter, typed);
        if (typeof read === 'string') return read;
        const [from, to] = end === 'from' ? [read, reach.to] : [reach.from, read];
        if (Math.abs(depthFor(route, target, from, to).depth) > 1) return 'a reach within the range';
        dispatch(editPatch(patch.id, (old) => setReach(old, route.id, from, to)));
        return undefined;
      }}
    />
  );
  return (
    <div className="grid grid-cols-2 gap-1.5">
      {field('from')}
      {field('to')}
    </div>
  );
}
