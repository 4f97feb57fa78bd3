import { useEffect, useRef, useState, type ReactNode } from 'react';

const HOLD_MS = 800;
/** Held on for this long after it acted, it does what it offers then. */
const ON_MS = 2000;

interface Props {
  label: string;
  title: string;
  onHeld: () => void;
  /** What follows where it is held on, and what it says of that meanwhile. */
  then?: { words: string; onHeld: () => void };
  /** A click does this where nothing is to be held for. */
  onClick?: () => void;
  children: ReactNode;
  className?: string;
}

/**
 * A button that acts when it has been held for a while: nothing that is brushed by accident. Enter and Space may be
 * held as well.
 */
export function HoldButton({ label, title, onHeld, then, onClick, children, className = '' }: Props) {
  const [holding, setHolding] = useState<'no' | 'first' | 'on'>('no');
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  // What was held until it acted is no click.
  const acted = useRef(false);
  useEffect(() => () => clearTimeout(timer.current), []);
  const begin = () => {
    acted.current = false;
    if (holding !== 'no' || onClick) return;
    setHolding('first');
    timer.current = setTimeout(() => {
      acted.current = true;
      setHolding(then ? 'on' : 'no');
      onHeld();
      if (then)
        timer.current = setTimeout(() => {
          setHolding('no');
          then.onHeld();
        }, ON_MS);
    }, HOLD_MS);
  };
  const end = () => {
    clearTimeout(timer.current);
    setHolding('no');
  };
  const click = () => {
    if (!acted.current) onClick?.();
    acted.current = false;
  };
  return (
    <button
      className={`relative overflow-hidden ${className}`}
      aria-label={label}
      title={title}
      onPointerDown={(event) => {
        event.preventDefault();
        event.currentTarget.setPointerCapture(event.pointerId);
        begin();
      }}
      onPointerUp={end}
      onPointerCancel={end}
      onBlur={end}
      onContextMenu={(event) => event.preventDefault()}
      onClick={click}
      onKeyDown={(event) => {
        if ((event.key === 'Enter' || event.key === ' ') && !onClick) {
          event.preventDefault();
          event.stopPropagation();
          begin();
        }
      }}
      onKeyUp={(event) => {
        if (holding !== 'no') event.preventDefault();
        end();
      }}
    >
      <span
        aria-hidden
        className="absolute inset-y-0 left-0 bg-ink/25"
        style={{
          width: holding === 'no' ? 0 : '100%',
          transition: holding === 'first' ? `width ${HOLD_MS}ms linear` : 'none',
        }}
      />
      <span className="relative inline-flex items-center gap-2">
        {holding === 'on' && then ? then.words : children}
      </span>
    </button>
  );
}
