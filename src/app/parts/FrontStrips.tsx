import { Popover } from 'radix-ui';
import { useMemo, useState } from 'react';
import { setOnFront } from '../../core/rig/edits/mix';
import { labelOfTarget, targetsIn } from '../../core/rig/moves';
import type { Patch } from '../../core/rig/schema';
import { editPatch, useAppDispatch, useAppSelector } from '../document/store';
import { TargetStrip } from './TargetStrip';

const MOST_SHOWN = 40;

/** Strips of any parameters, put on the front of the patch from a list that is searched. */
export function FrontStrips({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  return (
    <div className="flex flex-col gap-1.5" role="group" aria-label="On the front">
      {patch.front.map((target) => (
        <div key={target} className="flex items-center gap-1">
          <div className="min-w-0 flex-1">
            <TargetStrip patch={patch} target={target} label={labelOfTarget(patch, target)} colour="var(--slate)" />
          </div>
          <button
            className="button-bare h-[22px]! min-w-[20px]!"
            aria-label={`Take ${labelOfTarget(patch, target)} off the front`}
            title="Take it off the front; the value stays"
            onClick={() => dispatch(editPatch(patch.id, (old) => setOnFront(old, target, false)))}
          >
            ×
          </button>
        </div>
      ))}
      <AddToFront patch={patch} />
    </div>
  );
}

function AddToFront({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const sounds = useAppSelector((state) => state.rig.rig!.sounds);
  const all = useMemo(
    () =>
      open
        ? targetsIn(patch, sounds)
            .filter((target) => !patch.front.includes(target))
            .map((target) => ({ target, name: labelOfTarget(patch, target) }))
        : [],
    [open, patch, sounds],
  );
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = all.filter(({ name }) => words.every((word) => name.toLowerCase().includes(word))).slice(0, MOST_SHOWN);
  const chosen = Math.min(at, found.length - 1);
  const add = (target: string | undefined) => {
    if (!target) return;
    dispatch(editPatch(patch.id, (old) => setOnFront(old, target, true)));
    setTyped('');
    setOpen(false);
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className="button self-start px-2! py-0! text-[12px]"
        disabled={patch.front.length >= 16}
        title="Puts any value of the patch here, beside the macros"
      >
        + value …
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="right"
          align="end"
          sideOffset={6}
          collisionPadding={8}
          className="panel w-80"
          aria-label="A strip for the front"
        >
          <input
            autoFocus
            className="field w-full py-1!"
            aria-label="Which value"
            placeholder="reverb decay, level of …"
            value={typed}
            role="combobox"
            aria-expanded
            aria-controls="front-found"
            aria-activedescendant={found[chosen] && `front-${chosen}`}
            onChange={(event) => {
              setTyped(event.target.value);
              setAt(0);
            }}
            onKeyDown={(event) => {
              if (event.key === 'ArrowDown') setAt(Math.min(found.length - 1, chosen + 1));
              else if (event.key === 'ArrowUp') setAt(Math.max(0, chosen - 1));
              else if (event.key === 'Enter') add(found[chosen]?.target);
              else return;
              event.preventDefault();
            }}
          />
          <ul id="front-found" role="listbox" aria-label="Values" className="mt-1.5 max-h-72 overflow-y-auto">
            {found.map(({ target, name }, i) => (
              <li
                dir="auto"
                key={target}
                id={`front-${i}`}
                role="option"
                aria-selected={i === chosen}
                className={`cursor-pointer truncate rounded-[5px] px-2 py-0.5 ${i === chosen ? 'bg-ink text-paper' : ''}`}
                onPointerMove={() => setAt(i)}
                onClick={() => add(target)}
              >
                {name}
              </li>
            ))}
            {found.length === 0 && <li className="px-2 py-0.5 text-faint">Nothing has that name.</li>}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
