import { X } from 'lucide-react';
import { useEffect } from 'react';
import { toldSlice, type Notice } from '../../document/toldSlice';
import { runNotice, useAppDispatch, useAppSelector } from '../../document/store';

/**
 * What just happened or went wrong, in the corner over the readout, on Stage over the keys, where it covers nothing
 * that it speaks of. Problems stay until they are closed, and what loses work stands last, next to the hand; nothing
 * here takes the keys away.
 */
export function Notices() {
  const notices = useAppSelector((state) => state.told.notices);
  const busy = useAppSelector((state) => state.told.busy);
  const onStage = useAppSelector((state) => state.show.onStage);
  return (
    <section
      aria-label="Notices"
      aria-live="polite"
      className={`pointer-events-none fixed right-2 z-50 flex w-[300px] max-w-[90vw] flex-col gap-2 ${onStage ? 'bottom-[calc(max(16vh,56px)+44px)]' : 'bottom-12'}`}
    >
      {busy && <p className="panel pointer-events-auto py-2!">{busy} …</p>}
      {notices.map((notice) => (
        <NoticeLine key={notice.id} notice={notice} />
      ))}
    </section>
  );
}

const SHOWN_MS = 5000;
/** Time to read, and to press the button. */
const SHOWN_WITH_ACTION_MS = 9000;

function NoticeLine({ notice }: { notice: Notice }) {
  const dispatch = useAppDispatch();
  const { id, kind, text, action } = notice;
  useEffect(() => {
    if (kind !== 'info') return undefined;
    const timer = setTimeout(
      () => dispatch(toldSlice.actions.noticeClosed(id)),
      action ? SHOWN_WITH_ACTION_MS : SHOWN_MS,
    );
    return () => clearTimeout(timer);
  }, [dispatch, id, kind, text, action]);
  return (
    <div
      role={kind === 'info' ? 'status' : 'alert'}
      className={`panel pointer-events-auto flex items-start gap-2 px-3! py-2! ${kind === 'info' ? '' : 'border-alarm!'}`}
    >
      <div className="max-h-40 min-w-0 flex-1 overflow-y-auto break-words">
        <p>{text}</p>
        {action && (
          <button className="button mt-1 px-2! py-0!" onClick={() => runNotice(id)}>
            {action}
          </button>
        )}
      </div>
      <button
        className="button-bare -my-0.5"
        aria-label="Close this notice"
        onClick={() => dispatch(toldSlice.actions.noticeClosed(id))}
      >
        <X size={14} />
      </button>
    </div>
  );
}
