import { define, type Parameter } from '../../space/parameter';

/** What an oscillator may play: a row of waves, or a plain shape. */
export const OSCILLATOR_SHAPES = ['waves', 'saw', 'pulse', 'triangle', 'sine'];
export const WAVES_SHAPE = 0,
  SAW = 1,
  PULSE = 2,
  TRIANGLE = 3,
  SINE = 4;
export const SUB_SHAPES = ['sine', 'triangle', 'square'];
/** Which way an oscillator goes. */
export const OSCILLATOR_PATHS = ['as the layer has them', 'first filter', 'second filter', 'past the filters'];
export const OSCILLATORS = 3;

type Entry = Omit<Parameter, 'id'>;
const common = { reach: 'note', of: 'synth' } as const;
const LEVEL = { ...common, unit: 'dB', low: -60, high: 6, law: 'dB', sides: 1, sense: [-30, 0] } as const;
const SHARE = { ...common, unit: '%', low: 0, high: 100, law: 'linear', sides: 1 } as const;
const steps = (names: readonly string[]) =>
  ({
    ...common,
    unit: '',
    low: 0,
    high: names.length - 1,
    law: 'steps',
    atStrike: true,
    sides: 1,
    steps: names,
  }) as const;

/** The parameters of one oscillator; `others` are the two that may modulate it. */
const oscillator = (n: number, others: readonly [number, number]) =>
  ({
    Shape: {
      ...steps(OSCILLATOR_SHAPES),
      label: `oscillator ${n}`,
      default: n === 3 ? SINE : SAW,
      help: 'What the oscillator plays: a row of waves, or a plain shape.',
    },
    Position: { ...SHARE, label: `waves ${n}`, default: 0, help: 'Where in its row of waves the oscillator stands.' },
    Width: {
      ...SHARE,
      low: 2,
      high: 98,
      sides: 2,
      label: `pulse width ${n}`,
      default: 50,
      sense: [5, 95],
      help: 'Share of the cycle for which a pulse is up.',
    },
    Octave: {
      ...common,
      label: `octave ${n}`,
      unit: '',
      low: -4,
      high: 4,
      default: 0,
      law: 'steps',
      sides: 2,
      sense: [-2, 2],
      help: 'Octaves from the key.',
    },
    Semitones: {
      ...common,
      label: `semitones ${n}`,
      unit: 'semitones',
      low: -24,
      high: 24,
      default: 0,
      law: 'steps',
      sides: 2,
      sense: [-12, 12],
      help: 'Semitones from there.',
    },
    Cents: {
      ...common,
      label: `cents ${n}`,
      unit: 'cents',
      low: -2400,
      high: 2400,
      default: 0,
      law: 'linear',
      sides: 2,
      sense: [-30, 30],
      help: 'Cents from there; far enough for sweeps.',
    },
    Level: {
      ...LEVEL,
      label: `level ${n}`,
      default: n === 1 ? -6 : -60,
      help: 'How loud the oscillator is; the lowest value is silence, and it can still modulate others.',
    },
    Pan: {
      ...common,
      label: `pan ${n}`,
      unit: 'pan',
      low: -1,
      high: 1,
      default: 0,
      law: 'linear',
      sides: 2,
      help: 'Where the oscillator stands within its layer.',
    },
    Phase: {
      ...SHARE,
      atStrike: true,
      label: `phase ${n}`,
      default: 0,
      help: 'Where in its cycle the oscillator begins with each strike.',
    },
    Free: {
      ...steps(['from the strike', 'free']),
      label: `start ${n}`,
      default: 0,
      help: 'Whether each strike begins at the phase, or anywhere.',
    },
    Unison: {
      ...common,
      label: `unison ${n}`,
      unit: '',
      low: 1,
      high: 8,
      default: 1,
      law: 'steps',
      atStrike: true,
      sides: 1,
      help: 'Voices of the oscillator that play together.',
    },
    Detune: {
      ...common,
      label: `detune ${n}`,
      unit: 'cents',
      low: 0,
      high: 100,
      default: 15,
      law: 'linear',
      sides: 1,
      sense: [0, 40],
      help: 'Distance in pitch between the outermost of them.',
    },
    Spread: { ...SHARE, label: `spread ${n}`, default: 60, help: 'How far apart they stand.' },
    From: {
      ...steps(others.map((other) => `oscillator ${other}`)),
      label: `modulated by ${n}`,
      default: 1,
      help: 'Which of the others modulates it, in phase, in frequency and as a ring.',
    },
    PhaseMod: {
      ...common,
      label: `phase modulation ${n}`,
      unit: '',
      low: 0,
      high: 16,
      default: 0,
      law: 'linear',
      sides: 1,
      sense: [0, 5],
      help: 'How far the other one pushes its phase, in radians.',
    },
    FrequencyMod: {
      ...common,
      label: `frequency modulation ${n}`,
      unit: '',
      low: 0,
      high: 8,
      default: 0,
      law: 'linear',
      sides: 1,
      sense: [0, 2],
      help: 'How far the other one pushes its frequency, as a multiple of it.',
    },
    Ring: { ...SHARE, label: `ring ${n}`, default: 0, help: 'How far it is multiplied by the other one.' },
    Sync: {
      ...steps(['free', ...others.map((other) => `oscillator ${other}`)]),
      label: `sync ${n}`,
      default: 0,
      help: 'Whether it begins anew with each cycle of another one.',
    },
    Path: { ...steps(OSCILLATOR_PATHS), label: `way ${n}`, default: 0, help: 'Through which filters it goes.' },
  }) as const satisfies Record<string, Entry>;

type Named<N extends number, T> = { [K in keyof T as K extends string ? `osc${N}${K}` : never]: T[K] };
const named = <N extends number, T extends Record<string, Entry>>(n: N, entries: T) =>
  Object.fromEntries(Object.entries(entries).map(([id, entry]) => [`osc${n}${id}`, entry])) as Named<N, T>;

/** The others of each oscillator, from 0. */
export const OTHERS: readonly (readonly [number, number])[] = [
  [1, 2],
  [0, 2],
  [0, 1],
];

/** The parameters of a synth: of three oscillators, of the sub, of the noise. Values and routes are the layer's. */
export const SYNTH_PARAMETERS = define({
  ...named(1, oscillator(1, [2, 3])),
  ...named(2, oscillator(2, [1, 3])),
  ...named(3, oscillator(3, [1, 2])),
  subShape: { ...steps(SUB_SHAPES), label: 'sub', default: 0, help: 'What plays below the first oscillator.' },
  subOctave: {
    ...steps(['one octave down', 'two octaves down']),
    label: 'sub octave',
    default: 0,
    help: 'How far below it plays.',
  },
  subLevel: { ...LEVEL, label: 'sub level', default: -60, help: 'How loud it is; the lowest value is silence.' },
  subPath: { ...steps(OSCILLATOR_PATHS), label: 'way of the sub', default: 0, help: 'Through which filters it goes.' },
  noiseLevel: {
    ...LEVEL,
    label: 'noise level',
    default: -60,
    help: 'How loud the noise is; the lowest value is silence.',
  },
  noiseColour: {
    ...common,
    label: 'noise colour',
    unit: '%',
    low: -100,
    high: 100,
    default: 0,
    law: 'linear',
    sides: 2,
    help: 'Below 0 darker, above 0 thinner; 0 is white.',
  },
  noisePath: {
    ...steps(OSCILLATOR_PATHS),
    label: 'way of the noise',
    default: 0,
    help: 'Through which filters it goes.',
  },
});
export type SynthParameterId = keyof typeof SYNTH_PARAMETERS;
