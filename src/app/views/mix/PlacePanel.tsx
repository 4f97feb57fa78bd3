import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import {
  addSend,
  deletePool,
  moveEffect,
  updateConnection,
  updateEffect,
  updatePool,
} from '../../../core/rig/edits/mix';
import { renameGroup, updateGroup } from '../../../core/rig/edits/groups';
import { renameLayer, updateLayer } from '../../../core/rig/edits/layers';
import { chainOf, connectionsOf, nameOfPlace, placesIn, type PlaceId } from '../../../core/rig/mix';
import type { EffectSpec, Pair, Patch } from '../../../core/rig/schema';
import { colourOf } from '../../parts/Mark';
import { Named, Part, Row } from '../../parts/Part';
import { Several } from '../../parts/Several';
import { TargetStrip } from '../../parts/TargetStrip';
import { useStore } from '../../parts/useLive';
import { session } from '../../sound/session';
import { editPatch, notice, told, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { listeningSlice } from '../../listening/listeningSlice';
import { ChainMenu } from './ChainMenu';
import { Front } from './EffectPanel';
import { Spectrum } from './Spectrum';
import { Without } from './Without';
import { shortNameOf } from './words';

/** What the strip of a place has, as targets. */
export const stripTargets = (place: PlaceId): string[] => {
  const [kind] = place.split('.');
  return (
    kind === 'layer' || kind === 'group'
      ? ['level', 'pan', 'width']
      : kind === 'pool'
        ? ['level', 'balance', 'width']
        : ['level', 'width']
  ).map((id) => `${place}.${id}`);
};
const KINDS: Record<string, string> = { layer: 'layer', group: 'group', pool: 'shared effect', main: 'the mouth' };

/** Pairs of outputs beside the first, which is where main ends. */
const pairsToSendTo = (pairs: readonly Pair[]): PlaceId[] => pairs.slice(1).map(({ id }) => `pair.${id}`);

/** A place of the mix in numbers: its strip, its chain, where its sound goes. */
export function PlacePanel({ patch, place }: { patch: Patch; place: PlaceId }) {
  const dispatch = useAppDispatch();
  const soloed = useAppSelector((state) => state.listening.soloed);
  const listening = useStore(session, (now) => now.ears.listening);
  const change = (edit: (old: Patch) => Patch) => dispatch(editPatch(patch.id, edit));
  const [kind, id] = place.split('.');
  const layer = patch.layers.find((each) => each.id === id);
  const group = patch.groups.find((each) => each.id === id);
  const pool = patch.pools.find((each) => each.id === id);
  const owner = layer ?? group ?? pool;
  const colour = layer ? colourOf(layer.mark) : kind === 'pool' ? 'var(--plum)' : 'var(--slate)';
  const chain = chainOf(patch, place) ?? [];
  const rename = (name: string) =>
    change((old) =>
      layer ? renameLayer(old, id, name) : group ? renameGroup(old, id, name) : updatePool(old, id, { name }),
    );
  const setOn = (on: boolean) =>
    change((old) =>
      layer
        ? updateLayer(old, id, (each) => ({ ...each, on }))
        : group
          ? updateGroup(old, id, (each) => ({ ...each, on }))
          : updatePool(old, id, { on }),
    );
  const members = layer
    ? [id]
    : group
      ? patch.layers.filter(({ groupId }) => groupId === id).map((each) => each.id)
      : [];
  const solo = members.length > 0 && members.every((member) => soloed.includes(member));
  const alone = listening?.kind === 'place' && listening.id === place;
  const leaving = connectionsOf(patch).filter(({ from }) => from === place);
  const pairs = useAppSelector((state) => state.rig.rig!.pairs);
  const nameOf = (to: PlaceId) => nameOfPlace(patch, to, pairs);
  const sendTo = [...(place === 'main' ? [] : placesIn(patch)), ...pairsToSendTo(pairs)].filter(
    (to) =>
      !to.startsWith('layer.') &&
      to !== place &&
      !leaving.some((connection) => connection.kind === 'send' && connection.to === to),
  );
  return (
    <>
      {owner ? (
        <Named name={owner.name} kind={KINDS[kind]} onName={rename} />
      ) : (
        <h2 className="flex items-baseline gap-2">
          <span className="text-[15px] font-bold">Main</span>
          <span className="text-[12px] text-faint">{KINDS.main}</span>
        </h2>
      )}
      {layer && <Several layer={layer} />}
      <Spectrum />
      <Part title="Strip">
        {stripTargets(place).map((target) => (
          <div key={target} className="flex items-center gap-1">
            <div className="min-w-0 flex-1">
              <TargetStrip patch={patch} target={target} colour={colour} />
            </div>
            <Front patch={patch} target={target} />
          </div>
        ))}
        <div className="flex gap-1.5">
          {owner && (
            <button className="button px-2! py-0.5!" aria-pressed={!owner.on} onClick={() => setOn(!owner.on)}>
              mute
            </button>
          )}
          {members.length > 0 && (
            <button
              className="button px-2! py-0.5!"
              aria-pressed={solo}
              onClick={() => dispatch(listeningSlice.actions.soloSet({ ids: members, on: !solo }))}
            >
              solo
            </button>
          )}
          {place !== 'main' && (
            <button
              className="button px-2! py-0.5!"
              aria-pressed={alone}
              title="Only what comes out here is heard"
              onClick={() => session.ears.listenTo(alone ? null : { kind: 'place', id: place })}
            >
              hear alone
            </button>
          )}
        </div>
      </Part>
      <Part title="Effects" action={<ChainMenu patch={patch} place={place} />}>
        <Sorted patch={patch} place={place} chain={chain} />
        {chain.length === 0 && <p className="text-[12px] text-faint">None yet: “+ effect” below adds one here.</p>}
        {chain.length > 0 && <Without ids={[place]} patch={patch} label="without" />}
      </Part>
      {(place !== 'main' || sendTo.length + leaving.length > 0) && (
        <Part title={place === 'main' ? 'Is sent to, besides the first pair' : 'Flows to'}>
          {leaving.map((connection) => (
            <div key={connection.id} className="flex flex-wrap items-center gap-1.5">
              <button
                className="w-full truncate text-left underline decoration-dotted"
                title="Open this connection"
                onClick={() => dispatch(choosingSlice.actions.mixChosenSet({ kind: 'connection', id: connection.id }))}
              >
                {nameOf(connection.to)}
              </button>
              <div className="min-w-0 flex-1">
                <TargetStrip
                  patch={patch}
                  target={`connection.${connection.id}.level`}
                  label={connection.kind === 'send' ? 'send' : 'output'}
                  colour="var(--slate)"
                />
              </div>
              <button
                className="button shrink-0 px-1.5! py-0! text-[11.5px]"
                aria-label={`Mute ${nameOf(connection.to)}`}
                aria-pressed={!connection.on}
                onClick={() => change((old) => updateConnection(old, connection.id, { on: !connection.on }))}
              >
                m
              </button>
            </div>
          ))}
          {sendTo.length > 0 && (
            <Row label="send to">
              <select
                className="field min-w-0"
                aria-label="Send to"
                value=""
                onChange={(event) => {
                  const to = event.target.value;
                  let done = false;
                  change((old) => {
                    const next = addSend(old, place, to);
                    done = next !== old;
                    return next;
                  });
                  if (!done)
                    dispatch(notice('info', `It cannot flow to ${nameOf(to)}: it would flow in a circle.`, 'flow'));
                }}
              >
                <option value="">a place …</option>
                {sendTo.map((to) => (
                  <option key={to} value={to}>
                    {nameOf(to)}
                  </option>
                ))}
              </select>
            </Row>
          )}
        </Part>
      )}
      {pool && (
        <button
          className="button self-start"
          onClick={() => {
            change((old) => deletePool(old, id));
            dispatch(told(`The shared effect “${pool.name}” is gone, with what was sent to it.`));
          }}
        >
          Delete this shared effect
        </button>
      )}
    </>
  );
}

/** The chain as a list that is put in order. */
function Sorted({ patch, place, chain }: { patch: Patch; place: PlaceId; chain: readonly EffectSpec[] }) {
  const dispatch = useAppDispatch();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (over && over.id !== active.id)
          dispatch(
            editPatch(patch.id, (old) =>
              moveEffect(
                old,
                String(active.id),
                place,
                chain.findIndex(({ id }) => id === over.id),
              ),
            ),
          );
      }}
    >
      <SortableContext items={chain.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
        <ul className="flex flex-col gap-1">
          {chain.map((effect) => (
            <Entry key={effect.id} patch={patch} effect={effect} />
          ))}
        </ul>
      </SortableContext>
    </DndContext>
  );
}

function Entry({ patch, effect }: { patch: Patch; effect: EffectSpec }) {
  const dispatch = useAppDispatch();
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: effect.id });
  const name = shortNameOf(patch, effect.id);
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className="flex items-center gap-1.5"
    >
      <span
        {...attributes}
        {...listeners}
        className="grid h-[22px] w-[18px] cursor-grab place-items-center rounded text-faint"
        aria-label={`Order of ${name}`}
      >
        <GripVertical size={13} />
      </span>
      <button
        dir="auto"
        className="min-w-0 flex-1 truncate rounded border border-edge bg-sheet px-2 text-left"
        title="Opens the effect: its picture and its values"
        onClick={() => dispatch(choosingSlice.actions.mixChosenSet({ kind: 'effect', id: effect.id }))}
      >
        {name}
      </button>
      <button
        className="button px-1.5! py-0! text-[11.5px]"
        aria-label={`${name} on`}
        aria-pressed={effect.on}
        onClick={() => dispatch(editPatch(patch.id, (old) => updateEffect(old, effect.id, { on: !effect.on })))}
      >
        {effect.on ? 'on' : 'off'}
      </button>
    </li>
  );
}
