import { FolderOpen, Star } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useEffect, useMemo, useRef, useState } from 'react';
import { updateSound } from '../../../core/rig/edits/zones';
import type { Patch } from '../../../core/rig/schema';
import { carry } from '../../document/carrying';
import { TypedField } from '../../parts/TypedField';
import type { Candidate, TryingAt } from '../../listening/trying';
import { candidatesOf, folderCandidates, levelBetween, othersCandidates } from '../../jobs/candidates';
import { keepTried } from '../../listening/asTried';
import { edit, newId, notice, store, useAppDispatch, useAppSelector } from '../../document/store';
import { harbour } from '../../jobs/harbour';
import { listeningSlice } from '../../listening/listeningSlice';

const TRY_MS = 90;
/** What is played, chosen and dropped on while the browser is open. */
const BESIDE =
  '[data-testid="keyboard"], [aria-label="Stand-in controllers"], [data-testid="field"], [data-pad], footer';

interface Props {
  patch: Patch;
  at: TryingAt;
  onDone: () => void;
}

/** The browser of sounds as a panel beside what it was opened from; what was tried and not kept is gone with it. */
export function BrowserPanel({ patch, at, onDone }: Props) {
  const dispatch = useAppDispatch();
  return (
    <Popover.Portal>
      <Popover.Content
        side="left"
        align="start"
        sideOffset={8}
        collisionPadding={8}
        className="panel w-[380px]"
        aria-label="Browse sounds"
        onInteractOutside={(event) => {
          if ((event.target as HTMLElement).closest(BESIDE)) event.preventDefault();
        }}
      >
        <Browser
          patch={patch}
          at={at}
          onDone={() => {
            if (store.getState().listening.trying) dispatch(listeningSlice.actions.tryingSet(null));
            onDone();
          }}
        />
      </Popover.Content>
    </Popover.Portal>
  );
}

function Browser({ patch, at: place, onDone }: Props) {
  const dispatch = useAppDispatch();
  const rig = useAppSelector((state) => state.rig.rig)!;
  const trying = useAppSelector((state) => state.listening.trying);
  const [typed, setTyped] = useState('');
  const [tag, setTag] = useState('');
  const [kind, setKind] = useState('');
  const [starred, setStarred] = useState(false);
  const [others, setOthers] = useState<Candidate[]>([]);
  const [files, setFiles] = useState<Candidate[]>([]);
  const [reading, setReading] = useState(false);
  const [at, setAt] = useState<string | null>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLUListElement>(null);
  const own = useMemo(() => candidatesOf(rig, true), [rig]);
  useEffect(() => {
    let live = true;
    void Promise.all([othersCandidates(rig.id), harbour.candidates()])
      .then(([kept, store]) => [...kept, ...store])
      .then(
        (found) => {
          if (live) setOthers(found);
        },
        () => undefined,
      );
    return () => {
      live = false;
    };
  }, [rig.id]);
  const all = [...files, ...own, ...others];
  const tags = [...new Set(all.flatMap(({ sound }) => sound.tags))].sort();
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = all.filter(
    ({ name, from, sound }) =>
      (!starred || sound.favourite) &&
      (kind === '' || sound.kind === kind) &&
      (tag === '' || sound.tags.includes(tag)) &&
      words.every((word) => `${name} ${from} ${sound.tags.join(' ')}`.toLowerCase().includes(word)),
  );
  const layer = place.to === 'layer' ? patch.layers.find(({ id }) => id === place.layerId) : undefined;
  const now = layer && rig.sounds.find(({ id }) => id === layer.soundId);
  const chosen = shown.find(({ key }) => key === at) ?? shown.find(({ sound }) => sound === now);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      if (store.getState().listening.trying) store.dispatch(listeningSlice.actions.tryingSet(null));
    },
    [],
  );
  /** It is heard in the layer as soon as the hand rests on it for a moment. */
  const tryIt = (candidate: Candidate) => {
    setAt(candidate.key);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => {
      if (candidate.sound === now) dispatch(listeningSlice.actions.tryingSet(null));
      else
        void levelBetween(now, candidate.sound).then((levelDb) =>
          dispatch(listeningSlice.actions.tryingSet({ patchId: patch.id, at: place, candidate, levelDb })),
        );
    }, TRY_MS);
    list.current?.querySelector(`[data-key="${CSS.escape(candidate.key)}"]`)?.scrollIntoView({ block: 'nearest' });
  };
  const keep = () => {
    clearTimeout(timer.current);
    const candidate = chosen;
    if (candidate && candidate.sound !== now) {
      dispatch(edit((old) => keepTried(old, { patchId: patch.id, at: place, candidate, levelDb: 0 }, newId)));
      const level = trying?.candidate === candidate ? trying.levelDb : 0;
      if (Math.abs(level) >= 1)
        dispatch(
          notice(
            'info',
            `“${candidate.name}” is ${Math.abs(level).toFixed(1)} dB ${level < 0 ? 'louder' : 'softer'} than what was there; the strip stays as it is.`,
            'kept-sound',
          ),
        );
    }
    onDone();
  };
  return (
    <div
      className="flex flex-col gap-2"
      onKeyDown={(event) => {
        const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
        if (step !== undefined && shown.length > 0 && !(event.target instanceof HTMLSelectElement)) {
          const from = chosen ? shown.indexOf(chosen) : step > 0 ? -1 : shown.length;
          tryIt(shown[Math.min(shown.length - 1, Math.max(0, from + step))]);
          event.preventDefault();
          event.stopPropagation();
        } else if (
          event.key === 'Enter' &&
          event.target instanceof HTMLInputElement &&
          event.target.type === 'search'
        ) {
          event.preventDefault();
          keep();
        }
      }}
    >
      <div className="flex items-center gap-1.5">
        <input
          autoFocus
          type="search"
          className="field min-w-0 flex-1 py-1!"
          aria-label="Look for a sound"
          placeholder="name, tag, rig …"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <select
          className="field max-w-24"
          aria-label="Kind"
          value={kind}
          onChange={(event) => setKind(event.target.value)}
        >
          <option value="">any kind</option>
          <option value="multisample">samples</option>
          <option value="synth">synths</option>
          <option value="grains">grains</option>
        </select>
        <select
          className="field max-w-24"
          aria-label="Tag"
          value={tag}
          onChange={(event) => setTag(event.target.value)}
        >
          <option value="">any tag</option>
          {tags.map((each) => (
            <option key={each}>{each}</option>
          ))}
        </select>
        <button
          className="button-bare aria-pressed:text-ochre"
          aria-label="Favourites alone"
          aria-pressed={starred}
          onClick={() => setStarred(!starred)}
        >
          <Star size={15} fill={starred ? 'currentColor' : 'none'} />
        </button>
        <button
          className="button-bare"
          aria-label="Open a folder of files to try"
          title="Open a folder: its files can be tried, and come into the rig only when kept"
          onClick={() => chooser.current?.click()}
        >
          <FolderOpen size={15} />
        </button>
        <input
          ref={(node) => {
            chooser.current = node;
            node?.setAttribute('webkitdirectory', '');
          }}
          type="file"
          multiple
          className="hidden"
          aria-label="Folder to try"
          tabIndex={-1}
          onChange={(event) => {
            setReading(true);
            void folderCandidates(event.nativeEvent)
              .then(
                ({ found, problems }) => {
                  setFiles(found);
                  if (problems.length > 0)
                    dispatch(
                      notice(
                        'info',
                        `${problems[0]}${problems.length > 1 ? `; and ${problems.length - 1} more` : ''}`,
                        'tried-folder',
                      ),
                    );
                },
                (error: Error) =>
                  dispatch(notice('problem', `The folder could not be read: ${error.message}`, 'tried-folder')),
              )
              .finally(() => setReading(false));
          }}
        />
      </div>
      {reading && (
        <p className="text-[12px] text-faint" role="status">
          reading the folder …
        </p>
      )}
      <ul
        ref={list}
        role="listbox"
        aria-label="Sounds"
        className="max-h-[300px] overflow-y-auto [scrollbar-width:thin]"
      >
        {shown.map((candidate) => {
          const { key, name, from, sound } = candidate;
          const isOwn = rig.sounds.includes(sound);
          return (
            <li
              key={key}
              data-key={key}
              role="option"
              draggable
              title="Drag it to a layer or a pad"
              onDragStart={(event) => carry(event, candidate)}
              aria-selected={candidate === chosen}
              className={`flex cursor-pointer items-center gap-1.5 rounded-[5px] px-1.5 py-0.5 ${candidate === chosen ? 'bg-ink text-paper' : ''}`}
              onClick={() => tryIt(candidate)}
              onDoubleClick={keep}
            >
              <button
                className="button-bare h-5! min-w-5!"
                disabled={!isOwn}
                aria-label={`${sound.favourite ? 'No longer a favourite' : 'A favourite'}: ${name}`}
                onClick={(event) => {
                  event.stopPropagation();
                  dispatch(
                    edit((old) => updateSound(old, sound.id, (each) => ({ ...each, favourite: !each.favourite }))),
                  );
                }}
              >
                <Star size={12} fill={sound.favourite ? 'currentColor' : 'none'} />
              </button>
              <span dir="auto" className="min-w-0 flex-1 truncate">
                {name}
              </span>
              <span className={`max-w-32 truncate text-[11.5px] ${candidate === chosen ? '' : 'text-faint'}`}>
                {sound === now ? 'is there' : from || sound.tags.join(' ')}
              </span>
            </li>
          );
        })}
        {shown.length === 0 && <li className="px-2 text-faint">No sound has that.</li>}
      </ul>
      {chosen && rig.sounds.includes(chosen.sound) && (
        <TypedField
          label="tags"
          text={chosen.sound.tags.join(' ')}
          commit={(text) => {
            const next = [
              ...new Set(
                text
                  .toLowerCase()
                  .split(/[\s,]+/)
                  .filter(Boolean),
              ),
            ];
            if (next.length > 12 || next.some((each) => each.length > 40)) return 'at most twelve words';
            dispatch(edit((old) => updateSound(old, chosen.sound.id, (each) => ({ ...each, tags: next }))));
            return undefined;
          }}
        />
      )}
      <div className="flex items-center gap-1.5">
        <span className="min-w-0 flex-1 text-[12px] text-faint">
          {trying
            ? `trying, ${trying.levelDb === 0 ? 'as loud as it is' : `levelled by ${trying.levelDb > 0 ? '+' : '−'}${Math.abs(trying.levelDb).toFixed(1)} dB`}`
            : '↑ ↓ try · Enter keeps · Esc goes back'}
        </span>
        <button className="button" onClick={onDone}>
          back
        </button>
        <button className="button bg-ink! text-paper!" onClick={keep}>
          keep
        </button>
      </div>
    </div>
  );
}
