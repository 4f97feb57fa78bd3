import { ChevronDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { Chooser } from './Chooser';

/** More than so many are a list with a finder. */
const MOST_ITEMS = 12;

/** A menu whose items act at once; arrow keys only go through it. One that grows long becomes a {@link Chooser}. */
export function ActMenu({
  label,
  title,
  items,
  onChoose,
  className = '',
  disabled = false,
}: {
  label: string;
  title: string;
  items: readonly (readonly [id: string, name: string])[];
  onChoose: (id: string) => void;
  className?: string;
  disabled?: boolean;
}) {
  if (items.length > MOST_ITEMS)
    return (
      <Chooser
        label={label}
        title={title}
        choices={items.map(([id, name]) => ({ id, name }))}
        onChoose={onChoose}
        className={`button ${className}`}
        disabled={disabled}
      />
    );
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        className={`button max-w-full ${className}`}
        title={title}
        disabled={disabled || items.length === 0}
      >
        <span className="min-w-0 truncate">{label}</span> <ChevronDown size={12} className="shrink-0" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          className="panel max-h-[min(60vh,var(--radix-dropdown-menu-content-available-height))] min-w-48 overflow-y-auto p-1.5!"
        >
          {items.map(([id, name]) => (
            <DropdownMenu.Item key={id} className="menu-item" onSelect={() => onChoose(id)}>
              <span dir="auto" className="max-w-72 truncate">
                {name}
              </span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
