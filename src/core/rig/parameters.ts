import { EFFECTS } from '../effects';
import { MOVERS, type MoverKindId } from '../movers';
import { FILTER_KINDS } from '../space/filterKinds';
import { length } from '../movers/parameters';
import { GRAIN_PARAMETERS } from '../sounds/grains/parameters';
import { SYNTH_PARAMETERS } from '../sounds/synth/parameters';
import { define, type Parameter } from '../space/parameter';

export { fromNormal, toNormal, unitInPlace, type Law, type Parameter } from '../space/parameter';

/** What strips have in common. */
const STEREO_WIDTH = { label: 'width', unit: '%', low: 0, high: 200, default: 100, law: 'linear', reach: 'patch', sides: 2, help: 'How far both sides differ after the effects: 0 % none, 100 % as they are.' } as const;
const BALANCE = { label: 'balance', unit: 'pan', low: -1, high: 1, default: 0, law: 'linear', reach: 'patch', sides: 2, help: 'Which side is louder; the other one is turned down.' } as const;

/** Every parameter of a layer, those of its kind of sound included. The interface, routes, files and the command line read this and repeat none of it. */
export const LAYER_PARAMETERS = { ...define({
  level: { label: 'level', unit: 'dB', low: -60, high: 6, default: 0, law: 'dB', reach: 'note', sides: 1, sense: [-30, 6], help: 'How loud the layer is; the lowest value is silence.' },
  pan: { label: 'pan', unit: 'pan', low: -1, high: 1, default: 0, law: 'linear', reach: 'note', sides: 2, help: 'Where the layer stands between left and right, at equal power.' },
  tune: { label: 'fine tune', unit: 'cents', low: -1200, high: 1200, default: 0, law: 'linear', reach: 'note', sides: 2, sense: [-100, 100], help: 'Pitch in cents; keeps the samples that the keys have.' },
  transpose: { label: 'transposition', unit: 'semitones', low: -48, high: 48, default: 0, law: 'steps', reach: 'note', atStrike: true, sides: 2, sense: [-24, 24], help: 'Whole semitones; the samples of the key it lands on are used.' },
  choice: { label: 'choice', unit: '%', low: 0, high: 100, default: 0, law: 'linear', reach: 'note', sides: 1, help: 'Which sound of its list the layer plays, as a share of the list.' },
  start: { label: 'sample start', unit: '%', low: 0, high: 100, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 1, sense: [0, 60], help: 'How far into each sample a note begins, as a share of what is played of it.' },
  reversed: { label: 'reversed', unit: '', low: 0, high: 1, default: 0, law: 'steps', reach: 'note', atStrike: true, sides: 1, steps: ['forward', 'backward'], help: 'Whether each sample is played the other way round.' },
  delay: { label: 'delay', unit: 's', low: 0, high: 20, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 1, sense: [0, 0.5], help: 'Time before the attack begins.' },
  startLevel: { label: 'starts at', unit: '%', low: 0, high: 100, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 1, help: 'Level at which the attack begins.' },
  attack: { label: 'attack', unit: 's', low: 0.001, high: 20, default: 0.001, law: 'log', reach: 'note', atStrike: true, sides: 1, sense: [0.001, 4], help: 'Time from silence to full level.' },
  hold: { label: 'hold', unit: 's', low: 0, high: 20, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 1, sense: [0, 4], help: 'Time at full level between attack and decay.' },
  decay: { label: 'decay', unit: 's', low: 0.001, high: 20, default: 1, law: 'log', reach: 'note', atStrike: true, sides: 1, sense: [0.05, 10], help: 'Time in which the level falls to the sustain level after the attack.' },
  sustain: { label: 'sustain', unit: 'dB', low: -60, high: 0, default: 0, law: 'dB', reach: 'note', atStrike: true, sides: 1, sense: [-40, 0], help: 'Level that stays while a key is held.' },
  release: { label: 'release', unit: 's', low: 0.005, high: 20, default: 0.2, law: 'log', reach: 'note', atStrike: true, sides: 1, sense: [0.01, 8], help: 'Time in which the level falls by 60 dB after the key is let go.' },
  cutoff: { label: 'high cut', unit: 'Hz', low: 20, high: 20480, default: 20480, law: 'log', reach: 'note', sides: 2, sense: [100, 20480], help: 'Low-pass filter of each note; fully up it is out of the way.' },
  resonance: { label: 'resonance', unit: '', low: 0.5, high: 20, default: Math.SQRT1_2, law: 'log', reach: 'note', sides: 1, sense: [0.5, 8], help: 'Q of the low-pass filter: 0.71 is flat, higher rings at the cutoff.' },
  lowCut: { label: 'low cut', unit: 'Hz', low: 20, high: 20480, default: 20, law: 'log', reach: 'note', sides: 1, sense: [20, 2000], help: 'High-pass filter of each note; fully down it is out of the way.' },
  keyTrack: { label: 'filter follows keys', unit: '%', low: -100, high: 200, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, help: 'At 100 % the high cut moves with the key, from middle C.' },
  velocityTrack: { label: 'filter follows velocity', unit: 'semitones', low: -96, high: 96, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, sense: [-48, 48], help: 'How far the hardest strike moves the high cut.' },
  velocityToLevel: { label: 'level follows velocity', unit: '%', low: 0, high: 100, default: 100, law: 'linear', reach: 'note', atStrike: true, sides: 1, help: 'At 100 % a strike of half the velocity is 12 dB softer, at 0 % all strikes are equal.' },
  touch: { label: 'touch', unit: '', low: -1, high: 1, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, help: 'Above 0 soft strikes count for more, below 0 for less; 0 is a straight line.' },
  bendRange: { label: 'bend range', unit: 'semitones', low: 0, high: 48, default: 2, law: 'linear', reach: 'note', atStrike: true, sides: 1, sense: [0, 12], help: 'How far the bend wheel moves the pitch.' },
  vibratoDepth: { label: 'vibrato depth', unit: 'cents', low: 0, high: 200, default: 0, law: 'linear', reach: 'note', sides: 1, sense: [0, 60], help: 'How far the pitch of each note sways to either side.' },
  vibratoRate: { label: 'vibrato rate', unit: 'Hz', low: 0.1, high: 16, default: 5.5, law: 'log', reach: 'note', atStrike: true, sides: 2, sense: [3, 8], help: 'How often the pitch sways in a second.' },
  vibratoOnset: { label: 'vibrato onset', unit: 's', low: 0, high: 5, default: 0.2, law: 'linear', reach: 'note', atStrike: true, sides: 1, sense: [0, 1.5], help: 'Time after the strike in which the vibrato grows to its depth.' },
  attackCurve: { label: 'attack curve', unit: '%', low: -100, high: 100, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, help: 'Above 0 quick at first, below slow at first; 0 is a straight line.' },
  decayCurve: { label: 'decay curve', unit: '%', low: -100, high: 100, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, help: 'Above 0 quicker at first, below nearer to a straight line; 0 dies away as strings do.' },
  releaseCurve: { label: 'release curve', unit: '%', low: -100, high: 100, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, help: 'Above 0 quicker at first, below nearer to a straight line; 0 dies away as strings do.' },
  onset: { label: 'onset', unit: 'dB', low: -24, high: 24, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, sense: [-12, 12], help: 'How much louder or softer each note begins, without touching the samples.' },
  onsetTime: { label: 'onset time', unit: 's', low: 0.002, high: 1, default: 0.04, law: 'log', reach: 'note', atStrike: true, sides: 2, help: 'Time in which the onset goes back to the level of the note.' },
  drift: { label: 'drift', unit: 'cents', low: 0, high: 50, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 1, sense: [0, 20], help: 'How far the pitch of each voice strays, each on its own.' },
  driftTime: { label: 'drift time', unit: 's', low: 0.1, high: 30, default: 3, law: 'log', reach: 'note', atStrike: true, sides: 2, help: 'How long a voice takes from one pitch that it strays to, to the next.' },
  panChance: { label: 'pan by chance', unit: '%', low: 0, high: 100, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 1, help: 'How far from its place a note may stand, each somewhere else.' },
  panKeys: { label: 'pan by key', unit: '%', low: -100, high: 100, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, help: 'Above 0 low keys stand left and high ones right, below 0 the other way round.' },
  unison: { label: 'unison', unit: '', low: 1, high: 8, default: 1, law: 'steps', reach: 'note', atStrike: true, sides: 1, help: 'Voices that play each note together.' },
  detune: { label: 'unison detune', unit: 'cents', low: 0, high: 100, default: 12, law: 'linear', reach: 'note', atStrike: true, sides: 1, sense: [0, 40], help: 'Distance in pitch between the outermost voices of a unison.' },
  unisonWidth: { label: 'unison width', unit: '%', low: 0, high: 100, default: 60, law: 'linear', reach: 'note', atStrike: true, sides: 1, help: 'How far apart the voices of a unison stand.' },
  glide: { label: 'glide', unit: 's', low: 0, high: 5, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 1, sense: [0, 1], help: 'Time in which a note goes from the pitch of the last one to its own.' },
  filterKind: { label: 'filter', unit: '', low: 0, high: FILTER_KINDS.length - 1, default: 1, law: 'steps', reach: 'note', atStrike: true, sides: 1, steps: FILTER_KINDS, help: 'What the first filter lets through.' },
  filter2Kind: { label: 'second filter', unit: '', low: 0, high: FILTER_KINDS.length - 1, default: 0, law: 'steps', reach: 'note', atStrike: true, sides: 1, steps: FILTER_KINDS, help: 'What the second filter lets through.' },
  filterPaths: { label: 'filters', unit: '', low: 0, high: 1, default: 0, law: 'steps', reach: 'note', atStrike: true, sides: 1, steps: ['in a row', 'side by side'], help: 'Whether the second filter hears what the first one gives, or both hear the sound.' },
  keyTrack2: { label: 'second filter follows keys', unit: '%', low: -100, high: 200, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, help: 'At 100 % the second filter moves with the key, from middle C.' },
  velocityTrack2: { label: 'second filter follows velocity', unit: 'semitones', low: -96, high: 96, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, sense: [-48, 48], help: 'How far the hardest strike moves the second filter.' },
  envelopeToCutoff: { label: 'filter follows envelope', unit: 'semitones', low: -96, high: 96, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, sense: [-60, 60], help: 'How far the envelope of the level moves the filter.' },
  envelopeToCutoff2: { label: 'second filter follows envelope', unit: 'semitones', low: -96, high: 96, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 2, sense: [-60, 60], help: 'How far the envelope of the level moves the second filter.' },
  combDamping: { label: 'comb damping', unit: '%', low: 0, high: 100, default: 20, law: 'linear', reach: 'note', atStrike: true, sides: 1, help: 'How much of the treble a comb loses in each round.' },
  tiltPivot: { label: 'tilt pivot', unit: 'Hz', low: 100, high: 5000, default: 800, law: 'log', reach: 'note', atStrike: true, sides: 2, help: 'The frequency that tilting leaves as loud as it is.' },
  cutoff2: { label: 'second cutoff', unit: 'Hz', low: 20, high: 20480, default: 1000, law: 'log', reach: 'note', sides: 2, sense: [60, 12000], help: 'Where the second filter is.' },
  resonance2: { label: 'second resonance', unit: '', low: 0.5, high: 20, default: Math.SQRT1_2, law: 'log', reach: 'note', sides: 1, sense: [0.5, 8], help: 'Q of the second filter: 0.71 is flat, higher rings.' },
  drive: { label: 'drive', unit: 'dB', low: 0, high: 36, default: 0, law: 'linear', reach: 'note', sides: 1, sense: [0, 24], help: 'How hard the sound is driven into soft saturation between the two filters; full-scale peaks keep their level.' },
  tilt: { label: 'tilt', unit: 'dB', low: -6, high: 6, default: 0, law: 'linear', reach: 'note', sides: 2, sense: [-3, 3], help: 'dB that each octave above the pivot gains, and each one below it loses.' },
  strum: { label: 'strum', unit: 's', low: 0, high: 0.5, default: 0, law: 'linear', reach: 'note', atStrike: true, sides: 1, sense: [0, 0.12], help: 'Time from one note of a chord to the next.' },
  arpRate: { ...length('1/16', 'How long a step of the arpeggio lasts.'), label: 'arpeggio step', reach: 'note', atStrike: true },
  arpGate: { label: 'arpeggio gate', unit: '%', low: 5, high: 200, default: 70, law: 'linear', reach: 'note', atStrike: true, sides: 2, help: 'Share of its step that a note is held.' },
  arpSwing: { label: 'arpeggio swing', unit: '%', low: 50, high: 75, default: 50, law: 'linear', reach: 'note', atStrike: true, sides: 1, help: 'Share of two steps that the first one takes: 50 even, 66 as triplets.' },
  arpOctaves: { label: 'arpeggio octaves', unit: '', low: 1, high: 4, default: 1, law: 'steps', reach: 'note', atStrike: true, sides: 1, help: 'Octaves that the arpeggio goes through.' },
  width: { ...STEREO_WIDTH },
  loopPosition: { label: 'loop position', unit: '%', low: -100, high: 100, default: 0, law: 'linear', reach: 'note', sides: 2, help: 'Moves the loop of each sample through it, as a share of its length.' },
  loopLength: { label: 'loop length', unit: '%', low: 0.5, high: 400, default: 100, law: 'log', reach: 'note', sides: 2, help: 'Length of the loop of each sample, as a share of its own.' },
}), ...SYNTH_PARAMETERS, ...GRAIN_PARAMETERS };
export type LayerParameterId = keyof typeof LAYER_PARAMETERS;

/** Sorts of sounds, in the order of their numbers in the engine. */
export const SOUND_KINDS = ['multisample', 'synth', 'grains'] as const;
export type SoundKindId = (typeof SOUND_KINDS)[number];

/** The parameters of a layer that plays sounds of some kinds: what all have, and what those have. */
export const parametersFor = (kinds: readonly SoundKindId[]): Parameter[] => Object.values<Parameter>(LAYER_PARAMETERS).filter(({ of }) => !of || kinds.includes(of));

/** The parameters of which a zone may have a value of its own. */
export const ZONE_PARAMETERS = ['delay', 'startLevel', 'attack', 'hold', 'decay', 'sustain', 'release', 'cutoff', 'resonance', 'lowCut', 'keyTrack', 'velocityTrack', 'velocityToLevel', 'bendRange'] as const satisfies readonly LayerParameterId[];
export type ZoneParameterId = (typeof ZONE_PARAMETERS)[number];

/**
 * The parameters of a group: each is added to one of its members', in steps that the ear takes for equal (dB, cents, octaves, proportions of time). `onto` names those.
 */
export const GROUP_PARAMETERS = define({
  level: { label: 'level', unit: 'dB', low: -66, high: 6, default: 0, law: 'dB', reach: 'note', sides: 1, sense: [-30, 6], help: 'How much louder or softer all members are; the lowest value is silence.' },
  pan: { label: 'pan', unit: 'pan', low: -1, high: 1, default: 0, law: 'linear', reach: 'note', sides: 2, help: 'How far all members are moved to one side.' },
  tune: { label: 'fine tune', unit: 'cents', low: -1200, high: 1200, default: 0, law: 'linear', reach: 'note', sides: 2, sense: [-100, 100], help: 'Cents added to the pitch of all members.' },
  transpose: { label: 'transposition', unit: 'semitones', low: -48, high: 48, default: 0, law: 'steps', reach: 'note', atStrike: true, sides: 2, sense: [-24, 24], help: 'Semitones by which all members are moved.' },
  filters: { label: 'filters', unit: 'semitones', low: -96, high: 96, default: 0, law: 'linear', reach: 'note', sides: 2, sense: [-48, 48], help: 'Semitones by which the filters of all members are moved.' },
  attack: { label: 'attack ×', unit: '', low: 0.05, high: 20, default: 1, law: 'log', reach: 'note', atStrike: true, sides: 2, sense: [0.2, 5], help: 'What the attack times of all members are multiplied by.' },
  decay: { label: 'decay ×', unit: '', low: 0.05, high: 20, default: 1, law: 'log', reach: 'note', atStrike: true, sides: 2, sense: [0.2, 5], help: 'What the decay times of all members are multiplied by.' },
  width: { ...STEREO_WIDTH },
  release: { label: 'release ×', unit: '', low: 0.05, high: 20, default: 1, law: 'log', reach: 'note', atStrike: true, sides: 2, sense: [0.2, 5], help: 'What the release times of all members are multiplied by.' },
});
export type GroupParameterId = keyof typeof GROUP_PARAMETERS;

/** The parameters of members to which one of a group is added. */
export const ONTO: Readonly<Record<GroupParameterId, readonly LayerParameterId[]>> = {
  level: ['level'], pan: ['pan'], tune: ['tune'], transpose: ['transpose'], filters: ['cutoff', 'cutoff2'], attack: ['attack'], decay: ['decay'], release: ['release'], width: [],
};

/** The parameters of the patch's main output. */
export const MAIN_PARAMETERS = define({
  level: { label: 'main level', unit: 'dB', low: -60, high: 6, default: 0, law: 'dB', reach: 'patch', sides: 1, sense: [-30, 6], help: 'Level of the whole patch before the safety limiter.' },
  width: { ...STEREO_WIDTH },
});

/** The parameters of a shared effect's strip. */
export const POOL_PARAMETERS = define({
  level: { label: 'level', unit: 'dB', low: -60, high: 12, default: 0, law: 'dB', reach: 'patch', sides: 1, sense: [-30, 6], help: 'How loud what comes out of the shared effect is; the lowest value is silence.' },
  balance: { ...BALANCE },
  width: { ...STEREO_WIDTH },
});
export type PoolParameterId = keyof typeof POOL_PARAMETERS;

/** The parameters of a connection. */
export const CONNECTION_PARAMETERS = define({
  level: { label: 'level', unit: 'dB', low: -60, high: 12, default: 0, law: 'dB', reach: 'patch', sides: 1, sense: [-40, 6], help: 'How much of it goes this way; the lowest value is nothing.' },
});

export type MainParameterId = keyof typeof MAIN_PARAMETERS;

/** A source that is also a target: where it rests, moved by routes within 0…1. */
export const SHARE: Parameter = { id: 'share', label: 'value', unit: '', low: 0, high: 1, default: 0, law: 'linear', reach: 'patch', sides: 1, help: 'Resting position; routes move it from there.' };
const BLEND_SHARE: Parameter = { ...SHARE, reach: 'note', sides: 2 };

/** The parameters of an XY pad: where its dot rests, and how it moves by itself. */
export const XY_PARAMETERS = define({
  x: { label: 'x', unit: '', low: 0, high: 1, default: 0.5, law: 'linear', reach: 'patch', sides: 2, help: 'Where the dot rests from left to right; routes move it from there.' },
  y: { label: 'y', unit: '', low: 0, high: 1, default: 0.5, law: 'linear', reach: 'patch', sides: 2, help: 'Where the dot rests from bottom to top; routes move it from there.' },
  speed: { label: 'wander speed', unit: 'Hz', low: 0.01, high: 8, default: 0.15, law: 'log', reach: 'patch', sides: 2, help: 'How often in a second the wandering dot sets out for another place.' },
  radius: { label: 'wander radius', unit: '', low: 0, high: 1, default: 0.3, law: 'linear', reach: 'patch', sides: 1, help: 'How far the wandering dot goes from where it rests.' },
  spring: { label: 'spring', unit: 's', low: 0.02, high: 5, default: 0.4, law: 'log', reach: 'patch', sides: 1, help: 'Time in which the dot goes back to its rest once it is let go.' },
});
export type XyParameterId = keyof typeof XY_PARAMETERS;

/** The registry, section by section: everything that has a value and can be moved, whatever it belongs to. A mover's section is named by its kind, and so is that of an effect. */
export const SECTIONS: Readonly<Record<string, Readonly<Record<string, Parameter>>>> = {
  layer: LAYER_PARAMETERS, group: GROUP_PARAMETERS, main: MAIN_PARAMETERS, pool: POOL_PARAMETERS, connection: CONNECTION_PARAMETERS, xy: XY_PARAMETERS,
  ...Object.fromEntries(EFFECTS.map((kind) => [kind.id, kind.parameters])),
  ...Object.fromEntries(MOVERS.map((kind) => [kind.id, kind.parameters])),
};

/** What a route moves: `layer.ID.level`, `main.level`, `macro.N`, `blend.N`, `lfo.N.rate`, `xy.N.x`, `pool.ID.level`, `connection.ID.level`, `reverb.ID.decay` … */
export type TargetId = string;
export type Target =
  | { kind: 'layer'; layerId: string; parameter: Parameter }
  | { kind: 'group'; groupId: string; parameter: Parameter }
  | { kind: 'main'; parameter: Parameter }
  | { kind: 'pool' | 'connection'; id: string; parameter: Parameter }
  | { kind: 'effect'; effectKind: string; id: string; parameter: Parameter }
  | { kind: 'macro' | 'blend' | 'xy' | MoverKindId; number: number; parameter: Parameter };

/** The target an id means, or undefined for a text that names none that a route may reach. */
export function parseTarget(id: TargetId): Target | undefined {
  const [kind, name, parameterId, ...rest] = id.split('.');
  if (rest.length > 0) return undefined;
  if (parameterId === undefined) {
    if (kind === 'main' && Object.hasOwn(MAIN_PARAMETERS, name)) return { kind, parameter: MAIN_PARAMETERS[name as MainParameterId] };
    if ((kind === 'macro' || kind === 'blend') && NUMBER.test(name)) return { kind, number: Number(name), parameter: kind === 'macro' ? SHARE : BLEND_SHARE };
    return undefined;
  }
  if (kind === 'main' || !Object.hasOwn(SECTIONS, kind) || !Object.hasOwn(SECTIONS[kind], parameterId)) return undefined;
  const parameter = SECTIONS[kind][parameterId];
  if (kind === 'layer') return { kind, layerId: name, parameter };
  if (kind === 'group') return { kind, groupId: name, parameter };
  if (kind === 'pool' || kind === 'connection') return { kind, id: name, parameter };
  if (EFFECTS.some(({ id: effectKind }) => effectKind === kind)) return { kind: 'effect', effectKind: kind, id: name, parameter };
  return NUMBER.test(name) ? { kind: kind as 'xy' | MoverKindId, number: Number(name), parameter } : undefined;
}
const NUMBER = /^[1-9]\d?$/;

/** A level in dB as a factor; the lowest value of its range means silence. */
export const levelGain = (db: number, lowest: number): number => (db <= lowest ? 0 : 10 ** (db / 20));
