import { Dices, Lock, LockOpen, Star, Trash2 } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { combinationsOf, drawablesIn, setLock } from '../../../core/draws/draw';
import { fairDraw, mostChanged, withUndone } from '../../../core/draws/fair';
import { updatePatch } from '../../../core/rig/edits/layers';
import {
  between,
  forgetDraw,
  goTo,
  keepDraw,
  soundsOfDraws,
  updateDraw,
  withNeededSounds,
} from '../../../core/draws/history';
import {
  amountMacro,
  ATTRIBUTES,
  keepStrike,
  limitOf,
  scatterOver,
  scatterRoutes,
  setLimit,
  takeOffScatter,
  type Together,
} from '../../../core/rig/edits/chance';
import { SHARE, toNormal, parseTarget, type Parameter } from '../../../core/rig/parameters';
import { labelOfTarget } from '../../../core/rig/moves';
import type { Draw, Patch } from '../../../core/rig/schema';
import { exportWritten, keepWritten } from '../../jobs/writingDown';
import { hearBriefly } from '../../jobs/measuring';
import { session } from '../../sound/session';
import type { Candidate } from '../../listening/trying';
import { edit, editPatch, newId, notice, store, useAppDispatch, useAppSelector } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { listeningSlice } from '../../listening/listeningSlice';
import { idsOfPart } from '../layers/inspector/parts';
import { NameField, useRenaming } from '../../parts/NameField';
import { Part } from '../../parts/Part';
import { SheetFrame } from '../../parts/Sheet';
import { Strip } from '../../parts/Strip';
import { TargetStrip } from '../../parts/TargetStrip';
import { TypedField } from '../../parts/TypedField';

const AMOUNT: Parameter = {
  ...SHARE,
  id: 'drawAmount',
  label: 'how far',
  unit: '%',
  low: 0,
  high: 100,
  default: 50,
  help: 'How far a draw may go, as a share of each value’s own musical range.',
};
const PLACE: Parameter = {
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

/** Chance that is aimed: at each strike, and over what is set; every draw is kept, and gone back to. */
export function DrawsSheet({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const [tab, setTab] = useState<'draws' | 'strikes'>('draws');
  useEffect(
    () => () => {
      dispatch(listeningSlice.actions.drawTrialSet(null));
    },
    [dispatch],
  );
  return (
    <SheetFrame title="Chance" wide>
      <div role="tablist" aria-label="Chance" className="mb-2 flex gap-1">
        {(
          [
            ['draws', 'Draws'],
            ['strikes', 'At each strike'],
          ] as const
        ).map(([id, name]) => (
          <button
            key={id}
            role="tab"
            aria-selected={tab === id}
            className="button px-3! py-0.5!"
            onClick={() => setTab(id)}
          >
            {name}
          </button>
        ))}
      </div>
      {tab === 'draws' ? <Draws patch={patch} /> : <Strikes patch={patch} />}
    </SheetFrame>
  );
}

/** What can be drawn at once, by name. */
function scopesOf(
  patch: Patch,
  layerId: string | null,
  part: string,
): { id: string; name: string; scope: readonly string[] }[] {
  const layer = patch.layers.find(({ id }) => id === layerId) ?? patch.layers[0];
  const section = layer ? idsOfPart(part as never).map((id) => `layer.${layer.id}.${id}`) : [];
  return [
    { id: 'patch', name: 'the whole patch', scope: [] },
    ...patch.groups.map(({ id, name }) => ({ id: `group.${id}`, name: `group ${name}`, scope: [`group.${id}`] })),
    ...patch.layers.map(({ id, name }) => ({ id: `layer.${id}`, name: `layer ${name}`, scope: [`layer.${id}`] })),
    ...(layer && section.length > 0 ? [{ id: 'section', name: `${part} of ${layer.name}`, scope: section }] : []),
    ...patch.layers
      .filter(({ path }) => path.arpeggio.on || path.chord.on)
      .map(({ id, name }) => ({
        id: `path.${id}`,
        name: `pattern and harmony of ${name}`,
        scope: [`layer.${id}.pattern`, `layer.${id}.harmony`],
      })),
  ];
}

function Draws({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const rig = useAppSelector((state) => state.rig.rig)!;
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const selectedLayerId = useAppSelector((state) => state.choosing.selectedLayerId);
  const layerPart = useAppSelector((state) => state.layers.layerPart);
  const [wanted, setScope] = useState('patch');
  const [amount, setAmount] = useState(50);
  const [among, setAmong] = useState('');
  const [typed, setTyped] = useState('');
  const scopes = scopesOf(patch, selectedLayerId, layerPart);
  const scope = scopes.find(({ id }) => id === wanted) ?? scopes[0];
  const [folder, setFolder] = useState<Candidate[]>([]);
  const chooser = useRef<HTMLInputElement>(null);
  // What a folder has is heard as if it were in the rig; what a draw takes of it comes in with the draw.
  const all = useMemo(
    () =>
      withNeededSounds(
        rig,
        new Set(folder.map(({ sound }) => sound.id)),
        folder.map(({ sound, samples }) => ({ sounds: [sound], samples })),
      ),
    [rig, folder],
  );
  const sounds =
    among === ''
      ? []
      : among === 'folder'
        ? folder.map(({ sound }) => sound.id)
        : among === 'list'
          ? undefined
          : among === 'all'
            ? rig.sounds.map(({ id }) => id)
            : rig.sounds.filter(({ tags }) => tags.includes(among)).map(({ id }) => id);
  const open = drawablesIn(patch, scope.scope, all.sounds);
  const { combinations, free } = combinationsOf(patch, open, { amount: amount / 100, sounds });
  const tags = [...new Set(rig.sounds.flatMap((sound) => sound.tags))].sort();
  const [drawing, setDrawing] = useState(false);
  const openFolder = async (event: Event) => {
    try {
      const { folderCandidates } = await import('../../jobs/candidates');
      const { found, problems } = await folderCandidates(event);
      if (problems.length > 0)
        dispatch(
          notice(
            'info',
            `${problems[0]}${problems.length > 1 ? `; and ${problems.length - 1} more` : ''}`,
            'tried-folder',
          ),
        );
      setFolder(found);
      if (found.length > 0) setAmong('folder');
    } catch (error) {
      dispatch(notice('problem', `The folder could not be read: ${(error as Error).message}`, 'tried-folder'));
    }
  };
  const roll = async () => {
    if (drawing) return;
    const text = typed.trim();
    const seed = text === '' ? Math.floor(Math.random() * 2 ** 31) : /^\d+$/.test(text) ? Number(text) : NaN;
    if (!(seed < 2 ** 31)) {
      dispatch(
        notice(
          'problem',
          `Seed “${text}”: a whole number from 0 to ${2 ** 31 - 1} is needed, or nothing for another one each time. Nothing was drawn.`,
          'draw',
        ),
      );
      return;
    }
    setDrawing(true);
    const {
      patch: drawn,
      changes,
      evenedDb,
      left,
    } = await fairDraw(patch, open, { amount: amount / 100, seed, sounds }, (each) => hearBriefly(all, each));
    setDrawing(false);
    if (changes.length === 0) {
      dispatch(
        notice('info', 'Nothing was open to this draw: everything in reach is locked, or the amount is 0.', 'draw'),
      );
      return;
    }
    const now = store.getState().rig;
    if (now.rig?.patches.find(({ id }) => id === patch.id) !== patch) {
      dispatch(notice('info', 'The patch was changed while it was drawn: nothing was put in place.', 'draw'));
      return;
    }
    const undone = now.future.flatMap(({ patches }) => patches.find(({ id }) => id === patch.id)?.draws ?? []);
    const kept = keepDraw(withUndone(drawn, undone), changes, {
      id: newId(),
      seed,
      amount: amount / 100,
      scope: scope.name,
    });
    // Sounds of a folder come in with the draw that took them, and those of undone draws with these.
    const needed = soundsOfDraws(kept.draws);
    dispatch(edit((old) => updatePatch(withNeededSounds(old, needed, [all, ...now.future]), patch.id, () => kept)));
    const said = [
      ...(left > 0
        ? [`${left} ${left === 1 ? 'draw was' : 'draws were'} silent or took too many voices, and left`]
        : []),
      ...(Math.abs(evenedDb) >= 1
        ? [`turned ${evenedDb > 0 ? 'up' : 'down'} by ${Math.abs(evenedDb).toFixed(0)} dB to be as loud as before`]
        : []),
    ];
    if (said.length > 0) dispatch(notice('info', `The draw: ${said.join('; ')}.`, 'draw'));
    for (const layer of patch.layers)
      if (changes.some(([what]) => what.startsWith(`layer.${layer.id}.`))) session.restrikeWhenReady(layer.id);
  };
  const lockId = scope.scope.length === 1 ? scope.scope[0] : null;
  const arpeggios = patch.layers.filter(({ path }) => path.arpeggio.on || path.chord.on);
  return (
    <div className="flex flex-col gap-2.5">
      <div className="grid grid-cols-2 gap-2">
        <label className="flex flex-col gap-0.5">
          <span className="heading">Draw</span>
          <select className="field" value={scope.id} onChange={(event) => setScope(event.target.value)}>
            {scopes.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col gap-0.5">
          <span className="heading">Sounds</span>
          <select
            className="field"
            value={among}
            onChange={(event) =>
              event.target.value === 'open' ? chooser.current?.click() : setAmong(event.target.value)
            }
          >
            <option value="">stay as they are</option>
            <option value="list">among each layer’s list</option>
            <option value="all">among all of this rig</option>
            {tags.map((tag) => (
              <option key={tag} value={tag}>
                among “{tag}”
              </option>
            ))}
            {folder.length > 0 && (
              <option value="folder">
                among the {folder.length} of {folder[0].from || 'the folder'}
              </option>
            )}
            <option value="open">among a folder …</option>
          </select>
          <input
            ref={(node) => {
              chooser.current = node;
              node?.setAttribute('webkitdirectory', '');
            }}
            type="file"
            multiple
            className="hidden"
            aria-label="Folder to draw from"
            tabIndex={-1}
            onChange={(event) => void openFolder(event.nativeEvent)}
          />
        </label>
      </div>
      <Strip parameter={AMOUNT} value={amount} onChange={setAmount} plays />
      <p data-testid="combinations" className="text-[12px] text-faint">
        {counted(combinations)}
        {free > 0 ? `, and ${free} values that move freely` : ''}.
      </p>
      <div className="flex items-center gap-2">
        <button className="button px-4! font-semibold" disabled={readOnly || drawing} onClick={() => void roll()}>
          <Dices size={15} /> {drawing ? 'Drawing …' : 'Draw'}
        </button>
        <input
          className="field w-28"
          aria-label="Seed"
          placeholder="any seed"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter' && !readOnly) void roll();
          }}
          title="The same seed gives the same draw; empty: another one each time"
        />
        {lockId && (
          <button
            className="button ml-auto"
            aria-pressed={patch.locks.includes(lockId)}
            disabled={readOnly}
            title="Draws leave it as it is"
            onClick={() => dispatch(editPatch(patch.id, (old) => setLock(old, lockId, !old.locks.includes(lockId))))}
          >
            {patch.locks.includes(lockId) ? <Lock size={14} /> : <LockOpen size={14} />} lock {scope.name}
          </button>
        )}
      </div>
      {patch.locks.length > 0 && (
        <div className="flex flex-wrap items-center gap-1 text-[12px]">
          <Lock size={12} aria-hidden />{' '}
          {patch.locks.map((lock) => (
            <button
              key={lock}
              className="button px-1.5! py-0! text-[11.5px]"
              title="Let it go"
              onClick={() => dispatch(editPatch(patch.id, (old) => setLock(old, lock, false)))}
            >
              {nameOfLock(patch, lock)} ×
            </button>
          ))}
        </div>
      )}
      <History patch={patch} />
      {arpeggios.length > 0 && (
        <div className="flex flex-wrap gap-1">
          {arpeggios.map((layer) => (
            <button
              key={layer.id}
              className="button px-2! py-0! text-[12px]"
              title="The notes that this draw makes of the take, as a MIDI file"
              onClick={() => void exportWritten(patch, layer.id)}
            >
              Write down {layer.name} …
            </button>
          ))}
          {arpeggios.map((layer) => (
            <button
              key={`take ${layer.id}`}
              className="button px-2! py-0! text-[12px]"
              disabled={readOnly}
              title="The notes that this draw makes of the take, as a take of this patch"
              onClick={() => void keepWritten(patch, layer.id)}
            >
              {layer.name} as a take
            </button>
          ))}
        </div>
      )}
    </div>
  );
}

const counted = (n: number): string =>
  n === 1
    ? 'Nothing with a number of choices is open'
    : n < 1e6
      ? `${n.toLocaleString('en')} combinations`
      : n < 1e15
        ? `${(n / 1e6).toLocaleString('en', { maximumFractionDigits: n < 1e9 ? 2 : 0 })} million combinations`
        : `10 to the ${Math.floor(Math.log10(n))}th combinations`;
const nameOfLock = (patch: Patch, lock: string): string => {
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

/** All draws, the newest first, each with a picture of what it changed; pointing at one is hearing it. */
function History({ patch }: { patch: Patch }) {
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

/** What a draw changed most, in words. */
const wordsOfDraw = (patch: Patch, each: Draw): string =>
  [
    ...new Set(
      mostChanged(each, 2).map(([what]) => (parseTarget(what) ? labelOfTarget(patch, what) : nameOfLock(patch, what))),
    ),
  ].join(', ');

const MOST_LINES = 36;
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

/** Chance at each strike over several layers: an amount for each attribute, in one action. */
function Strikes({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const chosen = useAppSelector((state) => state.choosing.chosenLayerIds);
  const several = chosen.filter((id) => patch.layers.some((layer) => layer.id === id));
  const [over, setOver] = useState('all');
  const [together, setTogether] = useState<Together>('each');
  const ids =
    over === 'chosen' && several.length > 0
      ? several
      : over.startsWith('group.')
        ? patch.layers.filter(({ groupId }) => groupId === over.slice(6)).map(({ id }) => id)
        : over.startsWith('layer.')
          ? [over.slice(6)]
          : patch.layers.map(({ id }) => id);
  const change = (edit: (old: Patch) => Patch) => dispatch(editPatch(patch.id, edit));
  const kept = patch.layers.filter((layer) => ids.includes(layer.id) && layer.kept !== null);
  return (
    <fieldset disabled={readOnly} className="flex flex-col gap-2.5">
      <div className="grid grid-cols-2 gap-2">
        <label className="flex flex-col gap-0.5">
          <span className="heading">Over</span>
          <select className="field" value={over} onChange={(event) => setOver(event.target.value)}>
            <option value="all">all layers of the patch</option>
            {several.length > 1 && <option value="chosen">the {several.length} chosen layers</option>}
            {patch.groups.map(({ id, name }) => (
              <option key={id} value={`group.${id}`}>
                group {name}
              </option>
            ))}
            {patch.layers.map(({ id, name }) => (
              <option key={id} value={`layer.${id}`}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col gap-0.5">
          <span className="heading">Chance</span>
          <select className="field" value={together} onChange={(event) => setTogether(event.target.value as Together)}>
            <option value="each">of each layer for itself</option>
            <option value="together">the same for all layers of a strike</option>
          </select>
        </label>
      </div>
      <button
        className="button justify-center font-semibold"
        disabled={ids.length === 0}
        title="A macro for each of them sets how far"
        onClick={() =>
          change((old) =>
            scatterOver(
              old,
              ids,
              ATTRIBUTES.filter(
                ({ id }) =>
                  id !== 'choice' || patch.layers.some((layer) => ids.includes(layer.id) && layer.list.length > 1),
              ).map(({ id }) => id),
              together,
            ),
          )
        }
      >
        Scatter over {ids.length === 1 ? 'this layer' : `these ${ids.length} layers`}
      </button>
      <ul className="flex flex-col gap-1">
        {ATTRIBUTES.map((attribute) => {
          const routes = scatterRoutes(patch, ids, attribute);
          const macro = amountMacro(patch, ids, attribute);
          return (
            <li key={attribute.id} className="grid grid-cols-[140px_minmax(0,1fr)_116px] items-center gap-2">
              <label className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={routes.length > 0}
                  disabled={ids.length === 0}
                  onChange={(event) => {
                    const { checked } = event.target;
                    change((old) =>
                      checked ? scatterOver(old, ids, [attribute.id], together) : takeOffScatter(old, ids, attribute),
                    );
                  }}
                />
                {attribute.label}
              </label>
              {macro === undefined ? (
                <span className="text-[12px] text-faint">the same each time</span>
              ) : (
                <TargetStrip patch={patch} target={`macro.${macro}`} label="how far" colour="var(--plum)" />
              )}
              {limitOf(patch, ids, attribute) === undefined ? (
                <span className="text-[11.5px] whitespace-nowrap text-faint">
                  {attribute.id === 'reversed' ? 'as often as not' : ''}
                </span>
              ) : (
                <TypedField
                  label={attribute.around ? '±' : '≤'}
                  text={`${limitOf(patch, ids, attribute)} ${attribute.unit}`}
                  commit={(text) => {
                    const read = Number.parseFloat(text.replace('−', '-').replace(',', '.'));
                    if (Number.isNaN(read) || read < 0)
                      return `a number${attribute.unit ? ` of ${attribute.unit}` : ''}`;
                    change((old) => setLimit(old, ids, attribute, read));
                    return undefined;
                  }}
                />
              )}
            </li>
          );
        })}
      </ul>
      <Part title="The last strike">
        <div className="flex items-center gap-2">
          <button
            className="button"
            disabled={ids.length === 0}
            title="Every strike of these layers has the chances of the last one from now on"
            onClick={() => {
              const seed = session.strikeSeed();
              change((old) => keepStrike(old, ids, seed));
            }}
          >
            Keep this one
          </button>
          {kept.length > 0 && (
            <button className="button" onClick={() => change((old) => keepStrike(old, ids, null))}>
              Let chance go on
            </button>
          )}
          <span className="text-[12px] text-faint">
            {kept.length > 0
              ? `${kept.length === 1 ? kept[0].name : `${kept.length} layers`} kept`
              : 'each strike has its own'}
          </span>
        </div>
      </Part>
      <p className="text-[12px] text-faint">
        Limits and curves are those of the routes that this makes: the list of what moves what in Control shows and
        changes them.
      </p>
    </fieldset>
  );
}

export const openDraws = (): void => {
  store.dispatch(deskSlice.actions.sheetOpened('draws'));
};
