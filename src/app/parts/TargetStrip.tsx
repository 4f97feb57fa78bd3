import { Popover } from 'radix-ui';
import { Route as RouteIcon } from 'lucide-react';
import { MOVERS, type MoverKindId } from '../../core/movers';
import { draw, isLocked, setLock } from '../../core/draws/draw';
import { keepDraw } from '../../core/draws/history';
import {
  connect,
  connectAll,
  connectNew,
  deleteRoute,
  setRest,
  targetsTogether,
  updateRoute,
} from '../../core/rig/edits/moves';
import { labelOfTarget, restOfTarget, sourcesIn } from '../../core/rig/moves';
import { setOfSeveral } from '../../core/rig/edits/several';
import { parseTarget, type LayerParameterId, type Parameter } from '../../core/rig/parameters';
import type { Patch } from '../../core/rig/schema';
import { labelOfControl } from '../../core/music/control';
import { parseSource } from '../../core/space/source';
import { learnTarget } from '../hands/learning';
import { session } from '../sound/session';
import { rigSlice } from '../document/rigSlice';
import { editPatch, newId, notice, useAppDispatch, useAppSelector } from '../document/store';
import { choosingSlice } from '../hands/choosingSlice';
import { contributions, movedValue, moversOf, sourceName } from './moved';
import { Strip } from './Strip';
import { TypedField } from './TypedField';
import { useNow } from './useLive';

/** What can take a value elsewhere: hands, and another program. */
const MOVING = [session.hands, session];

interface Props {
  patch: Patch;
  target: string;
  colour?: string;
  label?: string;
  headed?: boolean;
  disabled?: boolean;
  /**
   * What the strip shows while its target is not there, and the edit by which setting a value makes it; the drag that
   * made it goes on.
   */
  unmade?: { parameter: Parameter; value: number; make: (old: Patch, value: number) => Patch };
}

/**
 * The strip of anything that can be moved, by its id: shows where routes take it, sets how far a source moves it while
 * its connect sign is out, and tells what moves it.
 */
export function TargetStrip({ patch, target, colour, label, headed, disabled, unmade }: Props) {
  const dispatch = useAppDispatch();
  const connecting = useAppSelector((state) => state.choosing.connecting);
  const chosen = useAppSelector((state) => state.choosing.chosenLayerIds);
  const together = useAppSelector((state) => state.choosing.together);
  const parsed = parseTarget(target);
  const rest = restOfTarget(patch, target);
  const moved = useNow(MOVING, () => movedValue(patch, target));
  const onEnd = () => dispatch(rigSlice.actions.gestureEnded());
  if (unmade && rest === undefined)
    return (
      <Strip
        parameter={unmade.parameter}
        value={unmade.value}
        colour={colour}
        label={label}
        headed={headed}
        disabled={disabled}
        onChange={(value, gesture) => dispatch(editPatch(patch.id, (old) => unmade.make(old, value), gesture))}
        onEnd={onEnd}
      />
    );
  if (!parsed || rest === undefined) return null;
  const { parameter } = parsed;
  const several = parsed.kind === 'layer' && chosen.length > 1 && chosen.includes(parsed.layerId);
  const route = connecting
    ? patch.routes.find((candidate) => candidate.target === target && candidate.source === connecting)
    : undefined;
  return (
    <Strip
      target={target}
      parameter={parameter}
      value={rest}
      colour={colour}
      label={label}
      headed={headed}
      moved={moved}
      movedBy={moversOf(patch, target)}
      disabled={disabled}
      onChange={(value, gesture) => {
        session.input.recorder.move(target, value);
        dispatch(
          editPatch(
            patch.id,
            (old) =>
              several
                ? setOfSeveral(old, chosen, parsed.layerId, parameter.id as LayerParameterId, value, together)
                : setRest(old, target, value),
            gesture,
          ),
        );
      }}
      onEnd={onEnd}
      connect={
        connecting && connecting !== target
          ? {
              depth: route?.depth ?? 0,
              twoSided: (parseSource(connecting)?.low ?? 0) < 0,
              onDepth: (depth, gesture) =>
                dispatch(editPatch(patch.id, (old) => connect(old, connecting, target, depth), gesture)),
            }
          : undefined
      }
      menu={<WhatMoves patch={patch} target={target} />}
    />
  );
}

/** What moves a value, each with what it adds now, and how to have something more move it. */
export function WhatMoves({ patch, target }: { patch: Patch; target: string }) {
  const label = labelOfTarget(patch, target);
  const count = patch.routes.filter((route) => route.target === target).length;
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`grid w-[20px] shrink-0 place-items-center border-r border-line ${count > 0 ? 'text-indigo' : 'text-faint opacity-50 hover:opacity-100 focus-visible:opacity-100'}`}
        aria-label={`What moves ${label}${count > 0 ? ` (${count})` : ''}`}
        title={
          count > 0
            ? `Moved by ${moversOf(patch, target) ?? 'what is switched off'}`
            : `Nothing moves ${label}: choose what does`
        }
      >
        <RouteIcon size={12} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="left"
          align="start"
          sideOffset={6}
          collisionPadding={8}
          className="panel w-80"
          aria-label={`What moves ${label}`}
        >
          <MovedBy patch={patch} target={target} label={label} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function MovedBy({ patch, target, label }: { patch: Patch; target: string; label: string }) {
  const dispatch = useAppDispatch();
  const change = (edit: (old: Patch) => Patch) => dispatch(editPatch(patch.id, edit));
  const chosen = useAppSelector((state) => state.choosing.chosenLayerIds);
  const targets = targetsTogether(target, chosen);
  const add = (source: string) =>
    change((old) => {
      if (!source.startsWith(NEW)) return connectAll(old, source, targets);
      const kind = source.slice(NEW.length) as 'macro' | MoverKindId;
      const made = connectNew(old, kind, kind === 'macro' ? label : nameOfNew(kind), targets);
      if (!made)
        dispatch(
          notice(
            'problem',
            kind === 'macro' ? 'A patch has sixteen macros at the most.' : 'A patch has sixteen movers at the most.',
            'full',
          ),
        );
      return made ?? old;
    });
  const routes = patch.routes.filter((route) => route.target === target);
  const now = contributions(patch, target);
  const groups = sourcesIn(patch).filter(({ id }) => id !== target && !routes.some((route) => route.source === id));
  let on = -1;
  return (
    <div className="flex flex-col gap-2">
      <h2 className="text-[14px] font-bold">What moves {label}</h2>
      {targets.length > 1 && (
        <p className="text-[12px] text-faint">What is added moves it in all {targets.length} chosen layers.</p>
      )}
      {routes.length === 0 && <p className="text-[12px] text-faint">Nothing yet.</p>}
      <ul className="flex flex-col gap-1">
        {routes.map((route) => {
          if (route.on) on++;
          const adds = route.on ? now[on] : undefined;
          return (
            <li key={route.id} className="flex items-center gap-1.5">
              <button
                className="button px-1.5! py-0! text-[11.5px]"
                aria-pressed={route.on}
                aria-label={`${sourceName(patch, route)} on`}
                onClick={() => change((old) => updateRoute(old, route.id, { on: !route.on }))}
              >
                {route.on ? 'on' : 'off'}
              </button>
              <button
                className="min-w-0 flex-1 truncate text-left underline decoration-dotted"
                title="Show this route"
                onClick={() => dispatch(choosingSlice.actions.chosenSet({ route: route.id }))}
              >
                {sourceName(patch, route)}
              </button>
              <span className="w-[74px] shrink-0">
                <TypedField
                  label={`Depth of ${sourceName(patch, route)}`}
                  hideLabel
                  text={signed(route.depth)}
                  step={(by) => change((old) => updateRoute(old, route.id, { depth: route.depth + by / 100 }))}
                  commit={(typed) => {
                    const read = Number.parseFloat(typed.replace('−', '-').replace(',', '.'));
                    if (!(Math.abs(read) <= 100)) return 'a depth from −100 to +100 %';
                    change((old) => updateRoute(old, route.id, { depth: read / 100 }));
                    return undefined;
                  }}
                />
              </span>
              <span
                className="number min-w-[64px] text-right text-[12px] whitespace-nowrap text-faint"
                title="What it adds now"
              >
                {adds === undefined ? '' : `now ${signed(adds)}`}
              </span>
              <button
                className="button-bare"
                aria-label={`Take ${sourceName(patch, route)} off`}
                onClick={() => change((old) => deleteRoute(old, route.id))}
              >
                ×
              </button>
            </li>
          );
        })}
      </ul>
      <label className="flex items-center gap-2">
        <span className="text-[12px] text-faint">add</span>
        <select
          className="field min-w-0 flex-1"
          value=""
          aria-label={`Add what moves ${label}`}
          onChange={(event) => {
            if (event.target.value) add(event.target.value);
          }}
        >
          <option value="">a source …</option>
          <optgroup label="new">
            <option value={`${NEW}macro`}>+ macro</option>
            {MOVERS.map(({ id, label: name }) => (
              <option key={id} value={`${NEW}${id}`}>
                + {name}
              </option>
            ))}
          </optgroup>
          {(['macros', 'movers', 'pads', 'blends', 'hands', 'notes'] as const).map((group) => {
            const members = groups.filter((source) => source.group === group);
            return (
              members.length > 0 && (
                <optgroup key={group} label={group}>
                  {members.map(({ id, label: name }) => (
                    <option key={id} value={id}>
                      {name}
                    </option>
                  ))}
                </optgroup>
              )
            );
          })}
        </select>
      </label>
      <div className="flex gap-1.5">
        <button
          className="button px-2! py-0.5!"
          disabled={isLocked(patch, target)}
          title="Chance sets it anew, within its musical range; the draw is kept with the others"
          onClick={() => change((old) => rolled(old, target))}
        >
          Draw it
        </button>
        <button
          className="button px-2! py-0.5!"
          aria-pressed={isLocked(patch, target)}
          title="Draws leave it as it is"
          onClick={() => change((old) => setLock(old, target, !isLocked(old, target)))}
        >
          {isLocked(patch, target) ? 'locked' : 'lock'}
        </button>
      </div>
      <button className="button self-start" onClick={() => learnTarget(patch.id, target, label)}>
        Learn: move a control …
      </button>
      {session.hearing.bindings.setup.bindings
        .filter((binding) => binding.target === target)
        .map((binding) => (
          <p key={binding.control} className="text-[12px] text-faint">
            Moved by {labelOfControl(binding.control)} of the controller.
          </p>
        ))}
    </div>
  );
}

/** What stands before the kind of a source that is to be made. */
const NEW = 'new:';
const nameOfNew = (kind: MoverKindId): string => MOVERS.find(({ id }) => id === kind)!.label;

/** One value drawn anew, over all of its musical range. */
function rolled(patch: Patch, target: string): Patch {
  const seed = Math.floor(Math.random() * 2 ** 31);
  const { patch: drawn, changes } = draw(patch, [target], { amount: 1, seed });
  return changes.length === 0
    ? patch
    : keepDraw(drawn, changes, { id: newId(), seed, amount: 1, scope: labelOfTarget(patch, target) });
}

export const signed = (share: number): string => `${share < -0.0005 ? '−' : '+'}${Math.round(Math.abs(share) * 100)} %`;
