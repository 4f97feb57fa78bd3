import { useCallback, useEffect, useMemo, useRef } from 'react';
import { transposePage } from '../../../core/formats/chordPro';
import { PageText } from '../../parts/PageText';
import { useFrames } from '../../parts/useLive';
import { session } from '../../sound/session';
import { pageTurner } from '../../show/pageTurner';

/** How much of what is in sight a turn moves on. */
const TURN = 0.8;
/** Whoever moved the page by hand has it for so long before the take takes it along again. */
const BY_HAND_MS = 4000;

/**
 * Words and chords of the song that plays, transposed as the song is: moved by hand, by what was learned for it, and
 * with the take while that plays.
 */
export function PlayerPage({ text, transpose }: { text: string; transpose: number }) {
  const box = useRef<HTMLDivElement>(null);
  const moved = useRef(-Infinity);
  const sung = useMemo(() => transposePage(text, transpose), [text, transpose]);
  useEffect(
    () =>
      pageTurner.onTurn((way) => {
        const page = box.current;
        if (!page) return;
        moved.current = performance.now();
        page.scrollBy({ top: way * TURN * page.clientHeight, behavior: 'smooth' });
      }),
    [],
  );
  useEffect(() => {
    if (box.current) box.current.scrollTop = 0;
  }, [text]);
  useFrames(
    useCallback(() => {
      const { takes } = session;
      const page = box.current;
      if (!page || !takes.playing || !takes.take || performance.now() - moved.current < BY_HAND_MS) return;
      const to = (takes.position / takes.take.seconds) * (page.scrollHeight - page.clientHeight);
      if (Math.abs(page.scrollTop - to) > 1) page.scrollTop = to;
    }, []),
  );
  const byHand = () => {
    moved.current = performance.now();
  };
  return (
    <div
      ref={box}
      tabIndex={0}
      role="region"
      aria-label="Page"
      data-testid="stage-page"
      className="min-h-0 flex-1 overflow-y-auto rounded-xl border border-edge bg-sheet px-4 py-3 text-[clamp(17px,2.1vw,34px)] [scrollbar-width:thin]"
      onWheel={byHand}
      onPointerDown={byHand}
    >
      <PageText text={sung} />
    </div>
  );
}
