import { ChevronLeft, ChevronRight, ListMusic, Lock, LockOpen, Maximize, Moon, Pause, Sun } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { labelOfControl } from '../../../core/music/control';
import { handJobs } from '../../../core/rig/hands';
import { nameOfEntry, notesOfStep, setlistOf, type ShowStep } from '../../../core/rig/setlist';
import type { Patch, Rig } from '../../../core/rig/schema';
import { METER, METERED_LAYERS } from '../../../host/protocol';
import { dotNow, sourceNow } from '../../live';
import { padView } from '../../padView';
import { macroView } from '../../stageState';
import { HelpSheet } from '../../parts/HelpSheet';
import { Keyboard } from '../../parts/Keyboard';
import { colourOf, Mark } from '../../parts/Mark';
import { PadPlane } from '../../parts/PadPlane';
import { useFrames, useRefresh, useStore } from '../../parts/useLive';
import { session } from '../../session';
import { keptStep, neighboursOf, placeInShow, playedAt, show, stepsOfShow, titleOfStep } from '../../show';
import { store, useAppDispatch, useAppSelector } from '../../state/store';
import { uiSlice } from '../../state/uiSlice';
import { HoldButton } from './HoldButton';
import { RehearsalPanel } from './RehearsalPanel';
import { SetlistPanel } from './SetlistPanel';
import { StageMacro, type MacroView } from './StageMacro';
import { TroubleLine } from './TroubleLine';
import { toggleFullScreen, useStageKeys } from './useStageKeys';
import { useWakeLock } from './useWakeLock';

/** The show as the player sees it: what plays, what comes next, and what the hands can do about it. Nothing can be edited here unless it is unlocked. */
export function StageView() {
  const dispatch = useAppDispatch();
  const rig = useAppSelector((state) => state.rig.rig)!;
  const { stepId, stageLocked, stagePanel, sheet } = useAppSelector((state) => state.ui);
  const steps = stepsOfShow(rig);
  const place = placeInShow(rig, stepId);
  const played = place >= 0 ? playedAt(rig, place) : undefined;
  const typed = useStageKeys();
  useWakeLock();
  useEffect(() => {
    const { actions } = uiSlice;
    // Nothing that was only for listening comes along.
    for (const action of [actions.soloCleared(), actions.aloneSet(null), actions.tryingSet(null), actions.leftOutSet([]), actions.mixTrialSet(null), actions.drawTrialSet(null), actions.stageEntered(true)]) dispatch(action);
    session.listenTo(null);
    session.hearWithout([], 0);
    const { rig: { rig: now }, ui } = store.getState();
    const wanted = ui.stepId ?? keptStep(now!.id);
    const shown = session.shownPatchId;
    dispatch(actions.stepSet(wanted));
    // One who comes from building a patch goes on with it.
    const all = stepsOfShow(now!);
    if (shown !== undefined && all.some(({ patch }) => patch?.id === shown) && all.find(({ id }) => id === wanted)?.patch?.id !== shown) show.goToPatch(shown);
    return () => { dispatch(actions.stageEntered(false)); };
  }, [dispatch]);
  const patch = played?.patch;
  useEffect(() => {
    if (!patch) return;
    session.show(rig, patch);
    session.expect(neighboursOf(rig, place));
    localStorage.setItem(`wavicle-patch-${rig.id}`, patch.id);
    document.title = `${patch.name} · Stage · Wavicle`;
  }, [rig, patch, place]);
  if (!played || !patch) return <EmptyShow rig={rig} />;
  const step = steps[place];
  const next = steps[place + 1] as ShowStep | undefined;
  return (
    <div className="flex h-full flex-col overflow-hidden bg-paper text-ink" data-testid="stage">
      <StageHeader rig={rig} place={place} steps={steps} locked={stageLocked} patch={patch} />
      <TroubleLine />
      <main className="flex min-h-0 flex-1 portrait:flex-col">
        <section aria-label="Now" className="flex min-h-0 min-w-0 flex-1 flex-col gap-2 px-5 pt-2 pb-3 max-sm:px-3 portrait:flex-none portrait:basis-[48%]">
          <Title rig={rig} step={step} playing={played.patch} />
          <Macros patch={patch} />
        </section>
        <aside aria-label="Next" className="flex w-[34%] max-w-[440px] min-w-[250px] shrink-0 flex-col gap-3 border-l border-line px-4 pt-3 pb-3 max-sm:px-3 portrait:min-h-0 portrait:w-full portrait:max-w-none portrait:min-w-0 portrait:flex-1 portrait:border-t portrait:border-l-0">
          <Next rig={rig} next={next} place={place} />
          <Pads patch={patch} />
        </aside>
      </main>
      <section aria-label="Pedals and keys" className="shrink-0"><Hands patch={patch} /><Keys patch={patch} /></section>
      {stagePanel === 'list' && <SetlistPanel rig={rig} place={place} locked={stageLocked} />}
      {stagePanel === 'rehearsal' && <RehearsalPanel rig={rig} />}
      {sheet === 'help' && <HelpSheet />}
      {typed !== '' && <output className="number fixed top-1/2 left-1/2 z-50 -translate-1/2 rounded-2xl bg-ink px-10 py-4 text-[64px] text-paper">{typed}</output>}
    </div>
  );
}

const BIG = 'inline-flex h-11 min-w-11 shrink-0 items-center justify-center gap-2 rounded-lg border border-edge bg-sheet px-3 text-[15px]';

function StageHeader({ rig, place, steps, locked, patch }: { rig: Rig; place: number; steps: readonly ShowStep[]; locked: boolean; patch: Patch }) {
  const dispatch = useAppDispatch();
  const { stageTheme, stagePanel } = useAppSelector((state) => state.ui);
  const setlist = setlistOf(rig);
  const { entry, at } = steps[place];
  const panel = (which: 'list' | 'rehearsal') => dispatch(uiSlice.actions.stagePanelOpened(stagePanel === which ? null : which));
  return (
    <header className="flex shrink-0 items-center gap-3 border-b border-line px-4 py-2 max-sm:flex-wrap max-sm:gap-2 max-sm:px-2">
      <p className="min-w-0 leading-tight">
        <span className="block truncate text-[17px] font-bold max-sm:text-[15px]">{setlist.name}</span>
        <span className="number block text-[15px] whitespace-nowrap text-faint">{place + 1} of {steps.length}{entry.patches.length > 1 ? ` · part ${at + 1} of ${entry.patches.length}` : ''}</span>
      </p>
      <Beat tempo={patch.tempo} />
      <Clock />
      <Level />
      <span className="ml-auto flex items-center gap-2 max-sm:w-full max-sm:justify-between">
        {!locked && <Link className={BIG} to={`/patch/${patch.id}/layers`}>Build</Link>}
        {!locked && <button className={`${BIG} aria-pressed:bg-ink aria-pressed:text-paper`} aria-pressed={stagePanel === 'rehearsal'} onClick={() => panel('rehearsal')}>Rehearsal</button>}
        <button className={`${BIG} aria-pressed:bg-ink aria-pressed:text-paper`} aria-pressed={stagePanel === 'list'} title="The setlist (L)" onClick={() => panel('list')}><ListMusic size={20} /> <span className="max-lg:sr-only">Setlist</span></button>
        <button className={BIG} aria-label={stageTheme === 'night' ? 'Chart theme' : 'Night theme'} title="Theme" onClick={() => dispatch(uiSlice.actions.stageThemeChosen(stageTheme === 'night' ? 'chart' : 'night'))}>{stageTheme === 'night' ? <Sun size={20} /> : <Moon size={20} />}</button>
        <button className={BIG} aria-label="Full screen" title="Full screen (F)" onClick={toggleFullScreen}><Maximize size={20} /></button>
        {locked
          ? <HoldButton className={BIG} label="locked: hold for a second to unlock" title="Locked: nothing can be edited. Hold for a second to unlock" onHeld={() => dispatch(uiSlice.actions.stageLockSet(false))}><Lock size={20} /> <span className="max-lg:sr-only">locked</span></HoldButton>
          : <button className={`${BIG} border-alarm text-alarm`} title="Lock again" onClick={() => dispatch(uiSlice.actions.stageLockSet(true))}><LockOpen size={20} /> <span className="max-lg:sr-only">unlocked</span></button>}
        <button className="h-11 shrink-0 rounded-lg bg-alarm px-5 text-[16px] font-bold text-on-alarm max-sm:px-3" title="Silence everything at once (Esc twice)" onClick={() => session.panic()}>Silence</button>
      </span>
    </header>
  );
}

/** The tempo, with a point that lights on each beat and brightest on the first of four. */
function Beat({ tempo }: { tempo: number }) {
  const dot = useRef<HTMLSpanElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  const button = useRef<HTMLButtonElement>(null);
  useFrames(useCallback(() => {
    const { meters } = session.audio;
    const runs = session.isMeteringPresent;
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
      button.current?.setAttribute('aria-label', `${shown} quarters a minute: tap the tempo`);
    }
  }, [tempo]));
  return (
    <button className="flex h-11 shrink-0 items-center gap-2.5 rounded-lg px-2" title="Tap the tempo (T)" ref={button} aria-label={`${tempo} quarters a minute: tap the tempo`} onClick={() => session.tap()}>
      <span ref={dot} aria-hidden className="inline-block h-4 w-4 rounded-full bg-teal" />
      <span className="number text-[22px]" ref={text}>{tempo}</span>
    </button>
  );
}

function Clock() {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => { const timer = setInterval(() => setNow(new Date()), 5000); return () => clearInterval(timer); }, []);
  return <time className="number shrink-0 text-[22px] text-faint max-md:hidden">{`${now.getHours()}.${String(now.getMinutes()).padStart(2, '0')}`}</time>;
}

/** Both sides of what goes out, large enough to be seen from the corner of an eye. */
function Level() {
  const left = useRef<HTMLDivElement>(null);
  const right = useRef<HTMLDivElement>(null);
  const box = useRef<HTMLDivElement>(null);
  useFrames(useCallback(() => {
    const { meters } = session.audio;
    const limiting = meters[METER.limiter] > 0 && meters[METER.limiter] < 0.98;
    for (const [bar, value] of [[left.current, meters[METER.left]], [right.current, meters[METER.right]]] as const) {
      if (!bar) continue;
      bar.style.transform = `scaleX(${Math.max(0, Math.min(1, 1 + (20 * Math.log10(value + 1e-9)) / 48)).toFixed(3)})`;
      bar.style.background = limiting ? 'var(--alarm)' : 'var(--teal)';
    }
    box.current?.setAttribute('aria-valuenow', String(Math.max(-48, Math.min(0, Math.round(20 * Math.log10(Math.max(meters[METER.left], meters[METER.right]) + 1e-9))))));
  }, []));
  return (
    <div ref={box} role="meter" aria-label="Output level in dB" aria-valuemin={-48} aria-valuemax={0} aria-valuenow={-48} data-testid="meter" className="flex h-6 w-[clamp(80px,14vw,220px)] min-w-0 shrink flex-col gap-[3px] overflow-hidden rounded-md border border-edge bg-sheet p-[3px]">
      <div ref={left} className="flex-1 origin-left rounded-xs" style={{ transform: 'scaleX(0)' }} />
      <div ref={right} className="flex-1 origin-left rounded-xs" style={{ transform: 'scaleX(0)' }} />
    </div>
  );
}

function Title({ rig, step, playing }: { rig: Rig; step: ShowStep; playing: Patch }) {
  const { title, song } = titleOfStep(rig, step);
  const { entry } = step;
  const notes = notesOfStep(step);
  // Names of any length stay on two lines.
  const size = title.length > 34 ? 4.2 : title.length > 20 ? 5.4 : 7.2;
  return (
    <div className="min-w-0 shrink-0">
      {song && <p className="truncate text-[clamp(15px,2vw,24px)] leading-tight text-faint">{song}</p>}
      <h1 className="line-clamp-2 pb-[0.06em] leading-[1.1] font-bold break-words" data-testid="stage-title" style={{ fontSize: `clamp(30px, min(${size}vw, ${size * 1.9}vh), 104px)` }}>{title}</h1>
      <p className="mt-1 flex flex-wrap gap-x-4 text-[clamp(14px,1.5vw,19px)] text-ochre">
        {entry.transpose !== 0 && <span>{entry.transpose > 0 ? '+' : '−'}{Math.abs(entry.transpose)} {Math.abs(entry.transpose) === 1 ? 'semitone' : 'semitones'}</span>}
        {step.patch === null && <span className="inline-flex items-center gap-1.5"><Pause size={17} aria-hidden /> {entry.minutes > 0 ? `${entry.minutes} minutes · ` : ''}{playing.name} goes on playing</span>}
      </p>
      {notes && <p className="mt-1 line-clamp-4 max-w-[70ch] text-[clamp(15px,1.75vw,23px)] leading-snug break-words whitespace-pre-line text-ink/85 [@media(max-height:480px)]:line-clamp-2" data-testid="stage-notes">{notes}</p>}
    </div>
  );
}

const MACROS_IN_A_ROW = 8;

function Macros({ patch }: { patch: Patch }) {
  const views = useMemo(() => patch.macros.map((macro) => macroView(patch, macro)), [patch]);
  if (views.length === 0) return <LayersOfPatch patch={patch} large />;
  const columns = Math.min(views.length, MACROS_IN_A_ROW);
  return (
    <div role="group" aria-label="Macros" className="grid min-h-0 flex-1 gap-2.5 max-sm:gap-1.5" style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, ${views.length < 4 ? 300 : 230}px))`, gridAutoRows: 'minmax(0, 1fr)' }}>
      {views.map((view) => <LiveMacro key={view.number} patch={patch} view={view} />)}
    </div>
  );
}

function LiveMacro({ patch, view }: { patch: Patch; view: MacroView }) {
  const source = `macro.${view.number}`;
  const isMoved = patch.routes.some((route) => route.on && route.target === source);
  const read = useCallback(() => ({ value: (isMoved ? sourceNow(source) : undefined) ?? session.liveOf(source) ?? 0, waits: session.hearing.bindings.waiting(source)?.at }), [source, isMoved]);
  return <StageMacro macro={view} read={read} onMove={(value) => session.moveLive(source, value)} onRest={() => session.play({ type: 'rest', kind: 'macro', number: view.number })} />;
}

/** Where there is room, what the patch is made of, and how loud each of it is. */
function LayersOfPatch({ patch, large = false }: { patch: Patch; large?: boolean }) {
  const list = useRef<HTMLUListElement>(null);
  const layers = patch.layers.slice(0, MOST_LAYERS);
  useFrames(useCallback(() => {
    const { meters } = session.audio;
    const { program } = session;
    list.current?.querySelectorAll<HTMLElement>('[data-level]').forEach((bar, i) => {
      const at = program?.layers.findIndex(({ id }) => id === patch.layers[i]?.id) ?? -1;
      const level = at < 0 || at >= METERED_LAYERS || !session.isMeteringPresent ? 0 : meters[METER.layers + at];
      bar.style.transform = `scaleX(${Math.max(0, 1 + (20 * Math.log10(level + 1e-9)) / 48).toFixed(3)})`;
    });
  }, [patch]));
  return (
    <ul ref={list} aria-label="Layers" className={`grid min-h-0 flex-1 gap-1.5 overflow-hidden ${large && layers.length <= FEW ? 'auto-rows-[minmax(40px,110px)] text-[clamp(18px,2.6vw,38px)]' : 'auto-rows-[minmax(34px,72px)] text-[clamp(15px,1.7vw,24px)]'}`} style={{ gridTemplateColumns: large && layers.length <= FEW ? '1fr' : 'repeat(auto-fill, minmax(min(100%, 240px), 1fr))' }}>
      {layers.map((layer) => (
        <li key={layer.id} className={`relative flex items-center gap-3 overflow-hidden rounded-xl px-3 ${layer.on ? '' : 'opacity-50'}`}>
          <span aria-hidden data-level className="absolute inset-0 origin-left" style={{ transform: 'scaleX(0)', background: `color-mix(in srgb, ${colourOf(layer.mark)} 30%, transparent)` }} />
          <Mark mark={layer.mark} size={large ? 26 : 20} /> <span className="relative min-w-0 truncate">{layer.name}</span>
        </li>
      ))}
    </ul>
  );
}
const MOST_LAYERS = 14, FEW = 4;

/** What comes next and how to get there; a touch anywhere on it goes there. */
function Next({ rig, next, place }: { rig: Rig; next: ShowStep | undefined; place: number }) {
  useRefresh(session);
  const asked = neighboursOf(rig, place)[0];
  const ready = next?.patch && asked ? session.readinessOf(rig, asked) : undefined;
  const { bindings, programs } = rig.controllers;
  const ways = ['→ or page down', ...bindings.filter(({ target }) => target === 'show.next').map(({ control }) => labelOfControl(control)), ...(programs === 'setlist' ? [`program ${place + 1}`] : [])];
  const named = next && titleOfStep(rig, next);
  return (
    <div className="flex shrink-0 gap-2">
      <button className="flex h-auto min-h-16 w-14 shrink-0 items-center justify-center rounded-xl border border-edge bg-sheet disabled:opacity-35" aria-label="Back" title="The step before (←, page up)" disabled={place === 0} onClick={() => show.previous()}><ChevronLeft size={30} /></button>
      <button className="flex min-h-16 min-w-0 flex-1 items-center gap-2 rounded-xl border border-edge bg-sheet px-4 py-2 text-left disabled:opacity-60" disabled={!next} onClick={() => show.next()}>
        <span className="min-w-0 flex-1 leading-tight">
          <span className="block text-[14px] text-faint">{next ? `next${named!.song ? ` · ${named!.song}` : ''}` : 'the end of the show'}</span>
          <span className="line-clamp-2 text-[clamp(19px,2.3vw,32px)] font-semibold break-words" data-testid="stage-next">{named?.title ?? '—'}</span>
          {next && <span className="block truncate text-[13.5px] text-faint max-sm:hidden">{ways.join(' · ')}</span>}
          {next && next.patch && <span className={`block text-[13.5px] ${ready && ready.missing === 0 ? 'text-faint' : 'text-ochre'}`} data-testid="stage-ready">{!ready ? 'it cannot be played' : ready.missing > 0 ? `${ready.missing} ${ready.missing === 1 ? 'sample' : 'samples'} missing` : ready.coming > 0 ? `${ready.coming} ${ready.coming === 1 ? 'sample' : 'samples'} to come` : 'ready'}</span>}
          {next && !next.patch && <span className="block text-[13.5px] text-faint">{nameOfEntry(rig, next.entry)}{next.entry.minutes > 0 ? `, ${next.entry.minutes} minutes` : ''}</span>}
        </span>
        {next && <ChevronRight size={30} className="shrink-0" />}
      </button>
    </div>
  );
}

function Pads({ patch }: { patch: Patch }) {
  const theme = useAppSelector((state) => state.ui.stageTheme);
  if (patch.xyPads.length === 0) return patch.macros.length > 0 ? <LayersOfPatch patch={patch} /> : <div className="flex-1" />;
  return (
    <div className={`grid min-h-0 flex-1 auto-rows-fr gap-3 overflow-hidden ${patch.xyPads.length > 1 ? 'grid-cols-2' : ''}`}>
      {patch.xyPads.map((pad, n) => <LivePad key={pad.number} patch={patch} n={n} theme={theme} />)}
    </div>
  );
}

function LivePad({ patch, n, theme }: { patch: Patch; n: number; theme: string }) {
  const pad = patch.xyPads[n];
  const view = padView(patch, pad);
  const read = useCallback(() => dotNow(n, pad.number), [n, pad.number]);
  return (
    // As large as there is room both ways.
    <figure className="relative flex min-h-0 min-w-0 flex-col items-center" style={{ containerType: 'size' }}>
      <div style={{ width: 'min(100cqw, calc(100cqh - 26px))' }}>
        <PadPlane pad={view} theme={theme} read={read} keepsFocus dotSize={30} onMove={(x, y, letGo) => session.play({ type: 'xy', number: pad.number, x, y, letGo })} onRest={() => session.play({ type: 'rest', kind: 'xy', number: pad.number })}>
          {view.anchors.map(({ name, x, y, colour }, i) => <span key={i} className="pointer-events-none absolute text-[15px] whitespace-nowrap" style={{ color: `var(--${colour})`, left: `clamp(6px, ${x * 100}%, calc(100% - 6px))`, top: `clamp(14px, ${(1 - y) * 100}%, calc(100% - 14px))`, transform: `translate(${x > 0.55 ? '-100%' : '0'}, -50%)` }}>{x > 0.55 ? `${name} ●` : `● ${name}`}</span>)}
        </PadPlane>
      </div>
      <figcaption className="truncate pt-0.5 text-[15px] text-faint">{pad.name}{pad.motion !== 'hand' ? ` · ${pad.motion}` : ''}</figcaption>
    </figure>
  );
}

/** What wheels and pedals do here, and where they stand. */
function Hands({ patch }: { patch: Patch }) {
  const jobs = useMemo(() => handJobs(patch), [patch]);
  useStore(session.hands, (hands) => hands.controls);
  const { cc } = session.hands.controllers;
  return (
    <ul aria-label="Wheels and pedals" className="flex shrink-0 gap-x-5 gap-y-0.5 overflow-hidden border-t border-line px-4 py-1 text-[15px] leading-snug whitespace-nowrap max-sm:px-2 max-sm:text-[13px] [@media(max-height:420px)]:hidden">
      {jobs.slice(0, 6).map(({ source, label, does }) => {
        const value = source.startsWith('cc.') ? cc[Number(source.slice(3))] : 0;
        return <li key={source} className="min-w-0 truncate"><b className={value > 0 ? 'text-teal' : ''}>{label.replace(/ \(CC \d+\)$/, '')}</b> <span className="text-ink/80">{does}</span></li>;
      })}
    </ul>
  );
}

function Keys({ patch }: { patch: Patch }) {
  const [height, setHeight] = useState(() => keysHeight());
  useEffect(() => {
    const follow = () => setHeight(keysHeight());
    window.addEventListener('resize', follow);
    return () => window.removeEventListener('resize', follow);
  }, []);
  return <div className="shrink-0 border-t-2 border-edge"><Keyboard patch={patch} height={height} /></div>;
}
const keysHeight = (): number => Math.round(Math.max(56, Math.min(140, window.innerHeight * 0.16)));

function EmptyShow({ rig }: { rig: Rig }) {
  const dispatch = useAppDispatch();
  const { stagePanel } = useAppSelector((state) => state.ui);
  const way = rig.patches[0] ? `/patch/${rig.patches[0].id}/layers` : '/';
  return (
    <main className="grid h-full place-items-center bg-paper p-6 text-center">
      <div className="flex flex-col items-center gap-4">
        <h1 className="text-[40px] font-bold">No patch in the setlist</h1>
        <p className="text-[18px] text-faint">Put the patches of “{rig.name}” in the order of the show.</p>
        <div className="flex gap-3"><button className={BIG} onClick={() => { dispatch(uiSlice.actions.stageLockSet(false)); dispatch(uiSlice.actions.stagePanelOpened('list')); }}>Open the setlist</button><Link className={BIG} to={way}>Build</Link></div>
      </div>
      {stagePanel === 'list' && <SetlistPanel rig={rig} place={-1} locked={false} />}
    </main>
  );
}
