import { useState } from 'react';

/**
 * A whole number within limits, typed or stepped, as browsers have it: for a label around it, or with one of its own.
 * What is typed stands while it is typed, also on the way to a number that may be; each that may be is taken at once, and
 * on leaving what holds is shown.
 */
export function NumberBox({
  label,
  value,
  low,
  high,
  className = 'w-20',
  onChange,
}: {
  label?: string;
  value: number;
  low: number;
  high: number;
  className?: string;
  onChange: (value: number) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      type="number"
      aria-label={label}
      min={low}
      max={high}
      className={`field number ${className}`}
      value={typed ?? value}
      onChange={(event) => {
        const text = event.target.value;
        const read = Math.round(Number(text));
        setTyped(text);
        if (text.trim() !== '' && read >= low && read <= high) onChange(read);
      }}
      onBlur={() => setTyped(null)}
      onKeyDown={(event) => event.stopPropagation()}
    />
  );
}
