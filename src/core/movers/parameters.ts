import { NOTE_VALUES, noteValue } from '../music/time';
import type { Parameter } from '../space/parameter';

type Entry = Omit<Parameter, 'id'>;
const common = { reach: 'note' } as const;

/** What many movers have in common, with their own resting places. */
export const rate = (rest: number, help: string): Entry => ({
  ...common,
  label: 'rate',
  unit: 'Hz',
  low: 0.01,
  high: 40,
  default: rest,
  law: 'log',
  sides: 2,
  sense: [0.05, 12],
  help,
});
export const length = (rest: string, help: string): Entry => ({
  ...common,
  label: 'note value',
  unit: 'note',
  low: 0,
  high: NOTE_VALUES.length - 1,
  default: noteValue(rest),
  law: 'steps',
  sides: 2,
  steps: NOTE_VALUES.map(({ label }) => label),
  help,
});
export const seconds = (label: string, rest: number, help: string, low = 0.005, high = 30): Entry => ({
  ...common,
  label,
  unit: 's',
  low,
  high,
  default: rest,
  law: low > 0 ? 'log' : 'linear',
  sides: 1,
  help,
});
export const percent = (label: string, rest: number, help: string, low = 0, high = 100): Entry => ({
  ...common,
  label,
  unit: '%',
  low,
  high,
  default: rest,
  law: 'linear',
  sides: low < 0 ? 2 : 1,
  help,
});
/** How much of its way a mover goes. */
export const amount: Entry = percent('depth', 100, 'How much of its way it goes; at 0 it stays in the middle.');
