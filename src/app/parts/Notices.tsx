import { X } from 'lucide-react';
import { useEffect } from 'react';
import { uiSlice, type Notice } from '../state/uiSlice';
import { useAppDispatch, useAppSelector } from '../state/store';

/** What just happened or went wrong. Problems stay until they are closed; nothing here takes the keys away. */
export function Notices() {
  const notices = useAppSelector((state) => state.ui.notices);
  const busy = useAppSelector((state) => state.ui.busy);
  return (
    <section aria-label="Notices" aria-live="polite" className="pointer-events-none fixed bottom-44 left-1/2 z-50 flex w-[560px] max-w-[90vw] -translate-x-1/2 flex-col gap-2">
      {busy && <p className="panel pointer-events-auto py-2!">{busy} …</p>}
      {notices.map((notice) => <NoticeLine key={notice.id} notice={notice} />)}
    </section>
  );
}

function NoticeLine({ notice }: { notice: Notice }) {
  const dispatch = useAppDispatch();
  const { id, kind, text } = notice;
  useEffect(() => {
    if (kind !== 'info') return undefined;
    const timer = setTimeout(() => dispatch(uiSlice.actions.noticeClosed(id)), 5000);
    return () => clearTimeout(timer);
  }, [dispatch, id, kind]);
  return (
    <div role={kind === 'problem' ? 'alert' : 'status'} className={`panel pointer-events-auto flex items-start gap-3 py-2! ${kind === 'problem' ? 'border-alarm!' : ''}`}>
      <p className="flex-1">{text}</p>
      <button className="button-bare -my-0.5" aria-label="Close this notice" onClick={() => dispatch(uiSlice.actions.noticeClosed(id))}><X size={14} /></button>
    </div>
  );
}
