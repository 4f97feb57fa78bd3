import { Spline } from 'lucide-react';
import { useEffect } from 'react';
import { hasSource, labelIn } from '../../../core/rig/moves';
import type { Patch } from '../../../core/rig/schema';
import { store, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';

/**
 * Takes a source by its connect sign: everything that it can move lights up, in whatever view, and is dragged to set
 * how far.
 */
export function ConnectSign({ patch, source, words }: { patch: Patch; source: string; words?: string }) {
  const dispatch = useAppDispatch();
  const out = useAppSelector((state) => state.choosing.connecting === source);
  const name = labelIn(patch, source);
  return (
    <button
      className={words ? 'button' : 'button-bare'}
      aria-pressed={out}
      aria-label={words ? `${words} with ${name}` : `Connect ${name}`}
      title={`Connect ${name} (C): then drag on any strip`}
      onClick={(event) => {
        event.stopPropagation();
        dispatch(choosingSlice.actions.connectingSet(out ? null : source));
      }}
      style={out && !words ? { background: 'var(--indigo)', color: 'var(--paper)' } : undefined}
    >
      <Spline size={14} />
      {words}
    </button>
  );
}

/** While a connect sign is out, what is going on and how to end it. */
export function ConnectBanner({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const connecting = useAppSelector((state) => state.choosing.connecting);
  // What was deleted moves nothing any more.
  const isGone = connecting !== null && !hasSource(patch, connecting);
  useEffect(() => {
    if (isGone) dispatch(choosingSlice.actions.connectingSet(null));
  }, [dispatch, isGone]);
  if (!connecting || isGone) return null;
  return (
    <div
      role="status"
      className="fixed top-[52px] left-1/2 z-40 flex -translate-x-1/2 items-center gap-3 rounded-md border-2 border-indigo bg-sheet px-3 py-1"
    >
      <span>
        <b>{labelIn(patch, connecting)}</b> is out: drag on any strip to set how far it moves it, in this view or
        another.
      </span>
      <button className="button" onClick={() => dispatch(choosingSlice.actions.connectingSet(null))}>
        Done (Esc)
      </button>
    </div>
  );
}

/** The source that is chosen is taken by its connect sign, or put back. */
export function toggleConnecting(): void {
  const { chosen: what, connecting } = store.getState().choosing;
  const chosen = what && 'source' in what ? what.source : null;
  // A pad is two sources: its x is taken first.
  const source = chosen && /^xy\.\d$/.test(chosen) ? `${chosen}.x` : chosen;
  store.dispatch(choosingSlice.actions.connectingSet(connecting ? null : source));
}
