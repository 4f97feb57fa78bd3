import { Dices, Lock, LockOpen } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { combinationsOf, drawablesIn, setLock } from '../../../core/draws/draw';
import { fairDraw, withUndone } from '../../../core/draws/fair';
import { updatePatch } from '../../../core/rig/edits/layers';
import { keepDraw, soundsOfDraws, withNeededSounds } from '../../../core/draws/history';
import { SHARE, type Parameter } from '../../../core/rig/parameters';
import type { Patch } from '../../../core/rig/schema';
import { exportWritten, keepWritten } from '../../jobs/writingDown';
import { hearBriefly } from '../../jobs/measuring';
import { session } from '../../sound/session';
import type { Candidate } from '../../listening/trying';
import { edit, editPatch, newId, notice, store, useAppDispatch, useAppSelector } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { listeningSlice } from '../../listening/listeningSlice';
import { idsOfPart } from '../layers/inspector/parts';
import { SheetFrame } from '../../parts/Sheet';
import { Strip } from '../../parts/Strip';
import { Strikes } from './StrikesOfChance';
import { History } from './DrawHistory';
import { nameOfLock } from './DrawHistory';

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
      if (changes.some(([what]) => what.startsWith(`layer.${layer.id}.`))) session.waiting.restrike(layer.id);
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

export const openDraws = (): void => {
  store.dispatch(deskSlice.actions.sheetOpened('draws'));
};
