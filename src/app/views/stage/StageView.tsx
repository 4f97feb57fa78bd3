import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { Link, useLocation } from 'react-router';
import type { ShowStep } from '../../../core/rig/setlist';
import type { Patch, Rig } from '../../../core/rig/schema';
import { CountIn } from '../desk/CountIn';
import { HelpSheet } from '../desk/HelpSheet';
import { session } from '../../sound/session';
import { keptStep, neighboursOf, placeInShow, playsOnStage, show, stepsOfShow } from '../../show/show';
import { store, useAppDispatch, useAppSelector } from '../../document/store';
import { heard, NOTHING_ELSE } from '../../listening/heard';
import { takeOf } from '../../sound/playing';
import { useStore } from '../../parts/useLive';
import { listeningSlice } from '../../listening/listeningSlice';
import { showSlice } from '../../show/showSlice';
import { spareState } from '../../show/spareState';
import { RehearsalPanel } from './RehearsalPanel';
import { SetlistPanel } from './SetlistPanel';
import { TroubleLine } from './TroubleLine';
import { useStageKeys } from './useStageKeys';
import { useWakeLock } from './useWakeLock';
import { Hands, Keys } from './HandsAndKeys';
import { Next, Pads } from './Next';
import { Macros, Title } from './Now';
import { checkState } from '../../jobs/checkState';
import { BIG, StageHeader } from './StageHeader';
import { rememberPatch } from '../../document/inSight';

/** Loaded where there is a second machine. */
const SpareLine = lazy(async () => ({ default: (await import('./SpareLine')).SpareLine }));
/** Loaded when a song has one. */
const PlayerPage = lazy(async () => ({ default: (await import('./PlayerPage')).PlayerPage }));

/**
 * The show as the player sees it: what plays, what comes next, and what the hands can do about it. Nothing can be
 * edited here unless it is unlocked.
 */
export function StageView() {
  const dispatch = useAppDispatch();
  const asked = useRef((useLocation().state as { panel?: string } | null)?.panel);
  const rig = useAppSelector((state) => state.rig.rig)!;
  const { stepId, asideId, stageLocked, stagePanel } = useAppSelector((state) => state.show);
  const sheet = useAppSelector((state) => state.desk.sheet);
  const steps = stepsOfShow(rig);
  const place = placeInShow(rig, stepId);
  const patch = playsOnStage(rig, place, asideId);
  const typed = useStageKeys();
  const isPaired = useStore(spareState, ({ now }) => now.line !== 'none' || now.role !== 'none' || now.problem !== '');
  useWakeLock();
  useEffect(() => {
    const { actions } = showSlice;
    // Nothing that was only for listening comes along.
    dispatch(listeningSlice.actions.listeningEnded());
    dispatch(actions.stageEntered(true));
    if (asked.current === 'rehearsal') dispatch(actions.stagePanelOpened('rehearsal'));
    checkState.set({ keys: null, trial: null });
    session.ears.listenTo(null);
    session.ears.hearWithout([], 0);
    const {
      rig: { rig: now },
      show: { stepId: last },
    } = store.getState();
    const all = stepsOfShow(now!);
    // One of another rig that was open before is none of this one.
    const wanted = all.some(({ id }) => id === last) ? last : keptStep(now!.id);
    const shown = session.shownPatchId;
    dispatch(actions.stepSet(wanted));
    // One who comes from building a patch goes on with it.
    if (
      shown !== undefined &&
      all.some(({ patch }) => patch?.id === shown) &&
      all.find(({ id }) => id === wanted)?.patch?.id !== shown
    )
      show.goToPatch(shown);
    return () => {
      dispatch(actions.stageEntered(false));
    };
  }, [dispatch]);
  // A take that plays moves strips here as it does where it was made.
  const takePlays = useStore(session.takes, (now) => now.playing);
  useEffect(() => {
    if (!patch) return;
    const take = (takePlays && takeOf(patch)) || null;
    const now = heard(rig, patch, { ...NOTHING_ELSE, take });
    session.show(now.rig, now.patch);
    session.programs.expect(neighboursOf(rig, place));
    rememberPatch(rig.id, patch.id);
    document.title = `${patch.name} · Stage · Wavicle`;
  }, [rig, patch, place, takePlays]);
  if (!patch) return <EmptyShow rig={rig} />;
  const step = steps[place] as ShowStep | undefined;
  const next = steps[place + 1] as ShowStep | undefined;
  const page = (asideId === patch.id ? undefined : step?.entry.page) ?? '';
  return (
    <div className="flex h-full flex-col overflow-hidden bg-paper text-ink" data-testid="stage">
      <StageHeader rig={rig} place={place} steps={steps} locked={stageLocked} patch={patch} />
      <TroubleLine />
      {isPaired && (
        <Suspense fallback={null}>
          <SpareLine />
        </Suspense>
      )}
      <main className="flex min-h-0 flex-1 portrait:flex-col">
        <section
          aria-label="Now"
          className="flex min-h-0 min-w-0 flex-1 flex-col gap-2 px-5 pt-2 pb-3 max-sm:px-3 portrait:max-h-[calc(100%-8rem)] portrait:min-h-[48%] max-sm:portrait:min-h-[38%] portrait:flex-none portrait:overflow-y-auto"
        >
          <Title rig={rig} step={asideId === patch.id ? undefined : step} playing={patch} small={page !== ''} />
          {page === '' ? (
            <Macros patch={patch} />
          ) : (
            <PageOrMacros key={step!.id} patch={patch} page={page} transpose={step!.entry.transpose} />
          )}
        </section>
        <aside
          aria-label="Next"
          className="flex w-[34%] max-w-[440px] min-w-[250px] shrink-0 flex-col gap-3 border-l border-line px-4 pt-3 pb-3 max-sm:px-3 portrait:min-h-[8rem] portrait:w-full portrait:max-w-none portrait:min-w-0 portrait:flex-1 portrait:border-t portrait:border-l-0"
        >
          <Next rig={rig} next={next} place={place} />
          <Pads patch={patch} />
        </aside>
      </main>
      <section aria-label="Pedals and keys" className="shrink-0">
        <Hands patch={patch} />
        <Keys patch={patch} />
      </section>
      {stagePanel === 'list' && <SetlistPanel rig={rig} place={place} locked={stageLocked} />}
      {stagePanel === 'rehearsal' && <RehearsalPanel rig={rig} />}
      {sheet === 'help' && <HelpSheet />}
      <CountIn />
      {typed !== '' && (
        <output className="number fixed top-1/2 left-1/2 z-50 -translate-1/2 rounded-2xl bg-ink px-10 py-4 text-[64px] text-paper">
          {typed}
        </output>
      )}
    </div>
  );
}

/** Of a song with a page, that; its macros stand behind it. */
function PageOrMacros({ patch, page, transpose }: { patch: Patch; page: string; transpose: number }) {
  const [shows, setShows] = useState<'page' | 'macros'>('page');
  return (
    <>
      {patch.macros.length > 0 && (
        <div role="radiogroup" aria-label="What is in view" className="flex shrink-0 gap-2">
          {(['page', 'macros'] as const).map((each) => (
            <button
              key={each}
              role="radio"
              aria-checked={shows === each}
              className="min-h-11 rounded-xl border border-edge px-4 text-[16px] aria-checked:bg-ink aria-checked:text-paper"
              onClick={() => setShows(each)}
            >
              {each}
            </button>
          ))}
        </div>
      )}
      {shows === 'page' ? (
        <Suspense fallback={null}>
          <PlayerPage text={page} transpose={transpose} />
        </Suspense>
      ) : (
        <Macros patch={patch} />
      )}
    </>
  );
}

function EmptyShow({ rig }: { rig: Rig }) {
  const dispatch = useAppDispatch();
  const { stagePanel, stageLocked } = useAppSelector((state) => state.show);
  const way = rig.patches[0] ? `/patch/${rig.patches[0].id}/layers` : '/';
  return (
    <div className="flex h-full flex-col bg-paper text-ink" data-testid="stage">
      <StageHeader rig={rig} place={-1} steps={[]} locked={stageLocked} patch={null} />
      <main className="grid min-h-0 flex-1 place-items-center p-6 text-center">
        <div className="flex flex-col items-center gap-4">
          <h1 className="text-[40px] font-bold">No patch in the setlist</h1>
          <p className="text-[18px] text-faint">Put the patches of “{rig.name}” in the order of the show.</p>
          <div className="flex gap-3">
            <button
              className={BIG}
              onClick={() => {
                dispatch(showSlice.actions.stageLockSet(false));
                dispatch(showSlice.actions.stagePanelOpened('list'));
              }}
            >
              Open the setlist
            </button>
            <Link className={BIG} to={way}>
              Build
            </Link>
          </div>
        </div>
        {stagePanel === 'list' && <SetlistPanel rig={rig} place={-1} locked={false} />}
      </main>
    </div>
  );
}
