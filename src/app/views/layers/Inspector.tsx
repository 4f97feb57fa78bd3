import { Minus, Plus, X } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { COMB_FORWARD } from '../../../core/space/filterKinds';
import { fullWindow, paramOf } from '../../../core/rig/defaults';
import { MOST_TRANSPOSE, setTranspose, takeUp, updateLayer } from '../../../core/rig/edits/layers';
import { deleteRoute, putVibratoOnWheel, setList } from '../../../core/rig/edits/moves';
import { changePath } from '../../../core/rig/edits/paths';
import { removeWindow, setWindow } from '../../../core/rig/edits/windows';
import { parseTarget, type LayerParameterId } from '../../../core/rig/parameters';
import type { Layer, LayerWindow, NotePath, Patch, Sound } from '../../../core/rig/schema';
import { labelOfSource, type SourceId } from '../../../core/space/source';
import { colourOf, Mark } from '../../parts/Mark';
import { sourceName } from '../../parts/moved';
import { Several } from '../../parts/Several';
import { signed, TargetStrip } from '../../parts/TargetStrip';
import { ActMenu } from '../../parts/ActMenu';
import { Part } from '../../parts/Part';
import { TypedField } from '../../parts/TypedField';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { NumberField } from '../../parts/NumberField';
import { layersSlice, LAYER_PARTS, type LayerPart } from './layersSlice';
import { ArpeggioTab } from './inspector/ArpeggioTab';
import { EnvelopePicture } from './inspector/EnvelopePicture';
import { FilterPicture } from './inspector/FilterPicture';
import { HearsTab } from './inspector/HearsTab';
import { NotesTab } from './inspector/NotesTab';
import {
  AFTER_FILTERS,
  BEGINS,
  ENVELOPE,
  FILTERS,
  idsOfPart,
  LEVEL,
  LOOPS,
  ONSET,
  PART_OF,
  PITCH,
  START,
  UNISON,
  VIBRATO,
} from './inspector/parts';
import type { StripOf } from './inspector/strips';
import { SectionMenu } from './inspector/SectionMenu';
import { SoundChooser } from './inspector/SoundChooser';
import { TouchPicture } from './inspector/TouchPicture';
import { WindowFields } from './WindowFields';

/** Everything about the chosen layer in numbers. */
export function Inspector({ patch, layer }: { patch: Patch; layer: Layer }) {
  const dispatch = useAppDispatch();
  const sounds = useAppSelector((state) => state.rig.rig!.sounds);
  useRefresh(session.hands);
  const { id } = layer;
  const change = (edit: (old: Layer) => Layer) => dispatch(editPatch(patch.id, (old) => updateLayer(old, id, edit)));
  const put = (window: LayerWindow) => dispatch(editPatch(patch.id, (old) => setWindow(old, id, window)));
  const others = layer.windows.filter((window) => window.source !== 'key' && window.source !== 'velocity');
  const sound = sounds.find((candidate) => candidate.id === layer.soundId);
  const colour = colourOf(layer.mark);
  const strip = (parameter: LayerParameterId, label?: string) => (
    <TargetStrip key={parameter} patch={patch} target={`layer.${id}.${parameter}`} colour={colour} label={label} />
  );
  const plain = (parameter: LayerParameterId) => strip(parameter);
  const part = useAppSelector((state) => state.layers.layerPart);
  const connecting = useAppSelector((state) => state.choosing.connecting !== null);
  const setPath = (path: Partial<NotePath>) =>
    dispatch(editPatch(patch.id, (old) => changePath(old, id, (before) => ({ ...before, ...path }))));

  return (
    <aside
      aria-label={`Layer ${layer.name} in numbers`}
      className="grid min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_auto_auto_minmax(0,1fr)] border-l border-line"
    >
      <div className="px-3.5 pt-2.5">
        <h2 className="flex items-center gap-2 text-[15px] font-bold">
          <Mark mark={layer.mark} />{' '}
          <span dir="auto" className="min-w-0 flex-1 truncate">
            {layer.name}
          </span>{' '}
          <SectionMenu patch={patch} layer={layer} part={part} />
        </h2>
        <div className="mt-1 flex items-center gap-1">
          <label className="flex min-w-0 flex-1 items-center gap-2">
            <span className="text-[12px] text-faint">plays</span>
            <select
              className="field min-w-0 flex-1"
              value={layer.soundId}
              onChange={(event) => {
                const next = sounds.find(({ id }) => id === event.target.value);
                if (next) change((old) => takeUp(old, next));
              }}
            >
              {sounds.map((other) => (
                <option key={other.id} value={other.id}>
                  {other.name}
                </option>
              ))}
            </select>
            {sound && sound.kind !== 'multisample' ? (
              <Link
                className="text-[12px] whitespace-nowrap underline decoration-dotted"
                to={`/patch/${patch.id}/sounds/${sound.id}`}
              >
                {sound.kind} …
              </Link>
            ) : (
              <span className="text-[12px] whitespace-nowrap text-faint">{sound?.zones.length ?? 0} zones</span>
            )}
          </label>
          <SoundChooser patch={patch} layer={layer} />
        </div>
      </div>
      <Several layer={layer} />
      <Parts patch={patch} layer={layer} part={part} />
      <div
        role="tabpanel"
        aria-label={part}
        tabIndex={0}
        className="flex min-h-0 flex-col gap-2 overflow-y-auto px-3.5 pt-2 pb-4 [scrollbar-gutter:stable] [scrollbar-width:thin]"
      >
        {connecting && <AllStrips strip={strip} />}
        {!connecting && part === 'windows' && (
          <>
            <Part title="Keys">
              <WindowFields window={layer.windows.find((window) => window.source === 'key')!} onChange={put} />
            </Part>
            <Part title="Velocities">
              <WindowFields window={layer.windows.find((window) => window.source === 'velocity')!} onChange={put} />
            </Part>
            {others.map((window) => (
              <Part
                key={window.source}
                title={labelOfSource(window.source)}
                action={
                  <button
                    className="button-bare"
                    aria-label={`Remove the window on ${labelOfSource(window.source)}`}
                    title="Remove this window"
                    onClick={() => dispatch(editPatch(patch.id, (old) => removeWindow(old, id, window.source)))}
                  >
                    <X size={14} />
                  </button>
                }
              >
                <WindowFields window={window} onChange={put} />
              </Part>
            ))}
            <NewWindow layer={layer} patch={patch} onAdd={(source) => put(fullWindow(source))} />
            <ListPart patch={patch} layer={layer} sounds={sounds} />
          </>
        )}
        {!connecting && part === 'level' && (
          <>
            <Part title="Level and place">{LEVEL.map(plain)}</Part>
            <Part title="Envelope">
              <EnvelopePicture patch={patch} layer={layer} colour={colour} />
              {ENVELOPE.map(plain)}
            </Part>
          </>
        )}
        {!connecting && part === 'filters' && <Filters patch={patch} layer={layer} colour={colour} strip={strip} />}
        {!connecting && part === 'pitch' && (
          <>
            <Part title="Pitch">
              <Transpose
                layer={layer}
                onChange={(transpose) => dispatch(editPatch(patch.id, (old) => setTranspose(old, id, transpose)))}
              />
              {PITCH.map(plain)}
            </Part>
            <Part
              title="Between notes"
              action={
                <div className="flex gap-1">
                  {(['poly', 'mono', 'legato'] as const).map((playing) => (
                    <button
                      key={playing}
                      className="button px-1.5! py-0! text-[11.5px]"
                      aria-pressed={layer.path.playing === playing}
                      title={PLAYING[playing]}
                      onClick={() => setPath({ playing })}
                    >
                      {playing}
                    </button>
                  ))}
                </div>
              }
            >
              <div className="grid grid-cols-[minmax(0,1fr)_auto] gap-1">
                {strip('glide')}
                <button
                  className="button px-1.5! py-0! text-[11.5px]"
                  aria-pressed={layer.path.glide === 'rate'}
                  title="Its time is for each octave of the way; else for the whole way"
                  onClick={() => setPath({ glide: layer.path.glide === 'rate' ? 'time' : 'rate' })}
                >
                  an octave
                </button>
              </div>
            </Part>
            <Part title="Vibrato" action={<VibratoOnWheel patch={patch} layer={layer} />}>
              {VIBRATO.map(plain)}
            </Part>
            <Part title="Unison">{UNISON.map(plain)}</Part>
          </>
        )}
        {!connecting && part === 'touch' && <Touch patch={patch} layer={layer} colour={colour} strip={strip} />}
        {!connecting && part === 'start' && (
          <>
            <Part title="How a note begins">
              {BEGINS.map(plain)}
              {ONSET.map(plain)}
            </Part>
            <Part title="Start of its samples">{START.map(plain)}</Part>
            <Part title="Loops of its samples">{LOOPS.map(plain)}</Part>
          </>
        )}
        {!connecting && part === 'notes' && <NotesTab patch={patch} layer={layer} strip={strip} />}
        {!connecting && part === 'arpeggio' && (
          <ArpeggioTab patch={patch} layer={layer} colour={colour} strip={strip} />
        )}
        {!connecting && part === 'hears' && (
          <>
            <HearsTab patch={patch} layer={layer} strip={strip} />
            <MovedBy patch={patch} layer={layer} />
          </>
        )}
      </div>
    </aside>
  );
}

const PLAYING = {
  poly: 'All notes sound',
  mono: 'One note at a time; the newest key plays, and the one before it comes back',
  legato: 'One at a time, and while a key is held the next goes on without a new strike',
};

/** While a connect sign is out, everything that it can move stands together, part after part. */
const AllStrips = ({ strip }: { strip: StripOf }) => (
  <>
    {LAYER_PARTS.map((part) => {
      const ids = idsOfPart(part);
      return (
        ids.length > 0 && (
          <Part key={part} title={part}>
            {ids.map((id) => strip(id))}
          </Part>
        )
      );
    })}
  </>
);

/** The parts of a layer, one click away each; those in which something is not as it comes have a dot. */
function Parts({ patch, layer, part }: { patch: Patch; layer: Layer; part: LayerPart }) {
  const dispatch = useAppDispatch();
  const connecting = useAppSelector((state) => state.choosing.connecting);
  const of = (target: string) => PART_OF[target.split('.')[2]];
  return (
    <div
      role="tablist"
      aria-label="Parts of the layer"
      className="mx-3 mt-2 flex flex-wrap gap-y-0.5 border-b border-line pb-1.5"
    >
      {LAYER_PARTS.map((each) => {
        const moved = patch.routes.some(
          (route) => route.target.startsWith(`layer.${layer.id}.`) && of(route.target) === each,
        );
        const used =
          moved ||
          Object.keys(layer.params).some((id) => PART_OF[id] === each) ||
          (each === 'arpeggio' && layer.path.arpeggio.on) ||
          (each === 'notes' && (layer.path.scale.on || layer.path.chord.on)) ||
          (each === 'pitch' && (layer.transpose !== 0 || layer.path.playing !== 'poly'));
        return (
          <button
            key={each}
            role="tab"
            aria-selected={part === each}
            className={`relative rounded-[5px] px-2 py-0.5 text-[12px] ${part === each ? 'bg-ink text-paper' : connecting ? 'ring-1 ring-indigo/50' : 'hover:bg-line/50'}`}
            onClick={() => dispatch(layersSlice.actions.layerPartShown(each))}
          >
            {each}
            {used && (
              <span
                aria-hidden
                className={`absolute top-1 right-0.5 size-[5px] rounded-full ${moved ? 'bg-indigo' : part === each ? 'bg-paper' : 'bg-faint'}`}
              />
            )}
          </button>
        );
      })}
    </div>
  );
}

function Filters({ patch, layer, colour, strip }: { patch: Patch; layer: Layer; colour: string; strip: StripOf }) {
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

function Touch({ patch, layer, colour, strip }: { patch: Patch; layer: Layer; colour: string; strip: StripOf }) {
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

function MovedBy({ patch, layer }: { patch: Patch; layer: Layer }) {
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
function VibratoOnWheel({ patch, layer }: { patch: Patch; layer: Layer }) {
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
function ListPart({ patch, layer, sounds }: { patch: Patch; layer: Layer; sounds: readonly Sound[] }) {
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

function Transpose({ layer, onChange }: { layer: Layer; onChange: (transpose: number) => void }) {
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
function NewWindow({ layer, patch, onAdd }: { layer: Layer; patch: Patch; onAdd: (source: SourceId) => void }) {
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
        items={free.map((source) => [source, labelOfSource(source)] as const)}
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
