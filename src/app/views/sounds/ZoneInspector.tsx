import { useMemo, useRef } from 'react';
import { sameAudioTwice, updateSound, updateZones } from '../../../core/rig/edits/zones';
import type { Sound, Zone } from '../../../core/rig/schema';
import { changeField, zoneField } from '../../../core/rig/zoneFields';
import { soundsSlice, type BatchMode } from './soundsSlice';
import { edit, editSound, useAppDispatch, useAppSelector } from '../../document/store';
import { type TextContext } from './zoneText';
import { BatchField, Choice, Together } from './ZonesTogether';
import { Part } from './ZonesTogether';

const EDGE = [
  ['low', 'from'],
  ['high', 'to'],
  ['fadeIn', 'fade in'],
  ['fadeOut', 'fade out'],
] as const;
const SOUND = ['root', 'tune', 'gain', 'pan', 'pitchPerKey'];
const TURNS = ['alternate', 'turns', 'choke.group', 'choke.by'];
const OWN = [
  'params.delay',
  'params.attack',
  'params.hold',
  'params.decay',
  'params.sustain',
  'params.release',
  'params.cutoff',
  'params.resonance',
  'params.lowCut',
  'params.keyTrack',
  'params.velocityTrack',
  'params.velocityToLevel',
  'params.bendRange',
];

/**
 * Everything about the chosen zones in numbers: each one set, shifted or scaled for all of them at once; and what is
 * done with several.
 */
export function ZoneInspector({ sound, context }: { sound: Sound; context: TextContext }) {
  const dispatch = useAppDispatch();
  const selected = useAppSelector((state) => state.sounds.selected);
  const batch = useAppSelector((state) => state.sounds.batch);
  const places = new Set(selected.filter((place) => place < sound.zones.length));
  const zones = [...places].map((place) => sound.zones[place]);
  const change = (edited: (zone: Zone, nth: number) => Zone) =>
    dispatch(editSound(sound.id, (old) => updateZones(old, places, edited)));
  // Looked for once a drag has ended: with thousands of zones the drag comes first.
  const dragging = useAppSelector((state) => state.rig.gesture !== null);
  const settled = useRef(sound.zones);
  if (!dragging) settled.current = sound.zones;
  const zonesAtRest = settled.current;
  const twins = useMemo(() => sameAudioTwice(zonesAtRest), [zonesAtRest]);
  const field = (id: string, label = zoneField(id).label) => (
    <BatchField
      key={id}
      label={label}
      field={zoneField(id)}
      zones={zones}
      batch={batch}
      context={context}
      onChange={(by) => change((zone) => changeField(zone, zoneField(id), batch, by))}
    />
  );

  return (
    <aside
      aria-label="Chosen zones in numbers"
      tabIndex={0}
      className="flex min-h-0 flex-col gap-2.5 overflow-y-auto border-l border-line p-3.5 pb-6 [scrollbar-gutter:stable] [scrollbar-width:thin]"
    >
      <div>
        <h2 className="text-[15px] font-bold">
          {zones.length === 0 ? sound.name : zones.length === 1 ? 'One zone' : `${zones.length} zones`}
        </h2>
        <p className="text-[12px] text-faint">
          {zones.length === 0
            ? `${sound.zones.length} zones. Click one, draw a line around some, or click the scales at the map’s left and lower rim for whole rows and columns.`
            : `of ${sound.zones.length} in ${sound.name}`}
        </p>
      </div>
      {twins.length > 0 && (
        <div role="status" className="rounded-md border border-alarm p-2 text-[12px]">
          <p>
            {twins.length === 1
              ? 'Two zones play the same audio in one place: it sounds twice as loud.'
              : `${twins.length} zones repeat audio that another plays in the same place: it sounds louder than it should.`}
          </p>
          <button
            className="button mt-1 px-2! py-0.5!"
            onClick={() => dispatch(soundsSlice.actions.zonesChosen(twins.map(([, second]) => second)))}
          >
            Choose the doubles
          </button>
        </div>
      )}
      <label className="flex items-center justify-between gap-2">
        <span className="text-[12px] text-faint">alternates of this sound</span>
        <select
          className="field"
          title="In turn; at random; or shuffled: at random, all of them before one comes again, none twice running"
          value={sound.alternation}
          onChange={(event) =>
            dispatch(
              edit((rig) =>
                updateSound(rig, sound.id, (old) => ({
                  ...old,
                  alternation: event.target.value as Sound['alternation'],
                })),
              ),
            )
          }
        >
          <option value="in-turn">in turn</option>
          <option value="random">random</option>
          <option value="shuffled">shuffled</option>
        </select>
      </label>
      {zones.length > 0 && (
        <>
          <div role="group" aria-label="What a typed number does" className="flex gap-1">
            {(['set', 'shift', 'scale'] as const).map((mode) => (
              <button
                key={mode}
                className="button flex-1 justify-center px-2! py-0.5!"
                aria-pressed={batch === mode}
                title={HOW[mode]}
                onClick={() => dispatch(soundsSlice.actions.batchChosen(mode))}
              >
                {BATCH_WORDS[mode]}
              </button>
            ))}
          </div>
          <Part title="Keys" pairs>
            {EDGE.map(([part, label]) => field(`key.${part}`, label))}
          </Part>
          <Part title="Velocities" pairs>
            {EDGE.map(([part, label]) => field(`velocity.${part}`, label))}
          </Part>
          <Part title="Pitch and level" pairs>
            {SOUND.map((id) => field(id))}
          </Part>
          <Part title="Ends" pairs>
            {['fadeIn', 'fadeOut'].map((id) => field(id))}
          </Part>
          <Part title="Turns" pairs>
            {TURNS.map((id) => field(id))}
          </Part>
          <Part title="Plays">
            <Choice
              label="playback"
              zones={zones}
              of={(zone) => zone.playback}
              options={[
                ['while-held', 'while held'],
                ['full-length', 'full length'],
              ]}
              onChange={(playback) => change((zone) => ({ ...zone, playback }))}
            />
            <Choice
              label="sounds"
              zones={zones}
              of={(zone) => zone.trigger}
              options={[
                ['attack', 'when struck'],
                ['release', 'when let go'],
              ]}
              onChange={(trigger) => change((zone) => ({ ...zone, trigger }))}
            />
            <Choice
              label="direction"
              zones={zones}
              of={(zone) => (zone.reverse ? 'reversed' : 'forward')}
              options={[
                ['forward', 'forward'],
                ['reversed', 'reversed'],
              ]}
              onChange={(direction) => change((zone) => ({ ...zone, reverse: direction === 'reversed' }))}
            />
          </Part>
          <Together key={sound.id} sound={sound} places={places} />
          <Part title="Values of its own (empty: the layer’s)">{OWN.map((id) => field(id))}</Part>
        </>
      )}
    </aside>
  );
}

const HOW: Record<BatchMode, string> = {
  set: 'A typed number is set',
  shift: 'A typed number is added to each',
  scale: 'Each is multiplied by a typed number',
};
const BATCH_WORDS = { set: 'same for all', shift: 'add', scale: 'multiply' } as const;
