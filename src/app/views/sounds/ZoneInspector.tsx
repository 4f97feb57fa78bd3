import { Copy, Trash2 } from 'lucide-react';
import { useMemo, useRef, useState, type ReactNode } from 'react';
import { nameOfKey, parseKey } from '../../../core/music/noteNames';
import { STRETCHES, type Stretch } from '../../../core/mapping/stretch';
import {
  copyPad,
  deleteZonesOf,
  matchLevels,
  sameAudioTwice,
  setAlternates,
  shareOutVelocities,
  stretchZones,
  updateSound,
  updateZones,
} from '../../../core/rig/edits/zones';
import type { Sound, Zone } from '../../../core/rig/schema';
import { changeField, zoneField, type ZoneField } from '../../../core/rig/zoneFields';
import { soundLab } from '../../document/soundLab';
import { NumberField } from '../../parts/NumberField';
import { TypedField } from '../../parts/TypedField';
import { soundsSlice, type BatchMode } from './soundsSlice';
import { edit, editSound, notice, told, useAppDispatch, useAppSelector } from '../../document/store';
import { fieldText, outOfRange, parseField, type TextContext } from './zoneText';

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
                {mode}
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

const Part = ({ title, pairs, children }: { title: string; pairs?: boolean; children: ReactNode }) => (
  <section aria-label={title} className={pairs ? 'grid grid-cols-2 gap-1.5' : 'flex flex-col gap-1.5'}>
    <h3 className="heading col-span-2">{title}</h3>
    {children}
  </section>
);

function BatchField({
  field,
  label,
  zones,
  batch,
  context,
  onChange,
}: {
  field: ZoneField;
  label: string;
  zones: readonly Zone[];
  batch: BatchMode;
  context: TextContext;
  onChange: (by: number | undefined) => void;
}) {
  const values = zones.map(field.get);
  const same = values.every((value) => value === values[0]);
  const text = batch !== 'set' ? '' : same ? fieldText(field, values[0], context) : 'various';
  return (
    <div title={field.help}>
      <TypedField
        label={batch === 'shift' ? `${label} +` : batch === 'scale' ? `${label} ×` : label}
        text={text}
        step={batch === 'set' && same ? (by) => onChange((values[0] ?? field.low) + by) : undefined}
        commit={(typed) => {
          const read = parseField(field, typed, context, batch);
          if (Number.isNaN(read))
            return `“${typed}” cannot be read as ${field.unit === 'key' && batch === 'set' ? 'a key such as E3 or 54' : 'a number'}`;
          if (read === undefined && batch !== 'set') return undefined;
          const wanted = batch === 'set' ? outOfRange(field, read, context) : undefined;
          if (wanted) return wanted;
          onChange(read);
          return undefined;
        }}
      />
    </div>
  );
}

function Choice<T extends string>({
  label,
  zones,
  of,
  options,
  onChange,
}: {
  label: string;
  zones: readonly Zone[];
  of: (zone: Zone) => T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  const value = zones.every((zone) => of(zone) === of(zones[0])) ? of(zones[0]) : '';
  return (
    <label className="flex items-center justify-between gap-2">
      <span className="text-[12px] text-faint">{label}</span>
      <select
        className="field w-32"
        value={value}
        onChange={(event) => event.target.value && onChange(event.target.value as T)}
      >
        {value === '' && <option value="">various</option>}
        {options.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

/** What is done with several zones at once. */
function Together({ sound, places }: { sound: Sound; places: ReadonlySet<number> }) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const [softEdge, setSoftEdge] = useState(0);
  const [measure, setMeasure] = useState<'lufs' | 'rmsDb' | 'peakDb'>('lufs');
  const [share, setShare] = useState(100);
  const [keep, setKeep] = useState(true);
  const change = (edited: (old: Sound) => Sound) => dispatch(editSound(sound.id, edited));
  const match = async () => {
    const levels = new Map<number, number>();
    try {
      await Promise.all(
        [...places].map(async (place) => {
          levels.set(place, (await soundLab.levels(sound.zones[place].sampleId))[measure]);
        }),
      );
      change((old) => matchLevels(old, places, levels, share / 100, keep));
    } catch (error) {
      dispatch(notice('problem', `Levels could not be measured: ${(error as Error).message}. Nothing was changed.`));
    }
  };
  const copy = (typed: string) => {
    const keys = typed
      .split(/[\s,;]+/)
      .filter((text) => text !== '')
      .map((text) => parseKey(text, middleC));
    if (keys.length === 0 || keys.some((key) => key === undefined)) return 'keys such as E3 or 54, one or more';
    const count = sound.zones.length;
    change((old) => keys.reduce<Sound>((made, key) => copyPad(made, places, key!, null), old));
    dispatch(soundsSlice.actions.zonesChosen(Array.from({ length: places.size * keys.length }, (_, i) => count + i)));
    return undefined;
  };
  return (
    <Part title="All of them together">
      <div className="flex items-center gap-1.5">
        <button
          className="button min-w-0 flex-1"
          title="Velocities 1 to 127 evenly over the zones of each key; alternates keep together"
          onClick={() => change((old) => shareOutVelocities(old, places, softEdge))}
        >
          Share out velocities
        </button>
        <div className="w-24">
          <NumberField label="soft edge" value={softEdge} low={0} high={60} onChange={setSoftEdge} />
        </div>
      </div>
      <label className="flex items-center justify-between gap-2">
        <span className="text-[12px] text-faint">reach over keys</span>
        <select
          className="field w-40"
          value=""
          onChange={(event) =>
            event.target.value && change((old) => stretchZones(old, places, event.target.value as Stretch))
          }
        >
          <option value="">choose …</option>
          {STRETCHES.map((stretch) => (
            <option key={stretch} value={stretch}>
              {
                {
                  none: 'each its root alone',
                  nearest: 'to the nearest root',
                  up: 'up to the next root',
                  down: 'down to the one before',
                }[stretch]
              }
            </option>
          ))}
        </select>
      </label>
      <div className="flex gap-1.5">
        <button
          className="button flex-1 justify-center px-2!"
          title="Zones that share a place take turns, in their order"
          onClick={() => change((old) => setAlternates(old, places, true))}
        >
          Alternates
        </button>
        <button
          className="button flex-1 justify-center px-2!"
          title="They always sound"
          onClick={() => change((old) => setAlternates(old, places, false))}
        >
          No alternates
        </button>
      </div>
      <div className="flex items-center gap-1.5">
        <button className="button flex-1 justify-center px-2!" onClick={() => void match()}>
          Match levels
        </button>
        <select
          className="field"
          aria-label="Levels are matched by"
          value={measure}
          onChange={(event) => setMeasure(event.target.value as 'lufs')}
        >
          <option value="lufs">LUFS</option>
          <option value="rmsDb">RMS</option>
          <option value="peakDb">peak</option>
        </select>
        <div className="w-20">
          <NumberField
            hideLabel
            label="share in percent"
            value={share}
            low={0}
            high={100}
            unit=" %"
            onChange={setShare}
          />
        </div>
      </div>
      <label className="flex items-center gap-2 text-[12px]">
        <input type="checkbox" checked={keep} onChange={(event) => setKeep(event.target.checked)} /> soft stays softer
        than hard
      </label>
      <div className="flex items-center gap-1.5">
        <Copy size={14} aria-hidden />
        <div className="flex-1" title="The chosen zones again, their lowest key on each key you type">
          <TypedField label="copy the pad to keys" text="" commit={copy} />
        </div>
      </div>
      <p className="text-[11.5px] text-faint">
        Drop files on the map to exchange those of the chosen zones; a sound of the list as well. Middle C is{' '}
        {nameOfKey(60, middleC)}.
      </p>
      <button
        className="button self-start"
        onClick={() => {
          dispatch(edit((rig) => deleteZonesOf(rig, sound.id, places)));
          dispatch(told(`${places.size} ${places.size === 1 ? 'zone is' : 'zones are'} gone from “${sound.name}”.`));
          dispatch(soundsSlice.actions.zonesChosen([]));
        }}
      >
        <Trash2 size={14} aria-hidden /> Delete {places.size === 1 ? 'it' : 'them'}
      </button>
    </Part>
  );
}
