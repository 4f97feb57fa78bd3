import { useCallback, useMemo, useState, type CSSProperties, type DragEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { naturalCompare } from '../../../core/mapping/naturalOrder';
import { addLayerOf } from '../../../core/rig/edits/layers';
import {
  addSamples,
  exchangeSamples,
  orderWords,
  ownCopyFor,
  stretches,
  updateSound,
  usersOf,
  withoutUnusedSamples,
} from '../../../core/rig/edits/zones';
import type { Patch, Rig, Sample, Sound, Zone } from '../../../core/rig/schema';
import { mayTake, taken } from '../../document/carrying';
import { editAndListen, putThere } from '../../document/putting';
import { edit, editPatch, newId, notice, selectPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { bringInDropped, bringInForExchange } from '../../jobs/bringIn';
import { keyScaleOf, useWidth } from '../../parts/keyScale';
import { useFrames } from '../../parts/useLive';
import { lastAnswer } from './answers';
import { GrainBench } from './kinds/GrainBench';
import { GrainPanel, Surface } from './kinds/GrainPanel';
import { useSoundLayer } from './kinds/soundLayer';
import { InputBench } from './kinds/InputBench';
import { SynthBench } from './kinds/SynthBench';
import { SynthPanel, SynthParts } from './kinds/SynthPanel';
import { soundsSlice } from './soundsSlice';
import { Waveform } from './Waveform';
import { ZoneInspector } from './ZoneInspector';
import { ZoneMap } from './ZoneMap';
import { ZoneTable } from './ZoneTable';
import type { FrameUnit, TextContext } from './zoneText';

export function useSampleNames(): (id: string) => string {
  const samples = useAppSelector((state) => state.rig.rig!.samples);
  return useMemo(() => {
    const names = new Map(samples.map((sample) => [sample.id, sample.name]));
    return (id: string) => names.get(id) ?? 'missing';
  }, [samples]);
}

/** A sound that several patches use is changed for all of them; here one says so, and may have one's own. */
export function SharedSound({ sound, patch }: { sound: Sound; patch: Patch }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const rig = useAppSelector((state) => state.rig.rig)!;
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const users = usersOf(rig, sound.id);
  if (users.length < 2) return <div />;
  const own = () => {
    const id = newId();
    dispatch(edit((old) => ownCopyFor(old, sound.id, patch.id, id)));
    dispatch(notice('info', `“${patch.name}” has a copy of its own now; the other patches keep “${sound.name}”.`));
    void navigate(`/patch/${patch.id}/sounds/${id}`);
  };
  return (
    <div
      role="note"
      aria-label="Used in several patches"
      className="flex min-w-0 flex-wrap items-center gap-x-2 gap-y-0.5 border-b border-line px-3 py-1 text-[12px]"
    >
      <span className="min-w-0 flex-[1_1_0] basis-24 truncate" title={users.map(({ name }) => name).join(', ')}>
        used in {users.length} patches ({users.map(({ name }) => name).join(', ')}):
      </span>
      <span className="flex shrink-0 items-center gap-2">
        <span className="font-semibold whitespace-nowrap">edits change all</span>
        <button
          className="button px-2! py-0!"
          disabled={readOnly || !users.includes(patch)}
          title={
            users.includes(patch)
              ? 'The layers of this patch play a copy from now on, and only that changes'
              : 'This patch does not play it'
          }
          onClick={own}
        >
          own copy for this patch
        </button>
      </span>
    </div>
  );
}

/** What the hands move is a layer's: one click makes it. */
export function AddAsLayer({ patch, sound }: { patch: Patch; sound: Sound }) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  return (
    <div className="flex flex-col gap-1.5 text-[12px]">
      <p className="text-faint">
        This patch does not play it yet; its own values are edited here. As a layer the hands move its grains, too.
      </p>
      <button
        className="button self-start"
        disabled={readOnly}
        onClick={() => dispatch(editPatch(patch.id, (old) => addLayerOf(old, newId(), sound)))}
      >
        Add it as a layer
      </button>
    </div>
  );
}

/** How many keys are recorded, and how far the others are stretched. */
export function stretchWords(sound: Sound): string {
  const by = stretches(sound).filter((each) => each !== null);
  const recorded = by.filter((each) => each < 0.5).length;
  const most = Math.round(Math.max(0, ...by));
  return by.length === 0
    ? ''
    : `, ${recorded} ${recorded === 1 ? 'key' : 'keys'} recorded${by.length > recorded ? `, ${by.length - recorded} stretched by ${most === 1 ? 'a semitone' : `up to ${most} semitones`}` : ''}`;
}

/** What the maker of a sound has to say about it. */
export function SoundNotes({ sound }: { sound: Sound }) {
  const dispatch = useAppDispatch();
  const [text, setText] = useState<string | null>(null);
  return (
    <label className="flex flex-col gap-1">
      <span className="heading">Notes of its maker</span>
      <textarea
        className="field min-h-14 resize-y py-1!"
        maxLength={4000}
        value={text ?? sound.notes}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => {
          if (text !== null && text !== sound.notes)
            dispatch(edit((rig) => updateSound(rig, sound.id, (old) => ({ ...old, notes: text }))));
          setText(null);
        }}
        onKeyDown={(event) => event.stopPropagation()}
      />
    </label>
  );
}

/** Which sample answered the last strike. */
export function LastAnswer() {
  const sampleNames = useSampleNames();
  const sounds = useAppSelector((state) => state.rig.rig!.sounds);
  const [text, setText] = useState('nothing yet');
  useFrames(
    useCallback(() => {
      const last = lastAnswer();
      const zone = last && sounds.find((candidate) => candidate.id === last.soundId)?.zones[last.zone];
      if (!zone) return;
      setText(`${sampleNames(zone.sampleId)}${zone.alternate === null ? '' : `, alternate ${zone.alternate + 1}`}`);
    }, [sounds, sampleNames]),
  );
  return (
    <p data-testid="last-answer" className="text-[12px] text-faint">
      answered last: <span className="text-ink">{text}</span>
    </p>
  );
}
export function KindParts({ patch, sound }: { patch: Patch; sound: Sound }) {
  const layer = useSoundLayer(patch, sound);
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  if (sound.kind === 'input') return null;
  if (sound.kind === 'synth') return <SynthParts patch={patch} sound={sound} layer={layer} />;
  return layer ? (
    <fieldset disabled={readOnly} className="contents">
      <Surface patch={patch} layer={layer} />
    </fieldset>
  ) : (
    <AddAsLayer patch={patch} sound={sound} />
  );
}

/** The bench of a sound that is made and not recorded, with what else belongs to it at its side. */
export function KindWorkbench({ sound, patch }: { sound: Sound; patch: Patch }) {
  const layer = useSoundLayer(patch, sound);
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const isSynth = sound.kind === 'synth';
  const Bench = isSynth ? SynthBench : InputBench;
  return (
    <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_var(--right)]">
      <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)]">
        <SharedSound sound={sound} patch={patch} />
        <Bench patch={patch} sound={sound} layer={layer} />
      </div>
      <fieldset disabled={readOnly} className="contents">
        <aside
          aria-label={isSynth ? 'Part of the synth' : 'About the input'}
          className="flex min-h-0 flex-col gap-2.5 overflow-y-auto border-l border-line p-3 [scrollbar-width:thin]"
        >
          {isSynth ? (
            <SynthPanel patch={patch} sound={sound} layer={layer} />
          ) : (
            !layer && <AddAsLayer patch={patch} sound={sound} />
          )}
          <SoundNotes sound={sound} />
        </aside>
      </fieldset>
    </div>
  );
}

/**
 * What is dropped on the map takes the place of the chosen zones, or of the one it is dropped on; files without such
 * a place go to the tray.
 */
function useDropOnMap(sound: Sound, selected: readonly number[]) {
  const dispatch = useAppDispatch();
  return async (event: DragEvent, over: number | null) => {
    const under = over !== null && !selected.includes(over) ? [over] : selected;
    const thing = taken(event);
    if (thing) {
      const [first] = under;
      if (first === undefined)
        return void dispatch(
          notice('info', 'Drop it on a zone, or choose one first: then it takes the place of what is there.', 'put'),
        );
      return putThere(thing, { to: 'zone', soundId: sound.id, zone: first }, 'is in the zone now');
    }
    const places = new Set(
      over !== null && under !== selected && event.dataTransfer.items.length > 1 ? selected : under,
    );
    if (places.size === 0) return undefined;
    event.preventDefault();
    event.stopPropagation();
    const { files, problems } = await bringInForExchange(event);
    if (problems.length > 0) dispatch(notice('problem', `${problems.join('; ')}. Nothing else was left out.`));
    if (files.length === 0) return undefined;
    const ids = [...files].sort((a, b) => naturalCompare(a.plan.path, b.plan.path)).map((file) => file.sample);
    const done = `${Math.min(places.size, ids.length)} of ${places.size} ${places.size === 1 ? 'zone has' : 'zones have'} new samples, ${orderWords(sound, places)}in the order of their names.`;
    const exchange = (rig: Rig) =>
      updateSound(addSamples(rig, ids), sound.id, (old) =>
        exchangeSamples(
          old,
          places,
          ids.map(({ id }) => id),
        ),
      );
    editAndListen(
      (rig) => withoutUnusedSamples(exchange(rig)),
      ids.map(({ id }) => id),
      done,
    );
    return undefined;
  };
}

function NoZone({ name }: { name: string }) {
  return (
    <div className="grid place-items-center p-6 text-center">
      <div>
        <p className="mb-2 font-bold">“{name}” has no zone yet.</p>
        <p className="mb-3 text-faint">
          Drop recordings here, or bring in a folder: you see where each would go before anything is placed.
        </p>
        <button className="button" onClick={() => void bringInDropped('demo')}>
          Try it with the demo folder
        </button>
      </div>
    </div>
  );
}

type Shows = 'grains' | 'map';

/** The tabs of what stands below the map, and how many zones are chosen. `shows` of a sound of grains alone. */
function BelowTabs({
  sound,
  shows,
  onShows,
  stretched,
}: {
  sound: Sound;
  shows: Shows | null;
  onShows: (shows: Shows) => void;
  stretched: string;
}) {
  const dispatch = useAppDispatch();
  const { lower, selected } = useAppSelector((state) => state.sounds);
  return (
    <div className="flex items-end gap-1 border-t-[1.5px] border-ink px-2">
      {shows && (
        <button
          className="button mr-2 self-center px-2! py-0! text-[12px]"
          aria-pressed={shows === 'map'}
          title="Where its samples lie on keys and velocities"
          onClick={() => onShows(shows === 'map' ? 'grains' : 'map')}
        >
          map
        </button>
      )}
      <div role="tablist" aria-label="Below the map" className="flex items-end gap-1">
        {(['zones', 'waveform'] as const).map((panel) => (
          <button
            key={panel}
            role="tab"
            aria-selected={lower === panel}
            className={`rounded-t-md border border-b-0 px-3 py-0.5 ${lower === panel ? 'border-edge bg-sheet font-semibold' : 'border-transparent text-faint'}`}
            onClick={() => dispatch(soundsSlice.actions.lowerChosen(panel))}
          >
            {panel === 'zones' ? 'Zones' : 'Waveform'}
          </button>
        ))}
      </div>
      <span className="ml-auto self-center text-[12px] text-faint">
        {selected.length > 0
          ? `${selected.length} of ${sound.zones.length} chosen`
          : `${sound.zones.length === 1 ? '1 zone' : `${sound.zones.length} zones`}${shows ? '' : stretched}`}
      </span>
    </div>
  );
}

/** The zone that answers at middle C; else the first, if there is any. */
const zoneNearMiddle = ({ zones }: Sound): Zone | undefined =>
  zones.find(({ key }) => key.low <= 60 && key.high >= 60) ?? zones[0];

/** What numbers of frames are counted by. */
const lengthOf = (sample: Sample | undefined): Pick<TextContext, 'rate' | 'frames'> => ({
  rate: sample?.rate ?? 44100,
  frames: sample?.frames ?? 0,
});

export function Workbench({ soundId }: { soundId: string }) {
  const { patchId } = useParams();
  const patch = useAppSelector((state) => selectPatch(state, patchId))!;
  const sound = useAppSelector((state) => state.rig.rig!.sounds.find((candidate) => candidate.id === soundId))!;
  const samples = useAppSelector((state) => state.rig.rig!.samples);
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const { leader, lower, selected } = useAppSelector((state) => state.sounds);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const sampleName = useSampleNames();
  const [mapRef, width] = useWidth<HTMLDivElement>();
  const scale = useMemo(() => keyScaleOf(width), [width]);
  const [frameUnit, setFrameUnit] = useState<FrameUnit>('frames');
  const layer = useSoundLayer(patch, sound);
  const isGrains = sound.kind === 'grains';
  const [shows, setShows] = useState<Shows>('grains');
  const showsGrains = isGrains && shows === 'grains';
  const stretched = useMemo(() => stretchWords(sound), [sound]);
  const zone = leader === null ? undefined : sound.zones[leader];
  // The zone that is chosen, or answers near middle C, shows its grains.
  const shownZone = zone ?? zoneNearMiddle(sound);
  const sampleOf = (of: Zone | undefined) => of && samples.find((candidate) => candidate.id === of.sampleId);
  const shownSample = sampleOf(shownZone);
  const sample = sampleOf(zone);
  const context: TextContext = { middleC, frameUnit, ...lengthOf(sample) };
  const colour = patch.layers.find((layer) => layer.soundId === sound.id)?.mark.colour ?? 'indigo';
  const drop = useDropOnMap(sound, selected);

  return (
    <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_var(--right)]">
      <div
        className="grid min-h-0 grid-rows-[auto_minmax(120px,1fr)_30px_minmax(0,var(--below))]"
        style={{ '--below': showsGrains ? '112px' : '248px' } as CSSProperties}
        ref={mapRef}
        onDragOver={mayTake}
        onDrop={(event) => void drop(event, null)}
      >
        <SharedSound sound={sound} patch={patch} />
        {showsGrains && shownZone && shownSample ? (
          <GrainBench patch={patch} sound={sound} layer={layer} zone={shownZone} sample={shownSample} />
        ) : (
          width > 0 &&
          sound.zones.length > 0 && (
            <ZoneMap sound={sound} scale={scale} colour={colour} onDrop={(event, over) => void drop(event, over)} />
          )
        )}
        {sound.zones.length === 0 && <NoZone name={sound.name} />}
        <BelowTabs sound={sound} shows={isGrains ? shows : null} onShows={setShows} stretched={stretched} />
        <div
          role="tabpanel"
          aria-label={lower === 'zones' ? 'Zones' : 'Waveform'}
          className="grid min-h-0 border-t border-line bg-sheet"
        >
          {lower === 'zones' && <ZoneTable sound={sound} sampleName={sampleName} />}
          {lower === 'waveform' &&
            (zone && sample && leader !== null ? (
              <Waveform
                patch={patch}
                layer={layer}
                sound={sound}
                zone={zone}
                place={leader}
                sample={sample}
                frameUnit={frameUnit}
                onFrameUnit={setFrameUnit}
                colour={colour}
              />
            ) : (
              <p className="grid place-items-center text-faint">
                Choose a zone on the map or in the table, and its sample is drawn here.
              </p>
            ))}
        </div>
      </div>
      <fieldset disabled={readOnly} className="contents">
        {isGrains && selected.length === 0 ? (
          <aside
            aria-label="Grains"
            className="flex min-h-0 flex-col gap-2.5 overflow-y-auto border-l border-line p-3 [scrollbar-width:thin]"
          >
            <GrainPanel patch={patch} sound={sound} layer={layer} />
            <SoundNotes sound={sound} />
          </aside>
        ) : (
          <ZoneInspector sound={sound} context={context} />
        )}
      </fieldset>
    </div>
  );
}
