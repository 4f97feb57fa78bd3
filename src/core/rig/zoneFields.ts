import { moveEdge } from './edits/zones';
import { ZONE_PARAMETERS, type ZoneParameterId } from './parameters';
import { LAYER_PARAMETERS } from './layerParameters';
import type { Zone } from './schema';

/** A number of a zone as tables and forms see it. The one list of them: nothing else repeats it. */
export interface ZoneField {
  id: string;
  label: string;
  unit:
    | 'key'
    | 'velocity'
    | 'dB'
    | 'pan'
    | 'cents'
    | 'cents/key'
    | 'frames'
    | 'keys'
    | 'velocities'
    | ''
    | 's'
    | 'Hz'
    | '%'
    | 'semitones';
  low: number;
  high: number;
  whole: boolean;
  help: string;
  /** The number, or undefined where the zone has none. */
  get: (zone: Zone) => number | undefined;
  /** The zone with another number, held within its range; undefined takes away what can be absent. */
  set: (zone: Zone, value: number | undefined) => Zone;
}

const held = ({ low, high, whole }: Pick<ZoneField, 'low' | 'high' | 'whole'>, value: number): number => {
  const x = Math.min(high, Math.max(low, value));
  return whole ? Math.round(x) : x;
};

type Plain = 'root' | 'tune' | 'pitchPerKey' | 'gain' | 'pan' | 'start';
const plain = (id: Plain, entry: Omit<ZoneField, 'id' | 'get' | 'set'>): ZoneField => ({
  id,
  ...entry,
  get: (zone) => zone[id],
  set: (zone, value) => (value === undefined || Number.isNaN(value) ? zone : { ...zone, [id]: held(entry, value) }),
});

const edgeField = (
  edge: 'key' | 'velocity',
  part: 'low' | 'high' | 'fadeIn' | 'fadeOut',
  label: string,
  help: string,
): ZoneField => {
  const least = edge === 'key' ? 0 : 1;
  const range =
    part === 'low' || part === 'high' ? { low: least, high: 127, whole: true } : { low: 0, high: 127, whole: true };
  return {
    id: `${edge}.${part}`,
    label,
    help,
    ...range,
    unit: part === 'low' || part === 'high' ? edge : edge === 'key' ? 'keys' : 'velocities',
    get: (zone) => zone[edge][part],
    set: (zone, value) => {
      if (value === undefined || Number.isNaN(value)) return zone;
      const x = held(range, value);
      const old = zone[edge];
      if (part === 'low') return { ...zone, [edge]: moveEdge(old, x, Math.max(x, old.high), least, 127) };
      if (part === 'high') return { ...zone, [edge]: moveEdge(old, Math.min(x, old.low), x, least, 127) };
      return { ...zone, [edge]: { ...old, [part]: Math.min(x, old.high - old.low) } };
    },
  };
};

const MOST_FRAMES = 2 ** 31;
const frames = (id: string, label: string, help: string, get: ZoneField['get'], set: ZoneField['set']): ZoneField => ({
  id,
  label,
  help,
  unit: 'frames',
  low: 0,
  high: MOST_FRAMES,
  whole: true,
  get,
  set,
});

/** A whole number of frames that a file can hold. */
const heldFrames = (value: number, least: number): number => Math.min(MOST_FRAMES, Math.max(least, Math.round(value)));

const loopField = (part: 'start' | 'end' | 'crossfade', label: string, help: string): ZoneField =>
  frames(
    `loop.${part}`,
    label,
    help,
    (zone) => zone.loop?.[part],
    (zone, value) => {
      if (value === undefined || Number.isNaN(value) || !zone.loop) return zone;
      const x =
        part === 'start' ? Math.min(MOST_FRAMES - 1, heldFrames(value, 0)) : heldFrames(value, part === 'end' ? 1 : 0);
      const loop = { ...zone.loop, [part]: x };
      if (loop.start >= loop.end)
        return part === 'start'
          ? { ...zone, loop: { ...loop, end: loop.start + 1 } }
          : { ...zone, loop: { ...loop, start: loop.end - 1 } };
      return { ...zone, loop };
    },
  );

/** The numbers of a zone in the order in which forms show them. */
export const ZONE_FIELDS: readonly ZoneField[] = [
  plain('root', {
    label: 'root',
    unit: 'key',
    low: 0,
    high: 127,
    whole: true,
    help: 'Key at which the sample plays at its own pitch.',
  }),
  edgeField('key', 'low', 'keys from', 'Lowest key.'),
  edgeField('key', 'high', 'keys to', 'Highest key.'),
  edgeField('key', 'fadeIn', 'fade in, keys', 'Keys over which it comes in from the lowest.'),
  edgeField('key', 'fadeOut', 'fade out, keys', 'Keys over which it goes out toward the highest.'),
  edgeField('velocity', 'low', 'velocities from', 'Softest strike.'),
  edgeField('velocity', 'high', 'velocities to', 'Hardest strike.'),
  edgeField('velocity', 'fadeIn', 'fade in, velocities', 'Velocities over which it comes in.'),
  edgeField('velocity', 'fadeOut', 'fade out, velocities', 'Velocities over which it goes out.'),
  plain('gain', { label: 'gain', unit: 'dB', low: -96, high: 48, whole: false, help: 'Added to the level.' }),
  plain('pan', { label: 'pan', unit: 'pan', low: -1, high: 1, whole: false, help: 'Place between left and right.' }),
  plain('tune', { label: 'tune', unit: 'cents', low: -1200, high: 1200, whole: false, help: 'Added to the pitch.' }),
  plain('pitchPerKey', {
    label: 'pitch per key',
    unit: 'cents/key',
    low: -1200,
    high: 1200,
    whole: false,
    help: '100 follows the keys, 0 always plays at its own pitch.',
  }),
  plain('start', {
    label: 'start',
    unit: 'frames',
    low: 0,
    high: MOST_FRAMES,
    whole: true,
    help: 'First frame played.',
  }),
  frames(
    'end',
    'end',
    'The frame after the last one played; empty: to the end.',
    (zone) => zone.end ?? undefined,
    (zone, value) => ({
      ...zone,
      end: value === undefined ? null : Number.isNaN(value) ? zone.end : heldFrames(value, 1),
    }),
  ),
  ...(['fadeIn', 'fadeOut'] as const).map((id): ZoneField => ({
    id,
    label: id === 'fadeIn' ? 'comes in' : 'goes out',
    unit: 's',
    low: 0,
    high: 60,
    whole: false,
    help:
      id === 'fadeIn' ? 'Time in which it comes in from silence.' : 'Time before its end in which it goes to silence.',
    get: (zone) => zone[id],
    set: (zone, value) =>
      value === undefined || Number.isNaN(value) ? zone : { ...zone, [id]: Math.min(60, Math.max(0, value)) },
  })),
  loopField('start', 'loop start', 'First frame of the loop.'),
  loopField('end', 'loop end', 'The frame after the last one of the loop.'),
  loopField(
    'crossfade',
    'loop crossfade',
    'Frames before the loop’s end that are blended with those before its start.',
  ),
  {
    id: 'alternate',
    label: 'alternate',
    unit: '',
    low: 1,
    high: 1000,
    whole: true,
    help: 'Its turn among the alternates that meet on a key and velocity, from 1; empty: it always sounds.',
    // People count from 1, the file from 0.
    get: (zone) => (zone.alternate === null ? undefined : zone.alternate + 1),
    set: (zone, value) => ({
      ...zone,
      alternate:
        value === undefined
          ? null
          : Number.isNaN(value)
            ? zone.alternate
            : Math.max(0, Math.min(999, Math.round(value) - 1)),
    }),
  },
  {
    id: 'turns',
    label: 'of turns',
    unit: '',
    low: 1,
    high: 1000,
    whole: true,
    help: 'Turns in the round of its alternates where some are silent; empty: as many as there are alternates.',
    get: (zone) => zone.turns ?? undefined,
    set: (zone, value) => ({
      ...zone,
      turns:
        value === undefined ? null : Number.isNaN(value) ? zone.turns : Math.max(1, Math.min(1000, Math.round(value))),
    }),
  },
  ...(['group', 'by'] as const).map((part): ZoneField => ({
    id: `choke.${part}`,
    label: part === 'group' ? 'choke' : 'choked by',
    unit: '',
    low: 0,
    high: MOST_FRAMES,
    whole: true,
    help:
      part === 'group'
        ? 'The choke group it belongs to; empty: none.'
        : 'A strike of this choke group ends it; empty: none does.',
    get: (zone) => zone.choke?.[part] ?? undefined,
    set: (zone, value) => {
      if (value !== undefined && Number.isNaN(value)) return zone;
      const choke = {
        ...(zone.choke ?? { group: null, by: null, fade: 'fast' as const }),
        [part]: value === undefined ? null : heldFrames(value, 0),
      };
      return { ...zone, choke: choke.group === null && choke.by === null ? null : choke };
    },
  })),
  ...ZONE_PARAMETERS.map((id): ZoneField => {
    const { label, unit, low, high, help } = LAYER_PARAMETERS[id];
    return {
      id: `params.${id}`,
      label,
      unit: unit as ZoneField['unit'],
      low,
      high,
      whole: false,
      help: `${help} Empty: the layer’s.`,
      get: (zone) => zone.params[id],
      set: (zone, value) => {
        if (value !== undefined && Number.isNaN(value)) return zone;
        const { [id]: _, ...others } = zone.params as Record<ZoneParameterId, number>;
        return {
          ...zone,
          params: value === undefined ? others : { ...others, [id]: Math.min(high, Math.max(low, value)) },
        };
      },
    };
  }),
];

export const zoneField = (id: string): ZoneField => ZONE_FIELDS.find((field) => field.id === id)!;

export type Batch = 'set' | 'shift' | 'scale';
/** Sets a number, adds to it, or multiplies it; where a zone has none, only setting does anything. */
export function changeField(zone: Zone, field: ZoneField, how: Batch, by: number | undefined): Zone {
  const now = field.get(zone);
  if (how === 'set' || by === undefined) return field.set(zone, by);
  return now === undefined ? zone : field.set(zone, how === 'shift' ? now + by : now * by);
}
