import type { Curve } from '../space/curve';
import type { FormulaStep } from '../space/formula';
import type { SourceKind, SourceId } from '../space/source';
import type { WindowRange } from '../space/window';

/**
 * A patch made ready for playing: plain data that travels between threads. Sources, windows and routes refer to one another by place in a list,
 * in an order in which everything comes after what moves it.
 */
export interface Program {
  patchId: string;
  name: string;
  sources: SourceSlot[];
  layers: ProgramLayer[];
  /** Resting values of macros and blends, by slot in `sources`. */
  table: StrikeTable;
  zones: ZoneColumns;
  /** What the zones play, each once; `ZoneColumns.sample` points here. */
  samples: SampleRequest[];
  main: { baseNormal: number; routes: CompiledRoute[] };
}

/** One source in use. Macros and blends rest at `base` and are moved by `routes`. */
export interface SourceSlot {
  id: SourceId;
  kind: SourceKind | 'formula';
  index: number;
  low: number;
  high: number;
  base: number;
  routes: CompiledRoute[];
  formula: FormulaStep[] | null;
}

export interface CompiledRoute { source: number; depth: number; curve: Curve; inverted: boolean; scaledBy: number }

export interface CompiledWindow extends WindowRange { source: number; ofNote: boolean }

/** The parameters that routes may move, in the order of `ProgramLayer.baseNormals`. */
export const MOVED_PARAMETERS = ['level', 'pan', 'tune', 'cutoff', 'resonance', 'lowCut'] as const;
export type MovedParameter = (typeof MOVED_PARAMETERS)[number];

export interface ProgramLayer {
  id: string;
  name: string;
  on: boolean;
  /** 0: any channel, else 1…16. */
  channel: number;
  receive: { bend: boolean; sustain: boolean; wheel: boolean; pressure: boolean; expression: boolean };
  transpose: number;
  windows: CompiledWindow[];
  /** By parameter of {@link MOVED_PARAMETERS}: resting place in 0…1, and what moves it. */
  baseNormals: number[];
  routes: CompiledRoute[][];
  envelope: { attack: number; decay: number; sustain: number; release: number };
  /** −1…2: share of the key's distance from middle C that the cutoff follows. */
  keyTrack: number;
  /** Semitones that velocity 127 adds to the cutoff. */
  velocityTrack: number;
  bendRange: number;
  /** By velocity as struck: the velocity this layer feels, and its level as a factor. */
  touch: Uint8Array;
  velocityGain: Float32Array;
  alternation: 'in-turn' | 'random' | 'shuffled';
}

/**
 * Who may sound for a strike: `cellOf[key · 128 + velocity]` is a cell; its slots are `cellStart[cell] … cellStart[cell + 1]`; a slot is a layer and the
 * zones `slotStart[slot] … slotStart[slot + 1]` of `slotZone`, of which one sounds: alternates share a slot, any other zone has one of its own.
 */
export interface StrikeTable {
  cellOf: Uint32Array;
  cellStart: Uint32Array;
  slotLayer: Uint16Array;
  slotStart: Uint32Array;
  slotZone: Uint32Array;
  /** Which memory of turns a slot uses; −1 where there is nothing to choose. */
  slotPlace: Int32Array;
  places: number;
}

/** The zones of all sounds in use, a column for each value. */
export interface ZoneColumns {
  count: number;
  sample: Int32Array;
  root: Uint8Array;
  tune: Float32Array;
  gainDb: Float32Array;
  pan: Float32Array;
  start: Float64Array;
  end: Float64Array;
  fullLength: Uint8Array;
  /** keyLow, keyHigh, keyFadeIn, keyFadeOut, keyShape, then the same for velocity. */
  edges: Float32Array;
}
export const EDGES = 10;

/** A sample as a program needs it: `key` is the same for equal needs, also between programs. */
export interface SampleRequest {
  key: string;
  sampleId: string;
  loop: { start: number; end: number } | null;
  reverse: boolean;
  levels: number;
}
