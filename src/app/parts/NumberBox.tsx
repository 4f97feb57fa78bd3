import { useState } from 'react';

/** Text that a hand puts in or takes out, against what the arrows of the box step to. */
const isTyped = (event: Event): boolean => {
  const how = event instanceof InputEvent ? event.inputType : '';
  return how !== 'insertReplacementText' && /^(insert|delete|history)/.test(how);
};

/**
 * A whole number within limits, typed or stepped, as browsers have it: for a label around it, or with one of its own. A
 * step is taken at once. What is typed is taken by Enter or on leaving, for the 1 on the way to 16 is not meant: it would
 * cut short whatever is so long.
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
  const take = (text: string) => {
    const read = Math.round(Number(text));
    setTyped(null);
    if (text.trim() !== '' && read >= low && read <= high && read !== value) onChange(read);
  };
  return (
    <input
      type="number"
      aria-label={label}
      min={low}
      max={high}
      className={`field number ${className}`}
      value={typed ?? value}
      onChange={(event) => {
        if (isTyped(event.nativeEvent)) setTyped(event.target.value);
        else take(event.target.value);
      }}
      onBlur={() => {
        if (typed !== null) take(typed);
      }}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter' && typed !== null) take(typed);
      }}
    />
  );
}
