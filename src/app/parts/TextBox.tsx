import { useState } from 'react';

interface Props {
  label: string;
  text: string;
  longest: number;
  className?: string;
  placeholder?: string;
  /** What is wrong with a text; undefined: nothing. */
  check?: (text: string) => string | undefined;
  onChange: (text: string) => void;
}

/** A line of text: Enter and leaving it take it over, Escape gives it up; what is wrong with it is said beneath. */
export function TextBox({ label, text, longest, className = '', placeholder, check, onChange }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const problem = draft === null ? undefined : check?.(draft);
  const take = () => {
    if (draft !== null && !problem && draft !== text) onChange(draft);
    setDraft(null);
  };
  return (
    <span className={`inline-flex min-w-0 flex-col ${className}`}>
      <input
        className={`field min-w-0 ${problem ? 'border-alarm!' : ''}`}
        dir="auto"
        aria-label={label}
        aria-invalid={!!problem}
        maxLength={longest}
        placeholder={placeholder}
        spellCheck={false}
        value={draft ?? text}
        data-writing={draft !== null}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') {
            event.preventDefault();
            if (!problem) event.currentTarget.blur();
          }
          if (event.key === 'Escape' && draft !== null) {
            event.preventDefault();
            setDraft(null);
          }
        }}
      />
      {problem && <span className="text-[12px] text-alarm">{problem}</span>}
    </span>
  );
}
