import { Copy, Trash2 } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { STRETCHES, type Stretch } from '../../../core/mapping/stretch';
import { nameOfKey, parseKey } from '../../../core/music/noteNames';
import {
  copyPad,
  deleteZonesOf,
  matchLevels,
  setAlternates,
  shareOutVelocities,
  stretchZones,
} from '../../../core/rig/edits/zones';
import type { Sound, Zone } from '../../../core/rig/schema';
import { type ZoneField } from '../../../core/rig/zoneFields';
import { soundLab } from '../../document/soundLab';
import { edit, editSound, notice, told, useAppDispatch, useAppSelector } from '../../document/store';
import { NumberField } from '../../parts/NumberField';
import { TypedField } from '../../parts/TypedField';
import { soundsSlice, type BatchMode } from './soundsSlice';
import { fieldText, outOfRange, parseField, type TextContext } from './zoneText';

export const Part = ({ title, pairs, children }: { title: string; pairs?: boolean; children: ReactNode }) => (
  <section aria-label={title} className={pairs ? 'grid grid-cols-2 gap-1.5' : 'flex flex-col gap-1.5'}>
    <h3 className="heading col-span-2">{title}</h3>
    {children}
  </section>
);

export function BatchField({
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

export function Choice<T extends string>({
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
export function Together({ sound, places }: { sound: Sound; places: ReadonlySet<number> }) {
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
