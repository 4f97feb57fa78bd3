import { useState } from 'react';

interface Props {
  label: string;
  /** What the field shows when nobody types in it. */
  text: string;
  /** Takes what was typed; gives what is wrong with it, or nothing. */
  commit: (typed: string) => string | undefined;
  /** Arrow keys: a step up or down, ten with Shift. */
  step?: (by: number) => void;
  disabled?: boolean;
  hideLabel?: boolean;
}

/** A value that is typed: Enter or leaving the field takes it, Escape gives it up, and what cannot be read is said and kept for mending. */
export function TypedField({ label, text, commit, step, disabled, hideLabel }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | undefined>();
  const take = () => {
    if (draft === null) return;
    const found = draft === text ? undefined : commit(draft);
    setProblem(found);
    if (!found) setDraft(null);
  };
  const drop = () => {
    setDraft(null);
    setProblem(undefined);
  };
  return (
    <label className={`field flex items-center gap-2 ${problem ? 'border-alarm!' : ''}`} title={problem}>
      <span className={hideLabel ? 'sr-only' : 'text-faint text-[12px] whitespace-nowrap'}>{label}</span>
      <input
        className="number w-full min-w-0 bg-transparent text-right outline-none" value={draft ?? text} disabled={disabled} aria-invalid={!!problem} spellCheck={false}
        onChange={(event) => setDraft(event.target.value)}
        onFocus={(event) => event.target.select()}
        onBlur={() => { take(); if (problem) drop(); }}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') take();
          else if (event.key === 'Escape') drop();
          else if (step && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
            event.preventDefault();
            drop();
            step((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1));
          }
        }}
      />
      {problem && <span role="alert" className="sr-only">{problem}</span>}
    </label>
  );
}
