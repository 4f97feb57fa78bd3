import type { EnvelopeShape } from '../dsp/envelope';
import type { Curve } from '../space/curve';
import type { FormulaStep } from '../space/formula';
import type { SourceKind, SourceId } from '../space/source';
import type { WindowRange } from '../space/window';

/**
 * A patch made ready for playing: plain data that travels between threads. Sources, windows and routes refer to one another by place in a list,
 * in an order in which everything comes after what moves it.
 */
export interface Program extends PlayedProgram {
  /** What the zones play, each once, in the order of `sampleKeys`. */
  samples: SampleRequest[];
}

/** What the engine needs of a program. It is read anew in the audio thread for each edit, so it holds few objects: columns of numbers, and keys for the samples. */
export interface PlayedProgram {
  patchId: string;
  name: string;
  sources: SourceSlot[];
  layers: ProgramLayer[];
  /** Resting values of macros and blends, by slot in `sources`. */
  table: StrikeTable;
  /** Who answers the end of a note, keyed like `table` by the velocity of its strike; null where nobody does. */
  releaseTable: StrikeTable | null;
  zones: ZoneColumns;
  /** Where the zones of each sound stand among them: from `first` on, in the sound's order. */
  sounds: { soundId: string; first: number }[];
  /** Keys of the samples that the zones play, each once; `ZoneColumns.sample` points here. */
  sampleKeys: string[];
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

/** `fixed`: its gain stays as it is while a note sounds, for its source does. */
export interface CompiledWindow extends WindowRange { source: number; fixed: boolean }

/** Windows that are read once, when a note begins, and those that are followed. */
export interface WindowSet { atStrike: CompiledWindow[]; followed: CompiledWindow[] }

/** The parameters that routes may move, in the order of `ProgramLayer.baseNormals`. */
export const MOVED_PARAMETERS = ['level', 'pan', 'tune', 'cutoff', 'resonance', 'lowCut', 'loopPosition', 'loopLength'] as const;
export type MovedParameter = (typeof MOVED_PARAMETERS)[number];

/** How the zones of a layer sound that share a set of values of their own. */
export interface Voicing {
  /** The same for equal sets, also between programs; empty for zones without values of their own. */
  key: string;
  /** By parameter of {@link MOVED_PARAMETERS}: resting place in 0…1. */
  baseNormals: Float64Array;
  /** The same in the units of `voiceValues`: where a parameter stays that nothing moves. */
  rests: Float64Array;
  envelope: EnvelopeShape;
  /** −1…2: share of the key's distance from middle C that the cutoff follows. */
  keyTrack: number;
  /** Semitones that velocity 127 adds to the cutoff. */
  velocityTrack: number;
  bendRange: number;
  /** By velocity as struck: level as a factor. */
  velocityGain: Float32Array;
}

export interface ProgramLayer {
  id: string;
  name: string;
  on: boolean;
  /** 0: any channel, else 1…16. */
  channel: number;
  receive: { bend: boolean; sustain: boolean; wheel: boolean; pressure: boolean; expression: boolean };
  transpose: number;
  windows: WindowSet;
  /** By parameter of {@link MOVED_PARAMETERS}: what moves it. */
  routes: CompiledRoute[][];
  /** The first is that of zones without values of their own; `ZoneColumns.voicing` points here. */
  voicings: Voicing[];
  /** By velocity as struck: the velocity this layer feels (index 0 is unused). */
  touch: Uint8Array;
  alternation: 'in-turn' | 'random' | 'shuffled';
}

/**
 * Who may sound for a strike: `cellOf[key · 128 + velocity]` is a cell; its slots are `cellStart[cell] … cellStart[cell + 1]`; a slot is a layer and the
 * zones `slotStart[slot] … slotStart[slot + 1]` of `slotZone`. All of them sound, unless the slot has turns: then those whose `zoneTurn` is the chosen one.
 */
export interface StrikeTable {
  cellOf: Uint32Array;
  cellStart: Uint32Array;
  slotLayer: Uint16Array;
  slotStart: Uint32Array;
  slotZone: Uint32Array;
  /** Turns to choose from; 0 where there is nothing to choose. */
  slotTurns: Uint16Array;
  /** Which memory of turns a slot uses; −1 where there is nothing to choose. */
  slotPlace: Int32Array;
  /** By place in `slotZone`: 0 … turns − 1. */
  zoneTurn: Uint16Array;
  places: number;
}

/** The zones of all sounds in use, a column for each value. */
export interface ZoneColumns {
  count: number;
  sample: Int32Array;
  root: Uint8Array;
  tune: Float32Array;
  /** Semitones that each key above the root adds. */
  semitonesPerKey: Float32Array;
  gainDb: Float32Array;
  pan: Float32Array;
  start: Float64Array;
  end: Float64Array;
  fullLength: Uint8Array;
  /** Place among the layer's voicings. */
  voicing: Uint16Array;
  /** Choke group, and the one that ends it; −1: none. */
  chokeGroup: Float64Array;
  chokedBy: Float64Array;
  chokedFast: Uint8Array;
  /** For zones whose loop is made while they sound (it can be moved, or ends with the key): in frames of the recording as it is read; loopEnd 0: none. */
  loopStart: Float64Array;
  loopEnd: Float64Array;
  loopCrossfade: Float64Array;
  loopUntilRelease: Uint8Array;
  /** Windows on further sources: a place in `windowSets`, or −1, as for most zones. */
  windowSet: Int32Array;
  windowSets: WindowSet[];
  /** keyLow, keyHigh, keyFadeIn, keyFadeOut, keyShape, then the same for velocity. */
  edges: Float32Array;
}
export const EDGES = 10;

/** A sample as a program needs it: `key` is the same for equal needs, also between programs. */
export interface SampleRequest {
  key: string;
  sampleId: string;
  /** The loop that is laid down beforehand, in frames of the recording as it is read (turned round, where it is reversed). */
  loop: { start: number; end: number; crossfade?: number } | null;
  reverse: boolean;
  levels: number;
}
