import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { createPortal } from 'react-dom';
import { useOutletContext, useParams } from 'react-router';
import { useMemo, useRef, useState } from 'react';
import { moveGroup } from '../../../core/rig/edits/groups';
import type { Group, Patch } from '../../../core/rig/schema';
import { addLayerOf, moveLayer } from '../../../core/rig/edits/layers';
import { ActMenu } from '../../parts/ActMenu';
import { keyScaleOf, useWidth } from '../../parts/keyScale';
import { editPatch, newId, selectedLayerOf, selectPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { choosingSlice } from '../../hands/choosingSlice';
import { layersSlice, type LaneSize } from './layersSlice';
import { GroupInspector } from './GroupInspector';
import { GroupLane } from './GroupLane';
import { Actions } from './Actions';
import { axesOf } from '../../sound/gains';
import { labelIn } from '../../../core/rig/moves';
import { Field } from './Field';
import { Plane } from './Plane';
import { textScale } from '../../parts/textScale';
import { padsOf } from '../../../core/rig/edits/kit';
import { Inspector } from './Inspector';
import { Kit } from './Kit';
import { Lane } from './Lane';
import { MacroStrips } from './MacroStrips';

/** Heights of lanes; where there are many, they are lower. */
const MANY_LAYERS = 4;
/** Fingers want strips that are higher. */
const FINGERS = matchMedia('(pointer: coarse)').matches ? 22 : 0;
const HIGH_LANE = 80 + FINGERS,
  LOW_LANE = 54 + FINGERS;

/** With more rows than this, lanes begin thin. */
const CROWDED = 12,
  THIN_LANE = 30;

interface RowOf {
  id: string;
  layer?: Patch['layers'][number];
  group?: Group;
}

/** The lanes from the top: groups before their members, which a folded group stands for. */
function rowsOf(patch: Patch): RowOf[] {
  const seen = new Set<string>();
  return patch.layers.flatMap((layer): RowOf[] => {
    const group = patch.groups.find(({ id }) => id === layer.groupId);
    const head: RowOf[] = group && !seen.has(group.id) ? [{ id: `group:${group.id}`, group }] : [];
    if (group) seen.add(group.id);
    return [...head, ...(group?.folded ? [] : [{ id: layer.id, layer }])];
  });
}

/** A row was dropped on another: a layer, or a whole group, goes there. */
function moveRow(patch: Patch, row: string, onto: string): Patch {
  const firstOf = (id: string) =>
    id.startsWith('group:')
      ? patch.layers.findIndex((layer) => layer.groupId === id.slice(6))
      : patch.layers.findIndex((layer) => layer.id === id);
  const to = firstOf(onto);
  if (!row.startsWith('group:')) return moveLayer(patch, row, to);
  const groupId = row.slice(6);
  const from = firstOf(row);
  const before = patch.layers.slice(0, to > from ? to + 1 : to).filter((layer) => layer.groupId !== groupId).length;
  return moveGroup(patch, groupId, before);
}

/** The line between lanes and field: dragged, or moved by arrow keys; a double click leaves it where things fit. */
function Border({ height }: { height: number | null }) {
  const dispatch = useAppDispatch();
  const from = useRef<{ y: number; height: number } | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const now = () => box.current!.parentElement!.clientHeight;
  const set = (wanted: number) =>
    dispatch(
      layersSlice.actions.fieldHeightSet(
        wanted < 70 ? 0 : Math.min(wanted, box.current!.parentElement!.parentElement!.clientHeight - 60),
      ),
    );
  return (
    <div
      ref={box}
      role="separator"
      aria-label="Between lanes and field"
      aria-orientation="horizontal"
      aria-valuenow={height ?? 50}
      aria-valuetext={height === null ? 'as it fits' : `${height} pixels of field`}
      tabIndex={0}
      title="Drag: more lanes or more field; double-click: as it fits"
      className="absolute inset-x-0 -top-[4px] z-10 h-[8px] pointer-coarse:-top-[14px] pointer-coarse:h-[28px] cursor-row-resize touch-none focus-visible:bg-indigo/30"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = { y: event.clientY, height: now() };
      }}
      onPointerMove={(event) => {
        if (from.current && Math.abs(event.clientY - from.current.y) > 2)
          set(from.current.height - (event.clientY - from.current.y));
      }}
      onPointerUp={() => {
        from.current = null;
      }}
      onPointerCancel={() => {
        from.current = null;
      }}
      onDoubleClick={() => dispatch(layersSlice.actions.fieldHeightSet(null))}
      onKeyDown={(event) => {
        const by = { ArrowUp: 24, ArrowDown: -24 }[event.key];
        if (by === undefined) return;
        set(now() + by);
        event.preventDefault();
        event.stopPropagation();
      }}
    />
  );
}

/** As they fit has no height of its own. */
const LANE_HEIGHTS: Partial<Record<LaneSize, number>> = { full: HIGH_LANE, compact: LOW_LANE, folded: THIN_LANE };
const heightThatFits = (rows: number): number =>
  rows > CROWDED ? THIN_LANE : rows > MANY_LAYERS ? LOW_LANE : HIGH_LANE;

const BY_POINTER = { activationConstraint: { distance: 5 } };
const BY_KEYBOARD = { coordinateGetter: sortableKeyboardCoordinates };

/** What is chosen among the sounds to see those of the store; no id of a sound has a space. */
const STORE = 'the store';

/** Who sounds where: a lane for each layer over the keys, and below them the field of keys and velocities. */
export function LayersView() {
  const { patchId } = useParams();
  const patch = useAppSelector((state) => selectPatch(state, patchId))!;
  const sounds = useAppSelector((state) => state.rig.rig!.sounds);
  const selectedId = useAppSelector((state) => state.choosing.selectedLayerId);
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const dispatch = useAppDispatch();
  // The place for a view's own actions in the bar at the foot, once it is there.
  const foot = useOutletContext<HTMLDivElement | null>();
  const selected = selectedLayerOf(patch, selectedId);
  const selectedGroupId = useAppSelector((state) => state.choosing.selectedGroupId);
  const selectedGroup = patch.groups.find(({ id }) => id === selectedGroupId);
  const lanes = useAppSelector((state) => state.layers.lanes);
  const fieldHeight = useAppSelector((state) => state.layers.fieldHeight);
  const rows = rowsOf(patch);
  // The same list as long as the rows are the same: each new one draws every lane anew.
  const order = rows.map(({ id }) => id).join(' ');
  const ids = useMemo(() => order.split(' '), [order]);
  const height = textScale() * (LANE_HEIGHTS[lanes] ?? heightThatFits(rows.length));
  const away = fieldHeight === 0;
  // A patch of pads shows them, unless it is asked for the field.
  const [kitWanted, setKitWanted] = useState<boolean | null>(null);
  const kit = kitWanted ?? padsOf(patch).length >= 4;
  const [mapRef, width] = useWidth<HTMLDivElement>();
  const scale = useMemo(() => keyScaleOf(width), [width]);
  const sensors = useSensors(useSensor(PointerSensor, BY_POINTER), useSensor(KeyboardSensor, BY_KEYBOARD));
  const [wanted, setAxes] = useState({ x: 'key', y: 'velocity', cut: false });
  // What an axis stood for may be gone, or belong to another patch.
  const known = axesOf(patch);
  const axes =
    known.some(({ id }) => id === wanted.x) && known.some(({ id }) => id === wanted.y)
      ? wanted
      : { x: 'key', y: 'velocity', cut: wanted.cut };
  const plain = axes.x === 'key' && axes.y === 'velocity' && !axes.cut;
  const add = (soundId: string) => {
    if (soundId === STORE) return void dispatch(deskSlice.actions.sheetOpened('store'));
    const id = newId();
    const sound = sounds.find((candidate) => candidate.id === soundId)!;
    dispatch(editPatch(patch.id, (old) => addLayerOf(old, id, sound)));
    dispatch(choosingSlice.actions.layerSelected(id));
  };

  return (
    <fieldset disabled={readOnly} className="grid h-full min-w-0 grid-cols-[minmax(0,1fr)_calc(var(--right)-44px)]">
      <div
        className="relative grid min-h-0"
        style={{
          gridTemplateRows:
            fieldHeight === null
              ? 'fit-content(calc(100% - 8rem)) minmax(8rem, 1fr)'
              : `minmax(0, 1fr) ${away ? 40 : fieldHeight}px`,
        }}
      >
        <div className="layer-rows min-h-0 overflow-y-auto border-b-[1.5px] border-ink [scrollbar-width:thin]">
          {/* Nothing but this line measures the width of the map, which is the width of the keyboard. */}
          <div className="grid grid-cols-[var(--left)_minmax(0,1fr)_44px]">
            <div />
            <div ref={mapRef} />
            <div />
          </div>
          <DndContext
            sensors={sensors}
            collisionDetection={closestCenter}
            onDragEnd={({ active, over }) => {
              if (over && over.id !== active.id)
                dispatch(editPatch(patch.id, (old) => moveRow(old, String(active.id), String(over.id))));
            }}
          >
            <SortableContext items={ids} strategy={verticalListSortingStrategy}>
              {width > 0 &&
                rows.map(({ id, layer, group }) =>
                  group ? (
                    <GroupLane
                      key={id}
                      patch={patch}
                      group={group}
                      scale={scale}
                      selected={group.id === selectedGroupId}
                      height={Math.min(height, LOW_LANE * textScale())}
                    />
                  ) : (
                    <Lane
                      key={id}
                      patch={patch}
                      layer={layer!}
                      scale={scale}
                      selected={layer === selected && !selectedGroup}
                      height={height}
                    />
                  ),
                )}
            </SortableContext>
          </DndContext>
          {patch.layers.length === 0 && (
            <div className="p-6 text-center">
              <p className="mb-2 font-bold">This patch has no layer yet.</p>
              <p className="text-faint">
                Choose a sound of the rig below: it comes in on all keys and velocities, and you take away from there.
              </p>
            </div>
          )}
        </div>
        <div className="relative grid min-h-0 grid-cols-[var(--left)_minmax(0,1fr)_44px]">
          <Border height={fieldHeight} />
          <aside
            aria-label="Layers and macros"
            className="flex min-h-0 flex-col gap-3 overflow-y-auto border-r border-line p-3"
          >
            <div className="flex flex-wrap items-center gap-1.5">
              <ActMenu
                label="+ layer from …"
                title="Add a layer"
                items={[[STORE, 'the store …'] as const, ...sounds.map((sound) => [sound.id, sound.name] as const)]}
                onChoose={add}
              />
              <ActMenu
                label="lanes"
                title="How high the lanes are, and whether the field is shown"
                items={[
                  ['auto', 'lanes as they fit'],
                  ['full', 'full lanes'],
                  ['compact', 'compact lanes'],
                  ['folded', 'thin lanes'],
                  away ? ['field', 'show the field'] : ['away', 'put the field away'],
                  kit ? ['map', 'field instead of pads'] : ['kit', 'pads instead of the field'],
                ]}
                onChoose={(what) =>
                  what === 'kit' || what === 'map'
                    ? setKitWanted(what === 'kit')
                    : dispatch(
                        what === 'field'
                          ? layersSlice.actions.fieldHeightSet(null)
                          : what === 'away'
                            ? layersSlice.actions.fieldHeightSet(0)
                            : layersSlice.actions.lanesSet(what as LaneSize),
                      )
                }
              />
            </div>
            <MacroStrips patch={patch} />
            <div className="mt-auto">
              <h2 className="heading">
                Field: {plain ? 'keys × velocities' : `${labelIn(patch, axes.x)} × ${labelIn(patch, axes.y)}`}
              </h2>
              <div className="my-1 flex items-center gap-1">
                {(['x', 'y'] as const).map((axis) => (
                  <select
                    key={axis}
                    className="field min-w-0 flex-1 text-[12px]"
                    aria-label={axis === 'x' ? 'From left to right' : 'From bottom to top'}
                    value={axes[axis]}
                    onChange={(event) => setAxes({ ...axes, [axis]: event.target.value })}
                  >
                    {axesOf(patch)
                      .filter(({ id }) => id !== axes[axis === 'x' ? 'y' : 'x'])
                      .map(({ id, label }) => (
                        <option key={id} value={id}>
                          {label}
                        </option>
                      ))}
                  </select>
                ))}
                <button
                  className="button px-2! py-0! text-[12px]"
                  aria-pressed={axes.cut}
                  title="A cut through the field as lines in dB, with the sum"
                  onClick={() => setAxes({ ...axes, cut: !axes.cut })}
                >
                  cut
                </button>
              </div>
              <p className="text-[12px] text-faint" title="Lines at −3, −6, −9 and −15 dB of the windows’ gain">
                Each layer hatches its own way, denser where louder; the wash is the loudest’s.
                {plain ? ' Dots: the last strikes.' : ''}
              </p>
            </div>
          </aside>
          {width > 0 &&
            !away &&
            (kit ? (
              <Kit patch={patch} />
            ) : plain ? (
              <Field patch={patch} scale={scale} />
            ) : (
              <Plane patch={patch} x={axes.x} y={axes.y} />
            ))}
        </div>
      </div>
      {selectedGroup ? (
        <GroupInspector key={selectedGroup.id} patch={patch} group={selectedGroup} />
      ) : selected ? (
        <Inspector key={selected.id} patch={patch} layer={selected} />
      ) : (
        <aside aria-label="Layer" className="border-l border-line p-4 text-faint">
          No layer is chosen.
        </aside>
      )}
      {foot && createPortal(<Actions patch={patch} />, foot)}
    </fieldset>
  );
}
