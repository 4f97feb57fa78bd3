import type { TunedKeys } from '../../music/tunings';
import type { CompiledRoute } from './compiledRoute';

/** A value that routes may move: place among the parameters of its owner, and what moves it. */
export interface MovedValue {
  parameter: number;
  routes: CompiledRoute[];
}

/** An effect as the engine has it; parameters in the order of its kind. */
export interface CompiledEffect {
  id: string;
  /** Place among `EFFECTS`. */
  kind: number;
  on: boolean;
  /** By parameter: resting place in 0…1, and in its unit. */
  bases: Float64Array;
  rests: Float64Array;
  moved: MovedValue[];
  steps: Float64Array;
  /** Place among {@link CompiledMix.places} of what it listens to; −1: what comes in. */
  listens: number;
  /** Key of its recording among the samples; empty: none. */
  impulse: string;
}

/** A place of the mix: a layer, a group, a shared effect, main, a pair of outputs. */
export interface CompiledPlace {
  /** `layer.ID` and so on. */
  id: string;
  /** Place among the layers; −1: it is none. */
  layer: number;
  /** Layers whose notes have its level while it has no effects: its own, or those of a group. */
  feeds: readonly number[];
  on: boolean;
  effects: CompiledEffect[];
  /** Its strip, in the order of {@link STRIP}: resting places in 0…1, in their units, and what moves them. */
  bases: Float64Array;
  rests: Float64Array;
  moved: MovedValue[];
  /** Of a pair of outputs: its number, 0 for the one that main goes to; −1: it is none. */
  pair: number;
}

export interface CompiledConnection {
  id: string;
  /** Places among {@link CompiledMix.places}. */
  from: number;
  to: number;
  before: boolean;
  on: boolean;
  bases: Float64Array;
  rests: Float64Array;
  moved: MovedValue[];
}

/** How the sound of a patch flows. Places and connections are in the order in which they are made. */
export interface CompiledMix {
  /** What keys are tuned to, for effects that are tuned to keys; null: to equal semitones around 440 Hz. */
  tuned: TunedKeys | null;
  /** In the order in which sound flows; main is the last but for the pairs that something goes to. */
  places: CompiledPlace[];
  /** By place, those that leave it. */
  connections: CompiledConnection[];
  /** Layers flow into main as they are, and nothing else does anything. */
  plain: boolean;
}

/** What each strip has: level in dB, balance, width in per cent. */
export const STRIP = ['level', 'balance', 'width'] as const;
export const LEVEL = 0,
  BALANCE = 1,
  WIDTH = 2;
