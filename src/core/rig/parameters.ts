import { MOVERS, type MoverKindId } from '../movers';
import { define, type Parameter } from '../space/parameter';

export { fromNormal, toNormal, unitInPlace, type Law, type Parameter } from '../space/parameter';

/** Every parameter of a layer. The interface, routes, files and the command line read this and repeat none of it. */
export const LAYER_PARAMETERS = define({
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
  loopPosition: { label: 'loop position', unit: '%', low: -100, high: 100, default: 0, law: 'linear', reach: 'note', sides: 2, help: 'Moves the loop of each sample through it, as a share of its length.' },
  loopLength: { label: 'loop length', unit: '%', low: 0.5, high: 400, default: 100, law: 'log', reach: 'note', sides: 2, help: 'Length of the loop of each sample, as a share of its own.' },
});
export type LayerParameterId = keyof typeof LAYER_PARAMETERS;

/** The parameters of which a zone may have a value of its own. */
export const ZONE_PARAMETERS = ['delay', 'startLevel', 'attack', 'hold', 'decay', 'sustain', 'release', 'cutoff', 'resonance', 'lowCut', 'keyTrack', 'velocityTrack', 'velocityToLevel', 'bendRange'] as const satisfies readonly LayerParameterId[];
export type ZoneParameterId = (typeof ZONE_PARAMETERS)[number];

/** The parameters of the patch's main output. */
export const MAIN_PARAMETERS = define({
  level: { label: 'main level', unit: 'dB', low: -60, high: 6, default: 0, law: 'dB', reach: 'patch', sides: 1, sense: [-30, 6], help: 'Level of the whole patch before the safety limiter.' },
});

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

/** The registry, section by section: everything that has a value and can be moved, whatever it belongs to. A mover's section is named by its kind. */
export const SECTIONS: Readonly<Record<string, Readonly<Record<string, Parameter>>>> = {
  layer: LAYER_PARAMETERS, main: MAIN_PARAMETERS, xy: XY_PARAMETERS,
  ...Object.fromEntries(MOVERS.map((kind) => [kind.id, kind.parameters])),
};

/** What a route moves: `layer.ID.level`, `main.level`, `macro.N`, `blend.N`, `lfo.N.rate`, `xy.N.x` … */
export type TargetId = string;
export type Target =
  | { kind: 'layer'; layerId: string; parameter: Parameter }
  | { kind: 'main'; parameter: Parameter }
  | { kind: 'macro' | 'blend' | 'xy' | MoverKindId; number: number; parameter: Parameter };

/** The target an id means, or undefined for a text that names none that a route may reach. */
export function parseTarget(id: TargetId): Target | undefined {
  const [kind, name, parameterId, ...rest] = id.split('.');
  if (rest.length > 0) return undefined;
  if (parameterId === undefined) {
    if (kind === 'main' && Object.hasOwn(MAIN_PARAMETERS, name)) return { kind, parameter: MAIN_PARAMETERS[name as 'level'] };
    if ((kind === 'macro' || kind === 'blend') && NUMBER.test(name)) return { kind, number: Number(name), parameter: kind === 'macro' ? SHARE : BLEND_SHARE };
    return undefined;
  }
  if (kind === 'main' || !Object.hasOwn(SECTIONS, kind) || !Object.hasOwn(SECTIONS[kind], parameterId)) return undefined;
  const parameter = SECTIONS[kind][parameterId];
  if (kind === 'layer') return { kind, layerId: name, parameter };
  return NUMBER.test(name) ? { kind: kind as 'xy' | MoverKindId, number: Number(name), parameter } : undefined;
}
const NUMBER = /^[1-9]\d?$/;

/** A level in dB as a factor; the lowest value of its range means silence. */
export const levelGain = (db: number, lowest: number): number => (db <= lowest ? 0 : 10 ** (db / 20));
