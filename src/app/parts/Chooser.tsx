import { ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useId, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';

/** Something that can be chosen: its name, what it belongs to, and a line that says what it is. */
export interface Choice {
  id: string;
  name: string;
  group?: string;
  help?: string;
}

/** Choices whose words all stand in what is typed, in any order. */
export function found(choices: readonly Choice[], typed: string): Choice[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return choices.filter(({ name, group = '', help = '' }) => {
    const text = `${name} ${group} ${help}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}

/** Where an arrow key leads from a place in a list of so many. */
export function stepIn(key: string, at: number, count: number): number | undefined {
  const to = { ArrowDown: at + 1, ArrowUp: at - 1, PageDown: at + 8, PageUp: at - 8, Home: 0, End: count - 1 }[key];
  return to === undefined ? undefined : Math.max(0, Math.min(count - 1, to));
}

interface Props {
  /** What stands on the button. */
  label: ReactNode;
  title: string;
  choices: readonly Choice[];
  /** The one that is chosen now. */
  now?: string;
  onChoose: (id: string) => void;
  onCloseAutoFocus?: (event: Event) => void;
  className?: string;
  disabled?: boolean;
  /** It is open from the start. */
  opened?: boolean;
}

/** A list that can grow, behind a button: typed to find, walked with arrow keys, and never longer than the window. */
export function Chooser({
  label,
  title,
  choices,
  now,
  onChoose,
  onCloseAutoFocus,
  className = 'button',
  disabled = false,
  opened = false,
}: Props) {
  const placeNow = () =>
    Math.max(
      0,
      choices.findIndex((choice) => choice.id === now),
    );
  const [open, setOpen] = useState(opened);
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(placeNow);
  const list = useRef<HTMLUListElement>(null);
  const id = useId();
  const shown = found(choices, typed);
  const chosen = Math.min(at, shown.length - 1);
  const turn = (opens: boolean) => {
    setOpen(opens);
    setTyped('');
    setAt(placeNow());
  };
  const show = (place: number) => {
    setAt(place);
    list.current?.querySelectorAll('[role="option"]')[place]?.scrollIntoView({ block: 'nearest' });
  };
  const choose = (choice: Choice | undefined) => {
    if (!choice) return;
    turn(false);
    onChoose(choice.id);
  };
  const press = (event: KeyboardEvent) => {
    const to = stepIn(event.key, chosen, shown.length);
    if (to !== undefined && shown.length > 0 && !(typed !== '' && (event.key === 'Home' || event.key === 'End')))
      show(to);
    else if (event.key === 'Enter') choose(shown[chosen]);
    else return;
    event.preventDefault();
  };
  return (
    <Popover.Root open={open} onOpenChange={turn}>
      <Popover.Trigger className={className} title={title} disabled={disabled || choices.length === 0}>
        {label} <ChevronDown size={12} className="shrink-0" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          onCloseAutoFocus={onCloseAutoFocus}
          aria-label={title}
          className="panel flex max-h-[min(70vh,var(--radix-popover-content-available-height))] w-[min(340px,calc(100vw-24px))] flex-col p-1.5! max-[900px]:w-[min(300px,calc(100vw-24px))]"
        >
          <input
            autoFocus
            className="field mb-1 w-full shrink-0 py-1!"
            aria-label="What to look for"
            placeholder={`among ${choices.length}: type to find`}
            value={typed}
            role="combobox"
            aria-expanded
            aria-controls={id}
            aria-activedescendant={shown[chosen] && `${id}-${shown[chosen].id}`}
            onChange={(event) => {
              setTyped(event.target.value);
              setAt(0);
            }}
            onKeyDown={press}
          />
          <ul
            ref={list}
            id={id}
            role="listbox"
            aria-label={title}
            tabIndex={-1}
            className="min-h-0 flex-1 overflow-y-auto [scrollbar-width:thin]"
          >
            {shown.map((choice, i) => [
              choice.group !== undefined && choice.group !== shown[i - 1]?.group && (
                <li key={`group ${choice.group}`} role="presentation" className="heading px-2 pt-1.5">
                  {choice.group}
                </li>
              ),
              <li
                key={choice.id}
                id={`${id}-${choice.id}`}
                role="option"
                aria-selected={i === chosen}
                aria-label={choice.name}
                className={`cursor-pointer rounded-[5px] px-2 py-1 ${i === chosen ? 'bg-ink text-paper' : ''} ${choice.id === now ? 'font-bold' : ''}`}
                onPointerMove={() => setAt(i)}
                onClick={() => choose(choice)}
              >
                <span dir="auto" className="block truncate">
                  {choice.name}
                </span>
                {choice.help && (
                  <span
                    className={`line-clamp-2 text-[11.5px] leading-tight font-normal ${i === chosen ? '' : 'text-faint'}`}
                  >
                    {choice.help}
                  </span>
                )}
              </li>,
            ])}
            {shown.length === 0 && <li className="px-2 py-1 text-faint">Nothing has that name.</li>}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
