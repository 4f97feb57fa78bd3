import { Metronome } from 'lucide-react';
import { session } from '../sound/session';
import { useAppDispatch, useAppSelector } from '../document/store';
import { deskSlice } from '../hands/deskSlice';
import { useStore } from './useLive';

/** The click, on or off; before a pair is chosen for it, it leads to where that is done. */
export function ClickButton({ className, size }: { className: string; size: number }) {
  const dispatch = useAppDispatch();
  const on = useStore(session, (now) => now.pairs.clicks);
  const isLost = useStore(session, (now) => now.pairs.isClickLost);
  const pair = useAppSelector((state) => state.rig.rig?.click.pair ?? null);
  return (
    <button
      className={`${className} aria-pressed:bg-ink aria-pressed:text-paper`}
      aria-pressed={on}
      aria-label="Click"
      title={
        pair === null
          ? 'Click: choose first which outputs it goes to'
          : isLost
            ? 'Click: this device has no channels for where it goes'
            : 'Click, by the tempo of the patch'
      }
      onClick={() => {
        void session.audio.start();
        if (!session.pairs.setClicks(!on)) dispatch(deskSlice.actions.sheetOpened('outputs'));
      }}
    >
      <Metronome size={size} />
    </button>
  );
}
