import { useEffect, useRef, useState } from 'react';
import { helpFor, type Told } from './helpFor';

interface Shown extends Told {
  left: number;
  top?: number;
  bottom?: number;
  /** It came by itself, where the pointer rests, and goes by itself. */
  passing: boolean;
}
const REST_MS = 900;
const WIDTH = 300,
  ROOM = 110;

const placed = (element: Element, told: Told, passing: boolean): Shown => {
  const { left, bottom, top } = element.getBoundingClientRect();
  const below = bottom + ROOM < innerHeight;
  return {
    ...told,
    passing,
    left: Math.max(8, Math.min(innerWidth - WIDTH - 8, left)),
    ...(below ? { top: Math.max(8, bottom + 6) } : { bottom: Math.max(8, innerHeight - top + 6) }),
  };
};

/**
 * One sentence of what something is: at F1 where the focus is, and where the pointer rests on something that has no
 * title of its own. `onPage` opens the handbook.
 */
export function HelpBubble({ onPage }: { onPage: (page: string) => void }) {
  const [shown, setShown] = useState<Shown | null>(null);
  /** What F1 was pressed on last, while that is told. */
  const askedAt = useRef<Element | null>(null);
  const pageOf = useRef(onPage);
  useEffect(() => {
    pageOf.current = onPage;
  }, [onPage]);
  useEffect(() => {
    let timer = 0;
    const away = () => {
      window.clearTimeout(timer);
      askedAt.current = null;
      setShown(null);
    };
    const key = (event: KeyboardEvent) => {
      if (event.key === 'F1') {
        event.preventDefault();
        window.clearTimeout(timer);
        const at = document.activeElement ?? document.body;
        const told = helpFor(at, location.pathname);
        // A second time it leads on, so that nobody needs a pointer for it.
        if (askedAt.current === at) {
          away();
          pageOf.current(told.page);
          return;
        }
        askedAt.current = at;
        setShown(
          placed(at === document.body ? (document.querySelector('h1, header') ?? document.body) : at, told, false),
        );
      } else if (!['Shift', 'Control', 'Alt', 'Meta'].includes(event.key)) away();
    };
    const rest = (event: PointerEvent) => {
      const target = event.target as Element;
      if (target.closest('[data-help-bubble]')) return;
      window.clearTimeout(timer);
      setShown((now) => (now?.passing ? null : now));
      const thing =
        event.pointerType === 'mouse' && target.closest('button, a, input, select, textarea, [role="slider"]');
      if (!thing || thing.closest('[title]:not(main)')) return;
      timer = window.setTimeout(() => {
        if (thing.isConnected) setShown(placed(thing, helpFor(thing, location.pathname), true));
      }, REST_MS);
    };
    const press = (event: PointerEvent) => {
      if (!(event.target as Element).closest('[data-help-bubble]')) away();
    };
    window.addEventListener('keydown', key, true);
    window.addEventListener('pointerover', rest);
    window.addEventListener('pointerdown', press, true);
    return () => {
      window.clearTimeout(timer);
      window.removeEventListener('keydown', key, true);
      window.removeEventListener('pointerover', rest);
      window.removeEventListener('pointerdown', press, true);
    };
  }, []);
  if (!shown) return null;
  return (
    <div
      data-help-bubble
      role="status"
      aria-label="What this is"
      style={{ left: shown.left, top: shown.top, bottom: shown.bottom, width: WIDTH }}
      className="panel fixed z-[60] px-3! py-2! text-[12.5px] leading-snug"
    >
      {!shown.passing && <b className="mb-0.5 block truncate">{shown.name}</b>}
      {shown.says}
      {!shown.passing && (
        <button
          className="mt-1 block underline"
          title="What the handbook says of it; F1 once more does the same"
          onClick={() => {
            askedAt.current = null;
            setShown(null);
            onPage(shown.page);
          }}
        >
          Handbook: {shown.page} (F1)
        </button>
      )}
    </div>
  );
}
