import { EFFECTS } from '../effects';
import { ofText } from '../space/ofText';
import { MOVERS, type MoverKindId } from '../movers';
import { define, type Parameter } from '../space/parameter';
import { STEREO_WIDTH, LAYER_PARAMETERS } from './layerParameters';

export { fromNormal, toNormal, unitInPlace, type Law, type Parameter } from '../space/parameter';
const BALANCE = {
  label: 'balance',
  unit: 'pan',
  low: -1,
  high: 1,
  default: 0,
  law: 'linear',
  reach: 'patch',
  sides: 2,
  help: 'Which side is louder; the other one is turned down.',
} as const;
export type LayerParameterId = keyof typeof LAYER_PARAMETERS;

/** Sorts of sounds, in the order of their numbers in the engine. */
export const SOUND_KINDS = ['multisample', 'synth', 'grains', 'input'] as const;
export type SoundKindId = (typeof SOUND_KINDS)[number];

/** Whether a sound plays recordings on keys; others answer on every key. */
export const hasZones = (kind: SoundKindId): boolean => kind === 'multisample' || kind === 'grains';

/** The parameters of a layer that plays sounds of some kinds: what all have, and what those have. */
export const parametersFor = (kinds: readonly SoundKindId[]): Parameter[] =>
  Object.values<Parameter>(LAYER_PARAMETERS).filter(({ of }) => !of || kinds.includes(of));

/** The parameters of which a zone may have a value of its own. */
export const ZONE_PARAMETERS = [
  'delay',
  'startLevel',
  'attack',
  'hold',
  'decay',
  'sustain',
  'release',
  'cutoff',
  'resonance',
  'lowCut',
  'keyTrack',
  'velocityTrack',
  'velocityToLevel',
  'bendRange',
] as const satisfies readonly LayerParameterId[];
export type ZoneParameterId = (typeof ZONE_PARAMETERS)[number];

/**
 * The parameters of a group: each is added to one of its members', in steps that the ear takes for equal (dB, cents,
 * octaves, proportions of time). `onto` names those.
 */
export const GROUP_PARAMETERS = define({
  level: {
    label: 'level',
    unit: 'dB',
    low: -66,
    high: 6,
    default: 0,
    law: 'dB',
    reach: 'note',
    sides: 1,
    sense: [-30, 6],
    help: 'How much louder or softer all members are; the lowest value is silence.',
  },
  pan: {
    label: 'pan',
    unit: 'pan',
    low: -1,
    high: 1,
    default: 0,
    law: 'linear',
    reach: 'note',
    sides: 2,
    help: 'How far all members are moved to one side.',
  },
  tune: {
    label: 'fine tune',
    unit: 'cents',
    low: -1200,
    high: 1200,
    default: 0,
    law: 'linear',
    reach: 'note',
    sides: 2,
    sense: [-100, 100],
    help: 'Cents added to the pitch of all members.',
  },
  transpose: {
    label: 'transposition',
    unit: 'semitones',
    low: -48,
    high: 48,
    default: 0,
    law: 'steps',
    reach: 'note',
    atStrike: true,
    sides: 2,
    sense: [-24, 24],
    help: 'Semitones by which all members are moved.',
  },
  filters: {
    label: 'filters',
    unit: 'semitones',
    low: -96,
    high: 96,
    default: 0,
    law: 'linear',
    reach: 'note',
    sides: 2,
    sense: [-48, 48],
    help: 'Semitones by which the filters of all members are moved.',
  },
  attack: {
    label: 'attack ×',
    unit: '',
    low: 0.05,
    high: 20,
    default: 1,
    law: 'log',
    reach: 'note',
    atStrike: true,
    sides: 2,
    sense: [0.2, 5],
    help: 'What the attack times of all members are multiplied by.',
  },
  decay: {
    label: 'decay ×',
    unit: '',
    low: 0.05,
    high: 20,
    default: 1,
    law: 'log',
    reach: 'note',
    atStrike: true,
    sides: 2,
    sense: [0.2, 5],
    help: 'What the decay times of all members are multiplied by.',
  },
  width: { ...STEREO_WIDTH },
  release: {
    label: 'release ×',
    unit: '',
    low: 0.05,
    high: 20,
    default: 1,
    law: 'log',
    reach: 'note',
    atStrike: true,
    sides: 2,
    sense: [0.2, 5],
    help: 'What the release times of all members are multiplied by.',
  },
});
export type GroupParameterId = keyof typeof GROUP_PARAMETERS;

/** The parameters of members to which one of a group is added. */
export const ONTO: Readonly<Record<GroupParameterId, readonly LayerParameterId[]>> = {
  level: ['level'],
  pan: ['pan'],
  tune: ['tune'],
  transpose: ['transpose'],
  filters: ['cutoff', 'cutoff2'],
  attack: ['attack'],
  decay: ['decay'],
  release: ['release'],
  width: [],
};

/** The parameters of the patch's main output. */
export const MAIN_PARAMETERS = define({
  level: {
    label: 'main level',
    unit: 'dB',
    low: -60,
    high: 6,
    default: 0,
    law: 'dB',
    reach: 'patch',
    sides: 1,
    sense: [-30, 6],
    help: 'Level of the whole patch before the safety limiter.',
  },
  width: { ...STEREO_WIDTH },
});

/** The parameters of a shared effect's strip. */
export const POOL_PARAMETERS = define({
  level: {
    label: 'level',
    unit: 'dB',
    low: -60,
    high: 12,
    default: 0,
    law: 'dB',
    reach: 'patch',
    sides: 1,
    sense: [-30, 6],
    help: 'How loud what comes out of the shared effect is; the lowest value is silence.',
  },
  balance: { ...BALANCE },
  width: { ...STEREO_WIDTH },
});
export type PoolParameterId = keyof typeof POOL_PARAMETERS;

/** The parameters of a connection. */
export const CONNECTION_PARAMETERS = define({
  level: {
    label: 'level',
    unit: 'dB',
    low: -60,
    high: 12,
    default: 0,
    law: 'dB',
    reach: 'patch',
    sides: 1,
    sense: [-40, 6],
    help: 'How much of it goes this way; the lowest value is nothing.',
  },
});

/** The one parameter of a value of an instrument outside. */
export const KNOB_PARAMETERS = define({
  value: {
    label: 'value',
    unit: '',
    low: 0,
    high: 127,
    default: 64,
    law: 'steps',
    reach: 'patch',
    sides: 1,
    help: 'What the instrument outside is told for this controller.',
  },
});

export type MainParameterId = keyof typeof MAIN_PARAMETERS;

/** A source that is also a target: where it rests, moved by routes within 0…1. */
export const SHARE: Parameter = {
  id: 'share',
  label: 'value',
  unit: 'of 100',
  low: 0,
  high: 1,
  default: 0,
  law: 'linear',
  reach: 'patch',
  sides: 1,
  help: 'Resting position; routes move it from there.',
};
const BLEND_SHARE: Parameter = { ...SHARE, reach: 'note', sides: 2 };

/** The parameters of an XY pad: where its dot rests, and how it moves by itself. */
export const XY_PARAMETERS = define({
  x: {
    label: 'x',
    unit: '',
    low: 0,
    high: 1,
    default: 0.5,
    law: 'linear',
    reach: 'patch',
    sides: 2,
    help: 'Where the dot rests from left to right; routes move it from there.',
  },
  y: {
    label: 'y',
    unit: '',
    low: 0,
    high: 1,
    default: 0.5,
    law: 'linear',
    reach: 'patch',
    sides: 2,
    help: 'Where the dot rests from bottom to top; routes move it from there.',
  },
  speed: {
    label: 'wander speed',
    unit: 'Hz',
    low: 0.01,
    high: 8,
    default: 0.15,
    law: 'log',
    reach: 'patch',
    sides: 2,
    help: 'How often in a second the wandering dot sets out for another place.',
  },
  radius: {
    label: 'wander radius',
    unit: '',
    low: 0,
    high: 1,
    default: 0.3,
    law: 'linear',
    reach: 'patch',
    sides: 1,
    help: 'How far the wandering dot goes from where it rests.',
  },
  spring: {
    label: 'spring',
    unit: 's',
    low: 0.02,
    high: 5,
    default: 0.4,
    law: 'log',
    reach: 'patch',
    sides: 1,
    help: 'Time in which the dot goes back to its rest once it is let go.',
  },
});
export type XyParameterId = keyof typeof XY_PARAMETERS;

/**
 * The registry, section by section: everything that has a value and can be moved, whatever it belongs to. A mover's
 * section is named by its kind, and so is that of an effect.
 */
export const SECTIONS: Readonly<Record<string, Readonly<Record<string, Parameter>>>> = {
  layer: LAYER_PARAMETERS,
  group: GROUP_PARAMETERS,
  main: MAIN_PARAMETERS,
  pool: POOL_PARAMETERS,
  connection: CONNECTION_PARAMETERS,
  knob: KNOB_PARAMETERS,
  xy: XY_PARAMETERS,
  ...Object.fromEntries(EFFECTS.map((kind) => [kind.id, kind.parameters])),
  ...Object.fromEntries(MOVERS.map((kind) => [kind.id, kind.parameters])),
};

/**
 * What a route moves: `layer.ID.level`, `main.level`, `macro.N`, `blend.N`, `lfo.N.rate`, `xy.N.x`, `pool.ID.level`,
 * `connection.ID.level`, `knob.ID.value`, `reverb.ID.decay` …
 */
export type TargetId = string;
export type Target =
  | { kind: 'layer'; layerId: string; parameter: Parameter }
  | { kind: 'group'; groupId: string; parameter: Parameter }
  | { kind: 'main'; parameter: Parameter }
  | { kind: 'pool' | 'connection' | 'knob'; id: string; parameter: Parameter }
  | { kind: 'effect'; effectKind: string; id: string; parameter: Parameter }
  | { kind: 'macro' | 'blend' | 'xy' | MoverKindId; number: number; parameter: Parameter };

/** The target an id means, or undefined for a text that names none that a route may reach. */
export const parseTarget: (id: TargetId) => Target | undefined = ofText(readTarget);

function readTarget(id: TargetId): Target | undefined {
  const [kind, name, parameterId, ...rest] = id.split('.');
  if (rest.length > 0) return undefined;
  if (parameterId === undefined) {
    if (kind === 'main' && Object.hasOwn(MAIN_PARAMETERS, name))
      return { kind, parameter: MAIN_PARAMETERS[name as MainParameterId] };
    if ((kind === 'macro' || kind === 'blend') && NUMBER.test(name))
      return { kind, number: Number(name), parameter: kind === 'macro' ? SHARE : BLEND_SHARE };
    return undefined;
  }
  if (kind === 'main' || !Object.hasOwn(SECTIONS, kind) || !Object.hasOwn(SECTIONS[kind], parameterId))
    return undefined;
  const parameter = SECTIONS[kind][parameterId];
  if (kind === 'layer') return { kind, layerId: name, parameter };
  if (kind === 'group') return { kind, groupId: name, parameter };
  if (kind === 'pool' || kind === 'connection' || kind === 'knob') return { kind, id: name, parameter };
  if (EFFECTS.some(({ id: effectKind }) => effectKind === kind))
    return { kind: 'effect', effectKind: kind, id: name, parameter };
  return NUMBER.test(name) ? { kind: kind as 'xy' | MoverKindId, number: Number(name), parameter } : undefined;
}
const NUMBER = /^[1-9]\d?$/;

/** A level in dB as a factor; the lowest value of its range means silence. */
export const levelGain = (db: number, lowest: number): number => (db <= lowest ? 0 : 10 ** (db / 20));
