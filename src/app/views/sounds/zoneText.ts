import { nameOfKey, parseKey, type MiddleC } from '../../../core/music/noteNames';
import type { ZoneField } from '../../../core/rig/zoneFields';

/** How frames are told: as such, as seconds, or as a share of the sample. */
export type FrameUnit = 'frames' | 'seconds' | 'percent';
/** What is needed to tell keys and frames. */
export interface TextContext {
  middleC: MiddleC;
  frameUnit: FrameUnit;
  rate: number;
  frames: number;
}

const minus = (text: string): string => (/^-0(\.0*)?$/.test(text) ? text.slice(1) : text.replace('-', '−'));
const short = (x: number, digits: number): string => minus(String(Number(x.toFixed(digits))));

/** A number of a zone as people read it; empty where the zone has none. */
export function fieldText(
  { unit }: Pick<ZoneField, 'unit'>,
  value: number | undefined,
  { middleC, frameUnit, rate, frames }: TextContext,
): string {
  if (value === undefined) return '';
  switch (unit) {
    case 'key':
      return nameOfKey(value, middleC);
    case 'frames':
      return frameUnit === 'frames'
        ? String(value)
        : frameUnit === 'seconds'
          ? `${short(value / rate, 4)} s`
          : `${short((100 * value) / Math.max(1, frames), 3)} %`;
    case 'dB':
      return `${minus(value.toFixed(1))} dB`;
    case 'pan':
      return Math.abs(value) < 0.005
        ? 'centre'
        : `${Math.round(Math.abs(value) * 100)} ${value < 0 ? 'left' : 'right'}`;
    case 's':
      return value < 1 ? `${short(value * 1000, 1)} ms` : `${short(value, 2)} s`;
    case 'Hz':
      return value >= 1000 ? `${short(value / 1000, 2)} kHz` : `${short(value, 1)} Hz`;
    case 'cents':
      return `${short(value, 1)} ct`;
    case 'semitones':
      return `${short(value, 2)} st`;
    case '%':
      return `${short(value, 1)} %`;
    default:
      return short(value, 2);
  }
}

/**
 * What was typed as a number of a field: key names, `2.5 kHz`, `300 ms`, `40 left`. `relative`: the number is added or
 * multiplied, so key names mean nothing.
 * Undefined for an empty text (no value), NaN for one that cannot be read.
 */
export function parseField(
  { unit }: Pick<ZoneField, 'unit'>,
  typed: string,
  { middleC, frameUnit, rate, frames }: TextContext,
  relative: 'set' | 'shift' | 'scale',
): number | undefined {
  const text = typed.trim().toLowerCase().replaceAll('−', '-').replace(',', '.');
  if (text === '') return undefined;
  if (relative === 'set' && unit === 'key') return parseKey(typed, middleC) ?? NaN;
  if (unit === 'pan' && /^(c|centre|center)$/.test(text)) return 0;
  const match = /^([+×x*]?\s*-?\d*\.?\d+(?:e-?\d+)?)\s*([a-z%/]*)$/.exec(text);
  if (!match) return NaN;
  const value = Number(match[1].replace(/^[+×x*]\s*/, ''));
  const suffix = match[2];
  if (relative === 'scale') return suffix === '%' ? value / 100 : value;
  if (unit === 'frames')
    return Math.round(value * framesIn(suffix === '' ? SUFFIX[frameUnit] : suffix, { rate, frames }));
  if (unit === 'Hz' && suffix.startsWith('k')) return value * 1000;
  if (unit === 's' && suffix === 'ms') return value / 1000;
  if (unit === 'pan')
    return (suffix.startsWith('l') ? -Math.abs(value) : value) / (Math.abs(value) > 1 || suffix ? 100 : 1);
  return value;
}

/** What stands for a unit of frames where nothing was typed behind the number. */
const SUFFIX: Record<TextContext['frameUnit'], string> = { frames: '', seconds: 's', percent: '%' };

/** How many frames one of a unit is. */
function framesIn(suffix: string, { rate, frames }: Pick<TextContext, 'rate' | 'frames'>): number {
  if (suffix === 's') return rate;
  if (suffix === 'ms') return rate / 1000;
  return suffix === '%' ? frames / 100 : 1;
}

/** What a number of a field wants instead of one that is out of its range; undefined where it is inside. */
export function outOfRange(field: ZoneField, value: number | undefined, context: TextContext): string | undefined {
  if (value === undefined || (value >= field.low && value <= field.high)) return undefined;
  return `a value from ${fieldText(field, field.low, context)} to ${fieldText(field, field.high, context)}`;
}
