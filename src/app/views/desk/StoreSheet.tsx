import { Play, Square } from 'lucide-react';
import { useEffect, useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import type { Patch, Sound } from '../../../core/rig/schema';
import { useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { deskSlice } from '../../hands/deskSlice';
import { addStore } from '../../jobs/files';
import { harbour, type Harbour } from '../../jobs/harbour';
import { storeHeard } from '../../jobs/storeHeard';
import { SheetFrame } from '../../parts/Sheet';
import { useStore } from '../../parts/useLive';
import { showing } from '../../show/showing';

const KINDS = { multisample: 'samples', synth: 'synth', grains: 'grains', input: 'input' } as const;

/** Strikes the keys that show what is heard, once it is there. */
const show = (keys: readonly number[]): void =>
  showing.play({ strikes: keys.map((key) => ({ key, velocity: 96 })) }, 'changed');
function giveBack(): void {
  if (storeHeard.now) showing.stop();
  harbour.giveBack();
}

/** Patches and sounds that come along, by family: heard first, with one's own hands, and then taken into the rig. */
export function StoreSheet({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const [all, setAll] = useState<Harbour | null>(null);
  const [problem, setProblem] = useState('');
  const [what, setWhat] = useState<'patches' | 'sounds'>('patches');
  const [typed, setTyped] = useState('');
  useEffect(() => {
    let live = true;
    harbour.load().then(
      (loaded) => live && setAll(loaded),
      (error: Error) => live && setProblem(error.message),
    );
    return () => {
      live = false;
    };
  }, []);
  // What is heard stands in for the patch in view, and for no other.
  useEffect(() => giveBack, [patch.id]);
  const done = () => dispatch(deskSlice.actions.sheetOpened(null));
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const has = (text: string) => words.every((word) => text.toLowerCase().includes(word));
  const sounds = all?.rig.sounds.filter((sound) => has(`${sound.name} ${sound.tags.join(' ')}`)) ?? [];
  const families =
    all?.families
      .map((family) => ({
        ...family,
        patches: family.patches.filter(({ name, notes }) => has(`${name} ${family.name} ${notes}`)),
      }))
      .filter(({ patches }) => patches.length > 0) ?? [];
  return (
    <SheetFrame title="Harbour Store" wide="very">
      <p className="mb-2 text-[12.5px] text-faint">
        What comes along. While one is heard it is under your hands in the place of “{patch.name}”; nothing is in your
        rig before you take it.
      </p>
      <div className="mb-2 flex items-center gap-1.5">
        <div role="radiogroup" aria-label="What is shown" className="flex gap-1">
          {(['patches', 'sounds'] as const).map((each) => (
            <button
              key={each}
              role="radio"
              aria-checked={what === each}
              className="button aria-checked:bg-ink! aria-checked:text-paper!"
              onClick={() => setWhat(each)}
            >
              {each}
            </button>
          ))}
        </div>
        <input
          type="search"
          className="field min-w-0 flex-1 py-1!"
          aria-label="Look in the store"
          placeholder="name, family, tag …"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <button className="button" title="All of it, as a rig beside yours" onClick={() => void addStore().then(done)}>
          open as a rig
        </button>
      </div>
      {problem && <p role="alert">{problem}.</p>}
      {!all && !problem && <p role="status">reading the store …</p>}
      {all && what === 'patches' && (
        <Families>
          {families.map((family) => (
            <Family key={family.name} name={family.name}>
              {family.patches.map((each) => (
                <Row
                  key={each.id}
                  id={`patch ${each.id}`}
                  name={each.name}
                  about={each.notes}
                  act="take"
                  title={`“${each.name}” becomes a patch of this rig`}
                  onHear={() => show(harbour.hearPatch(all, each, patch.id, family.name))}
                  onTake={() => {
                    const id = harbour.takePatch(all, each, patch);
                    if (id) void navigate(`/patch/${id}/layers`);
                    done();
                  }}
                />
              ))}
            </Family>
          ))}
        </Families>
      )}
      {all && what === 'sounds' && (
        <Families>
          {bySort(sounds).map(([sort, list]) => (
            <Family key={sort} name={sort}>
              {list.map((sound) => (
                <Row
                  key={sound.id}
                  id={`sound ${sound.id}`}
                  name={sound.name}
                  about={`${KINDS[sound.kind]} · ${sound.tags.join(' ')}`}
                  act="as a layer"
                  title={`A layer of “${patch.name}” plays “${sound.name}”`}
                  onHear={() => show(harbour.hearSound(all, sound, patch.id))}
                  onTake={() => {
                    dispatch(choosingSlice.actions.layerSelected(harbour.takeSound(all, sound, patch.id)));
                    done();
                  }}
                />
              ))}
            </Family>
          ))}
        </Families>
      )}
      {all && (what === 'patches' ? families.length : sounds.length) === 0 && (
        <p className="text-faint">Nothing in the store has that.</p>
      )}
    </SheetFrame>
  );
}

/** Sounds by the first of their tags, which says how they are sounded. */
function bySort(sounds: readonly Sound[]): [string, Sound[]][] {
  const out = new Map<string, Sound[]>();
  for (const sound of sounds) {
    const sort = sound.tags[0] ?? 'others';
    out.set(sort, [...(out.get(sort) ?? []), sound]);
  }
  return [...out];
}

const Families = ({ children }: { children: ReactNode }) => (
  <div className="max-h-[60vh] overflow-y-auto [scrollbar-width:thin]">{children}</div>
);

const Family = ({ name, children }: { name: string; children: ReactNode }) => (
  <section className="mb-2">
    <h3 className="heading mb-0.5">{name}</h3>
    <ul>{children}</ul>
  </section>
);

interface RowProps {
  id: string;
  name: string;
  about: string;
  act: string;
  title: string;
  onHear: () => void;
  onTake: () => void;
}

function Row({ id, name, about, act, title, onHear, onTake }: RowProps) {
  const heard = useStore(storeHeard, ({ now }) => now?.key === id);
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  return (
    <li className={`flex items-center gap-2 border-t border-line py-1 ${heard ? 'bg-sheet' : ''}`}>
      <button
        className="button-bare"
        aria-label={heard ? `Give back what “${name}” stands in for` : `Hear “${name}”`}
        aria-pressed={heard}
        onClick={heard ? giveBack : onHear}
      >
        {heard ? <Square size={13} fill="currentColor" /> : <Play size={13} fill="currentColor" />}
      </button>
      <span className="w-32 shrink-0 font-bold">{name}</span>
      <span className="line-clamp-2 min-w-0 flex-1 text-[12px] text-faint">{about}</span>
      <button
        className="button px-2! py-0! text-[12px]"
        aria-label={`${act} “${name}”`}
        title={title}
        disabled={readOnly}
        onClick={onTake}
      >
        {act}
      </button>
    </li>
  );
}
