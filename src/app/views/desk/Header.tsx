import {
  ChevronDown,
  CircleHelp,
  CirclePlus,
  EllipsisVertical,
  History,
  Moon,
  Redo2,
  Settings,
  Sun,
  Undo2,
} from 'lucide-react';
import { Suspense, useState } from 'react';
import { NavLink } from 'react-router';
import type { Patch } from '../../../core/rig/schema';
import { takeOver } from '../../document/rigs';
import { rigFile } from '../../jobs/rigFile';
import { session } from '../../sound/session';
import { store, useAppDispatch, useAppSelector } from '../../document/store';
import { settingsSlice } from '../../document/settingsSlice';
import { deskSlice } from '../../hands/deskSlice';
import { Meters } from '../../parts/Meters';
import { useUndo } from './useUndo';
import { openTray } from '../../jobs/openTray';
import { comesAlong } from '../../jobs/comesAlong';
import { useStore } from '../../parts/useLive';
import { useView } from '../../parts/useView';
import { Versions } from './Versions';
import { checkState } from '../../jobs/checkState';
import { late } from '../../parts/late';
import { CHOOSE_PATCH, MORE_BUTTON, PATCH_BUTTON, type Pressed } from './patchButtons';

const PatchMenus = late(
  () => import('./PatchMenus'),
  (there) => there.PatchMenus,
);

export const WHY_READ_ONLY = 'Another tab has this rig: edits are off here. Close it there, or take over.';
const VIEWS = [
  ['layers', 'Layers'],
  ['sounds', 'Sounds'],
  ['control', 'Control'],
  ['mix', 'Mix'],
  ['check', 'Check'],
] as const;

const SAVING = { saved: 'saved', saving: 'saving …', failed: 'not saved' } as const;

export function Header({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const { saving, readOnly, past, future } = useAppSelector((state) => state.rig);
  const theme = useAppSelector((state) => state.settings.theme);
  const unreadable = useAppSelector((state) => state.told.unreadable);
  const undo = useUndo();
  const behind = useStore(rigFile, (now) => now.isBehind);
  const file = useStore(rigFile, (now) => now.kept);
  const alsoHere = behind && saving === 'saved' && !readOnly;
  // In the tray, going back is the tray's.
  useStore(openTray, () => openTray.tray.version);
  const { tray } = openTray;
  const inTray = useView() === 'sounds' && tray.open;
  const sheet = (which: 'help' | 'settings' | 'rigs' | 'edits') =>
    dispatch(deskSlice.actions.sheetOpened(store.getState().desk.sheet === which ? null : which));
  return (
    <header className="sticky top-0 z-30 col-span-3 flex items-center gap-4 bg-paper border-b-[1.5px] border-ink px-4 max-[1450px]:gap-2 max-[1100px]:gap-2 max-[1100px]:px-2">
      <h1 className="text-[17px] font-bold tracking-wide max-[960px]:hidden" aria-label="wavicle">
        wav<span style={{ color: 'var(--teal)' }}>i</span>cle
      </h1>
      <PatchMenu patch={patch} />
      <StartButton />
      <nav aria-label="Views" className="flex shrink-0">
        <NavLink to="/stage" className="rounded-full px-3 py-1 max-[1300px]:px-2.5 max-[900px]:px-2">
          Stage
        </NavLink>
        {VIEWS.map(([path, title]) => (
          <NavLink
            key={path}
            to={`/patch/${patch.id}/${path}`}
            className="rounded-full px-3 py-1 max-[1300px]:px-2.5 max-[900px]:px-2 aria-[current=page]:bg-ink aria-[current=page]:text-paper"
          >
            {title}
            {path === 'check' && <CheckCount />}
          </NavLink>
        ))}
      </nav>
      <Versions patch={patch} />
      <div className="ml-auto flex shrink-0 items-center gap-1">
        <button
          className="button-bare max-[1100px]:hidden"
          aria-label="Edits"
          title="What was done, to go back to"
          onClick={() => sheet('edits')}
        >
          <History size={16} />
        </button>
        <button
          className="button-bare"
          aria-label="Undo"
          title="Undo (Ctrl Z)"
          disabled={inTray ? !tray.canGoBack('undone') : readOnly || past.length === 0}
          onClick={() => undo('undone')}
        >
          <Undo2 size={16} />
        </button>
        <button
          className="button-bare"
          aria-label="Redo"
          title="Redo (Ctrl Shift Z)"
          disabled={inTray ? !tray.canGoBack('redone') : readOnly || future.length === 0}
          onClick={() => undo('redone')}
        >
          <Redo2 size={16} />
        </button>
        <button
          className="button-bare"
          aria-label={theme === 'chart' ? 'Night theme' : 'Chart theme'}
          title="Theme"
          onClick={() => dispatch(settingsSlice.actions.themeChosen(theme === 'chart' ? 'night' : 'chart'))}
        >
          {theme === 'chart' ? <Moon size={16} /> : <Sun size={16} />}
        </button>
        <button className="button-bare" aria-label="Settings" title="Settings" onClick={() => sheet('settings')}>
          <Settings size={16} />
        </button>
        <button className="button-bare" aria-label="Shortcuts" title="Shortcuts (?)" onClick={() => sheet('help')}>
          <CircleHelp size={16} />
        </button>
      </div>
      <span
        role="status"
        className={`${alsoHere ? '-mr-1 max-[1360px]:sr-only' : 'min-w-[44px]'} shrink-0 text-right max-[900px]:min-w-0 text-[12px] whitespace-nowrap ${readOnly || saving === 'failed' ? 'font-bold text-alarm' : 'text-faint'}`}
        title={readOnly ? WHY_READ_ONLY : undefined}
      >
        {readOnly ? 'read-only' : SAVING[saving]}
      </span>
      {alsoHere && (
        <span aria-hidden className="-mr-1 shrink-0 text-[12px] text-faint max-[1360px]:hidden">
          here ·
        </span>
      )}
      {behind && !readOnly && (
        <button
          className={`shrink-0 text-right text-[12px] whitespace-nowrap text-ochre underline ${saving === 'saved' ? 'max-[900px]:hidden' : 'hidden'}`}
          title={
            file
              ? `“${file.name}” was written before the last edits (Ctrl S writes it again)`
              : 'This rig is in this browser alone (Ctrl S writes it to a file)'
          }
          onClick={() => void rigFile.save()}
        >
          {file ? 'file older' : 'no file'}
        </button>
      )}
      {readOnly && (
        <button className="button shrink-0 px-2! py-0!" title={WHY_READ_ONLY} onClick={() => void takeOver()}>
          take over
        </button>
      )}
      {unreadable && (
        <button
          className="shrink-0 rounded-md border border-alarm px-2 text-[12px] font-bold whitespace-nowrap text-alarm"
          title={`A rig that this browser keeps cannot be opened: ${unreadable.problem}`}
          onClick={() => sheet('rigs')}
        >
          a rig cannot be opened
        </button>
      )}
      <Meters />
      <button
        className="sticky right-2 shrink-0 rounded-md bg-alarm px-4 py-1.5 font-semibold text-on-alarm"
        title="Silence everything at once (Esc twice)"
        onClick={() => session.panic()}
      >
        Silence
      </button>
    </header>
  );
}

/** A newcomer, who has no rig of their own yet, reads it in words. */
function StartButton() {
  const dispatch = useAppDispatch();
  const comes = useAppSelector((state) => state.rig.rig !== null && comesAlong(state.rig.rig));
  return (
    <button
      className={`shrink-0 ${comes ? 'button px-2! py-0! text-[12px] max-[1360px]:-ml-2 max-[1360px]:border-0! max-[1360px]:px-1!' : 'button-bare -ml-2'}`}
      aria-label="Start your own"
      title="A patch of your own: empty, by a template, from the store, from your recordings"
      onClick={() => dispatch(deskSlice.actions.sheetOpened('start'))}
    >
      {comes && <span className="max-[1360px]:hidden">Start your own</span>}
      <CirclePlus size={16} className={comes ? 'min-[1361px]:hidden' : ''} />
    </button>
  );
}

/** How much was found in the patch: a number and no more. */
function CheckCount() {
  const count = useStore(checkState, (now) => now.count);
  return count ? (
    <span
      className="number ml-1 text-[11px] opacity-75"
      title={count === 1 ? 'One thing was found in this patch' : `${count} things were found in this patch`}
      aria-label={`, ${count} found`}
    >
      {count}
    </span>
  ) : null;
}

/** The patch in view and what can be done with it: its menus come after the page stands. */
function PatchMenu({ patch }: { patch: Patch }) {
  const [pressed, setPressed] = useState<Pressed>(null);
  const label = <PatchLabel patch={patch} />;
  return (
    <Suspense
      fallback={
        <>
          <button className={PATCH_BUTTON} title={CHOOSE_PATCH} onClick={() => setPressed('patches')}>
            {label} <ChevronDown size={12} className="shrink-0" />
          </button>
          <button {...MORE_BUTTON} onClick={() => setPressed('more')}>
            <EllipsisVertical size={15} />
          </button>
        </>
      }
    >
      <PatchMenus patch={patch} label={label} pressed={pressed} />
    </Suspense>
  );
}

function PatchLabel({ patch }: { patch: Patch }) {
  const rig = useAppSelector((state) => state.rig.rig)!;
  return (
    // What has no room beside the name is not seen at all.
    <span className="flex h-[1.5em] min-w-0 flex-1 flex-wrap items-baseline gap-x-2 overflow-hidden text-[16px] leading-[1.5]">
      <span className="sr-only">Patch</span>
      <span dir="auto" className="min-w-[92px] truncate text-left text-[16px] font-bold" title={patch.name}>
        {patch.name}
      </span>
      <span className="shrink-0 text-[12px] whitespace-nowrap text-faint max-[1000px]:hidden" title={rig.name}>
        {rig.patches.indexOf(patch) + 1} of {rig.patches.length}
      </span>
      <span className="shrink-0 text-[12px] whitespace-nowrap text-faint max-[1450px]:hidden">{rig.name}</span>
    </span>
  );
}
