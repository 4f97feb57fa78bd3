import { useCallback, useRef } from 'react';
import { METER } from '../../host/protocol';
import { session } from '../sound/session';
import { useFrames, useStore } from './useLive';
import { write } from './write';

/** Amplitude to the length of a meter: −48 dB … 0 dB. */
const length = (amplitude: number): number => Math.max(0, Math.min(1, 1 + (20 * Math.log10(amplitude + 1e-9)) / 48));

/** Level, voices and load, written straight to the page on every frame. */
export function Meters() {
  const state = useStore(session.audio, (audio) => audio.state);
  // Of one width in every state: nothing beside it may move away from under a pointer that is about to click.
  return (
    <div className="flex w-[318px] shrink-0 max-[1400px]:w-[236px] max-[1100px]:w-[120px] max-[900px]:w-[92px] items-center justify-end gap-4 text-[12px] whitespace-nowrap text-faint">
      {state === 'off' && (
        <>
          <span className="max-[1100px]:hidden">click or press a key to start sound</span>
          <span className="leading-tight whitespace-normal min-[1101px]:hidden" title="Click or press a key">
            no sound yet: click
          </span>
        </>
      )}
      {state === 'failed' && (
        <span role="alert" className="truncate font-bold text-alarm" title={session.audio.problem}>
          {session.audio.problem}
        </span>
      )}
      {state !== 'off' && state !== 'failed' && <Running />}
    </div>
  );
}

function Running() {
  const left = useRef<HTMLDivElement>(null);
  const right = useRef<HTMLDivElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const loading = useStore(session, (now) => now.samples.loading);
  const draw = useCallback(() => {
    const { meters } = session.audio;
    if (!left.current || !right.current || !text.current || !box.current) return;
    left.current.style.width = `${length(meters[METER.left]) * 100}%`;
    right.current.style.width = `${length(meters[METER.right]) * 100}%`;
    const limiting = meters[METER.limiter] > 0 && meters[METER.limiter] < 0.98;
    left.current.style.background = right.current.style.background = limiting ? 'var(--alarm)' : 'var(--teal)';
    const words = `${meters[METER.voices]} ${meters[METER.voices] === 1 ? 'voice' : 'voices'} · ${Math.round(meters[METER.load] * 100)} %${limiting ? ' · limiting' : ''}`;
    if (text.current.textContent !== words) text.current.textContent = words;
    const db = Math.round(20 * Math.log10(Math.max(meters[METER.left], meters[METER.right]) + 1e-9));
    write(box.current, 'aria-valuenow', String(Math.max(-48, Math.min(0, db))));
  }, []);
  useFrames(draw);
  return (
    <>
      <span
        ref={text}
        className={loading > 0 ? 'hidden' : 'number max-[1100px]:hidden'}
        data-testid="voices"
        title="Sounding voices, and the share of its time that the audio engine uses"
      />
      {loading > 0 && (
        <span title={`${loading} ${loading === 1 ? 'sample' : 'samples'} to come`}>
          {loading}
          <span className="max-[1100px]:hidden"> {loading === 1 ? 'sample' : 'samples'} to come</span>
        </span>
      )}
      <div
        ref={box}
        role="meter"
        aria-label="Output level in dB"
        aria-valuemin={-48}
        aria-valuemax={0}
        aria-valuenow={-48}
        data-testid="meter"
        className="h-[14px] w-[92px] shrink-0 overflow-hidden rounded-full border border-ink bg-sheet"
      >
        <div ref={left} className="h-1/2 border-b border-sheet" style={{ width: 0 }} />
        <div ref={right} className="h-1/2" style={{ width: 0 }} />
      </div>
    </>
  );
}
