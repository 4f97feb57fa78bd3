import { Popover } from 'radix-ui';
import { useState } from 'react';
import { connectAll } from '../../../core/rig/edits/moves';
import { labelOfTarget, restOfTarget, targetsIn } from '../../../core/rig/moves';
import { parseTarget } from '../../../core/rig/parameters';
import type { Patch } from '../../../core/rig/schema';
import { formatValue } from '../../parts/format';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';

const MOST_SHOWN = 60;

/** Everything that a source can move, as a list that is searched, with the values as they are; several at a time. */
export function ByList({ patch, source }: { patch: Patch; source: string }) {
  const dispatch = useAppDispatch();
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState('');
  const [chosen, setChosen] = useState<string[]>([]);
  const sounds = useAppSelector((state) => state.rig.rig!.sounds);
  const words = search.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const found = open
    ? targetsIn(patch, sounds)
        .filter((id) => id !== source && !id.startsWith(`${source}.`))
        .map((id) => ({ id, label: labelOfTarget(patch, id) }))
        .filter(({ label }) => words.every((word) => label.toLowerCase().includes(word)))
    : [];
  const moved = new Set(patch.routes.filter((route) => route.source === source).map((route) => route.target));
  const apply = () => {
    dispatch(editPatch(patch.id, (old) => connectAll(old, source, chosen)));
    setOpen(false);
  };
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setChosen([]);
        setSearch('');
      }}
    >
      <Popover.Trigger className="button">from a list …</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="left"
          align="start"
          sideOffset={6}
          collisionPadding={8}
          className="panel w-80"
          aria-label="What it can move"
        >
          <form
            className="flex flex-col gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              if (chosen.length > 0) apply();
            }}
          >
            <input
              className="field"
              placeholder="search: cut wire"
              aria-label="Search what it can move"
              value={search}
              onChange={(event) => setSearch(event.target.value)}
              onKeyDown={(event) => {
                if (event.key !== 'Escape') event.stopPropagation();
              }}
            />
            <div className="max-h-72 overflow-y-auto" tabIndex={0} aria-label="Parameters">
              {found.slice(0, MOST_SHOWN).map(({ id, label }) => (
                <label key={id} className="flex items-center gap-2 py-0.5 text-[12.5px]">
                  <input
                    type="checkbox"
                    disabled={moved.has(id)}
                    checked={moved.has(id) || chosen.includes(id)}
                    onChange={(event) =>
                      setChosen(event.target.checked ? [...chosen, id] : chosen.filter((other) => other !== id))
                    }
                  />
                  <span className="min-w-0 flex-1 truncate">{label}</span>
                  <span className="number text-[12px] text-faint">
                    {formatValue(parseTarget(id)!.parameter, restOfTarget(patch, id)!)}
                  </span>
                </label>
              ))}
              {found.length > MOST_SHOWN && (
                <p className="text-[12px] text-faint">{found.length - MOST_SHOWN} more: search for less.</p>
              )}
              {found.length === 0 && <p className="text-[12px] text-faint">Nothing is called so.</p>}
            </div>
            <button type="submit" className="button self-end bg-ink! text-paper!" disabled={chosen.length === 0}>
              Move {chosen.length || 'what is chosen'}
            </button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
