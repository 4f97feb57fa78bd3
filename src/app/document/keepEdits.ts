import type { Rig } from '../../core/rig/schema';
import type { Fault } from './reading';
import type { RigState } from './rigSlice';

/** What keeping edits needs of the rest: the document and what is said of it, a place to write to, a clock. */
export interface Keeping {
  state: () => RigState;
  subscribe: (listener: () => void) => void;
  /** Ends the gesture that is open, though its drag may go on as the same step of undo. */
  pauseGesture: () => void;
  say: (saving: RigState['saving']) => void;
  /** Something that could not be kept: it stays told until {@link mended}. */
  failed: (problem: string) => void;
  mended: () => void;
  /** Rejects with what is wrong. `isChecked`: false where nobody has looked yet whether it can be read again. */
  write: (rig: Rig, isChecked: boolean) => Promise<void>;
  /** What keeps a rig from being read again; undefined: nothing does. Rejects where it cannot be told now. */
  faultOf: (rig: Rig) => Fault | Promise<Fault>;
}

/** A gesture in which nothing moves for so long is over; within one that goes on, this often is written. */
export const GESTURE_MS = 1000;
/** What could not be written is tried again this often, and at every edit. */
const AGAIN_MS = 5000;

/**
 * Writes the document after each edit, one write at a time; what changes meanwhile is written next. *Saved* is said
 * only while what is seen is what was written. A drag is written once a second, and when it ends: when its
 * pointer is let go or lost, the page is hidden, or nothing has moved for a second. What fails is tried again.
 */
export function keepEdits({ state, subscribe, pauseGesture, say, failed, mended, write, faultOf }: Keeping): {
  hurry: () => void;
} {
  let kept = state().rig;
  let seen = state();
  let busy = false;
  let failing = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let lastMove = 0;
  let lastWrite = 0;

  const isDue = () => {
    const { rig, readOnly } = state();
    return rig !== null && !readOnly && rig !== kept;
  };
  const later = (ms: number) => {
    clearTimeout(timer);
    timer = setTimeout(() => void save(), ms);
  };

  const save = async (): Promise<void> => {
    if (busy || !isDue()) return;
    const { gesture } = state();
    const now = Date.now();
    if (gesture !== null) {
      if (now - lastMove >= GESTURE_MS) {
        // What is told by that must not begin to write as well.
        busy = true;
        pauseGesture();
        busy = false;
      } else if (now - lastWrite < GESTURE_MS) return later(GESTURE_MS - Math.min(now - lastMove, now - lastWrite));
    }
    const rig = state().rig!;
    const isAnother = kept === null || kept.id !== rig.id;
    busy = true;
    lastWrite = now;
    try {
      if (!isAnother) say('saving');
      const looked = faultOf(rig);
      // Kept at once all the same: a page that is left, or ended, has no time to wait.
      if (looked instanceof Promise) await write(rig, false);
      const fault = await looked;
      if (fault) throw new Error(fault.message);
      await write(rig, true);
      kept = rig;
      if (failing) mended();
      failing = false;
      if (!isDue()) say('saved');
    } catch (error) {
      failing = true;
      say('failed');
      failed((error as Error).message);
    }
    busy = false;
    if (failing) later(AGAIN_MS);
    else if (isDue()) {
      if (state().gesture === null) void save();
      else later(GESTURE_MS);
    }
    return undefined;
  };

  subscribe(() => {
    const now = state();
    if (now.rig === seen.rig && now.gesture === seen.gesture && now.readOnly === seen.readOnly) return;
    if (now.rig !== seen.rig) {
      lastMove = Date.now();
      // Another document is on the disk already, or will be in a moment: only edits are told as not kept yet.
      if (isDue() && kept !== null && kept.id === now.rig!.id && now.saving === 'saved') say('saving');
      if (now.gesture !== null && seen.gesture === null) lastWrite = lastMove;
    }
    seen = state();
    void save();
  });
  /** The page may be gone in a moment: whatever is open is written now. */
  return {
    hurry: () => {
      pauseGesture();
      void save();
    },
  };
}
