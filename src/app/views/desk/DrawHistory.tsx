import { Star, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { mostChanged } from '../../../core/draws/fair';
import { between, forgetDraw, goTo, keepDraw, updateDraw } from '../../../core/draws/history';
import { labelOfTarget } from '../../../core/rig/moves';
import { SHARE, parseTarget, toNormal, type Parameter } from '../../../core/rig/parameters';
import type { Draw, Patch } from '../../../core/rig/schema';
import { editPatch, newId, useAppDispatch, useAppSelector } from '../../document/store';
import { listeningSlice } from '../../listening/listeningSlice';
import { NameField, useRenaming } from '../../parts/NameField';
import { Part } from '../../parts/Part';
import { Strip } from '../../parts/Strip';

export const nameOfLock = (patch: Patch, lock: string): string => {
  const [kind, id, part] = lock.split('.');
  if (!part)
    return kind === 'layer'
      ? (patch.layers.find((layer) => layer.id === id)?.name ?? lock)
      : kind === 'group'
        ? (patch.groups.find((group) => group.id === id)?.name ?? lock)
        : lock;
  return parseTarget(lock)
    ? labelOfTarget(patch, lock)
    : `${part} of ${patch.layers.find((layer) => layer.id === id)?.name ?? id}`;
};

export const PLACE: Parameter = {
  ...SHARE,
  id: 'drawPlace',
  label: 'between',
  unit: '%',
  low: 0,
  high: 100,
  default: 50,
  sides: 2,
  help: 'Where between the two draws.',
};

/** What a draw changed most, in words. */
export const wordsOfDraw = (patch: Patch, each: Draw): string =>
  [
    ...new Set(
      mostChanged(each, 2).map(([what]) => (parseTarget(what) ? labelOfTarget(patch, what) : nameOfLock(patch, what))),
    ),
  ].join(', ');

export const MOST_LINES = 36;

/** All draws, the newest first, each with a picture of what it changed; pointing at one is hearing it. */
export function History({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const [pair, setPair] = useState<(string | null)[]>([]);
  const [starredOnly, setStarredOnly] = useState(false);
  const trial = (to: { draw: string | null } | null) =>
    dispatch(
      listeningSlice.actions.drawTrialSet(to && { patchId: patch.id, first: to.draw, second: to.draw, share: 0 }),
    );
  const shown = [...patch.draws].reverse().filter(({ starred }) => !starredOnly || starred);
  const toggle = (id: string | null) =>
    setPair(pair.includes(id) ? pair.filter((each) => each !== id) : [...pair, id].slice(-2));
  if (patch.draws.length === 0)
    return (
      <p className="text-[12px] text-faint">
        Every draw will be kept here: heard by pointing at it, starred, named, gone back to, and gone on from.
      </p>
    );
  return (
    <Part
      title="Draws so far"
      action={
        <label className="flex items-center gap-1 text-[12px]">
          <input type="checkbox" checked={starredOnly} onChange={(event) => setStarredOnly(event.target.checked)} />{' '}
          starred only
        </label>
      }
    >
      {pair.length === 2 && <Between patch={patch} first={pair[0]} second={pair[1]} onDone={() => setPair([])} />}
      <ul
        aria-label="Draws so far"
        className="flex max-h-[38vh] flex-col overflow-y-auto [scrollbar-width:thin]"
        onPointerLeave={() => trial(null)}
      >
        {shown.map((each) => (
          <Entry
            key={each.id}
            patch={patch}
            draw={each}
            inPair={pair.includes(each.id)}
            onPair={() => toggle(each.id)}
            onTrial={trial}
          />
        ))}
        <li className={`flex items-center gap-1 rounded-md px-1 ${patch.drawn === null ? 'bg-ink text-paper' : ''}`}>
          <input
            type="checkbox"
            aria-label="Between: as it was before"
            checked={pair.includes(null)}
            onChange={() => toggle(null)}
          />
          <button
            className="min-w-0 flex-1 py-0.5 text-left"
            disabled={readOnly}
            onPointerEnter={() => trial({ draw: null })}
            onFocus={() => trial({ draw: null })}
            onBlur={() => trial(null)}
            onClick={() => {
              trial(null);
              dispatch(editPatch(patch.id, (old) => goTo(old, null)));
            }}
          >
            as it was before any draw
          </button>
        </li>
      </ul>
      <p className="text-[11.5px] text-faint">Mark two to find what lies between them.</p>
    </Part>
  );
}

function Entry({
  patch,
  draw: each,
  inPair,
  onPair,
  onTrial,
}: {
  patch: Patch;
  draw: Draw;
  inPair: boolean;
  onPair: () => void;
  onTrial: (to: { draw: string | null } | null) => void;
}) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const renaming = useRenaming();
  const isNow = patch.drawn === each.id;
  const change = (edit: (old: Patch) => Patch) => dispatch(editPatch(patch.id, edit));
  const number = patch.draws.indexOf(each) + 1;
  const from = each.from === null ? 0 : patch.draws.findIndex(({ id }) => id === each.from) + 1;
  return (
    <li
      data-draw={each.id}
      className={`flex items-center gap-1 rounded-md px-1 ${isNow ? 'bg-ink text-paper' : 'hover:bg-ink/7'}`}
    >
      <input type="checkbox" aria-label={`Between: draw ${number}`} checked={inPair} onChange={onPair} />
      {renaming.renaming ? (
        <NameField
          label="Name of the draw"
          name={each.name}
          className="min-w-0 flex-1 text-ink"
          onName={(name) => change((old) => updateDraw(old, each.id, { name }))}
          onEnd={renaming.end}
        />
      ) : (
        <button
          className="flex min-w-0 flex-1 items-center gap-2 py-0.5 text-left"
          aria-current={isNow || undefined}
          disabled={readOnly}
          title={`Seed ${each.seed}, ${Math.round(each.amount * 100)} %, ${each.changes.length} values; double-click: name it`}
          onPointerEnter={() => onTrial({ draw: each.id })}
          onFocus={() => onTrial({ draw: each.id })}
          onBlur={() => onTrial(null)}
          onDoubleClick={renaming.begin}
          onClick={() => {
            onTrial(null);
            change((old) => goTo(old, each.id));
          }}
        >
          <span className="number w-7 text-right text-[12px]">{number}</span>
          <Picture draw={each} />
          <span dir="auto" className="min-w-0 flex-1 truncate">
            {each.name || `${each.scope}: ${wordsOfDraw(patch, each)}`}
          </span>
          <span className={`number text-[11px] whitespace-nowrap ${isNow ? '' : 'text-faint'}`}>
            {from !== number - 1 ? `from ${from === 0 ? 'before' : from} · ` : ''}
            {Math.round(each.amount * 100)} %
          </span>
        </button>
      )}
      <button
        className="button-bare"
        aria-label={`Star draw ${number}`}
        aria-pressed={each.starred}
        onClick={() => change((old) => updateDraw(old, each.id, { starred: !each.starred }))}
      >
        <Star size={14} fill={each.starred ? 'currentColor' : 'none'} />
      </button>
      <button
        className="button-bare"
        aria-label={`Forget draw ${number}`}
        onClick={() => change((old) => forgetDraw(old, each.id))}
      >
        <Trash2 size={13} />
      </button>
    </li>
  );
}
/** What a draw changed, drawn small: a line for each value from where it was to where it went. */
function Picture({ draw: { changes } }: { draw: Draw }) {
  const numbers = changes.flatMap(([what, before, after]) => {
    const parameter = parseTarget(what)?.parameter;
    return parameter && typeof before === 'number' && typeof after === 'number'
      ? [[toNormal(parameter, before), toNormal(parameter, after)] as const]
      : [[0.5, 0.5] as const];
  });
  const shown =
    numbers.length > MOST_LINES
      ? [...numbers].sort((a, b) => Math.abs(b[1] - b[0]) - Math.abs(a[1] - a[0])).slice(0, MOST_LINES)
      : numbers;
  const step = Math.min(4, 118 / Math.max(1, shown.length));
  return (
    <svg width={120} height={20} viewBox="0 0 120 20" aria-hidden className="shrink-0">
      {shown.map(([from, to], i) => {
        const x = 1 + i * step;
        return (
          <g key={i} stroke="currentColor">
            <line
              x1={x}
              x2={x}
              y1={18 - 16 * from}
              y2={18 - 16 * to}
              strokeWidth={Math.max(0.6, step * 0.5)}
              strokeOpacity={0.6}
            />
            <circle cx={x} cy={18 - 16 * to} r={Math.max(0.7, step * 0.38)} fill="currentColor" stroke="none" />
          </g>
        );
      })}
    </svg>
  );
}

/** What lies between two draws, heard while the strip is dragged; what is kept is a draw of its own. */
function Between({
  patch,
  first,
  second,
  onDone,
}: {
  patch: Patch;
  first: string | null;
  second: string | null;
  onDone: () => void;
}) {
  const dispatch = useAppDispatch();
  const [at, setAt] = useState(50);
  const name = (id: string | null) =>
    id === null ? 'before' : `${patch.draws.findIndex((each) => each.id === id) + 1}`;
  const hear = (share: number) => {
    setAt(share);
    dispatch(listeningSlice.actions.drawTrialSet({ patchId: patch.id, first, second, share: share / 100 }));
  };
  const keep = () => {
    const { patch: mixed, changes } = between(patch, first, second, at / 100);
    dispatch(listeningSlice.actions.drawTrialSet(null));
    if (changes.length > 0)
      dispatch(
        editPatch(patch.id, () =>
          keepDraw(mixed, changes, {
            id: newId(),
            seed: 0,
            amount: at / 100,
            scope: `between ${name(first)} and ${name(second)}`,
          }),
        ),
      );
    onDone();
  };
  return (
    <div
      role="group"
      aria-label="Between two draws"
      className="flex items-center gap-2 rounded-md border border-line p-1.5"
    >
      <span className="number text-[12px]">{name(first)}</span>
      <div className="min-w-0 flex-1">
        <Strip parameter={PLACE} value={at} label="between this and that" onChange={hear} plays />
      </div>
      <span className="number text-[12px]">{name(second)}</span>
      <button className="button px-2! py-0!" onClick={keep}>
        keep
      </button>
    </div>
  );
}
