import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { ChevronDown, ChevronRight, Copy, EllipsisVertical, GripVertical, Pencil, Trash2, Ungroup } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { duplicateGroup, membersOf, renameGroup, ungroup, updateGroup } from '../../../core/rig/edits/groups';
import { deleteLayer } from '../../../core/rig/edits/layers';
import type { Group, Patch } from '../../../core/rig/schema';
import { gainGrid } from '../../sound/gains';
import { FIRST_KEY, LAST_KEY, type KeyScale } from '../../parts/keyScale';
import { isHere } from '../../parts/isHere';
import { textScale } from '../../parts/textScale';
import { colourOf, Mark } from '../../parts/Mark';
import { NameField, useRenaming } from '../../parts/NameField';
import { TargetStrip } from '../../parts/TargetStrip';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { editPatch, newId, told, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { listeningSlice } from '../../listening/listeningSlice';
import { useLaneStop } from './useLaneStop';

const KEYS = Array.from({ length: LAST_KEY - FIRST_KEY + 1 }, (_, n) => FIRST_KEY + n);

/** A group: its strip, and its members as bands over the keys; folded it stands for them. */
export function GroupLane({
  patch,
  group,
  scale,
  selected,
  height,
}: {
  patch: Patch;
  group: Group;
  scale: KeyScale;
  selected: boolean;
  height: number;
}) {
  const dispatch = useAppDispatch();
  const soloed = useAppSelector((state) => state.listening.soloed);
  const renaming = useRenaming();
  useRefresh(session);
  useRefresh(session.hands);
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: `group:${group.id}`,
  });
  const members = membersOf(patch, group.id);
  const ids = members.map(({ id }) => id);
  const solo = ids.every((id) => soloed.includes(id));
  const { id } = group;
  const { lane, stop } = useLaneStop(() => {
    if (!selected) dispatch(choosingSlice.actions.groupSelected(id));
  });
  const step = Math.min(14, (height - 8) / members.length);
  return (
    <section
      ref={(node) => {
        setNodeRef(node);
        lane.current = node;
      }}
      {...stop}
      aria-label={`Group ${group.name}`}
      style={{ transform: CSS.Translate.toString(transform), transition, opacity: isDragging ? 0.7 : 1 }}
      aria-current={selected || undefined}
      className={`relative grid grid-cols-[var(--left)_minmax(0,1fr)_44px] border-b border-line focus-visible:outline-offset-[-3px] ${selected ? 'bg-sheet' : ''}`}
      onPointerDownCapture={(event) => {
        if (isHere(event)) dispatch(choosingSlice.actions.groupSelected(id));
      }}
    >
      <div
        className="flex min-w-0 flex-col justify-center gap-0.5 border-r border-line pr-2.5 pl-1"
        style={{ boxShadow: `inset 3px 0 0 ${colourOf(group.mark)}` }}
      >
        <div className="flex items-center gap-0.5">
          <button
            ref={setActivatorNodeRef}
            {...attributes}
            {...listeners}
            className="button-bare min-w-4! cursor-grab touch-none text-faint"
            aria-label={`Move ${group.name} up or down`}
          >
            <GripVertical size={13} />
          </button>
          <button
            className="button-bare min-w-5! h-5!"
            aria-expanded={!group.folded}
            aria-label={`${group.folded ? 'Unfold' : 'Fold'} ${group.name}`}
            onClick={() =>
              dispatch(
                editPatch(patch.id, (old) => updateGroup(old, id, (each) => ({ ...each, folded: !each.folded }))),
              )
            }
          >
            {group.folded ? <ChevronRight size={14} /> : <ChevronDown size={14} />}
          </button>
          {renaming.renaming ? (
            <NameField
              label="Name of the group"
              name={group.name}
              className="ml-1 min-w-0 flex-1 font-bold"
              onName={(name) => dispatch(editPatch(patch.id, (old) => renameGroup(old, id, name)))}
              onEnd={renaming.end}
            />
          ) : (
            <h2
              dir="auto"
              className={`ml-0.5 flex-1 truncate text-[14px] font-bold ${group.on ? '' : 'text-faint'}`}
              onDoubleClick={renaming.begin}
              title={`${group.name}: ${members.map(({ name }) => name).join(', ')}`}
            >
              {group.name} <span className="text-[12px] font-normal text-faint">{members.length}</span>
            </h2>
          )}
          <button
            className="button size-[22px] justify-center p-0! text-[11px]"
            aria-pressed={solo}
            aria-label={`Solo ${group.name}`}
            title="Solo"
            onClick={() => dispatch(listeningSlice.actions.soloSet({ ids, on: !solo }))}
          >
            S
          </button>
          <button
            className="button size-[22px] justify-center p-0! text-[11px]"
            aria-pressed={!group.on}
            aria-label={`Mute ${group.name}`}
            title="Mute"
            onClick={() =>
              dispatch(editPatch(patch.id, (old) => updateGroup(old, id, (each) => ({ ...each, on: !each.on }))))
            }
          >
            M
          </button>
          <DropdownMenu.Root>
            <DropdownMenu.Trigger className="button-bare min-w-5!" aria-label={`More for ${group.name}`}>
              <EllipsisVertical size={14} />
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content align="end" className="panel p-1.5!" onCloseAutoFocus={renaming.onCloseAutoFocus}>
                <DropdownMenu.Item className="menu-item" onSelect={renaming.beginAfterMenu}>
                  <Pencil size={14} /> Rename …
                </DropdownMenu.Item>
                <DropdownMenu.Item
                  className="menu-item"
                  onSelect={() => dispatch(editPatch(patch.id, (old) => duplicateGroup(old, id, newId)))}
                >
                  <Copy size={14} /> Duplicate
                </DropdownMenu.Item>
                <DropdownMenu.Item
                  className="menu-item"
                  onSelect={() => {
                    dispatch(editPatch(patch.id, (old) => ungroup(old, id)));
                    dispatch(told(`The group “${group.name}” is dissolved; its layers stay.`));
                  }}
                >
                  <Ungroup size={14} /> Dissolve
                </DropdownMenu.Item>
                <DropdownMenu.Item
                  className="menu-item"
                  onSelect={() => {
                    dispatch(editPatch(patch.id, (old) => ids.reduce(deleteLayer, old)));
                    dispatch(told(`The group “${group.name}” is gone, with its layers.`));
                  }}
                >
                  <Trash2 size={14} /> Delete with its layers
                </DropdownMenu.Item>
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
        </div>
        {height >= 48 * textScale() && (
          <div className="pl-5">
            <TargetStrip patch={patch} target={`group.${id}.level`} colour={colourOf(group.mark)} />
          </div>
        )}
      </div>
      <svg
        width={scale.width}
        height={height}
        role="img"
        aria-label={`Where the members of ${group.name} sound`}
        className="block"
      >
        {members.map((layer, i) =>
          [...gainGrid(layer.id, KEYS, [96])].map((gain, n) =>
            gain > 0.001 ? (
              <rect
                key={`${layer.id} ${n}`}
                x={scale.left(FIRST_KEY + n)}
                width={scale.keyWidth + 0.4}
                y={(height - step * members.length) / 2 + i * step + 1}
                height={Math.max(1, step - 2)}
                fill={colourOf(layer.mark)}
                opacity={(layer.on && group.on ? 1 : 0.35) * (0.2 + 0.7 * gain)}
              />
            ) : null,
          ),
        )}
      </svg>
      <div className="grid content-center justify-items-center gap-0.5 border-l border-line">
        {members
          .slice(0, 8)
          .map((layer) => height >= 48 && <Mark key={layer.id} mark={layer.mark} />)
          .slice(0, 3)}
      </div>
    </section>
  );
}
