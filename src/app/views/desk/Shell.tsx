import { lazy, Suspense, useEffect, useState, type DragEvent } from 'react';
import { NavLink, Outlet, useNavigate, useParams } from 'react-router';
import { labelIn } from '../../../core/rig/moves';
import { droppedFiles } from '../../document/droppedFiles';
import { selectPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { listeningSlice } from '../../listening/listeningSlice';
import { CountIn } from './CountIn';
import { Header, WHY_READ_ONLY } from './Header';
import { useHeard } from './useHeard';
import { Controls } from './Controls';
import { Keyboard } from '../../parts/Keyboard';
import { Opening } from '../../parts/Opening';
import { Readout } from './Readout';
import { TakeBar } from './TakeBar';
import { point } from '../../parts/pointed';
import { useShortcuts } from './useShortcuts';
import { FIRST_PATCH, hasTried } from '../../document/tried';
import { rememberPatch, rememberView } from '../../document/inSight';
import { useView } from '../../parts/useView';
import { ConnectBanner } from '../control/ConnectSign';
import { useChecking } from './useChecking';
import { useSecondJobs } from './useSecondJobs';

/** Loaded when the first of them is opened. */
const Sheets = lazy(async () => ({ default: (await import('./Sheets')).Sheets }));
const FirstTries = lazy(async () => ({ default: (await import('./FirstTries')).FirstTries }));
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
  const [dropping, setDropping] = useState(false);
  const { sheet, standIns } = useAppSelector((state) => state.desk);
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const [offersTries, setTries] = useState(() => !hasTried());
  const tries = offersTries && patch.id === FIRST_PATCH && view === 'layers' && !readOnly;
  const [saidNarrow, setSaidNarrow] = useState(false);
  const [foot, setFoot] = useState<HTMLDivElement | null>(null);
  useShortcuts({ patch });
  const dispatch = useAppDispatch();
  useEffect(() => {
    dispatch(listeningSlice.actions.soloCleared());
    dispatch(listeningSlice.actions.aloneSet(null));
    dispatch(choosingSlice.actions.connectingSet(null));
    dispatch(listeningSlice.actions.tryingSet(null));
    dispatch(listeningSlice.actions.leftOutSet([]));
    dispatch(choosingSlice.actions.chosenSet(null));
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
  // In the Sounds view the keys play the sound in view alone, over its whole range, unless the patch is asked for.
  const sound = view === 'sounds' && alone ? rig.sounds.find((candidate) => candidate.id === soundId) : undefined;
  const aloneSource = useAppSelector((state) => state.listening.alone);
  const heard = useHeard(rig, patch, sound ?? null);
  useSecondJobs(patch);
  useChecking(rig, patch, view === 'check');
  useEffect(() => {
    rememberPatch(rig.id, patch.id);
    document.title = `${patch.name} · ${rig.name} · Wavicle`;
  }, [rig, patch]);
  /** A rig opens, a MIDI file becomes the take, everything else goes to the tray to be laid out. */
  const takeDrop = async (event: DragEvent) => {
    const files = await droppedFiles(event);
    const direct = files.filter(
      ({ path }) => /\.(wavicle|zip|midi?)$/i.test(path) && !(files.length > 1 && /\.zip$/i.test(path)),
    );
    const { importFile } = await import('../../jobs/files');
    for (const { file } of direct) await importFile(file);
    const others = files.filter((file) => !direct.includes(file));
    if (others.length === 0) return;
    if (view !== 'sounds') void navigate(`/patch/${patch.id}/sounds`);
    const { bringInDropped } = await import('../../jobs/bringIn');
    await bringInDropped(others);
  };

  return (
    <>
      <div className="h-full scroll-pt-12 scroll-pr-24 overflow-auto [scrollbar-width:thin]">
        <div
          className="grid h-full min-h-[32rem] min-w-[48rem] grid-cols-[var(--left)_minmax(0,1fr)_var(--right)] grid-rows-[48px_minmax(0,1fr)_auto_119.5px_40px]"
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
            <Suspense fallback={<Opening />}>
              <Outlet context={foot} />
            </Suspense>
          </main>
          <div className="col-span-3">
            {tries && (
              <Suspense fallback={null}>
                <FirstTries patch={patch} onEnd={() => setTries(false)} />
              </Suspense>
            )}
          </div>
          <aside
            aria-label="Stand-in controllers"
            className="border-t-[1.5px] border-r border-t-ink border-r-line p-3 max-[1100px]:p-2"
          >
            <Controls />
          </aside>
          <div className="border-t-[1.5px] border-ink">
            <Keyboard patch={heard} onPoint={(key, velocity) => point(key === null ? null : { key, velocity })} />
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
                  onClick={() => dispatch(listeningSlice.actions.aloneSet(null))}
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
              <Readout patch={heard} />
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
      {!saidNarrow && <TooNarrow onEnd={() => setSaidNarrow(true)} />}
    </>
  );
}

/** On a phone: what can be done here, and what wants another screen. */
const TooNarrow = ({ onEnd }: { onEnd: () => void }) => (
  <div
    role="status"
    aria-label="This screen is narrow"
    className="fixed inset-x-2 bottom-12 z-40 hidden items-center gap-2 rounded-lg border border-ink bg-sheet px-3 py-2 text-[13px] leading-snug max-[480px]:flex"
  >
    <span className="min-w-0 flex-1">
      Here you can play, and look: scroll sideways. To build, take a screen of 768 px or more.{' '}
      <NavLink to="/stage" className="font-bold underline">
        Stage
      </NavLink>{' '}
      fits this one.
    </span>
    <button className="button min-h-10" onClick={onEnd}>
      Close
    </button>
  </div>
);
