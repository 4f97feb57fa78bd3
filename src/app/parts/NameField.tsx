import { useRef, useState } from 'react';
import { LONGEST_NAME } from '../../core/rig/limits';

/** A name that is edited where it stands. */
export function useRenaming() {
  const [renaming, setRenaming] = useState(false);
  const asked = useRef(false);
  return {
    renaming,
    begin: () => setRenaming(true),
    end: () => setRenaming(false),
    /**
     * For a menu's item. The field must not come before the menu has gone: closing, it gives the focus back to its
     * button, and a field that loses the focus is done.
     */
    beginAfterMenu: () => {
      asked.current = true;
    },
    /** For the content of that menu. */
    onCloseAutoFocus: (event: Event) => {
      if (!asked.current) return;
      asked.current = false;
      event.preventDefault();
      setRenaming(true);
    },
  };
}

interface Props {
  label: string;
  name: string;
  className?: string;
  onName: (name: string) => void;
  onEnd: () => void;
}

/** Enter and leaving it take the name over, unless it is empty or the same; Escape leaves it as it was. */
export function NameField({ label, name, className = '', onName, onEnd }: Props) {
  const dropped = useRef(false);
  const take = (value: string) => {
    if (dropped.current) return;
    const wanted = value.trim();
    onEnd();
    if (wanted && wanted !== name) onName(wanted);
  };
  return (
    <input
      autoFocus
      maxLength={LONGEST_NAME}
      className={`field ${className}`}
      aria-label={label}
      defaultValue={name}
      onFocus={(event) => event.target.select()}
      onBlur={(event) => take(event.target.value)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') {
          dropped.current = true;
          onEnd();
        }
      }}
    />
  );
}
