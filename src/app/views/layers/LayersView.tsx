import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { createPortal } from 'react-dom';
import { useOutletContext, useParams } from 'react-router';
import { useMemo, useState } from 'react';
import { addLayer, moveLayer } from '../../../core/rig/edits/layers';
import { ActMenu } from '../../parts/ActMenu';
import { keyScaleOf, useWidth } from '../../parts/keyScale';
import { editPatch, newId, selectedLayerOf, selectPatch, useAppDispatch, useAppSelector } from '../../state/store';
import { uiSlice } from '../../state/uiSlice';
import { Actions } from './Actions';
import { axesOf } from '../../gains';
import { labelIn } from '../../../core/rig/moves';
import { Field } from './Field';
import { Plane } from './Plane';
import { Inspector } from './Inspector';
import { Lane } from './Lane';
import { MacroStrips } from './MacroStrips';

/** Heights of lanes; where there are many, they are lower. */
const MANY_LAYERS = 4;
const HIGH_LANE = 80, LOW_LANE = 54;

/** Who sounds where: a lane for each layer over the keys, and below them the field of keys and velocities. */
export function LayersView() {
  const { patchId } = useParams();
  const patch = useAppSelector((state) => selectPatch(state, patchId))!;
  const sounds = useAppSelector((state) => state.rig.rig!.sounds);
  const selectedId = useAppSelector((state) => state.ui.selectedLayerId);
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const dispatch = useAppDispatch();
  // The place for a view's own actions in the bar at the foot, once it is there.
  const foot = useOutletContext<HTMLDivElement | null>();
  const selected = selectedLayerOf(patch, selectedId);
  const [mapRef, width] = useWidth<HTMLDivElement>();
  const scale = useMemo(() => keyScaleOf(width), [width]);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }), useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }));
  const [wanted, setAxes] = useState({ x: 'key', y: 'velocity', cut: false });
  // What an axis stood for may be gone, or belong to another patch.
  const known = axesOf(patch);
  const axes = known.some(({ id }) => id === wanted.x) && known.some(({ id }) => id === wanted.y) ? wanted : { x: 'key', y: 'velocity', cut: wanted.cut };
  const plain = axes.x === 'key' && axes.y === 'velocity' && !axes.cut;
  const add = (soundId: string) => {
    const id = newId();
    const sound = sounds.find((candidate) => candidate.id === soundId)!;
    dispatch(editPatch(patch.id, (old) => addLayer(old, id, sound.name, soundId)));
    dispatch(uiSlice.actions.layerSelected(id));
  };

  return (
    <fieldset disabled={readOnly} className="grid h-full min-w-0 grid-cols-[minmax(0,1fr)_calc(var(--right)-44px)]">
      <div className="grid min-h-0 grid-rows-[fit-content(calc(100%-128px))_minmax(128px,1fr)]">
        <div className="layer-rows min-h-0 overflow-y-auto border-b-[1.5px] border-ink [scrollbar-width:thin]">
          {/* Nothing but this line measures the width of the map, which is the width of the keyboard. */}
          <div className="grid grid-cols-[var(--left)_minmax(0,1fr)_44px]"><div /><div ref={mapRef} /><div /></div>
          <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={({ active, over }) => {
            if (over && over.id !== active.id) dispatch(editPatch(patch.id, (old) => moveLayer(old, String(active.id), old.layers.findIndex((layer) => layer.id === over.id))));
          }}>
            <SortableContext items={patch.layers.map((layer) => layer.id)} strategy={verticalListSortingStrategy}>
              {width > 0 && patch.layers.map((layer) => <Lane key={layer.id} patch={patch} layer={layer} scale={scale} selected={layer === selected} height={patch.layers.length > MANY_LAYERS ? LOW_LANE : HIGH_LANE} />)}
            </SortableContext>
          </DndContext>
          {patch.layers.length === 0 && (
            <div className="p-6 text-center">
              <p className="mb-2 font-bold">This patch has no layer yet.</p>
              <p className="text-faint">Choose a sound of the rig below: it comes in on all keys and velocities, and you take away from there.</p>
            </div>
          )}
        </div>
        <div className="grid min-h-0 grid-cols-[var(--left)_minmax(0,1fr)_44px]">
          <aside aria-label="Layers and macros" className="flex min-h-0 flex-col gap-3 overflow-y-auto border-r border-line p-3">
            <ActMenu label="+ layer from …" title="Add a layer" className="self-start" items={sounds.map((sound) => [sound.id, sound.name] as const)} onChoose={add} />
            <MacroStrips patch={patch} />
            <div className="mt-auto">
              <h2 className="heading">Field: {plain ? 'keys × velocities' : `${labelIn(patch, axes.x)} × ${labelIn(patch, axes.y)}`}</h2>
              <div className="my-1 flex items-center gap-1">
                {(['x', 'y'] as const).map((axis) => <select key={axis} className="field min-w-0 flex-1 text-[12px]" aria-label={axis === 'x' ? 'From left to right' : 'From bottom to top'} value={axes[axis]} onChange={(event) => setAxes({ ...axes, [axis]: event.target.value })}>{axesOf(patch).filter(({ id }) => id !== axes[axis === 'x' ? 'y' : 'x']).map(({ id, label }) => <option key={id} value={id}>{label}</option>)}</select>)}
                <button className="button px-2! py-0! text-[12px]" aria-pressed={axes.cut} title="A cut through the field as lines in dB, with the sum" onClick={() => setAxes({ ...axes, cut: !axes.cut })}>cut</button>
              </div>
              <p className="text-[12px] text-faint">Lines at −3, −6, −9 and −15 dB of the windows’ gain.{plain ? ' Dots: the last strikes.' : ''}</p>
            </div>
          </aside>
          {width > 0 && (plain ? <Field patch={patch} scale={scale} /> : <Plane patch={patch} x={axes.x} y={axes.y} />)}
        </div>
      </div>
      {selected ? <Inspector key={selected.id} patch={patch} layer={selected} /> : <aside aria-label="Layer" className="border-l border-line p-4 text-faint">No layer is chosen.</aside>}
      {foot && createPortal(<Actions patch={patch} />, foot)}
    </fieldset>
  );
}
