import { X } from 'lucide-react';
import { useEffect, useRef, type ReactNode } from 'react';
import { useAppDispatch } from '../state/store';
import { uiSlice } from '../state/uiSlice';

/** A sheet beside the view: it takes the focus and gives it back, closes by Escape and by its button, and takes nothing away, so that playing goes on. */
export function SheetFrame({ title, wide, children }: { title: string; wide?: boolean | 'very'; children: ReactNode }) {
  const dispatch = useAppDispatch();
  const box = useRef<HTMLElement>(null);
  const close = () => dispatch(uiSlice.actions.sheetOpened(null));
  useEffect(() => {
    const before = box.current?.contains(document.activeElement) ? null : document.activeElement as HTMLElement | null;
    if (!box.current?.contains(document.activeElement)) box.current?.focus();
    // Wherever the focus is: what has a use for Escape itself (a menu, a field in which something was typed) says so by taking it.
    const escape = (event: KeyboardEvent) => { if (event.key === 'Escape' && !event.defaultPrevented) dispatch(uiSlice.actions.sheetOpened(null)); };
    document.addEventListener('keydown', escape);
    return () => { document.removeEventListener('keydown', escape); if (before?.isConnected && (document.activeElement === document.body || !document.activeElement)) before.focus(); };
  }, [dispatch]);
  return (
    <section
      ref={box} role="dialog" aria-label={title} tabIndex={-1} className={`panel fixed top-14 right-4 max-h-[calc(100vh-72px)] overflow-y-auto outline-none focus-visible:outline-2 ${wide === 'very' ? 'w-[820px]' : wide ? 'w-[520px]' : 'w-[400px]'} max-w-[calc(100vw-32px)]`}
    >
      <div className="mb-2 flex items-center justify-between">
        <h2 className="text-[15px] font-bold">{title}</h2>
        <button className="button-bare" aria-label="Close" onClick={close}><X size={16} /></button>
      </div>
      {children}
    </section>
  );
}
