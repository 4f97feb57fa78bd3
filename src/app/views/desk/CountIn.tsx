import { useCallback, useRef } from 'react';
import { playing } from '../../sound/playing';
import { session } from '../../sound/session';
import { useFrames, useStore } from '../../parts/useLive';

const BEATS = 4;

/** The beats that are left until a recording begins, large enough to be seen from the keys: 4, 3, 2, 1. */
export function CountIn() {
  const counting = useStore(session, () => playing.counting);
  return counting ? <Beats /> : null;
}

function Beats() {
  const number = useRef<HTMLOutputElement>(null);
  useFrames(
    useCallback(() => {
      const { at, beat } = playing.countsTo;
      const left = Math.ceil((at - (session.audio.context?.currentTime ?? 0)) / beat - 0.02);
      const text = String(Math.min(BEATS, Math.max(1, left)));
      if (number.current && number.current.textContent !== text) number.current.textContent = text;
    }, []),
  );
  return (
    <output
      ref={number}
      aria-label="Counting in"
      className="number pointer-events-none fixed top-[42%] left-1/2 z-50 -translate-1/2 rounded-3xl bg-ink/85 px-14 py-4 text-[min(34vh,260px)] leading-none text-paper"
    />
  );
}
