import type { Reach } from './source';

/**
 * How a parameter's unit lies over its normalised range 0…1. `dB` is linear in decibels, and its lowest value means
 * silence; `steps` takes whole numbers only.
 */
export type Law = 'linear' | 'log' | 'dB' | 'steps';

export interface Parameter {
  id: string;
  label: string;
  unit: '' | 'dB' | 'Hz' | 's' | 'cents' | 'semitones' | '%' | 'pan' | 'note' | 'of 100';
  low: number;
  high: number;
  default: number;
  law: Law;
  /**
   * The reach of the routes that may move it: 'note' takes any source and has one value for each note, 'patch' has one
   * for all.
   */
  reach: Reach;
  /** The kind of sound that has it; absent: every kind does. */
  of?: 'synth' | 'grains' | 'input';
  /** Read once, when a note begins; all others follow while it sounds. */
  atStrike?: boolean;
  /** Whether it is meant to be moved to both sides of where it rests, or from there upward. */
  sides: 1 | 2;
  /** The part of the range in its unit within which music is mostly made; absent: all of it. */
  sense?: readonly [low: number, high: number];
  /** What its steps are called, from the lowest. */
  steps?: readonly string[];
  help: string;
}

export const define = <T extends Record<string, Omit<Parameter, 'id'>>>(entries: T) =>
  Object.fromEntries(Object.entries(entries).map(([id, entry]) => [id, { id, ...entry }])) as {
    [K in keyof T]: Parameter;
  };

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
  const unit = law === 'log' ? low * (high / low) ** clamped : low + (high - low) * clamped;
  values[at] = law === 'steps' ? Math.round(unit) : unit;
}
