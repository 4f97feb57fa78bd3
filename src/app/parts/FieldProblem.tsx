import { useLayoutEffect, useRef, type RefObject } from 'react';

const GAP = 3;

/**
 * What is wrong with what was typed, beside its field: over everything, whole, and inside the window, whatever panel
 * the field is in.
 */
export function FieldProblem({ field, text }: { field: RefObject<HTMLElement | null>; text: string }) {
  const box = useRef<HTMLSpanElement>(null);
  useLayoutEffect(() => {
    const put = () => {
      if (!field.current || !box.current) return;
      const at = field.current.getBoundingClientRect();
      // Where its own zero lies: in the corner of the window, or of what holds it and is moved as a whole.
      Object.assign(box.current.style, { left: '0px', top: '0px' });
      const own = box.current.getBoundingClientRect();
      const below = at.bottom + GAP;
      const left = Math.max(GAP, Math.min(innerWidth - own.width - GAP, at.right - own.width));
      const top = below + own.height > innerHeight ? at.top - own.height - GAP : below;
      Object.assign(box.current.style, { left: `${left - own.left}px`, top: `${top - own.top}px` });
    };
    put();
    window.addEventListener('scroll', put, true);
    window.addEventListener('resize', put);
    return () => {
      window.removeEventListener('scroll', put, true);
      window.removeEventListener('resize', put);
    };
  }, [field, text]);
  return (
    <span
      ref={box}
      role="alert"
      className="pointer-events-none fixed z-[70] w-max max-w-[320px] rounded border border-alarm bg-sheet px-1.5 py-0.5 text-[12px] leading-snug text-alarm shadow-md"
    >
      {text}
    </span>
  );
}
