import { ArrowLeftRight, BookOpen, X } from 'lucide-react';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useAppDispatch } from '../document/store';
import { deskSlice } from '../hands/deskSlice';
import { SHEETS } from './help/places';

/**
 * A sheet beside the view: it takes the focus and gives it back, closes by Escape and by its button, can be put where
 * it hides nothing, and takes nothing away, so that playing goes on.
 */
export function SheetFrame({ title, wide, children }: { title: string; wide?: boolean | 'very'; children: ReactNode }) {
  const dispatch = useAppDispatch();
  const box = useRef<HTMLElement>(null);
  const page = Object.values(SHEETS).find(
    (sheet) => title === sheet.title || title.startsWith(`${sheet.title} “`),
  )?.page;
  const close = () => dispatch(deskSlice.actions.sheetOpened(null));
  useEffect(() => {
    const before = box.current?.contains(document.activeElement)
      ? null
      : (document.activeElement as HTMLElement | null);
    if (!box.current?.contains(document.activeElement)) box.current?.focus();
    // Wherever the focus is: what has a use for Escape itself (a menu, a field in which something was typed) says so by
    // taking it.
    const escape = (event: KeyboardEvent) => {
      if (event.key === 'Escape' && !event.defaultPrevented) dispatch(deskSlice.actions.sheetOpened(null));
    };
    document.addEventListener('keydown', escape);
    return () => {
      document.removeEventListener('keydown', escape);
      if (before?.isConnected && (document.activeElement === document.body || !document.activeElement)) before.focus();
    };
  }, [dispatch]);
  const [place, setPlace] = useState<{ left: number; top: number } | null>(null);
  const held = useRef<{ x: number; y: number } | null>(null);
  /** Somewhere else, with its head inside the window. */
  const moveTo = (left: number, top: number) => {
    const { width } = box.current!.getBoundingClientRect();
    setPlace({
      left: Math.max(0, Math.min(innerWidth - width, left)),
      top: Math.max(0, Math.min(innerHeight - HEAD, top)),
    });
  };
  const toOtherSide = () => {
    const { left, top, width } = box.current!.getBoundingClientRect();
    moveTo(left + width / 2 > innerWidth / 2 ? EDGE : innerWidth - width - EDGE, top);
  };
  return (
    <section
      ref={box}
      role="dialog"
      aria-label={title}
      tabIndex={-1}
      style={place ? { ...place, right: 'auto', maxHeight: `calc(100vh - ${place.top + EDGE}px)` } : undefined}
      className={`panel fixed top-14 right-4 max-h-[calc(100vh-72px)] overflow-y-auto outline-none focus-visible:outline-2 ${wide === 'very' ? 'w-[820px]' : wide ? 'w-[520px]' : 'w-[400px]'} max-w-[calc(100vw-32px)]`}
    >
      <div
        className="mb-2 flex cursor-grab touch-none items-center gap-1"
        title="Drag it to where it hides nothing that you want to see"
        onPointerDown={(event) => {
          if ((event.target as Element).closest('button')) return;
          const { left, top } = box.current!.getBoundingClientRect();
          held.current = { x: event.clientX - left, y: event.clientY - top };
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerMove={(event) => {
          if (held.current) moveTo(event.clientX - held.current.x, event.clientY - held.current.y);
        }}
        onPointerUp={() => {
          held.current = null;
        }}
        onPointerCancel={() => {
          held.current = null;
        }}
      >
        <h2 className="flex-1 text-[15px] font-bold">{title}</h2>
        <button
          className="button-bare"
          aria-label="To the other side"
          title="To the other side of the window"
          onClick={toOtherSide}
        >
          <ArrowLeftRight size={15} />
        </button>
        {page && title !== 'Handbook' && (
          <button
            className="button-bare"
            aria-label={`Handbook: ${page}`}
            title={`What the handbook says of it: ${page}`}
            onClick={() => dispatch(deskSlice.actions.handbookOpened(page))}
          >
            <BookOpen size={15} />
          </button>
        )}
        <button className="button-bare" aria-label="Close" onClick={close}>
          <X size={16} />
        </button>
      </div>
      {children}
    </section>
  );
}
const HEAD = 48,
  EDGE = 16;
