import { DropdownMenu } from 'radix-ui';
import { CircleHelp, CirclePlus, EllipsisVertical, History, Moon, Redo2, Settings, Sun, Undo2 } from 'lucide-react';
import { useRef } from 'react';
import { NavLink, useNavigate } from 'react-router';
import { addPatch, deletePatch, duplicatePatch, freePatchName, renamePatch } from '../../../core/rig/edits/patches';
import type { Patch } from '../../../core/rig/schema';
import { exportRig, importFile } from '../../jobs/files';
import { takeOver } from '../../document/rigs';
import { rigFile } from '../../jobs/rigFile';
import { session } from '../../sound/session';
import { edit, newId, store, told, useAppDispatch, useAppSelector } from '../../document/store';
import { settingsSlice } from '../../document/settingsSlice';
import { deskSlice } from '../../hands/deskSlice';
import { Chooser } from '../../parts/Chooser';
import { Meters } from '../../parts/Meters';
import { NameField, useRenaming } from '../../parts/NameField';
import { useUndo } from './useUndo';
import { openTray } from '../../jobs/openTray';
import { comesAlong } from '../../jobs/comesAlong';
import { useStore } from '../../parts/useLive';
import { useView } from '../../parts/useView';
import { Versions } from './Versions';
import { checkState } from '../../jobs/checkState';

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

function PatchMenu({ patch }: { patch: Patch }) {
  const rig = useAppSelector((state) => state.rig.rig)!;
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const chooser = useRef<HTMLInputElement>(null);
  const renaming = useRenaming();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const view = useView();
  const go = (id: string) => void navigate(`/patch/${id}/${view}`, { flushSync: true });
  const rename = (name: string) => dispatch(edit((old) => renamePatch(old, patch.id, name)));
  if (renaming.renaming)
    return (
      <NameField
        label="Name of the patch"
        name={patch.name}
        className="w-44 text-[16px] font-bold"
        onName={rename}
        onEnd={renaming.end}
      />
    );
  return (
    <>
      <Chooser
        className="flex max-w-[300px] min-w-[122px] items-center gap-1 rounded-md px-2 py-1 hover:bg-sheet max-[1000px]:px-1"
        title="Choose another patch"
        now={patch.id}
        onChoose={go}
        onCloseAutoFocus={renaming.onCloseAutoFocus}
        choices={rig.patches.map(({ id, name }) => ({ id, name }))}
        label={
          <span className="flex min-w-0 flex-1 items-baseline gap-2 overflow-hidden">
            <span className="sr-only">Patch</span>
            <span dir="auto" className="min-w-[92px] truncate text-left text-[16px] font-bold" title={patch.name}>
              {patch.name}
            </span>
            <span
              className="min-w-0 shrink-[30] truncate text-[12px] whitespace-nowrap text-faint max-[1000px]:hidden"
              title={rig.name}
            >
              {rig.patches.indexOf(patch) + 1} of {rig.patches.length}
              <span className="max-[1450px]:hidden"> · {rig.name}</span>
            </span>
          </span>
        }
      />
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          className="button-bare -ml-2 shrink-0"
          aria-label="New patch, rig and files"
          title="New patches, this patch, files and rigs"
        >
          <EllipsisVertical size={15} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="start"
            sideOffset={4}
            collisionPadding={8}
            className="panel max-h-[var(--radix-dropdown-menu-content-available-height)] min-w-60 overflow-y-auto p-1.5!"
            onCloseAutoFocus={renaming.onCloseAutoFocus}
          >
            <DropdownMenu.Item className="menu-item" onSelect={() => dispatch(deskSlice.actions.sheetOpened('start'))}>
              Start your own …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => dispatch(deskSlice.actions.sheetOpened('store'))}
            >
              Something from the store …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => dispatch(deskSlice.actions.sheetOpened('templates'))}
            >
              Templates, and what was kept …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => {
                const id = newId();
                dispatch(edit((old) => addPatch(old, id, freePatchName(old))));
                renaming.beginAfterMenu();
                go(id);
              }}
            >
              New patch
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => {
                const id = newId();
                dispatch(edit((old) => duplicatePatch(old, patch.id, id)));
                go(id);
              }}
            >
              Duplicate this patch
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" disabled={readOnly} onSelect={renaming.beginAfterMenu}>
              Rename this patch …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => {
                dispatch(edit((old) => deletePatch(old, patch.id)));
                dispatch(told(`The patch “${patch.name}” is gone.`));
              }}
            >
              Delete this patch
            </DropdownMenu.Item>
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly || patch.layers.length === 0}
              onSelect={() => dispatch(deskSlice.actions.sheetOpened('bounce'))}
            >
              Bounce to samples …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              onSelect={() => dispatch(deskSlice.actions.sheetOpened('handOver'))}
            >
              Hand over: takes, pages, archives …
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => void exportRig()}>
              Export the rig
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => chooser.current?.click()}>
              Import a rig or a MIDI file …
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => dispatch(deskSlice.actions.sheetOpened('rigs'))}>
              Rigs in this browser, earlier states …
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <input
        ref={chooser}
        type="file"
        accept=".wavicle,.zip,.mid,.midi"
        className="hidden"
        aria-label="File to import"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void importFile(file);
        }}
      />
    </>
  );
}
