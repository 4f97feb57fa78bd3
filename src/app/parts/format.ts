import type { Parameter } from '../../core/rig/parameters';

/** With a proper minus sign; what is rounded to nothing has none. */
export const minus = (text: string): string => (/^-0(\.0*)?$/.test(text) ? text.slice(1) : text.replace('-', '−'));
const trimmed = (x: number, digits: number): string => String(Number(x.toFixed(digits)));
/** Three figures that count, whatever the size. */
const three = (x: number): string => (Math.abs(x) >= 1000 ? String(Math.round(x)) : String(Number(x.toPrecision(3))));

/** A parameter's value as people read it: `−6.5 dB`, `2.4 kHz`, `180 ms`, `12 left`. */
export function formatValue({ unit, low, law, steps }: Parameter, value: number): string {
  if (steps) return steps[Math.round(value) - low] ?? String(value);
  switch (unit) {
    case 'dB':
      return law === 'dB' && value <= low ? 'silent' : `${minus(value.toFixed(1))} dB`;
    case 'Hz':
      return value >= 999.5 ? `${three(value / 1000)} kHz` : `${three(value)} Hz`;
    case 's':
      return value < 0.9995 ? `${three(value * 1000)} ms` : `${three(value)} s`;
    case 'pan':
      return Math.abs(value) < 0.005
        ? 'centre'
        : `${Math.round(Math.abs(value) * 100)} ${value < 0 ? 'left' : 'right'}`;
    case '%':
      return `${minus(trimmed(value, Math.abs(value) < 10 ? 1 : 0))} %`;
    case 'cents':
      return `${minus(trimmed(value, 1))} ct`;
    case 'of 100':
      return minus(trimmed(value * 100, 1));
    case 'semitones':
      return `${minus(trimmed(value, 1))} st`;
    default:
      return minus(three(value));
  }
}

/**
 * A typed value in the parameter's unit: `2.4k`, `2400 Hz`, `180 ms`, `-6`, `30 left`, `silent`. A text where it cannot
 * be read or is out of range: what is wanted.
 */
export function readValue(parameter: Parameter, typed: string): number | string {
  const { unit, low, high } = parameter;
  const wanted = `a value from ${formatValue(parameter, low)} to ${formatValue(parameter, high)}`;
  const text = typed.trim().toLowerCase().replace('−', '-').replace(',', '.');
  if (unit === 'dB' && text === 'silent') return low;
  if (unit === 'pan' && /^(c|centre|center)$/.test(text)) return 0;
  if (parameter.steps) {
    const named = parameter.steps.findIndex((step) => step.toLowerCase() === text);
    if (named >= 0) return low + named;
  }
  // A side may be said before its number as well: L 40, 40 left, −40.
  const side = unit === 'pan' ? /^([lr])[a-z]*\s*(\d*\.?\d+)$/.exec(text) : null;
  const match = side ? [text, side[2], side[1]] : /^([+-]?\d*\.?\d+)\s*([a-z%]*)$/.exec(text);
  if (!match) return wanted;
  let value = Number(match[1]);
  const suffix = match[2];
  value *= timesFor(unit, suffix);
  if (unit === 'pan')
    value = (suffix.startsWith('l') ? -Math.abs(value) : value) / (Math.abs(value) > 1 || suffix ? 100 : 1);
  // What is shown as an end of the range is that end.
  for (const end of [low, high])
    if ((value < low || value > high) && formatValue(parameter, value) === formatValue(parameter, end)) value = end;
  return value < low || value > high ? wanted : parameter.law === 'steps' ? Math.round(value) : value;
}

/** What a typed number is multiplied by, by its unit and what was typed after it. */
function timesFor(unit: Parameter['unit'], suffix: string): number {
  if (unit === 'Hz' && suffix.startsWith('k')) return 1000;
  if (unit === 's' && suffix === 'ms') return 1 / 1000;
  return unit === 'of 100' ? 1 / 100 : 1;
}

/** Semitones up or down, with their sign: `+3`, `−2`. */
export const signed = (semitones: number): string => `${semitones > 0 ? '+' : ''}${minus(String(semitones))}`;

export const formatDb = (db: number): string => (db === -Infinity ? 'silent' : `${minus(db.toFixed(1))} dB`);
