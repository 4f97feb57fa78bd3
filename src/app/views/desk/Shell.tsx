import { DropdownMenu } from 'radix-ui';
import { CircleHelp, EllipsisVertical, History, Moon, Redo2, Settings, Sun, Undo2 } from 'lucide-react';
import { lazy, Suspense, useEffect, useMemo, useRef, useState, type DragEvent } from 'react';
import { NavLink, Outlet, useNavigate, useParams } from 'react-router';
import { alone as aloneOf } from '../../../core/rig/edits/moves';
import { labelIn } from '../../../core/rig/moves';
import { addPatch, deletePatch, duplicatePatch, freePatchName, renamePatch } from '../../../core/rig/edits/patches';
import { between } from '../../../core/draws/history';
import { soundPatch } from '../../../core/rig/defaults';
import { patchWithout } from '../../../core/rig/edits/kinds';
import type { Patch } from '../../../core/rig/schema';
import { droppedFiles } from '../../document/droppedFiles';
import { exportRig, importFile } from '../../document/files';
import { takeOver } from '../../document/rigs';
import { rigFile } from '../../document/rigFile';
import { session } from '../../sound/session';
import { withCuts } from '../../../core/rig/edits/cuts';
import { edit, newId, selectPatch, store, told, useAppDispatch, useAppSelector } from '../../document/store';
import { uiSlice } from '../../document/uiSlice';
import { CountIn } from './CountIn';
import { Chooser } from '../../parts/Chooser';
import { Controls } from './Controls';
import { Keyboard } from '../../parts/Keyboard';
import { Meters } from '../../parts/Meters';
import { NameField, useRenaming } from '../../parts/NameField';
import { PointedContext, type Pointed } from '../../parts/pointed';
import { Readout } from './Readout';
import { TakeBar } from './TakeBar';
import { useShortcuts } from './useShortcuts';
import { useUndo } from './useUndo';
import { openTray } from '../../jobs/openTray';
import { useStore } from '../../parts/useLive';
import { rememberView, useView } from '../../parts/useView';
import { ConnectBanner } from '../control/ConnectSign';
import { stripsOf, withTakeStrips } from '../../../core/rig/takes';
import { takeOf } from '../../sound/playing';
import { asTried, isThere } from '../../listening/asTried';
import { useTrim, Versions } from './Versions';
import { checkState } from '../../jobs/checkState';
import { useChecking } from './useChecking';
import { useSecondJobs } from './useSecondJobs';
import { small } from '../../document/storage/small';

/** Loaded when the first of them is opened. */
const Sheets = lazy(async () => ({ default: (await import('./Sheets')).Sheets }));
const MixReadout = lazy(async () => ({ default: (await import('./MixReadout')).MixReadout }));

/**
 * What surrounds every building view: the bar above, the keyboard and the stand-in controllers below, the take and its
 * actions at the foot.
 */
export function Shell() {
  const { patchId, soundId } = useParams();
  const navigate = useNavigate();
  const view = useView();
  const alone = useAppSelector((state) => state.sounds.alone);
  const rig = useAppSelector((state) => state.rig.rig)!;
  const patch = useAppSelector((state) => selectPatch(state, patchId))!;
  const [pointed, setPointed] = useState<Pointed | null>(null);
  const [dropping, setDropping] = useState(false);
  const { sheet, standIns } = useAppSelector((state) => state.ui);
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const [foot, setFoot] = useState<HTMLDivElement | null>(null);
  useShortcuts({ patch });
  const dispatch = useAppDispatch();
  useEffect(() => {
    dispatch(uiSlice.actions.soloCleared());
    dispatch(uiSlice.actions.aloneSet(null));
    dispatch(uiSlice.actions.connectingSet(null));
    dispatch(uiSlice.actions.tryingSet(null));
    dispatch(uiSlice.actions.leftOutSet([]));
    dispatch(uiSlice.actions.chosenSet(null));
  }, [dispatch, patchId]);
  // One place ends a drop: wherever it was taken, given up, or carried out of the window.
  useEffect(() => {
    const end = () => setDropping(false);
    const out = (event: globalThis.DragEvent) => {
      if (event.relatedTarget === null) end();
    };
    const escape = (event: KeyboardEvent) => {
      if (event.key === 'Escape') end();
    };
    const events = [
      ['drop', end],
      ['dragend', end],
      ['dragleave', out],
      ['keydown', escape],
    ] as const;
    for (const [type, heard] of events) window.addEventListener(type, heard as EventListener, true);
    return () => {
      for (const [type, heard] of events) window.removeEventListener(type, heard as EventListener, true);
    };
  }, []);
  useEffect(() => {
    rememberView(view);
  }, [view]);
  const leftOut = useAppSelector((state) => state.ui.leftOut);
  const drawTrial = useAppSelector((state) => state.ui.drawTrial);
  // In the Sounds view the keys play the sound in view alone, over its whole range, unless the patch is asked for.
  const sound = view === 'sounds' && alone ? rig.sounds.find((candidate) => candidate.id === soundId) : undefined;
  const aloneSource = useAppSelector((state) => state.ui.alone);
  const trim = useTrim(patch);
  const mixTrial = useAppSelector((state) => state.ui.mixTrial);
  const takePlays = useStore(session.takes, (takes) => takes.playing);
  const ownTakes = useAppSelector((state) => state.ui.takes);
  const heard = useMemo(() => {
    const drawn =
      drawTrial?.patchId === patch.id
        ? between(patch, drawTrial.first, drawTrial.second, drawTrial.share).patch
        : patch;
    const whole = sound ? soundPatch(sound, drawn) : aloneSource ? aloneOf(drawn, aloneSource) : drawn;
    const alone = leftOut.length > 0 ? patchWithout(whole, leftOut) : whole;
    const own = takePlays && !sound && ownTakes[patch.id] !== '' ? takeOf(patch) : undefined;
    if (own && stripsOf(own).length > 0) return withTakeStrips(alone, own);
    if (mixTrial?.patchId === patch.id && !sound) return withCuts(alone, mixTrial.cuts);
    return trim === 0 || sound
      ? alone
      : { ...alone, main: { ...alone.main, level: Math.max(-60, alone.main.level + trim) } };
  }, [sound, patch, aloneSource, trim, mixTrial, takePlays, ownTakes, leftOut, drawTrial]);
  const trying = useAppSelector((state) => state.ui.trying);
  const trial = useStore(checkState, (now) => now.trial);
  const tried = useMemo(
    () =>
      trial?.patchId === patch.id
        ? { rig: trial.rig, patch: trial.rig.patches.find(({ id }) => id === patch.id) ?? heard }
        : trying && trying.patchId === patch.id && isThere(heard, trying)
          ? asTried(rig, heard, trying)
          : { rig, patch: heard },
    [rig, heard, trying, trial, patch.id],
  );
  useSecondJobs(patch);
  useChecking(rig, patch, view === 'check');
  useEffect(() => {
    session.show(tried.rig, tried.patch);
    small.set(`wavicle-patch-${rig.id}`, patch.id);
    document.title = `${patch.name} · ${rig.name} · Wavicle`;
  }, [rig, patch, tried]);
  // What is tried, or given back, is heard under the notes that are held.
  const triedBefore = useRef(trying);
  useEffect(() => {
    const at = (trying ?? triedBefore.current)?.at;
    triedBefore.current = trying;
    if (at?.to === 'layer') session.restrikeWhenReady(at.layerId);
    else if (at && trying) session.tapWhenReady(at.key);
  }, [trying]);

  /** A rig opens, a MIDI file becomes the take, everything else goes to the tray to be laid out. */
  const takeDrop = async (event: DragEvent) => {
    const files = await droppedFiles(event);
    const direct = files.filter(
      ({ path }) => /\.(wavicle|zip|midi?)$/i.test(path) && !(files.length > 1 && /\.zip$/i.test(path)),
    );
    for (const { file } of direct) await importFile(file);
    const others = files.filter((file) => !direct.includes(file));
    if (others.length === 0) return;
    if (view !== 'sounds') void navigate(`/patch/${patch.id}/sounds`);
    const { bringInDropped } = await import('../../jobs/bringIn');
    await bringInDropped(others);
  };

  return (
    <PointedContext value={{ pointed, point: setPointed }}>
      <div className="h-full scroll-pt-12 scroll-pr-24 overflow-auto [scrollbar-width:thin]">
        <div
          className="grid h-full min-h-[32rem] min-w-[48rem] grid-cols-[var(--left)_minmax(0,1fr)_var(--right)] grid-rows-[48px_minmax(0,1fr)_119.5px_40px]"
          onDragOver={(event) => {
            if (event.dataTransfer.types.includes('Files')) {
              event.preventDefault();
              setDropping(true);
            }
          }}
          onDrop={(event) => {
            event.preventDefault();
            void takeDrop(event);
          }}
        >
          <Header patch={patch} />
          <main
            className={`col-span-3 min-h-0 ${standIns ? 'pb-[190px]' : ''}`}
            data-read-only={readOnly || undefined}
            title={readOnly ? WHY_READ_ONLY : undefined}
          >
            <Outlet context={foot} />
          </main>
          <aside
            aria-label="Stand-in controllers"
            className="border-t-[1.5px] border-r border-t-ink border-r-line p-3 max-[1100px]:p-2"
          >
            <Controls />
          </aside>
          <div className="border-t-[1.5px] border-ink">
            <Keyboard patch={heard} onPoint={(key, velocity) => setPointed(key === null ? null : { key, velocity })} />
          </div>
          <aside
            aria-label="What sounds here"
            className="flex min-h-0 flex-col border-t-[1.5px] border-l border-t-ink border-l-line px-3 py-2"
          >
            {aloneSource && (
              <div
                role="status"
                className="mb-1.5 flex items-center gap-2 border-b border-line pb-1.5 text-[12.5px] leading-tight"
              >
                <span className="min-w-0 flex-1">
                  Only{' '}
                  <b className="break-words">
                    {patch.routes.some(({ id }) => id === aloneSource) ? 'one route' : labelIn(patch, aloneSource)}
                  </b>{' '}
                  moves anything.
                </span>
                <button
                  className="button shrink-0 px-2! py-0.5!"
                  onClick={() => dispatch(uiSlice.actions.aloneSet(null))}
                >
                  All again
                </button>
              </div>
            )}
            {view === 'mix' ? (
              <Suspense fallback={null}>
                <MixReadout patch={patch} />
              </Suspense>
            ) : (
              <Readout patch={heard} pointed={pointed} />
            )}
          </aside>
          <footer className="col-span-3 flex items-center gap-3 overflow-x-auto border-t border-line px-4 [scrollbar-width:thin] max-[1000px]:gap-1.5 max-[1000px]:px-2">
            <TakeBar patch={patch} />
            <CountIn />
            <fieldset disabled={readOnly} className="contents">
              <div ref={setFoot} className="ml-auto flex items-center gap-2" />
            </fieldset>
          </footer>
        </div>
      </div>
      {/* Over the header alone: it must not cover what can take the drop. */}
      {dropping && (
        <div
          role="status"
          className="pointer-events-none fixed inset-x-2 top-1 z-50 rounded-lg border-2 border-dashed border-ink bg-paper px-3 py-1.5 text-center text-[13px] leading-tight"
        >
          Drop recordings, folders, SFZ files or a SoundFont to lay them out, on a pad or a zone to put them there, a
          rig (.wavicle) to open it, a MIDI file to play it as the take
        </div>
      )}
      {(sheet !== null || standIns) && (
        <Suspense fallback={null}>
          <Sheets patch={patch} />
        </Suspense>
      )}
      <ConnectBanner patch={patch} />
    </PointedContext>
  );
}

const WHY_READ_ONLY = 'Another tab has this rig: edits are off here. Close it there, or take over.';

const VIEWS = [
  ['layers', 'Layers'],
  ['sounds', 'Sounds'],
  ['control', 'Control'],
  ['mix', 'Mix'],
  ['check', 'Check'],
] as const;

const SAVING = { saved: 'saved', saving: 'saving …', failed: 'not saved' } as const;

function Header({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const { saving, readOnly, past, future } = useAppSelector((state) => state.rig);
  const { theme, unreadable } = useAppSelector((state) => state.ui);
  const undo = useUndo();
  const behind = useStore(rigFile, (now) => now.isBehind);
  const file = useStore(rigFile, (now) => now.kept);
  // In the tray, going back is the tray's.
  useStore(openTray, () => openTray.tray.version);
  const { tray } = openTray;
  const inTray = useView() === 'sounds' && tray.open;
  const sheet = (which: 'help' | 'settings' | 'rigs' | 'edits') =>
    dispatch(uiSlice.actions.sheetOpened(store.getState().ui.sheet === which ? null : which));
  return (
    <header className="sticky top-0 z-30 col-span-3 flex items-center gap-4 bg-paper border-b-[1.5px] border-ink px-4 max-[1450px]:gap-2.5 max-[1100px]:gap-2 max-[1100px]:px-2">
      <h1 className="text-[17px] font-bold tracking-wide max-[960px]:hidden" aria-label="wavicle">
        wav<span style={{ color: 'var(--teal)' }}>i</span>cle
      </h1>
      <PatchMenu patch={patch} />
      <nav aria-label="Views" className="flex shrink-0">
        <NavLink to="/stage" className="rounded-full px-3 py-1 max-[900px]:px-2">
          Stage
        </NavLink>
        {VIEWS.map(([path, title]) => (
          <NavLink
            key={path}
            to={`/patch/${patch.id}/${path}`}
            className="rounded-full px-3 py-1 max-[900px]:px-2 aria-[current=page]:bg-ink aria-[current=page]:text-paper"
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
          onClick={() => dispatch(uiSlice.actions.themeChosen(theme === 'chart' ? 'night' : 'chart'))}
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
        className={`${behind && saving === 'saved' && !readOnly ? 'sr-only' : 'min-w-[54px]'} shrink-0 text-right max-[900px]:min-w-0 text-[12px] whitespace-nowrap ${readOnly || saving === 'failed' ? 'font-bold text-alarm' : 'text-faint'}`}
        title={readOnly ? WHY_READ_ONLY : undefined}
      >
        {readOnly ? 'read-only' : SAVING[saving]}
      </span>
      {behind && !readOnly && (
        <button
          className={`min-w-[54px] shrink-0 text-right text-[12px] whitespace-nowrap text-ochre underline ${saving === 'saved' ? 'max-[900px]:hidden' : 'hidden'}`}
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
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => dispatch(uiSlice.actions.sheetOpened('templates'))}
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
              onSelect={() => dispatch(uiSlice.actions.sheetOpened('bounce'))}
            >
              Bounce to samples …
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => dispatch(uiSlice.actions.sheetOpened('handOver'))}>
              Hand over: takes, pages, archives …
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => void exportRig()}>
              Export the rig
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => chooser.current?.click()}>
              Import a rig or a MIDI file …
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => dispatch(uiSlice.actions.sheetOpened('rigs'))}>
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
