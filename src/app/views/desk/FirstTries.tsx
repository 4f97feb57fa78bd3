import { Check, Circle, X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { CC } from '../../../core/music/midi';
import type { Patch } from '../../../core/rig/schema';
import { neverAgain } from '../../document/tried';
import { useAppDispatch } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { edgeWasMoved, strokeSoftThenHard, TRIES, wheelWasRaised, type Try } from './firstTries';

/**
 * Three things to try, over the keyboard of the patch by which Wavicle is met: each answers when it was done. Once all
 * were, or when it is closed, the line goes for good.
 */
export function FirstTries({ patch, onEnd }: { patch: Patch; onEnd: () => void }) {
  const dispatch = useAppDispatch();
  const done = useDone(patch);
  const all = done.size === TRIES.length;
  useEffect(() => {
    if (all) neverAgain();
  }, [all]);
  return (
    <section
      aria-label="Three things to try"
      className="flex h-[30px] items-center gap-4 overflow-hidden border-t border-line bg-sheet px-4 text-[12.5px] whitespace-nowrap max-[1000px]:gap-2"
    >
      {all ? (
        <span role="status" className="min-w-0 truncate">
          <b>That is the idea:</b> a layer is a box in the space of what your hands do, and all that moves can move it.
        </span>
      ) : (
        <>
          <b>Try</b>
          {TRIES.map((each) => (
            <Item key={each.id} done={done.has(each.id)} {...each} />
          ))}
        </>
      )}
      <button
        className="button ml-auto shrink-0 px-2! py-0!"
        onClick={() => {
          onEnd();
          dispatch(deskSlice.actions.sheetOpened('start'));
        }}
      >
        Start your own
      </button>
      <button
        className="button-bare shrink-0"
        aria-label="No more of this"
        title="This line goes for good"
        onClick={() => {
          neverAgain();
          onEnd();
        }}
      >
        <X size={14} />
      </button>
    </section>
  );
}

const Item = ({ done, says, answers }: Try & { done: boolean }) => (
  <span role={done ? 'status' : undefined} className={`flex min-w-0 items-center gap-1.5 ${done ? 'text-teal' : ''}`}>
    {done ? <Check size={14} className="shrink-0" /> : <Circle size={11} className="shrink-0 text-faint" />}
    <span className="truncate">{done ? answers : says}</span>
  </span>
);

/** Which of them were done since the line was there; what a take plays by itself does not count. */
function useDone(patch: Patch): ReadonlySet<Try['id']> {
  const seen = useRefresh(session.hands);
  const [done, setDone] = useState<ReadonlySet<Try['id']>>(new Set());
  const start = useRef({ at: performance.now(), wheel: 127, windows: patch.layers.flatMap(({ windows }) => windows) });
  useEffect(() => {
    const { hands } = session;
    const { current } = start;
    if (session.takes.playing) current.at = performance.now();
    const wheel = hands.controllers.cc[CC.wheel];
    current.wheel = Math.min(current.wheel, wheel);
    const now = {
      strike: strokeSoftThenHard(hands.strikes, patch.id, current.at),
      wheel: wheelWasRaised(current.wheel, wheel),
      edge: edgeWasMoved(
        current.windows,
        patch.layers.flatMap(({ windows }) => windows),
      ),
    };
    setDone((old) => {
      const added = TRIES.filter(({ id }) => now[id] && !old.has(id));
      return added.length === 0 ? old : new Set([...old, ...added.map(({ id }) => id)]);
    });
  }, [seen, patch]);
  return done;
}
