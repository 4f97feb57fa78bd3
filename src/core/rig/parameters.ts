import type { Reach } from '../space/source';

/** How a parameter's unit lies over its normalised range 0…1. `dB` is linear in decibels, and its lowest value means silence. */
export type Law = 'linear' | 'log' | 'dB';

export interface Parameter {
  id: string;
  label: string;
  unit: '' | 'dB' | 'Hz' | 's' | 'cents' | 'semitones' | '%' | 'pan';
  low: number;
  high: number;
  default: number;
  law: Law;
  /** The reach of the routes that may move it, or undefined where none may: 'note' takes any source, 'patch' only sources with one value for all. */
  routed?: Reach;
  help: string;
}

const define = <T extends Record<string, Omit<Parameter, 'id'>>>(entries: T) =>
  Object.fromEntries(Object.entries(entries).map(([id, entry]) => [id, { id, ...entry }])) as { [K in keyof T]: Parameter };

/** Every parameter of a layer. The interface, routes, files and the command line read this and repeat none of it. */
export const LAYER_PARAMETERS = define({
  level: { label: 'level', unit: 'dB', low: -60, high: 6, default: 0, law: 'dB', routed: 'note', help: 'How loud the layer is; the lowest value is silence.' },
  pan: { label: 'pan', unit: 'pan', low: -1, high: 1, default: 0, law: 'linear', routed: 'note', help: 'Where the layer stands between left and right, at equal power.' },
  tune: { label: 'fine tune', unit: 'cents', low: -1200, high: 1200, default: 0, law: 'linear', routed: 'note', help: 'Pitch in cents; keeps the samples that the keys have.' },
  delay: { label: 'delay', unit: 's', low: 0, high: 20, default: 0, law: 'linear', help: 'Time before the attack begins.' },
  startLevel: { label: 'starts at', unit: '%', low: 0, high: 100, default: 0, law: 'linear', help: 'Level at which the attack begins.' },
  attack: { label: 'attack', unit: 's', low: 0.001, high: 20, default: 0.001, law: 'log', help: 'Time from silence to full level.' },
  hold: { label: 'hold', unit: 's', low: 0, high: 20, default: 0, law: 'linear', help: 'Time at full level between attack and decay.' },
  decay: { label: 'decay', unit: 's', low: 0.001, high: 20, default: 1, law: 'log', help: 'Time in which the level falls to the sustain level after the attack.' },
  sustain: { label: 'sustain', unit: 'dB', low: -60, high: 0, default: 0, law: 'dB', help: 'Level that stays while a key is held.' },
  release: { label: 'release', unit: 's', low: 0.005, high: 20, default: 0.2, law: 'log', help: 'Time in which the level falls by 60 dB after the key is let go.' },
  cutoff: { label: 'high cut', unit: 'Hz', low: 20, high: 20480, default: 20480, law: 'log', routed: 'note', help: 'Low-pass filter of each note; fully up it is out of the way.' },
  resonance: { label: 'resonance', unit: '', low: 0.5, high: 20, default: Math.SQRT1_2, law: 'log', routed: 'note', help: 'Q of the low-pass filter: 0.71 is flat, higher rings at the cutoff.' },
  lowCut: { label: 'low cut', unit: 'Hz', low: 20, high: 20480, default: 20, law: 'log', routed: 'note', help: 'High-pass filter of each note; fully down it is out of the way.' },
  keyTrack: { label: 'filter follows keys', unit: '%', low: -100, high: 200, default: 0, law: 'linear', help: 'At 100 % the high cut moves with the key, from middle C.' },
  velocityTrack: { label: 'filter follows velocity', unit: 'semitones', low: -96, high: 96, default: 0, law: 'linear', help: 'How far the hardest strike moves the high cut.' },
  velocityToLevel: { label: 'level follows velocity', unit: '%', low: 0, high: 100, default: 100, law: 'linear', help: 'At 100 % a strike of half the velocity is 12 dB softer, at 0 % all strikes are equal.' },
  bendRange: { label: 'bend range', unit: 'semitones', low: 0, high: 48, default: 2, law: 'linear', help: 'How far the bend wheel moves the pitch.' },
  loopPosition: { label: 'loop position', unit: '%', low: -100, high: 100, default: 0, law: 'linear', routed: 'note', help: 'Moves the loop of each sample through it, as a share of its length.' },
  loopLength: { label: 'loop length', unit: '%', low: 0.5, high: 400, default: 100, law: 'log', routed: 'note', help: 'Length of the loop of each sample, as a share of its own.' },
});
export type LayerParameterId = keyof typeof LAYER_PARAMETERS;

/** The parameters of which a zone may have a value of its own. */
export const ZONE_PARAMETERS = ['delay', 'startLevel', 'attack', 'hold', 'decay', 'sustain', 'release', 'cutoff', 'resonance', 'lowCut', 'keyTrack', 'velocityTrack', 'velocityToLevel', 'bendRange'] as const satisfies readonly LayerParameterId[];
export type ZoneParameterId = (typeof ZONE_PARAMETERS)[number];

/** The parameters of the patch's main output. */
export const MAIN_PARAMETERS = define({
  level: { label: 'main level', unit: 'dB', low: -60, high: 6, default: 0, law: 'dB', routed: 'patch', help: 'Level of the whole patch before the safety limiter.' },
});

/** A source that is also a target: where it rests, moved by routes within 0…1. */
export const SHARE: Parameter = { id: 'share', label: 'value', unit: '', low: 0, high: 1, default: 0, law: 'linear', routed: 'note', help: 'Resting position; routes move it from there.' };

/** A value in its unit to 0…1 by the parameter's law; clamped. */
export function toNormal(parameter: Parameter, unitValue: number): number {
  const { low, high, law } = parameter;
  const clamped = Math.min(high, Math.max(low, unitValue));
  return law === 'log' ? Math.log(clamped / low) / Math.log(high / low) : (clamped - low) / (high - low);
}

const scratch = new Float64Array(1);

/** 0…1 to a value in the parameter's unit; clamped. */
export function fromNormal(parameter: Parameter, normal: number): number {
  scratch[0] = normal;
  unitInPlace(parameter, scratch, 0);
  return scratch[0];
}

/** The same for an element of an array: what the audio thread uses, which hands no fraction to a function. */
export function unitInPlace({ low, high, law }: Parameter, values: Float64Array, at: number): void {
  const clamped = Math.min(1, Math.max(0, values[at]));
  values[at] = law === 'log' ? low * (high / low) ** clamped : low + (high - low) * clamped;
}

/** What a route moves: `layer.ID.level`, `main.level`, `macro.N`, `blend.N`. */
export type TargetId = string;
export type Target =
  | { kind: 'layer'; layerId: string; parameter: Parameter }
  | { kind: 'main'; parameter: Parameter }
  | { kind: 'macro' | 'blend'; number: number; parameter: Parameter };

/** The target an id means, or undefined for a text that names none that a route may reach. */
export function parseTarget(id: TargetId): Target | undefined {
  const [kind, name, parameterId, ...rest] = id.split('.');
  if (rest.length > 0) return undefined;
  if (kind === 'layer' && parameterId && Object.hasOwn(LAYER_PARAMETERS, parameterId)) {
    const parameter = LAYER_PARAMETERS[parameterId as LayerParameterId];
    return parameter.routed ? { kind, layerId: name, parameter } : undefined;
  }
  if (parameterId !== undefined) return undefined;
  if (kind === 'main' && Object.hasOwn(MAIN_PARAMETERS, name)) return { kind, parameter: MAIN_PARAMETERS[name as 'level'] };
  if ((kind === 'macro' || kind === 'blend') && /^\d{1,2}$/.test(name)) return { kind, number: Number(name), parameter: SHARE };
  return undefined;
}

/** A level in dB as a factor; the lowest value of its range means silence. */
export const levelGain = (db: number, lowest: number): number => (db <= lowest ? 0 : 10 ** (db / 20));
