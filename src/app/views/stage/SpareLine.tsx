import { useEffect, useState } from 'react';
import { spare } from '../../show/spare/spare';
import { spareState, type SpareNow } from '../../show/spareState';
import { useStore } from '../../parts/useLive';

const timeOf = (at: number): string => {
  const date = new Date(at);
  return `${date.getHours()}.${String(date.getMinutes()).padStart(2, '0')}`;
};

/** How both stand to one another, in words. */
export function wordsOf({ role, line, other, offers, silent, tookOver, both, since, why }: SpareNow): string {
  if (offers) return `“${other}” offers itself as a spare: it would get this rig and everything that is played.`;
  if (line === 'joining') return 'Looking for the other machine …';
  if (both) return `“${other}” leads as well: both are heard. One of them has to follow.`;
  const stands = since === null ? `not in step: ${why || 'it begins'}` : `in step since ${timeOf(since)}`;
  if (role === 'follows')
    return line === 'lost' || silent
      ? `Nothing comes from “${other}” any more. This machine stands where it stopped, mute.`
      : `“${other}” leads. This machine plays along, mute: ${stands}.`;
  if (role === 'leads') {
    const leads = tookOver === '' ? 'This machine leads.' : `This machine has taken over: ${tookOver}.`;
    return line === 'lost'
      ? `${leads} “${other}” is gone: this one plays alone. It is let in again as soon as it is back.`
      : `${leads} “${other}” plays along: ${stands}.`;
  }
  return `“${other}” is there.`;
}

const BUTTON = 'h-11 shrink-0 rounded-md border border-edge bg-sheet px-4 text-[16px]';

/** Of two machines in step: how they stand, and who takes over. */
export function SpareLine({ within = false }: { within?: boolean }) {
  const now = useStore(spareState, (state) => state.now);
  const { role, line, silent, both, since, problem, lagMs } = now;
  const isWrong = both || silent || line === 'lost';
  const ended = problem !== '' && line === 'none';
  return (
    <section
      aria-label={within ? 'How both stand' : 'Second machine'}
      className={`flex shrink-0 flex-wrap items-center gap-3 text-[15px] ${
        within ? '' : 'border-b border-line px-5 py-1 max-sm:px-3'
      } ${isWrong ? 'bg-ochre/15' : ''}`}
    >
      <span
        aria-hidden
        className={`h-3 w-3 shrink-0 rounded-full border border-edge ${since !== null && !isWrong ? 'bg-teal' : ''}`}
      />
      <p role="status" className="min-w-0 flex-1 basis-60" data-testid={within ? undefined : 'spare'}>
        {ended ? problem : wordsOf(now)}
      </p>
      {role === 'follows' && !isWrong && (
        // Not in what is read aloud: it moves.
        <span className="number shrink-0 text-faint" title="How far this machine is behind">
          {lagMs} ms
        </span>
      )}
      <Choices now={now} />
      {ended && (
        <button className={BUTTON} onClick={() => spareState.set({ problem: '' })}>
          I know
        </button>
      )}
    </section>
  );
}

/** What can be done about it now. */
function Choices({ now: { role, line, offers, both, since } }: { now: SpareNow }) {
  const [goesOn, setGoesOn] = useState(false);
  useEffect(() => {
    const timer = setInterval(() => setGoesOn(spareState.now.role === 'leads' && spare.goesOn), 300);
    return () => clearInterval(timer);
  }, []);
  return (
    <>
      {offers && (
        <>
          <button className={BUTTON} onClick={() => spare.accept()}>
            let it play along
          </button>
          <button className={BUTTON} onClick={() => spare.end()}>
            send it away
          </button>
        </>
      )}
      {role === 'leads' && goesOn && (
        <button className={BUTTON} title="What only the other machine held" onClick={() => spare.letGo()}>
          let go of what is held
        </button>
      )}
      {role === 'leads' && since === null && line === 'open' && !both && (
        <button
          className={BUTTON}
          title="What sounds now ends, and both begin together"
          onClick={() => spare.beginNow()}
        >
          begin now
        </button>
      )}
      {(role === 'follows' || both) && (
        <button
          className="h-11 shrink-0 rounded-md bg-ink px-5 text-[16px] font-bold text-paper"
          onClick={() => spare.takeOver()}
        >
          {both ? 'this one leads' : 'take over'}
        </button>
      )}
    </>
  );
}
