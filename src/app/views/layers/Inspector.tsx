import { Minus, Plus, X } from 'lucide-react';
import { useState } from 'react';
import { fullWindow, paramOf } from '../../../core/rig/defaults';
import { MOST_TRANSPOSE, setTranspose, updateLayer } from '../../../core/rig/edits/layers';
import { deleteRoute, putVibratoOnWheel, setList } from '../../../core/rig/edits/moves';
import { removeWindow, setWindow } from '../../../core/rig/edits/windows';
import { parseTarget, type LayerParameterId } from '../../../core/rig/parameters';
import type { Layer, LayerWindow, Patch, Sound } from '../../../core/rig/schema';
import { labelOfSource, type SourceId } from '../../../core/space/source';
import { colourOf, Mark } from '../../parts/Mark';
import { sourceName } from '../../parts/moved';
import { signed, TargetStrip } from '../../parts/TargetStrip';
import { ActMenu } from '../../parts/ActMenu';
import { Part } from '../../parts/Part';
import { TypedField } from '../../parts/TypedField';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../session';
import { editPatch, useAppDispatch, useAppSelector } from '../../state/store';
import { WindowFields } from './WindowFields';

const SHAPE: readonly LayerParameterId[] = ['level', 'pan', 'delay', 'attack', 'hold', 'decay', 'sustain', 'release', 'cutoff', 'resonance', 'lowCut', 'tune'];
const START: readonly LayerParameterId[] = ['start', 'reversed', 'startLevel'];
const VIBRATO: readonly LayerParameterId[] = ['vibratoDepth', 'vibratoRate', 'vibratoOnset'];
const LOOPS: readonly LayerParameterId[] = ['loopPosition', 'loopLength'];
const TOUCH: readonly LayerParameterId[] = ['touch', 'velocityToLevel', 'velocityTrack', 'keyTrack', 'bendRange'];
const HEARS = [['bend', 'bend'], ['sustain', 'sustain'], ['wheel', 'wheel'], ['pressure', 'aftertouch'], ['expression', 'volume, expression']] as const;

/** Everything about the chosen layer in numbers. */
export function Inspector({ patch, layer }: { patch: Patch; layer: Layer }) {
  const dispatch = useAppDispatch();
  const sounds = useAppSelector((state) => state.rig.rig!.sounds);
  const { ports } = useAppSelector((state) => state.rig.rig!.controllers);
  useRefresh(session.hands);
  const { id } = layer;
  const change = (edit: (old: Layer) => Layer) => dispatch(editPatch(patch.id, (old) => updateLayer(old, id, edit)));
  const put = (window: LayerWindow) => dispatch(editPatch(patch.id, (old) => setWindow(old, id, window)));
  const others = layer.windows.filter((window) => window.source !== 'key' && window.source !== 'velocity');
  const sound = sounds.find((candidate) => candidate.id === layer.soundId);
  const strip = (parameter: LayerParameterId) => <TargetStrip key={parameter} patch={patch} target={`layer.${id}.${parameter}`} colour={colourOf(layer.mark)} />;
  const routes = patch.routes.filter((route) => route.on && route.target.startsWith(`layer.${id}.`));

  return (
    <aside aria-label={`Layer ${layer.name} in numbers`} tabIndex={0} className="flex min-h-0 flex-col gap-2.5 overflow-y-auto border-l border-line p-3.5 pb-6 [scrollbar-gutter:stable] [scrollbar-width:thin]">
      <div>
        <h2 className="flex items-center gap-2 text-[15px] font-bold"><Mark mark={layer.mark} /> <span className="truncate">{layer.name}</span></h2>
        <label className="mt-1 flex items-center gap-2"><span className="text-[12px] text-faint">plays</span>
          <select className="field min-w-0 flex-1" value={layer.soundId} onChange={(event) => change((old) => ({ ...old, soundId: event.target.value }))}>
            {sounds.map((other) => <option key={other.id} value={other.id}>{other.name}</option>)}
          </select>
          <span className="text-[12px] whitespace-nowrap text-faint">{sound?.zones.length ?? 0} zones</span>
        </label>
      </div>
      <ListPart patch={patch} layer={layer} sounds={sounds} />
      <Part title="Keys"><WindowFields window={layer.windows.find((window) => window.source === 'key')!} onChange={put} /></Part>
      <Part title="Velocities"><WindowFields window={layer.windows.find((window) => window.source === 'velocity')!} onChange={put} /></Part>
      {others.map((window) => (
        <Part key={window.source} title={labelOfSource(window.source)} action={<button className="button-bare" aria-label={`Remove the window on ${labelOfSource(window.source)}`} title="Remove this window" onClick={() => dispatch(editPatch(patch.id, (old) => removeWindow(old, id, window.source)))}><X size={14} /></button>}>
          <WindowFields window={window} onChange={put} />
        </Part>
      ))}
      <NewWindow layer={layer} patch={patch} onAdd={(source) => put(fullWindow(source))} />
      <Part title="Pitch"><Transpose layer={layer} onChange={(transpose) => dispatch(editPatch(patch.id, (old) => setTranspose(old, id, transpose)))} /></Part>
      <Part title="Shape">{SHAPE.map(strip)}</Part>
      <Part title="Vibrato">{VIBRATO.map(strip)}<VibratoOnWheel patch={patch} layer={layer} /></Part>
      <Part title="Start of its samples">{START.map(strip)}</Part>
      <Part title="Loops of its samples">{LOOPS.map(strip)}</Part>
      <Part title="Touch">{TOUCH.map(strip)}</Part>
      <Part title="Hears">
        <label className="flex items-center justify-between gap-2">MIDI port
          <select className="field min-w-0" value={layer.receive.port} onChange={(event) => change((old) => ({ ...old, receive: { ...old.receive, port: event.target.value } }))}>
            <option value="any">any</option>
            {[...new Set([...ports, ...(layer.receive.port === 'any' ? [] : [layer.receive.port])])].map((name) => <option key={name} value={name}>{name}{ports.includes(name) ? '' : ' (unknown)'}</option>)}
          </select>
        </label>
        <label className="flex items-center justify-between">MIDI channel
          <select className="field" value={String(layer.receive.channel)} onChange={(event) => change((old) => ({ ...old, receive: { ...old.receive, channel: event.target.value === 'any' ? 'any' : Number(event.target.value) } }))}>
            <option value="any">any</option>
            {Array.from({ length: 16 }, (_, i) => <option key={i} value={i + 1}>{i + 1}</option>)}
          </select>
        </label>
        <div className="flex flex-wrap gap-1">
          {HEARS.map(([key, label]) => <button key={key} className="button px-2! py-0.5! text-[12px]" aria-pressed={layer.receive[key]} onClick={() => change((old) => ({ ...old, receive: { ...old.receive, [key]: !old.receive[key] } }))}>{label}</button>)}
        </div>
      </Part>
      {routes.length > 0 && (
        <Part title="Moved by">
          <ul className="flex flex-col gap-0.5">{routes.map((route) => <li key={route.id}>{sourceName(patch, route)} → {parseTarget(route.target)!.parameter.label} {signed(route.depth)}</li>)}</ul>
        </Part>
      )}
    </aside>
  );
}

/** Vibrato comes on the wheel with every new layer, as a route like any other: this says so, and takes it off or puts it back. */
function VibratoOnWheel({ patch, layer }: { patch: Patch; layer: Layer }) {
  const dispatch = useAppDispatch();
  const route = patch.routes.find((candidate) => candidate.source === 'cc.1' && candidate.target === `layer.${layer.id}.vibratoDepth`);
  return (
    <button className="button self-start px-2! py-0.5! text-[12px]" aria-pressed={!!route} title="New layers have vibrato on the wheel, 30 cents at its end" onClick={() => dispatch(editPatch(patch.id, (old) => (route ? deleteRoute(old, route.id) : putVibratoOnWheel(old, layer.id))))}>
      {route ? 'on the wheel' : 'not on the wheel'}
    </button>
  );
}

/** Sounds among which the layer chooses: at the strike, or crossfading along the list while it sounds. */
function ListPart({ patch, layer, sounds }: { patch: Patch; layer: Layer; sounds: readonly Sound[] }) {
  const dispatch = useAppDispatch();
  const put = (list: readonly string[], morph?: boolean) => dispatch(editPatch(patch.id, (old) => setList(old, layer.id, list, morph)));
  const listed = layer.list.length > 0 ? layer.list : [layer.soundId];
  const name = (id: string) => sounds.find((sound) => sound.id === id)?.name ?? 'a sound that is gone';
  const at = Math.min(listed.length - 1, Math.floor((paramOf(layer, 'choice') / 100) * listed.length));
  return (
    <Part title={layer.list.length > 0 ? `Chooses among ${layer.list.length}` : 'Choice'}>
      {layer.list.length > 0 && (
        <>
          <TargetStrip patch={patch} target={`layer.${layer.id}.choice`} colour={colourOf(layer.mark)} label={layer.showsName ? `choice: ${name(listed[at])}` : 'choice'} />
          <ul className="max-h-28 overflow-y-auto">
            {layer.list.map((id, i) => (
              <li key={i} className="flex items-center gap-1 text-[12px]"><span className="number w-5 text-faint">{i + 1}</span><span className="min-w-0 flex-1 truncate">{name(id)}</span>
                <button className="button-bare h-5!" aria-label={`Take ${name(id)} off the list`} onClick={() => put(layer.list.filter((_, n) => n !== i))}><X size={12} /></button></li>
            ))}
          </ul>
          <div className="flex flex-wrap gap-1">
            <button className="button px-2! py-0.5! text-[12px]" aria-pressed={layer.morph} disabled={layer.list.length > 8} title={layer.list.length > 8 ? 'Up to eight sounds can crossfade' : 'The choice goes on while a note sounds, crossfading between neighbours of the list'} onClick={() => put(layer.list, !layer.morph)}>crossfades while sounding</button>
            <button className="button px-2! py-0.5! text-[12px]" aria-pressed={layer.showsName} onClick={() => dispatch(editPatch(patch.id, (old) => updateLayer(old, layer.id, (each) => ({ ...each, showsName: !each.showsName }))))}>says which</button>
          </div>
        </>
      )}
      <select className="field" value="" aria-label="Add a sound to choose from" onChange={(event) => { if (event.target.value) put([...listed, event.target.value]); }}>
        <option value="">{layer.list.length > 0 ? 'one more sound …' : 'choose among several: one more sound …'}</option>
        {sounds.map((sound) => <option key={sound.id} value={sound.id}>{sound.name}</option>)}
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
    <div className="flex flex-col gap-1.5">
      <Stepper label="octave" value={octaves} onStep={(by) => step(12 * by, true)} />
      <Stepper label="semitones" value={semitones} onStep={(by) => step(by, false)} />
    </div>
  );
}

const Stepper = ({ label, value, onStep }: { label: string; value: number; onStep: (by: 1 | -1) => void }) => (
  <div role="group" aria-label={label} className="field flex items-center justify-between pr-0.5!">
    <span className="text-[12px] text-faint">{label}</span>
    <span className="flex items-center">
      <button className="button-bare size-5! min-w-5!" aria-label={`${label} down`} onClick={() => onStep(-1)}><Minus size={12} /></button>
      <output className="number w-6 text-center">{value > 0 ? `+${value}` : String(value).replace('-', '−')}</output>
      <button className="button-bare size-5! min-w-5!" aria-label={`${label} up`} onClick={() => onStep(1)}><Plus size={12} /></button>
    </span>
  </div>
);

/** Sources one would look for first; any other controller by its number. */
function NewWindow({ layer, patch, onAdd }: { layer: Layer; patch: Patch; onAdd: (source: SourceId) => void }) {
  const usual = ['cc.1', 'cc.11', 'cc.2', 'cc.64', 'channelPressure', 'bend', 'random.1', ...patch.macros.map((macro) => `macro.${macro.number}`)];
  const free = usual.filter((source) => !layer.windows.some((window) => window.source === source));
  return (
    <div className="flex items-center gap-2">
      <ActMenu label="+ window on …" title="Add a window on another source" className="min-w-0 flex-1 justify-between" items={free.map((source) => [source, labelOfSource(source)] as const)} onChoose={onAdd} />
      <div className="w-20"><TypedField label="or CC" text="" commit={(typed) => {
        if (!/^\d{1,3}$/.test(typed.trim()) || Number(typed) > 119) return 'a controller number from 0 to 119';
        onAdd(`cc.${Number(typed)}`);
        return undefined;
      }} /></div>
    </div>
  );
}
