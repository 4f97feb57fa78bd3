import { NOTE_VALUES, noteValue } from '../music/time';
import type { Parameter } from '../space/parameter';

/** Parameters as effects have them: one value for all notes. */
type Entry = Omit<Parameter, 'id'>;
const one = { reach: 'patch' } as const;

export const percent = (label: string, rest: number, help: string, low = 0, high = 100): Entry => ({
  ...one,
  label,
  unit: '%',
  low,
  high,
  default: rest,
  law: 'linear',
  sides: low < 0 ? 2 : 1,
  help,
});
/** How much of the effect is heard: the first parameter of each. */
export const mix = (rest = 100): Entry =>
  percent('mix', rest, 'How much of the effect is heard: 0 % only what comes in, 100 % only what it makes of it.');
export const decibels = (label: string, low: number, high: number, rest: number, help: string): Entry => ({
  ...one,
  label,
  unit: 'dB',
  low,
  high,
  default: rest,
  law: 'linear',
  sides: low < 0 && high > 0 ? 2 : 1,
  help,
});
export const hertz = (label: string, low: number, high: number, rest: number, help: string): Entry => ({
  ...one,
  label,
  unit: 'Hz',
  low,
  high,
  default: rest,
  law: 'log',
  sides: 2,
  help,
});
export const seconds = (label: string, low: number, high: number, rest: number, help: string): Entry => ({
  ...one,
  label,
  unit: 's',
  low,
  high,
  default: rest,
  law: low > 0 ? 'log' : 'linear',
  sides: 1,
  help,
});
export const factor = (label: string, low: number, high: number, rest: number, help: string): Entry => ({
  ...one,
  label,
  unit: '',
  low,
  high,
  default: rest,
  law: low > 0 ? 'log' : 'linear',
  sides: 1,
  help,
});
export const count = (label: string, low: number, high: number, rest: number, help: string): Entry => ({
  ...one,
  label,
  unit: '',
  low,
  high,
  default: rest,
  law: 'steps',
  sides: 1,
  help,
});
export const semitones = (label: string, low: number, high: number, rest: number, help: string): Entry => ({
  ...one,
  label,
  unit: 'semitones',
  low,
  high,
  default: rest,
  law: 'linear',
  sides: low < 0 ? 2 : 1,
  help,
});
export const choice = (label: string, steps: readonly string[], rest: string, help: string): Entry => ({
  ...one,
  label,
  unit: '',
  low: 0,
  high: steps.length - 1,
  default: steps.indexOf(rest),
  law: 'steps',
  sides: 1,
  steps,
  help,
});
export const noteLength = (rest: string, help: string, label = 'note value'): Entry => ({
  ...one,
  label,
  unit: 'note',
  low: 0,
  high: NOTE_VALUES.length - 1,
  default: noteValue(rest),
  law: 'steps',
  sides: 2,
  steps: NOTE_VALUES.map(({ label: name }) => name),
  help,
});
/** Whether times are told by the clock or in note values. */
export const CLOCKS = ['free', 'in note values'] as const;
export const clock = (rest: (typeof CLOCKS)[number] = 'free'): Entry =>
  choice('time', CLOCKS, rest, 'Whether its time is told in seconds and Hz, or in note values of the tempo.');
/** A key by its number, or that of the note that is played. */
export const KEYS = ['fixed', 'follows the keys'] as const;
export const keyFrom = (rest: (typeof KEYS)[number] = 'fixed'): Entry =>
  choice('tuning', KEYS, rest, 'Whether it is tuned to a key of its own, or to the note that was played last.');
export const key = (rest: number): Entry => ({
  ...one,
  label: 'key',
  unit: '',
  low: 0,
  high: 127,
  default: rest,
  law: 'steps',
  sides: 2,
  help: 'The key it is tuned to, 60 for middle C.',
});
