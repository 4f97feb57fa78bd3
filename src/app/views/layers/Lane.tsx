import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Copy, EllipsisVertical, Grid2x2, GripVertical, Group, Pencil, Trash2, Ungroup } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { memo, useEffect, type PointerEvent as ReactPointerEvent } from 'react';
import { kitOf } from '../../../core/rig/edits/kit';
import { groupLayers, moveToGroup } from '../../../core/rig/edits/groups';
import { deleteLayer, duplicateLayer, renameLayer, updateLayer } from '../../../core/rig/edits/layers';
import { setWindow } from '../../../core/rig/edits/windows';
import { windowOn } from '../../../core/rig/defaults';
import type { Layer, LayerWindow, Patch } from '../../../core/rig/schema';
import type { KeyScale } from '../../parts/keyScale';
import { isHere } from '../../parts/isHere';
import { colourOf, Mark } from '../../parts/Mark';
import { NameField, useRenaming } from '../../parts/NameField';
import { mayTake, taken } from '../../document/carrying';
import { chooseLayer, pointingOf } from '../../hands/choosing';
import { point, pointedNow, usePointed } from '../../parts/pointed';
import { TargetStrip } from '../../parts/TargetStrip';
import { putThere } from '../../document/putting';
import { editPatch, newId, notice, store, told, useAppDispatch, useAppSelector } from '../../document/store';
import { rigSlice } from '../../document/rigSlice';
import { choosingSlice } from '../../hands/choosingSlice';
import { listeningSlice } from '../../listening/listeningSlice';
import { nameOfKey } from '../../../core/music/noteNames';
import { neighbourLeft } from './neighbours';
import { describeLayer } from './describe';
import { Shore } from './Shore';
import { useLaneStop } from './useLaneStop';
import { textScale } from '../../parts/textScale';
import { MARK_COLOURS, MARK_SHAPES } from '../../../core/rig/limits';

/** From this height on there is room to say where the layer sounds. */
const ROOMY = 76;
/** And from this one for the strip of its level. */
const STRIP_FITS = 48;

interface Props {
  patch: Patch;
  layer: Layer;
  scale: KeyScale;
  selected: boolean;
  height: number;
}

type Sortable = ReturnType<typeof useSortable>;
/** What a lane has of being one of a sorted list. */
interface Sorted extends Pick<
  Sortable,
  'attributes' | 'listeners' | 'setNodeRef' | 'setActivatorNodeRef' | 'transition' | 'isDragging'
> {
  transform: string | undefined;
}

/**
 * Whether a lane looks the same in another state of its patch: what other layers hold is not shown in it, and what it
 * needs of them when it is used it takes from the document.
 */
function looksAlike(before: Props & Sorted, now: Props & Sorted): boolean {
  const { patch: old, ...rest } = before;
  const { patch, ...others } = now;
  const isSame = <T extends object>(a: T, b: T, but?: keyof T) =>
    (Object.keys({ ...a, ...b }) as (keyof T)[]).every((key) => key === but || a[key] === b[key]);
  return (
    isSame(rest, others) &&
    (old === patch ||
      (isSame(old, patch, 'layers') &&
        old.layers.length === patch.layers.length &&
        old.layers.every(({ id }, i) => id === patch.layers[i].id)))
  );
}

/**
 * One layer: its strip at the left, its silhouette over the keys, its velocities at the edge. What is sorted is told of
 * every edit and of every movement of a drag; the lane itself is drawn anew only where it would look different.
 */
export function Lane(props: Props) {
  const sorted = useSortable({ id: props.layer.id });
  return (
    <Drawn
      {...props}
      attributes={sorted.attributes}
      listeners={sorted.listeners}
      setNodeRef={sorted.setNodeRef}
      setActivatorNodeRef={sorted.setActivatorNodeRef}
      transform={CSS.Translate.toString(sorted.transform)}
      transition={sorted.transition}
      isDragging={sorted.isDragging}
    />
  );
}

const Drawn = memo(LaneDrawn, looksAlike);

function LaneDrawn({
  patch,
  layer,
  scale,
  selected,
  height,
  attributes,
  listeners,
  setNodeRef,
  setActivatorNodeRef,
  transform,
  transition,
  isDragging,
}: Props & Sorted) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const soloed = useAppSelector((state) => state.listening.soloed);
  const renaming = useRenaming();
  const { id } = layer;
  const group = patch.groups.find((each) => each.id === layer.groupId);
  const sounds = useAppSelector((state) => state.rig.rig!.sounds);
  const change = (edit: (old: Layer) => Layer) => dispatch(editPatch(patch.id, (old) => updateLayer(old, id, edit)));
  const chosen = useAppSelector((state) => state.choosing.chosenLayerIds);
  const isChosen = chosen.includes(id);
  /** With Control one more or one less, with Shift (on the name, for edges are moved with it as well) all between. */
  const select = (event: ReactPointerEvent) => {
    if (!isHere(event)) return;
    const pointing = pointingOf(event);
    if (pointing === 'between' && !(event.target as HTMLElement).closest('h2, p')) return;
    // Its buttons and strips are for all that are chosen with it.
    const onControl = (event.target as HTMLElement).closest('button, input, [role="slider"]') !== null;
    if (pointing === 'alone' && isChosen && onControl) dispatch(choosingSlice.actions.layerSelected(id));
    else chooseLayer(patch, id, pointing);
  };
  const solo = soloed.includes(id);
  const hushed = !layer.on || (!solo && patch.layers.some((other) => soloed.includes(other.id)));
  const edges = (window: LayerWindow, gesture: string) =>
    dispatch(editPatch(patch.id, (old) => setWindow(old, id, window), gesture));
  const end = () => dispatch(rigSlice.actions.gestureEnded());
  /** A border that left its neighbour behind, or ran into it: offers to take it along. */
  const bordersMoved = (before: LayerWindow) => {
    const now = store.getState().rig.rig?.patches.find((candidate) => candidate.id === patch.id);
    const mine = now?.layers.find((candidate) => candidate.id === id);
    if (!now || !mine) return;
    const offer = neighbourLeft(now, mine, before);
    if (!offer) return;
    dispatch(
      notice(
        'info',
        `“${layer.name}” and “${offer.name}” met at ${nameOfKey(offer.border, middleC)}; now there is ${offer.gap > 0 ? 'a gap' : 'an overlap'} of ${Math.abs(offer.gap)} ${Math.abs(offer.gap) === 1 ? 'key' : 'keys'}.`,
        'neighbour',
        {
          label: `Take “${offer.name.slice(0, 30)}” along`,
          run: () => store.dispatch(editPatch(patch.id, (old) => setWindow(old, offer.id, offer.window))),
        },
      ),
    );
  };
  // One that has just come, or was chosen by key, is brought into view.
  const { lane, stop } = useLaneStop(() => {
    if (!selected && !isChosen) dispatch(choosingSlice.actions.layerSelected(id));
  });
  useEffect(() => {
    if (selected) lane.current?.scrollIntoView({ block: 'nearest' });
  }, [selected, lane]);

  return (
    <section
      ref={(node) => {
        setNodeRef(node);
        lane.current = node;
      }}
      aria-label={`Layer ${layer.name}`}
      style={{ transform, transition, opacity: isDragging ? 0.7 : 1 }}
      {...stop}
      className={`relative grid grid-cols-[var(--left)_minmax(0,1fr)_44px] border-b border-dashed focus-visible:outline-offset-[-3px] border-line last:border-b-0 ${selected || isChosen ? 'bg-sheet' : ''}`}
      aria-current={selected || undefined}
      data-chosen={isChosen || undefined}
      onPointerDownCapture={select}
      onDragOver={mayTake}
      onDrop={(event) => {
        const thing = taken(event);
        if (thing) putThere(thing, { to: 'layer', patchId: patch.id, layerId: id }, `plays in “${layer.name}” now`);
      }}
    >
      <div
        className={`flex min-w-0 flex-col justify-center gap-0.5 border-r border-line pr-2.5 ${layer.groupId ? 'pl-4' : 'pl-1'}`}
        style={{
          boxShadow:
            [
              ...(selected || isChosen ? [`inset 3px 0 0 ${colourOf(layer.mark)}`] : []),
              ...(group
                ? [
                    `inset ${selected || isChosen ? 9 : 6}px 0 0 var(--paper)`,
                    `inset ${selected || isChosen ? 12 : 9}px 0 0 color-mix(in srgb, ${colourOf(group.mark)} 55%, transparent)`,
                  ]
                : []),
            ].join(', ') || undefined,
        }}
      >
        <div className="flex items-center gap-1">
          <button
            ref={setActivatorNodeRef}
            {...attributes}
            {...listeners}
            className="button-bare min-w-4! cursor-grab touch-none text-faint"
            aria-label={`Move ${layer.name} up or down`}
          >
            <GripVertical size={13} />
          </button>
          <Mark mark={layer.mark} />
          {renaming.renaming ? (
            <NameField
              label="Name of the layer"
              name={layer.name}
              className="ml-1 min-w-0 flex-1 font-bold"
              onName={(name) => dispatch(editPatch(patch.id, (old) => renameLayer(old, id, name)))}
              onEnd={renaming.end}
            />
          ) : (
            <h2
              dir="auto"
              className={`ml-1 flex-1 truncate text-[14px] font-bold ${hushed ? 'text-faint' : ''}`}
              onDoubleClick={renaming.begin}
              title={`${layer.name}: ${describeLayer(patch, layer, middleC)} (double-click to rename)`}
            >
              {layer.name}
            </h2>
          )}
          <button
            className="button size-[22px] justify-center p-0! text-[11px]"
            aria-pressed={solo}
            aria-label={`Solo ${layer.name}`}
            title="Solo (S)"
            onClick={() => dispatch(listeningSlice.actions.soloToggled(id))}
          >
            S
          </button>
          <button
            className="button size-[22px] justify-center p-0! text-[11px]"
            aria-pressed={!layer.on}
            aria-label={`Mute ${layer.name}`}
            title="Mute (M)"
            onClick={() => change((old) => ({ ...old, on: !old.on }))}
          >
            M
          </button>
          <LaneMenu
            patch={patch}
            layer={layer}
            renaming={renaming}
            onGroup={(groupId) =>
              dispatch(
                editPatch(patch.id, (old) =>
                  groupId === 'pads'
                    ? kitOf(
                        old,
                        id,
                        sounds.find((each) => each.id === layer.soundId)!,
                        (key) => nameOfKey(key, middleC),
                        newId,
                      )
                    : groupId === 'new'
                      ? groupLayers(old, isChosen ? chosen : [id], newId(), `Group ${old.groups.length + 1}`)
                      : moveToGroup(old, id, groupId),
                ),
              )
            }
            onDuplicate={() => dispatch(editPatch(patch.id, (old) => duplicateLayer(old, id, newId())))}
            onDelete={() => {
              dispatch(editPatch(patch.id, (old) => deleteLayer(old, id)));
              dispatch(told(`The layer “${layer.name}” is gone.`));
            }}
            onMark={(mark) => change((old) => ({ ...old, mark: { ...old.mark, ...mark } }))}
          />
        </div>
        {height >= ROOMY * textScale() && (
          <p className="truncate pl-5 text-[12px] text-faint">{describeLayer(patch, layer, middleC)}</p>
        )}
        {height >= STRIP_FITS * textScale() && (
          <div className="pl-5">
            <TargetStrip patch={patch} target={`layer.${id}.level`} colour={colourOf(layer.mark)} />
          </div>
        )}
      </div>
      <div
        className="relative"
        onPointerMove={(event) => {
          const { left } = event.currentTarget.getBoundingClientRect();
          point({
            key: Math.min(127, Math.max(0, Math.floor(scale.keyAt(event.clientX - left)))),
            velocity: pointedNow()?.velocity ?? 100,
          });
        }}
        onPointerLeave={() => point(null)}
      >
        <Shore
          layer={layer}
          source="key"
          length={scale.width}
          depth={height}
          scale={scale}
          window={windowOn(layer, 'key')!}
          faded={hushed}
          selected={selected}
          onChange={edges}
          onEnd={end}
          onMoved={bordersMoved}
        />
        <PointedLine scale={scale} />
      </div>
      <div className="border-l border-line" title="Velocities: soft at the bottom, hard at the top">
        <Shore
          layer={layer}
          source="velocity"
          length={height}
          depth={44}
          window={windowOn(layer, 'velocity')!}
          faded={hushed}
          selected={selected}
          onChange={edges}
          onEnd={end}
        />
      </div>
    </section>
  );
}

/** The key that is pointed at, in whichever lane or map. */
function PointedLine({ scale }: { scale: KeyScale }) {
  const pointed = usePointed();
  return (
    pointed && (
      <div
        className="pointer-events-none absolute inset-y-0 border-l border-dotted border-ink"
        style={{ left: scale.middle(pointed.key) }}
      />
    )
  );
}

interface MenuProps {
  patch: Patch;
  onGroup: (groupId: string | null) => void;
  layer: Layer;
  renaming: ReturnType<typeof useRenaming>;
  onDuplicate: () => void;
  onDelete: () => void;
  onMark: (mark: Partial<Layer['mark']>) => void;
}

function LaneMenu({ patch, layer, renaming, onGroup, onDuplicate, onDelete, onMark }: MenuProps) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="button-bare min-w-5!" aria-label={`More for ${layer.name}`}>
        <EllipsisVertical size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="panel p-1.5!" onCloseAutoFocus={renaming.onCloseAutoFocus}>
          <DropdownMenu.Item className="menu-item" onSelect={renaming.beginAfterMenu}>
            <Pencil size={14} /> Rename …
          </DropdownMenu.Item>
          <DropdownMenu.Item className="menu-item" onSelect={onDuplicate}>
            <Copy size={14} /> Duplicate
          </DropdownMenu.Item>
          <DropdownMenu.Item className="menu-item" onSelect={onDelete}>
            <Trash2 size={14} /> Delete
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Item className="menu-item" onSelect={() => onGroup('new')}>
            <Group size={14} /> New group
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className="menu-item"
            title="A group for each key on which its sound has something"
            onSelect={() => onGroup('pads')}
          >
            <Grid2x2 size={14} /> Pads of its sound
          </DropdownMenu.Item>
          {patch.groups
            .filter(({ id }) => id !== layer.groupId)
            .map((group) => (
              <DropdownMenu.Item key={group.id} className="menu-item" onSelect={() => onGroup(group.id)}>
                <Mark mark={group.mark} /> Into “{group.name}”
              </DropdownMenu.Item>
            ))}
          {layer.groupId !== null && (
            <DropdownMenu.Item className="menu-item" onSelect={() => onGroup(null)}>
              <Ungroup size={14} /> Out of its group
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Label className="heading px-2">Mark</DropdownMenu.Label>
          <div className="grid grid-cols-8">
            {MARK_COLOURS.map((colour) => (
              <DropdownMenu.Item
                key={colour}
                aria-label={colour}
                title={colour}
                className="menu-item p-1.5!"
                onSelect={(event) => {
                  event.preventDefault();
                  onMark({ colour });
                }}
              >
                <Mark mark={{ ...layer.mark, colour }} />
              </DropdownMenu.Item>
            ))}
            {MARK_SHAPES.map((shape) => (
              <DropdownMenu.Item
                key={shape}
                aria-label={shape}
                title={shape}
                className="menu-item p-1.5!"
                onSelect={(event) => {
                  event.preventDefault();
                  onMark({ shape });
                }}
              >
                <Mark mark={{ ...layer.mark, shape }} />
              </DropdownMenu.Item>
            ))}
          </div>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
