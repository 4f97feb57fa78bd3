import { PageText } from '../parts/PageText';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { StageState } from '../../core/remote/messages';
import { signed } from '../parts/format';
import { PadAnchors } from '../parts/PadAnchors';
import { PadPlane } from '../parts/PadPlane';
import { useFrames, useRefresh } from '../parts/useLive';
import { StageMacro } from '../views/stage/StageMacro';
import { Connection } from './connection';
import { small } from '../document/storage/small';

const connection = new Connection();
const VIEWS = [
  ['pads', 'Pads'],
  ['macros', 'Macros'],
  ['list', 'Setlist'],
  ['stage', 'Stage'],
] as const;
type View = (typeof VIEWS)[number][0];
const VIEW = 'wavicle-paired-view';
const BIG =
  'inline-flex h-12 items-center justify-center rounded-xl border border-edge bg-sheet px-5 text-[17px] disabled:opacity-40';

const deviceName = (): string =>
  /iPad|Tablet/i.test(navigator.userAgent) || Math.min(screen.width, screen.height) > 600 ? 'tablet' : 'phone';

/** A tablet or a phone beside the instrument: the pads, the macros, the setlist, or what plays. */
export function RemoteApp() {
  useRefresh(connection);
  const { state, stage, problem, latency } = connection;
  const [view, setView] = useState<View>(() => (small.get(VIEW) as View | null) ?? 'pads');
  useEffect(() => {
    // A code in the address serves once: it does not stay there.
    const code = location.hash.slice(1);
    history.replaceState(null, '', location.pathname);
    if (code) connection.join(code, deviceName());
    else connection.resume();
  }, []);
  useEffect(() => {
    small.set(VIEW, view);
  }, [view]);
  if (state === 'out' || state === 'joining' || !stage)
    return (
      <Join
        state={state}
        problem={problem || (state === 'lost' ? 'Nothing is offered there now: this device goes on trying.' : '')}
        waits={state === 'in'}
      />
    );
  return (
    <div className="flex h-full flex-col bg-paper text-ink" data-testid="remote">
      <header className="flex shrink-0 items-center gap-3 border-b border-line px-3 py-2">
        <div className="min-w-0 flex-1 leading-tight">
          <h1 dir="auto" className="truncate text-[20px] font-bold" data-testid="remote-title">
            {stage.title}
          </h1>
          <span className="number block truncate text-[13px] text-faint">
            {stage.place + 1} of {stage.steps.length}
            {stage.next ? ` · next ${stage.next}` : ''}
          </span>
        </div>
        <span
          className={`number shrink-0 text-[13px] ${state === 'lost' ? 'font-bold text-alarm' : 'text-faint'}`}
          role="status"
          data-testid="latency"
        >
          {state === 'lost' ? problem || 'no connection …' : latency === null ? '' : `${Math.round(latency)} ms`}
        </span>
        <button
          className="h-12 shrink-0 rounded-xl bg-alarm px-4 text-[16px] font-bold text-on-alarm"
          onClick={() => connection.send({ type: 'silence' })}
        >
          Silence
        </button>
      </header>
      <main className="min-h-0 flex-1 overflow-hidden p-3">
        {view === 'pads' && <Pads stage={stage} />}
        {view === 'macros' && <Macros stage={stage} />}
        {view === 'list' && <List stage={stage} />}
        {view === 'stage' && <Display stage={stage} />}
      </main>
      <nav aria-label="What this device is" className="grid shrink-0 grid-cols-4 gap-1 border-t border-line p-2">
        {VIEWS.map(([id, name]) => (
          <button
            key={id}
            aria-pressed={view === id}
            className="h-12 rounded-xl text-[15px] aria-pressed:bg-ink aria-pressed:text-paper"
            onClick={() => setView(id)}
          >
            {name}
          </button>
        ))}
      </nav>
    </div>
  );
}

function Join({ state, problem, waits }: { state: Connection['state']; problem: string; waits: boolean }) {
  const [code, setCode] = useState('');
  return (
    <main className="grid h-full place-items-center bg-paper p-6 text-ink">
      <form
        className="flex w-full max-w-96 flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          connection.join(code, deviceName());
        }}
      >
        <h1 className="text-[30px] font-bold">Pair this device</h1>
        <label className="flex flex-col gap-1 text-[16px]">
          The code that stands on the Stage of the machine that plays
          <input
            className="number h-16 rounded-xl border border-edge bg-sheet px-4 text-center text-[30px] tracking-widest uppercase"
            aria-label="Code"
            autoCapitalize="characters"
            autoComplete="off"
            spellCheck={false}
            maxLength={12}
            value={code}
            onChange={(event) => setCode(event.target.value)}
          />
        </label>
        <button
          className={`${BIG} bg-ink text-paper`}
          disabled={state === 'joining' || waits || code.replace(/[^A-Za-z0-9]/g, '').length < 8}
        >
          {state === 'joining' || waits ? 'Pairing …' : 'Pair'}
        </button>
        {problem && (
          <p role="alert" className="text-[16px] text-alarm">
            {problem.charAt(0).toUpperCase() + problem.slice(1)}
            {/[.!]$/.test(problem) ? '' : '.'}
          </p>
        )}
      </form>
    </main>
  );
}

const Nothing = ({ what }: { what: string }) => (
  <p className="grid h-full place-items-center text-[18px] text-faint">{what}</p>
);

function Pads({ stage }: { stage: StageState }) {
  if (stage.pads.length === 0) return <Nothing what={`${stage.title} has no pad.`} />;
  return (
    <div className={`grid h-full auto-rows-fr gap-3 ${stage.pads.length > 1 ? 'landscape:grid-cols-2' : ''}`}>
      {stage.pads.map((pad, n) => (
        <Pad key={pad.number} pad={pad} n={n} />
      ))}
    </div>
  );
}

function Pad({ pad, n }: { pad: StageState['pads'][number]; n: number }) {
  const read = useCallback(() => {
    const { dots } = connection.live;
    return {
      x: connection.valueOf(`xy.${pad.number}.x`, dots[2 * n] ?? 0.5),
      y: connection.valueOf(`xy.${pad.number}.y`, dots[2 * n + 1] ?? 0.5),
    };
  }, [pad.number, n]);
  return (
    <figure className="flex min-h-0 min-w-0 flex-col items-center" style={{ containerType: 'size' }}>
      <div style={{ width: 'min(100cqw, calc(100cqh - 28px))' }}>
        <PadPlane
          pad={pad}
          theme="night"
          read={read}
          keepsFocus
          dotSize={44}
          onRest={() => connection.send({ type: 'rest', kind: 'xy', number: pad.number })}
          onMove={(x, y, letGo) => {
            connection.touch(`xy.${pad.number}.x`, x);
            connection.touch(`xy.${pad.number}.y`, y);
            connection.send({ type: 'xy', number: pad.number, x, y, letGo });
          }}
        >
          <PadAnchors anchors={pad.anchors} size={17} />
        </PadPlane>
      </div>
      <figcaption className="text-[15px] text-faint">{pad.name}</figcaption>
    </figure>
  );
}

function Macros({ stage }: { stage: StageState }) {
  if (stage.macros.length === 0) return <Nothing what={`${stage.title} has no macros.`} />;
  const columns = Math.min(stage.macros.length, 4);
  return (
    <div
      role="group"
      aria-label="Macros"
      className="grid h-full gap-2"
      style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`, gridAutoRows: 'minmax(0, 1fr)' }}
    >
      {stage.macros.map((macro, n) => (
        <LiveMacro key={macro.number} macro={macro} n={n} />
      ))}
    </div>
  );
}

function LiveMacro({ macro, n }: { macro: StageState['macros'][number]; n: number }) {
  const what = `macro.${macro.number}`;
  const read = useCallback(() => ({ value: connection.valueOf(what, connection.live.macros[n] ?? 0) }), [what, n]);
  return (
    <StageMacro
      macro={macro}
      read={read}
      onRest={() => connection.send({ type: 'rest', kind: 'macro', number: macro.number })}
      onMove={(value) => {
        connection.touch(what, value);
        connection.send({ type: 'macro', number: macro.number, value });
      }}
    />
  );
}

function List({ stage }: { stage: StageState }) {
  const current = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    current.current?.scrollIntoView({ block: 'nearest' });
  }, [stage.place]);
  return (
    <div className="flex h-full flex-col gap-2">
      <ol aria-label="Steps" className="min-h-0 flex-1 overflow-y-auto">
        {stage.steps.map(({ title, song, pause }, n) => (
          <li key={n}>
            <button
              ref={n === stage.place ? current : undefined}
              aria-current={n === stage.place ? 'step' : undefined}
              className="flex min-h-14 w-full items-center gap-3 rounded-xl px-3 text-left aria-[current=step]:bg-ink aria-[current=step]:text-paper"
              onClick={() => connection.send({ type: 'go', place: n })}
            >
              <span className="number w-7 text-right opacity-75">{n + 1}</span>
              <span className={`min-w-0 flex-1 leading-tight ${pause ? 'italic' : ''}`}>
                <span dir="auto" className="block truncate text-[20px]">
                  {title}
                </span>
                {song && <span className="block truncate text-[13px] opacity-80">{song}</span>}
              </span>
            </button>
          </li>
        ))}
      </ol>
      <BackAndNext stage={stage} />
    </div>
  );
}

const BackAndNext = ({ stage }: { stage: StageState }) => (
  <div className="grid shrink-0 grid-cols-[1fr_2fr] gap-2">
    <button
      className={`${BIG} h-16`}
      disabled={stage.place === 0}
      onClick={() => connection.send({ type: 'previous' })}
    >
      back
    </button>
    <button
      className={`${BIG} h-16 text-[20px]`}
      disabled={!stage.next}
      onClick={() => connection.send({ type: 'next' })}
    >
      {stage.next ? `next: ${stage.next}` : 'the end'}
    </button>
  </div>
);

function Display({ stage }: { stage: StageState }) {
  const bar = useRef<HTMLDivElement>(null);
  useFrames(
    useCallback(() => {
      if (bar.current)
        bar.current.style.transform = `scaleX(${Math.max(0, Math.min(1, 1 + (20 * Math.log10(connection.live.level + 1e-9)) / 48)).toFixed(3)})`;
    }, []),
  );
  return (
    <div className="flex h-full flex-col gap-3">
      {stage.song && <p className="text-[clamp(16px,3vw,28px)] text-faint">{stage.song}</p>}
      <h2
        className={`leading-tight font-bold break-words ${stage.page === '' ? 'text-[clamp(34px,9vw,110px)]' : 'text-[clamp(24px,5vw,52px)]'}`}
      >
        {stage.title}
      </h2>
      <p className="number text-[clamp(16px,3vw,28px)]">
        ♩ = {stage.tempo}
        {stage.transpose ? ` · ${signed(stage.transpose)}` : ''}
      </p>
      {stage.page !== '' && (
        <div className="min-h-0 flex-[3] overflow-y-auto text-[clamp(17px,3.4vw,34px)]" data-testid="remote-page">
          <PageText text={stage.page} />
        </div>
      )}
      {stage.notes && (
        <p className="min-h-0 flex-1 overflow-y-auto text-[clamp(17px,3.4vw,34px)] leading-snug whitespace-pre-line">
          {stage.notes}
        </p>
      )}
      <div className="mt-auto h-4 shrink-0 overflow-hidden rounded-md border border-edge bg-sheet">
        <div ref={bar} className="h-full origin-left bg-teal" style={{ transform: 'scaleX(0)' }} />
      </div>
      <BackAndNext stage={stage} />
    </div>
  );
}
