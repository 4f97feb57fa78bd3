import { useRef, useState } from 'react';
import { FieldProblem } from './FieldProblem';
import { notice, useAppDispatch, useAppSelector } from '../document/store';

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

/**
 * A value that is typed: Enter takes it and leaves the field, and so does going elsewhere; Escape gives it up. What
 * cannot be read, or is out of range, is said and stays for
 * mending as long as one is in the field; outside, it shows what the rig holds.
 */
export function TypedField({ label, text, commit, step, disabled, hideLabel }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | undefined>();
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  // Leaving the field because Enter took the value must not take it twice.
  const taken = useRef(false);
  const frame = useRef<HTMLLabelElement>(null);
  const drop = () => {
    setDraft(null);
    setProblem(undefined);
  };
  const take = (): boolean => {
    const found = draft === null || draft === text ? undefined : commit(draft);
    setProblem(found);
    if (!found) setDraft(null);
    return !found;
  };
  return (
    <label
      ref={frame}
      className={`field relative flex items-center gap-2 ${problem ? 'border-alarm!' : ''}`}
      title={problem}
    >
      <span className={hideLabel ? 'sr-only' : 'text-faint text-[12px] whitespace-nowrap'}>{label}</span>
      <input
        className="number w-full min-w-0 bg-transparent text-right outline-none"
        value={draft ?? text}
        disabled={disabled || readOnly}
        aria-invalid={!!problem}
        spellCheck={false}
        data-writing={draft !== null}
        onChange={(event) => {
          setDraft(event.target.value);
          setProblem(undefined);
        }}
        onFocus={(event) => event.target.select()}
        onBlur={() => {
          const found =
            taken.current || problem !== undefined || draft === null || draft === text ? undefined : commit(draft);
          if (found) dispatch(notice('info', `${label}: “${draft}” was not taken, it wants ${found}.`, 'typed'));
          taken.current = false;
          drop();
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            // A form that the field belongs to goes off once what was typed has arrived.
            event.preventDefault();
            if (take()) {
              taken.current = true;
              const { form } = event.currentTarget;
              event.currentTarget.blur();
              if (form) setTimeout(() => form.requestSubmit());
            }
          } else if (event.key === 'Escape') {
            if (draft !== null) event.stopPropagation();
            taken.current = true;
            drop();
            event.currentTarget.blur();
          } else if (step && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
            event.preventDefault();
            event.stopPropagation();
            drop();
            step((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1));
          } else if (!event.ctrlKey && !event.metaKey) event.stopPropagation();
        }}
      />
      {problem && <FieldProblem field={frame} text={problem} />}
    </label>
  );
}
