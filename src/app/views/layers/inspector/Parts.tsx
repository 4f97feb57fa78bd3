import { labelIn } from '../../../../core/rig/moves';
import { Minus, Plus, X } from 'lucide-react';
import { useState } from 'react';
import { COMB_FORWARD } from '../../../../core/space/filterKinds';
import { paramOf } from '../../../../core/rig/defaults';
import { MOST_TRANSPOSE, updateLayer } from '../../../../core/rig/edits/layers';
import { deleteRoute, putVibratoOnWheel, setList } from '../../../../core/rig/edits/moves';
import { parseTarget } from '../../../../core/rig/parameters';
import type { Layer, Patch, Sound } from '../../../../core/rig/schema';
import type { SourceId } from '../../../../core/space/source';
import { colourOf } from '../../../parts/Mark';
import { sourceName } from '../../../parts/moved';
import { signed, TargetStrip } from '../../../parts/TargetStrip';
import { ActMenu } from '../../../parts/ActMenu';
import { Part } from '../../../parts/Part';
import { TypedField } from '../../../parts/TypedField';
import { editPatch, useAppDispatch } from '../../../document/store';
import { NumberField } from '../../../parts/NumberField';
import { FilterPicture } from './FilterPicture';
import { AFTER_FILTERS, FILTERS } from './parts';
import type { StripOf } from './strips';
import { TouchPicture } from './TouchPicture';

export function Filters({
  patch,
  layer,
  colour,
  strip,
}: {
  patch: Patch;
  layer: Layer;
  colour: string;
  strip: StripOf;
}) {
  const [which, setWhich] = useState(0);
  const isComb = (id: 'filterKind' | 'filter2Kind') => paramOf(layer, id) >= COMB_FORWARD;
  return (
    <>
      <FilterPicture patch={patch} layer={layer} colour={colour} />
      <div className="flex gap-1" role="group" aria-label="Which filter">
        {['first filter', 'second filter'].map((name, i) => (
          <button
            key={name}
            className="button flex-1 justify-center px-2! py-0.5! text-[12px]"
            aria-pressed={which === i}
            onClick={() => setWhich(i)}
          >
            {name}
          </button>
        ))}
      </div>
      <Part title={which === 0 ? 'First filter' : 'Second filter'}>
        {FILTERS[which].map(([id, label]) =>
          strip(id, id === 'cutoff' && paramOf(layer, 'filterKind') > 2 ? 'cutoff' : label),
        )}
      </Part>
      <Part title="Both, and after them">
        {AFTER_FILTERS.filter((id) => id !== 'combDamping' || isComb('filterKind') || isComb('filter2Kind')).map((id) =>
          strip(id),
        )}
      </Part>
    </>
  );
}

export function Touch({ patch, layer, colour, strip }: { patch: Patch; layer: Layer; colour: string; strip: StripOf }) {
  const dispatch = useAppDispatch();
  const put = (touch: Partial<Layer['touch']>) =>
    dispatch(
      editPatch(patch.id, (old) =>
        updateLayer(old, layer.id, (each) => ({ ...each, touch: { ...each.touch, ...touch } })),
      ),
    );
  const { outLow, outHigh, fixed } = layer.touch;
  return (
    <>
      <Part title="How hard it feels a strike">
        <TouchPicture patch={patch} layer={layer} colour={colour} />
        {strip('touch', 'curve')}
        <div className="grid grid-cols-2 gap-1.5">
          <NumberField label="softest" value={outLow} low={1} high={127} onChange={(value) => put({ outLow: value })} />
          <NumberField
            label="hardest"
            value={outHigh}
            low={1}
            high={127}
            onChange={(value) => put({ outHigh: value })}
          />
        </div>
        <div className="flex items-center gap-1.5">
          <button
            className="button px-2! py-0.5! text-[12px]"
            aria-pressed={fixed !== null}
            onClick={() => put({ fixed: fixed === null ? 100 : null })}
          >
            always the same
          </button>
          {fixed !== null && (
            <NumberField
              label="velocity"
              value={fixed}
              low={1}
              high={127}
              onChange={(value) => put({ fixed: value })}
            />
          )}
        </div>
      </Part>
      <Part title="What it moves">
        {(['velocityToLevel', 'velocityTrack', 'velocityTrack2'] as const).map((id) => strip(id))}
      </Part>
    </>
  );
}

export function MovedBy({ patch, layer }: { patch: Patch; layer: Layer }) {
  const routes = patch.routes.filter((route) => route.on && route.target.startsWith(`layer.${layer.id}.`));
  if (routes.length === 0) return null;
  return (
    <Part title="Moved by">
      <ul className="flex flex-col gap-0.5">
        {routes.map((route) => (
          <li key={route.id}>
            {sourceName(patch, route)} → {parseTarget(route.target)!.parameter.label} {signed(route.depth)}
          </li>
        ))}
      </ul>
    </Part>
  );
}

/**
 * Vibrato comes on the wheel with every new layer, as a route like any other: this says so, and takes it off or puts it
 * back.
 */
export function VibratoOnWheel({ patch, layer }: { patch: Patch; layer: Layer }) {
  const dispatch = useAppDispatch();
  const route = patch.routes.find(
    (candidate) => candidate.source === 'cc.1' && candidate.target === `layer.${layer.id}.vibratoDepth`,
  );
  return (
    <button
      className="button px-1.5! py-0! text-[11.5px]"
      aria-pressed={!!route}
      title="New layers have vibrato on the wheel, 30 cents at its end"
      onClick={() =>
        dispatch(editPatch(patch.id, (old) => (route ? deleteRoute(old, route.id) : putVibratoOnWheel(old, layer.id))))
      }
    >
      {route ? 'on the wheel' : 'not on the wheel'}
    </button>
  );
}

/** Sounds among which the layer chooses: at the strike, or crossfading along the list while it sounds. */
export function ListPart({ patch, layer, sounds }: { patch: Patch; layer: Layer; sounds: readonly Sound[] }) {
  const dispatch = useAppDispatch();
  const put = (list: readonly string[], morph?: boolean) =>
    dispatch(editPatch(patch.id, (old) => setList(old, layer.id, list, morph)));
  const listed = layer.list.length > 0 ? layer.list : [layer.soundId];
  const name = (id: string) => sounds.find((sound) => sound.id === id)?.name ?? 'a sound that is gone';
  const at = Math.min(listed.length - 1, Math.floor((paramOf(layer, 'choice') / 100) * listed.length));
  return (
    <Part title={layer.list.length > 0 ? `Chooses among ${layer.list.length}` : 'Choice'}>
      {layer.list.length > 0 && (
        <>
          <TargetStrip
            patch={patch}
            target={`layer.${layer.id}.choice`}
            colour={colourOf(layer.mark)}
            label={layer.showsName ? `choice: ${name(listed[at])}` : 'choice'}
          />
          <ul className="max-h-28 overflow-y-auto">
            {layer.list.map((id, i) => (
              <li key={i} className="flex items-center gap-1 text-[12px]">
                <span className="number w-5 text-faint">{i + 1}</span>
                <span dir="auto" className="min-w-0 flex-1 truncate">
                  {name(id)}
                </span>
                <button
                  className="button-bare h-5!"
                  aria-label={`Take ${name(id)} off the list`}
                  onClick={() => put(layer.list.filter((_, n) => n !== i))}
                >
                  <X size={12} />
                </button>
              </li>
            ))}
          </ul>
          <div className="flex flex-wrap gap-1">
            <button
              className="button px-2! py-0.5! text-[12px]"
              aria-pressed={layer.morph}
              disabled={layer.list.length > 8}
              title={
                layer.list.length > 8
                  ? 'Up to eight sounds can crossfade'
                  : 'The choice goes on while a note sounds, crossfading between neighbours of the list'
              }
              onClick={() => put(layer.list, !layer.morph)}
            >
              crossfades while sounding
            </button>
            <button
              className="button px-2! py-0.5! text-[12px]"
              aria-pressed={layer.showsName}
              onClick={() =>
                dispatch(
                  editPatch(patch.id, (old) =>
                    updateLayer(old, layer.id, (each) => ({ ...each, showsName: !each.showsName })),
                  ),
                )
              }
            >
              says which
            </button>
          </div>
        </>
      )}
      <select
        className="field"
        value=""
        aria-label="Add a sound to choose from"
        onChange={(event) => {
          if (event.target.value) put([...listed, event.target.value]);
        }}
      >
        <option value="">{layer.list.length > 0 ? 'one more sound …' : 'choose among several …'}</option>
        {sounds.map((sound) => (
          <option key={sound.id} value={sound.id}>
            {sound.name}
          </option>
        ))}
      </select>
    </Part>
  );
}

export function Transpose({ layer, onChange }: { layer: Layer; onChange: (transpose: number) => void }) {
  // An octave up and a semitone down is told as it was meant, not as eleven semitones, as long as both can be.
  const [meant, setMeant] = useState(() => Math.trunc(layer.transpose / 12));
  const octaves = Math.abs(layer.transpose - meant * 12) < 12 ? meant : Math.trunc(layer.transpose / 12);
  const semitones = layer.transpose - octaves * 12;
  const step = (by: number, isOctave: boolean) => {
    const next = Math.min(MOST_TRANSPOSE, Math.max(-MOST_TRANSPOSE, layer.transpose + by));
    setMeant(isOctave ? octaves + Math.trunc((next - layer.transpose) / 12) : octaves);
    onChange(next);
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.22fr)] gap-1">
      <Stepper label="octave" value={octaves} onStep={(by) => step(12 * by, true)} />
      <Stepper label="semitones" value={semitones} onStep={(by) => step(by, false)} />
    </div>
  );
}

const Stepper = ({ label, value, onStep }: { label: string; value: number; onStep: (by: 1 | -1) => void }) => (
  <div role="group" aria-label={label} className="field flex items-center justify-between pr-0.5!">
    <span className="text-[12px] text-faint">{label}</span>
    <span className="flex items-center">
      <button className="button-bare size-5! min-w-5!" aria-label={`${label} down`} onClick={() => onStep(-1)}>
        <Minus size={12} />
      </button>
      <output className="number w-5 text-center">{value > 0 ? `+${value}` : String(value).replace('-', '−')}</output>
      <button className="button-bare size-5! min-w-5!" aria-label={`${label} up`} onClick={() => onStep(1)}>
        <Plus size={12} />
      </button>
    </span>
  </div>
);

/** Sources one would look for first; any other controller by its number. */
export function NewWindow({ layer, patch, onAdd }: { layer: Layer; patch: Patch; onAdd: (source: SourceId) => void }) {
  const usual = [
    'cc.1',
    'cc.11',
    'cc.2',
    'cc.64',
    'channelPressure',
    'bend',
    'random.1',
    ...patch.macros.map((macro) => `macro.${macro.number}`),
  ];
  const free = usual.filter((source) => !layer.windows.some((window) => window.source === source));
  return (
    <div className="flex items-center gap-2">
      <ActMenu
        label="+ window on …"
        title="Add a window on another source"
        className="min-w-0 flex-1 justify-between"
        items={free.map((source) => [source, labelIn(patch, source)] as const)}
        onChoose={onAdd}
      />
      <div className="w-20">
        <TypedField
          label="or CC"
          text=""
          commit={(typed) => {
            if (!/^\d{1,3}$/.test(typed.trim()) || Number(typed) > 119) return 'a controller number from 0 to 119';
            onAdd(`cc.${Number(typed)}`);
            return undefined;
          }}
        />
      </div>
    </div>
  );
}
