import { useEffect, useRef, useState, type ReactNode } from 'react';

const HOLD_MS = 800;

/** A button that acts when it has been held for a while: nothing that is brushed by accident. Enter and Space may be held as well. */
export function HoldButton({ label, title, onHeld, children, className = '' }: { label: string; title: string; onHeld: () => void; children: ReactNode; className?: string }) {
  const [holding, setHolding] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const begin = () => {
    if (holding) return;
    setHolding(true);
    timer.current = setTimeout(() => { setHolding(false); onHeld(); }, HOLD_MS);
  };
  const end = () => { clearTimeout(timer.current); setHolding(false); };
  return (
    <button
      className={`relative overflow-hidden ${className}`} aria-label={label} title={title} onPointerDown={(event) => { event.preventDefault(); event.currentTarget.setPointerCapture(event.pointerId); begin(); }} onPointerUp={end} onPointerCancel={end} onBlur={end} onContextMenu={(event) => event.preventDefault()}
      onKeyDown={(event) => { if (event.key === 'Enter' || event.key === ' ') { event.preventDefault(); event.stopPropagation(); begin(); } }} onKeyUp={end}
    >
      <span aria-hidden className="absolute inset-y-0 left-0 bg-ink/25" style={{ width: holding ? '100%' : 0, transition: holding ? `width ${HOLD_MS}ms linear` : 'none' }} />
      <span className="relative inline-flex items-center gap-2">{children}</span>
    </button>
  );
}
