import { labelIn } from '../../../core/rig/moves';
import { X } from 'lucide-react';
import { Link } from 'react-router';
import { fullWindow } from '../../../core/rig/defaults';
import { setTranspose, takeUp, updateLayer } from '../../../core/rig/edits/layers';
import { changePath } from '../../../core/rig/edits/paths';
import { removeWindow, setWindow } from '../../../core/rig/edits/windows';
import { type LayerParameterId } from '../../../core/rig/parameters';
import type { Layer, LayerWindow, NotePath, Patch } from '../../../core/rig/schema';
import { colourOf, Mark } from '../../parts/Mark';
import { Several } from '../../parts/Several';
import { TargetStrip } from '../../parts/TargetStrip';
import { Part } from '../../parts/Part';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { layersSlice, LAYER_PARTS, type LayerPart } from './layersSlice';
import { ArpeggioTab } from './inspector/ArpeggioTab';
import { EnvelopePicture } from './inspector/EnvelopePicture';
import { HearsTab } from './inspector/HearsTab';
import { NotesTab } from './inspector/NotesTab';
import {
  BEGINS,
  ENVELOPE,
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
import { WindowFields } from './WindowFields';
import { Filters, Touch, MovedBy, VibratoOnWheel, ListPart, Transpose, NewWindow } from './inspector/Parts';

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
                title={labelIn(patch, window.source)}
                action={
                  <button
                    className="button-bare"
                    aria-label={`Remove the window on ${labelIn(patch, window.source)}`}
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
