import type { TunedKeys } from '../../music/tunings';
import type { EnvelopeShape } from '../../dsp/envelope';
import type { MoverSpec } from '../../movers/mover';
import type { FormulaStep } from '../../space/formula';
import { SOUND_KINDS, type LayerParameterId } from '../../rig/parameters';
import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import type { Parameter } from '../../space/parameter';
import { SHAPES, type WaveRequest } from '../../sounds/synth/tableIds';
import type { Receive } from '../../rig/schema';
import type { CompiledMix } from './compiledMix';
import type { CompiledPath } from './compiledPath';
import type { SourceKind, SourceId } from '../../space/source';
import type { CompiledRoute } from './compiledRoute';
import type { CompiledWindow, WindowSet } from './compiledWindow';

export type { CompiledRoute } from './compiledRoute';
export type { CompiledWindow, WindowSet } from './compiledWindow';

/**
 * A patch made ready for playing: plain data that travels between threads. Sources, windows and routes refer to one
 * another by place in a list,
 * in an order in which everything comes after what moves it.
 */
export interface Program extends PlayedProgram {
  /** What the zones play, each once, in the order of `sampleKeys`. */
  samples: SampleRequest[];
}

/**
 * What the engine needs of a program. It is read anew in the audio thread for each edit, so it holds few objects:
 * columns of numbers, and keys for the samples.
 */
export interface PlayedProgram {
  patchId: string;
  name: string;
  /** Quarters a minute. */
  tempo: number;
  /**
   * The zones of expressive controllers that the rig declares, at this many ports that it tells apart; they hold until
   * a controller says what it has itself.
   */
  mpe: { lower: number; upper: number; bendRange: number; ports: number };
  sources: SourceSlot[];
  movers: CompiledMover[];
  pads: CompiledPad[];
  layers: ProgramLayer[];
  /** Resting values of macros and blends, by slot in `sources`. */
  table: StrikeTable;
  /** Who answers the end of a note, keyed like `table` by the velocity of its strike; null where nobody does. */
  releaseTable: StrikeTable | null;
  zones: ZoneColumns;
  /** Where the zones of each sound stand among them: from `first` on, in the sound's order. */
  sounds: { soundId: string; first: number }[];
  /** Of sounds that are not made of samples alone; `ZoneColumns.spec` points here. */
  specs: SoundSpec[];
  /** Keys of the waves that they play. */
  waveKeys: string[];
  /** Keys of the samples that the zones play, each once; `ZoneColumns.sample` points here. */
  sampleKeys: string[];
  main: { baseNormal: number; routes: CompiledRoute[] };
  /** Values of instruments outside: where each rests in 0…1, and what moves it. */
  knobs: { rests: Float64Array; routes: CompiledRoute[][]; moves: boolean };
  /** How the sound of the layers flows, and through what. */
  mix: CompiledMix;
  /**
   * Slots that have one value for all notes, in order: what is looked at once for the whole patch. Empty where nothing
   * shared moves by itself.
   */
  shared: number[];
  /** Whether a filter of it may be a comb. */
  combs: boolean;
  /** Whether how loud something is moves anything: then each span must be heard before the next one is made. */
  follows: boolean;
}

/** One source in use. Macros and blends rest at `base` and are moved by `routes`. */
export interface SourceSlot {
  id: SourceId;
  kind: SourceKind | 'formula';
  index: number;
  /** Anchor of an XY pad. */
  part: number;
  low: number;
  high: number;
  base: number;
  routes: CompiledRoute[];
  formula: FormulaStep[] | null;
  /** It has a value for each note; else it has one for all. */
  ofNote: boolean;
  /** Of a source of notes that is read for all: which note counts, a place in {@link COUNTED}; −1: none. */
  counts: number;
  /** Moves by itself, or is moved by what does. */
  moving: boolean;
  /** Place among the movers or the pads; −1: it is neither. */
  place: number;
}

export interface CompiledMover {
  id: SourceId;
  /** The slot that has its value, as each note or the patch has it. */
  slot: number;
  /** Place in `MOVERS`. */
  kind: number;
  number: number;
  on: boolean;
  ofNote: boolean;
  spec: MoverSpec;
  /** By parameter of its kind: resting place in 0…1, and in its unit. */
  bases: Float64Array;
  rests: Float64Array;
  /** What moves its parameters. */
  moved: { parameter: number; routes: CompiledRoute[] }[];
  /** Of a sample and hold: the slot it takes from; −1: chance. */
  input: number;
  /** Of a follower: the layer it listens to; −1: the whole; −2: nothing. */
  follows: number;
}

export interface CompiledPad {
  number: number;
  x: number;
  y: number;
  motion: 'hand' | 'wander' | 'path' | 'spring';
  /** x and y of each anchor in turn. */
  anchors: Float64Array;
  /** Seconds, x and y of each point in turn. */
  path: Float64Array;
  routesX: CompiledRoute[];
  routesY: CompiledRoute[];
  /** speed, radius, spring: resting places in 0…1, in their units, and what moves them. */
  bases: Float64Array;
  rests: Float64Array;
  moved: { parameter: number; routes: CompiledRoute[] }[];
}
export const PAD_PARAMETERS = ['speed', 'radius', 'spring'] as const;

/** The parameters that follow while a note sounds, in the order of `Voicing.baseNormals`. */
export const MOVED_PARAMETERS = [
  'level',
  'pan',
  'tune',
  'cutoff',
  'resonance',
  'lowCut',
  'cutoff2',
  'resonance2',
  'drive',
  'tilt',
  'loopPosition',
  'loopLength',
  'vibratoDepth',
  'choice',
] as const satisfies readonly LayerParameterId[];
export type MovedParameter = (typeof MOVED_PARAMETERS)[number];

/** Those that a layer's note path reads when it makes notes, in the order of `ProgramLayer.pathRests`. */
export const PATH_PARAMETERS = [
  'strum',
  'arpRate',
  'arpGate',
  'arpSwing',
  'arpOctaves',
] as const satisfies readonly LayerParameterId[];

/**
 * Those that are read when a note begins, in the order of `Voicing.strikeNormals`. The choice is among both: it depends
 * on the layer which of them holds.
 */
export const STRIKE_PARAMETERS: readonly LayerParameterId[] = [
  ...(Object.keys(LAYER_PARAMETERS) as LayerParameterId[]).filter(
    (id) =>
      LAYER_PARAMETERS[id].atStrike &&
      !(LAYER_PARAMETERS[id] as Parameter).of &&
      !(PATH_PARAMETERS as readonly string[]).includes(id),
  ),
  'choice',
];

/**
 * By kind of sound: the parameters that only it has, those that follow while a note sounds and those that are read when
 * it begins.
 */
export const OWN_MOVED: readonly (readonly LayerParameterId[])[] = SOUND_KINDS.map((kind) => ownIds(kind, false));
export const OWN_STRIKE: readonly (readonly LayerParameterId[])[] = SOUND_KINDS.map((kind) => ownIds(kind, true));
function ownIds(kind: string, atStrike: boolean): LayerParameterId[] {
  return (Object.keys(LAYER_PARAMETERS) as LayerParameterId[]).filter(
    (id) =>
      (LAYER_PARAMETERS[id] as Parameter).of === kind &&
      ((LAYER_PARAMETERS[id] as Parameter).atStrike ?? false) === atStrike,
  );
}
/** Numbers of the kinds. */
export const OF_SAMPLES = 0,
  OF_SYNTH = 1,
  OF_GRAINS = 2,
  OF_INPUT = 3;

/**
 * Resting values of the parameters that a kind of sound alone has, as {@link OWN_MOVED} and {@link OWN_STRIKE} order
 * them: in 0…1, and in the units that generators work with.
 */
export interface OwnValues {
  normals: Float64Array;
  rests: Float64Array;
  strikeNormals: Float64Array;
  strikeRests: Float64Array;
}
/** What moves them, and the places of those that move by themselves. */
export interface OwnRoutes {
  routes: CompiledRoute[][];
  strikeRoutes: CompiledRoute[][];
  movingPlaces: number[];
  /** Something moves where it stands between left and right. */
  aside: boolean;
}

/**
 * What a sound that is not made of samples alone has besides its zones: keys of the waves of its oscillators, or the
 * points of its grains' drawn shape.
 */
export interface SoundSpec {
  waves: string[];
  drawn: number[];
}

/** How the zones of a layer sound that share a set of values of their own. */
export interface Voicing {
  /** Number of the kind of sound. */
  kind: number;
  own: OwnValues | null;
  /** The same for equal sets, also between programs; empty for zones without values of their own. */
  key: string;
  /** By parameter of {@link MOVED_PARAMETERS}: resting place in 0…1. */
  baseNormals: Float64Array;
  /** The same in the units of `voiceValues`: where a parameter stays that nothing moves. */
  rests: Float64Array;
  /** By parameter of {@link STRIKE_PARAMETERS}: resting place in 0…1, and in its unit. */
  strikeNormals: Float64Array;
  strikeRests: Float64Array;
  /** Its envelope, where nothing moves it: one for all voices. */
  envelope: EnvelopeShape;
  /** By velocity as struck: level as a factor. */
  velocityGain: Float32Array;
}

export interface ProgramLayer {
  id: string;
  /** What keys are tuned to; null: to equal semitones around 440 Hz. */
  tuned: TunedKeys | null;
  name: string;
  on: boolean;
  /** Address of what it hears: see `Controllers`. 0: every port and channel. */
  channel: number;
  receive: Receive;
  /** What becomes of a note on its way to the sound; null: nothing. */
  path: CompiledPath | null;
  /** By parameter of {@link PATH_PARAMETERS}: resting place in 0…1, in its unit (shares as such), and what moves it. */
  pathNormals: Float64Array;
  pathRests: Float64Array;
  pathRoutes: CompiledRoute[][];
  /** What each voice's level is multiplied by because the layer's level stands on its strip; 1: it does not. */
  levelShare: number;
  /** The pad it is on, and the number by which pads end one another; −1 and 0: none. */
  pad: number;
  choke: number;
  /** Voices it may have at once; 0: any number. */
  limit: number;
  /** Seed of the strike whose chances all its strikes have; −1: each has its own. */
  kept: number;
  /** A glide takes its time for each octave of the way. */
  glideByRate: boolean;
  transpose: number;
  windows: WindowSet;
  /** By parameter of {@link MOVED_PARAMETERS}, and of {@link STRIKE_PARAMETERS}: what moves it. */
  routes: CompiledRoute[][];
  strikeRoutes: CompiledRoute[][];
  /** The first is that of zones without values of their own; `ZoneColumns.voicing` points here. */
  voicings: Voicing[];
  /**
   * By number of the kind of sound: what moves the parameters that it alone has; null where nothing the layer plays is
   * of this kind.
   */
  ownRoutes: (OwnRoutes | null)[];
  /** By velocity as struck: the velocity this layer feels (index 0 is unused). */
  touch: Uint8Array;
  /** The range of velocities it feels, and the one it always feels; 0: none. */
  outLow: number;
  outHigh: number;
  fixed: number;
  /** What it must know of the hands: slots with one value for all, and slots with one for each note, in order. */
  shared: number[];
  ofNote: number[];
  /**
   * What moves by itself: places of {@link MOVED_PARAMETERS}, the same as a bit for each, and the windows that are
   * followed.
   */
  movingPlaces: number[];
  movingBits: number;
  movingWindows: CompiledWindow[];
  stillWindows: CompiledWindow[];
  /** Windows of its zones move by themselves. */
  zoneWindowsMove: boolean;
  /** Slots of notes that must be read again for each span, in order: movers, what they move, and what scales them. */
  movingNote: number[];
  /** Anything of all that. */
  moves: boolean;
  /**
   * Where it chooses its zones itself (a list, or a key or touch that moves): the tables of its sounds; null: the
   * program's table knows it.
   */
  own: OwnTable[] | null;
  morph: boolean;
  alternation: Alternation;
  /** It plays by itself as long as the patch does: the key and velocity of its note; null: keys play it. */
  stands: { key: number; velocity: number } | null;
}

/**
 * Who may sound for a key of one sound: entries `keyStart[key] … keyStart[key + 1]`, each a zone, the felt velocities
 * that reach it, and its turn among alternates (−1: it always sounds).
 */
export interface OwnTable {
  keyStart: Uint32Array;
  zone: Uint32Array;
  low: Uint8Array;
  high: Uint8Array;
  alternate: Int16Array;
  turns: Uint16Array;
  release: Uint8Array;
  alternation: Alternation;
}
export type Alternation = 'in-turn' | 'random' | 'shuffled';

/**
 * Who may sound for a strike: `cellOf[key · 128 + velocity]` is a cell; its slots are `cellStart[cell] … cellStart[cell
 * + 1]`; a slot is a layer and the
 * zones `slotStart[slot] … slotStart[slot + 1]` of `slotZone`. All of them sound, unless the slot has turns: then those
 * whose `zoneTurn` is the chosen one.
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
  /** −1: oscillators play it. */
  sample: Int32Array;
  /** Number of the kind of its sound, and its place among the specs; −1: it has none. */
  kind: Uint8Array;
  spec: Int16Array;
  /** Seconds of its fades. */
  fadeIn: Float32Array;
  fadeOut: Float32Array;
  /** The same sample the other way round; −1 where nothing turns it. */
  turned: Int32Array;
  /** Frames of its sample, to count from the other end. */
  frames: Float64Array;
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
  /**
   * For zones whose loop is made while they sound (it can be moved, or ends with the key): in frames of the recording
   * as it is read; loopEnd 0: none.
   */
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

/** The key of a recording that an effect works with. */
export const impulseKey = (sampleId: string): string => `impulse ${sampleId}`;

/** A sample as a program needs it: `key` is the same for equal needs, also between programs. */
export interface SampleRequest {
  key: string;
  sampleId: string;
  /**
   * The loop that is laid down beforehand, in frames of the recording as it is read (turned round, where it is
   * reversed).
   */
  loop: { start: number; end: number; crossfade?: number } | null;
  reverse: boolean;
  levels: number;
  /** It is waves for oscillators; the recording is asked for where they are none of ours. */
  waves?: WaveRequest;
}

/** The key of waves. */
export const wavesKey = ({ table, length }: WaveRequest): string => `waves ${table} ${length}`;
export const SHAPES_KEY = wavesKey({ table: SHAPES, length: 0 });
