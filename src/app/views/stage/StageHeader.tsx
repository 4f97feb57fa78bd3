import { A4_HZ } from '../../../core/music/tunings';
import { a4Of, setConcertPitch, setPatchPitch } from '../../../core/rig/edits/tuning';
import { edit } from '../../document/store';
import { ConcertPitch } from '../desk/ConcertPitch';
import { ListMusic, Lock as LockIcon, LockOpen, Maximize, Moon, Sun } from 'lucide-react';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { setlistOf, type ShowStep } from '../../../core/rig/setlist';
import type { Patch, Rig } from '../../../core/rig/schema';
import { METER } from '../../../host/protocol';
import { useFrames } from '../../parts/useLive';
import { session } from '../../sound/session';
import { useAppDispatch, useAppSelector } from '../../document/store';
import { settingsSlice } from '../../document/settingsSlice';
import { showSlice } from '../../show/showSlice';
import { viewBefore } from '../../document/inSight';
import { LiveButton } from '../../parts/LiveButton';
import { ClickButton } from '../../parts/ClickButton';
import { HoldButton } from './HoldButton';
import { toggleFullScreen } from './useStageKeys';
import { write } from '../../parts/write';

/** A button for fingers. */
export const BIG =
  'inline-flex h-11 min-w-11 shrink-0 items-center justify-center gap-2 rounded-lg border border-edge bg-sheet px-3 text-[15px]';

export function StageHeader({
  rig,
  place,
  steps,
  locked,
  patch,
}: {
  rig: Rig;
  place: number;
  steps: readonly ShowStep[];
  locked: boolean;
  patch: Patch | null;
}) {
  const dispatch = useAppDispatch();
  const stageTheme = useAppSelector((state) => state.settings.stageTheme);
  const stagePanel = useAppSelector((state) => state.show.stagePanel);
  const navigate = useNavigate();
  const build = patch ? `/patch/${patch.id}/${viewBefore()}` : '/';
  const setlist = setlistOf(rig);
  const step = steps[place] as ShowStep | undefined;
  const panel = (which: 'list' | 'rehearsal') =>
    dispatch(showSlice.actions.stagePanelOpened(stagePanel === which ? null : which));
  const a4 = a4Of(rig, patch);
  // A patch with a pitch of its own keeps one.
  const tuneTo = (to: number) =>
    dispatch(edit((old) => (patch && patch.a4 !== null ? setPatchPitch(old, patch.id, to) : setConcertPitch(old, to))));
  return (
    <header className="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-2 border-b border-line px-4 py-2 max-sm:gap-2 max-sm:px-2">
      <p className="max-w-[45%] min-w-0 leading-tight">
        <span dir="auto" className="block truncate text-[17px] font-bold max-sm:text-[15px]">
          {setlist.name}
        </span>
        <span className="number block truncate text-[15px] text-faint">
          {steps.length === 0 ? 'no patch yet' : `${place + 1} of ${steps.length}`}
          {step && step.entry.patches.length > 1 ? ` · patch ${step.at + 1} of ${step.entry.patches.length}` : ''}
        </span>
      </p>
      {patch && <Beat tempo={patch.tempo} />}
      {locked ? (
        a4 !== A4_HZ && <span className="number text-[15px]">A {a4} Hz</span>
      ) : (
        <ConcertPitch a4={a4} onChange={tuneTo} />
      )}
      <Clock />
      <Level />
      <span className="ml-auto flex items-center gap-2 max-sm:w-full max-sm:justify-between max-sm:gap-1.5">
        {!locked && (
          <Link className={BIG} to={build}>
            Build
          </Link>
        )}
        {!locked && (
          <button
            className={`${BIG} aria-pressed:bg-ink aria-pressed:text-paper`}
            aria-pressed={stagePanel === 'rehearsal'}
            onClick={() => panel('rehearsal')}
          >
            Rehearsal
          </button>
        )}
        <button
          className={`${BIG} aria-pressed:bg-ink aria-pressed:text-paper`}
          aria-pressed={stagePanel === 'list'}
          title="The setlist (L)"
          onClick={() => panel('list')}
        >
          <ListMusic size={20} /> <span className="max-lg:sr-only">Setlist</span>
        </button>
        <button
          className={BIG}
          aria-label={stageTheme === 'night' ? 'Chart theme' : 'Night theme'}
          title="Theme"
          onClick={() => dispatch(settingsSlice.actions.stageThemeChosen(stageTheme === 'night' ? 'chart' : 'night'))}
        >
          {stageTheme === 'night' ? <Sun size={20} /> : <Moon size={20} />}
        </button>
        {rig.click.stage && rig.click.pair !== null && <ClickButton className={BIG} size={20} />}
        {patch && <LiveButton patch={patch} className={BIG} size={20} />}
        <button className={BIG} aria-label="Full screen" title="Full screen (F)" onClick={toggleFullScreen}>
          <Maximize size={20} />
        </button>
        <Lock locked={locked} onLeave={() => void navigate(build)} />
        <button
          className="h-11 shrink-0 rounded-lg bg-alarm px-5 text-[16px] font-bold text-on-alarm max-sm:order-first max-sm:px-3"
          title="Silence everything at once (Esc twice)"
          onClick={() => session.panic()}
        >
          Silence
        </button>
      </span>
    </header>
  );
}

/** Says how to leave where it is in the way: held for a second it unlocks, held on it leaves the Stage. */
function Lock({ locked, onLeave }: { locked: boolean; onLeave: () => void }) {
  const dispatch = useAppDispatch();
  const set = (next: boolean) => dispatch(showSlice.actions.stageLockSet(next));
  return (
    <HoldButton
      className={`${BIG} ${locked ? '' : 'border-alarm text-alarm'}`}
      label={locked ? 'hold to unlock: locked, hold for a second to unlock, hold on to leave' : 'unlocked: lock again'}
      title={
        locked ? 'Locked: nothing can be edited. Hold for a second to unlock, hold on to leave the Stage' : 'Lock again'
      }
      onHeld={() => set(false)}
      then={{ words: 'hold on to leave', onHeld: onLeave }}
      onClick={locked ? undefined : () => set(true)}
    >
      {locked ? (
        <>
          <LockIcon size={20} className="shrink-0" />{' '}
          <span className="max-sm:w-[52px] max-sm:text-left max-sm:text-[12.5px] max-sm:leading-tight max-sm:whitespace-normal">
            hold to unlock
          </span>
        </>
      ) : (
        <>
          <LockOpen size={20} /> <span className="max-[1400px]:sr-only">unlocked</span>
        </>
      )}
    </HoldButton>
  );
}

/** The tempo, with a point that lights on each beat and brightest on the first of four. */
function Beat({ tempo }: { tempo: number }) {
  const dot = useRef<HTMLSpanElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  const button = useRef<HTMLButtonElement>(null);
  useFrames(
    useCallback(() => {
      const { meters } = session.audio;
      const runs = session.meters.isPresent;
      const quarters = meters[METER.position];
      const phase = quarters - Math.floor(quarters);
      const first = Math.floor(quarters) % 4 === 0;
      if (dot.current) {
        dot.current.style.opacity = runs ? String(0.18 + 0.82 * Math.exp(-5 * phase) * (first ? 1 : 0.7)) : '0.18';
        dot.current.style.transform = `scale(${runs && first ? 1.25 : 1})`;
      }
      const shown = String(Math.round(10 * (runs && meters[METER.tempo] > 0 ? meters[METER.tempo] : tempo)) / 10);
      if (text.current && text.current.textContent !== shown) {
        text.current.textContent = shown;
        write(button.current, 'aria-label', `${shown} quarters a minute: tap the tempo`);
      }
    }, [tempo]),
  );
  return (
    <button
      className="flex h-11 shrink-0 items-center gap-2.5 rounded-lg px-2"
      title="Tap the tempo (T)"
      ref={button}
      aria-label={`${tempo} quarters a minute: tap the tempo`}
      onClick={() => session.input.tap()}
    >
      <span ref={dot} aria-hidden className="inline-block h-4 w-4 rounded-full bg-teal" />
      <span className="number text-[22px]" ref={text}>
        {tempo}
      </span>
    </button>
  );
}

function Clock() {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 5000);
    return () => clearInterval(timer);
  }, []);
  return (
    <time className="number shrink-0 text-[22px] text-faint max-md:hidden">{`${now.getHours()}.${String(now.getMinutes()).padStart(2, '0')}`}</time>
  );
}

/** Both sides of what goes out, large enough to be seen from the corner of an eye. */
function Level() {
  const left = useRef<HTMLDivElement>(null);
  const right = useRef<HTMLDivElement>(null);
  const box = useRef<HTMLDivElement>(null);
  useFrames(
    useCallback(() => {
      const { meters } = session.audio;
      const limiting = meters[METER.limiter] > 0 && meters[METER.limiter] < 0.98;
      for (const [bar, value] of [
        [left.current, meters[METER.left]],
        [right.current, meters[METER.right]],
      ] as const) {
        if (!bar) continue;
        bar.style.transform = `scaleX(${Math.max(0, Math.min(1, 1 + (20 * Math.log10(value + 1e-9)) / 48)).toFixed(3)})`;
        bar.style.background = limiting ? 'var(--alarm)' : 'var(--teal)';
      }
      write(
        box.current,
        'aria-valuenow',
        String(
          Math.max(
            -48,
            Math.min(0, Math.round(20 * Math.log10(Math.max(meters[METER.left], meters[METER.right]) + 1e-9))),
          ),
        ),
      );
    }, []),
  );
  return (
    <div
      ref={box}
      role="meter"
      aria-label="Output level in dB"
      aria-valuemin={-48}
      aria-valuemax={0}
      aria-valuenow={-48}
      data-testid="meter"
      className="flex h-6 w-[clamp(64px,8vw,220px)] min-w-0 shrink flex-col gap-[3px] overflow-hidden rounded-md border border-edge bg-sheet p-[3px]"
    >
      <div ref={left} className="flex-1 origin-left rounded-xs" style={{ transform: 'scaleX(0)' }} />
      <div ref={right} className="flex-1 origin-left rounded-xs" style={{ transform: 'scaleX(0)' }} />
    </div>
  );
}
