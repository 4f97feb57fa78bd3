import type { Prepared } from '../core/dsp/prepared';
import { ANSWERS } from '../core/engine/program/tick';
import { MOST_READINGS } from '../core/effects';
import type { ClickSound } from '../core/engine/click';
import type { EngineEvent } from '../core/engine/hands/event';
import type { PlayedProgram } from '../core/engine/program/program';
import { MOST_KNOBS, MOST_MOVERS } from '../core/rig/limits';

/** Everything the page says to the audio thread. */
export type ToEngine =
  | { type: 'program'; program: PlayedProgram; serial: number }
  /** What comes out of a place of the mix is to be seen; null: nothing is. */
  | { type: 'scope'; place: string | null }
  | { type: 'samples'; samples: { key: string; sample: Prepared }[] }
  /** Forget all other samples. */
  | { type: 'keepSamples'; keys: string[] }
  /** For `time` in seconds of the audio context, or for now. */
  | { type: 'event'; event: EngineEvent; time?: number }
  /** To be answered in its turn: whoever hears the answer knows that everything said before has been heard. */
  | { type: 'echo' }
  /** For one of the engines that play along, from 1: other patches, parts of this one, recordings. */
  | { type: 'beside'; player: number; message: ToOneEngine }
  /** How loud one of them is, as a factor. */
  | { type: 'besideGain'; player: number; gain: number }
  /**
   * Where pairs of the rig go: the pair of channels of each, in their order. `click`: the pair of channels of the click;
   * −1: it is not heard.
   */
  | { type: 'outputs'; map: readonly number[]; click: number }
  /** How the click sounds; null: it is off. */
  | { type: 'click'; sound: ClickSound | null }
  /** Of an engine that follows: what it is told before a block, an event so many frames ahead. */
  | { type: 'told'; at: number; ahead: number; message: ToEngine }
  /** It knows all that belongs to blocks before this one. */
  | { type: 'upTo'; blocks: number }
  /** From now on it makes blocks by its own clock, and is heard. */
  | { type: 'lead' }
  /** Another takes its place: it is silent, and asked no more. */
  | { type: 'end' }
  /** It fades and is not heard any more: another leads. */
  | { type: 'hush' }
  /** For the second engine, which auditions sounds beside what plays and touches nothing of it. */
  | { type: 'audition'; message: ToOneEngine };

/** What concerns one engine. */
export type ToOneEngine = Exclude<
  ToEngine,
  {
    type:
      | 'audition'
      | 'echo'
      | 'beside'
      | 'besideGain'
      | 'scope'
      | 'outputs'
      | 'click'
      | 'told'
      | 'upTo'
      | 'lead'
      | 'hush'
      | 'end';
  }
>;

/** What is of this machine, whichever engine leads; all else an engine that follows is told by the one that leads. */
export const OWN: ReadonlySet<ToEngine['type']> = new Set([
  'samples',
  'keepSamples',
  'scope',
  'audition',
  'echo',
  'told',
  'upTo',
  'lead',
  'hush',
  'end',
]);

/** Everything the audio thread says to the page. */
export type FromEngine =
  | { type: 'meters'; values: Float32Array }
  | { type: 'echo' }
  | { type: 'failed'; message: string }
  /** A layer, an effect or `main` made what is no number, and was begun anew. */
  | { type: 'fault'; id: string };

export interface EngineProcessorOptions {
  seed: number;
  maxVoices: number;
  /** Channels that are played: 2, 4, 6 or 8. */
  channels: number;
  /** Where meters are written when memory can be shared; otherwise they are sent. */
  meters: SharedArrayBuffer | null;
  /** Where what comes out of a place is written, left and right in turn; null where memory cannot be shared. */
  scope: SharedArrayBuffer | null;
  /** Where is written what it does, for another that plays in step: see `stepLog.ts`. */
  log: SharedArrayBuffer | null;
  /** It follows another: it makes no block before it was told what belongs to it, and is not heard. */
  follows: boolean;
}

/** How a node for the engine is made: its channels are named once, for what the browser gives and what the engine fills. */
export const engineNode = (processorOptions: EngineProcessorOptions) => ({
  numberOfInputs: 1,
  outputChannelCount: [processorOptions.channels],
  channelInterpretation: processorOptions.channels > 2 ? ('discrete' as const) : ('speakers' as const),
  processorOptions,
});

/** Engines that play along at the most. */
export const MOST_BESIDE = 4;

export const PROCESSOR_NAME = 'wavicle-engine';

/** Places in the meter values. Levels are amplitudes that fall by themselves; load is a share of the time there is. */
export const METERED_LAYERS = 32;
const LAYERS = 5;
/**
 * `program` is the serial of the program that plays, `answerCount` how many zones have answered since it came,
 * `answers` the last {@link ANSWERS} of them, as places
 * among its zones. Who finds the serial finds the rest.
 */
const AFTER = LAYERS + METERED_LAYERS;
const MOVERS_AT = AFTER + 2 + ANSWERS;
const PADS_AT = MOVERS_AT + 2 * MOST_MOVERS;
/** Places, connections and effects of the mix that are metered. */
/** Grains that are shown at the most, and numbers of each: see `Readings.readGrains`. */
export const METERED_GRAINS = 192,
  GRAIN_NUMBERS = 4;
export const METERED_PLACES = 64,
  METERED_CONNECTIONS = 128,
  METERED_EFFECTS = 96;
/** Elements of the scope's ring. */
export const SCOPE_LENGTH = 2 * 32768;
const MIX_AT = PADS_AT + 11 + METERED_LAYERS + ANSWERS;
export const METER = {
  left: 0,
  right: 1,
  voices: 2,
  load: 3,
  limiter: 4,
  layers: LAYERS,
  program: AFTER,
  answerCount: AFTER + 1,
  answers: AFTER + 2,
  /**
   * Value and rounds of each mover, in the order of the patch; of those that notes have for themselves, the newest
   * note's.
   */
  movers: MOVERS_AT,
  /** x and y of each pad's dot, in the order of the patch. */
  pads: PADS_AT,
  /** Position of the transport in quarters, and quarters a minute. */
  position: PADS_AT + 8,
  tempo: PADS_AT + 9,
  /** By layer: the step at which its arpeggio is; −1: it does not run. */
  steps: PADS_AT + 10,
  /** How many notes paths have made or ended, and the last {@link ANSWERS} of them: see `unpackMade`. */
  madeCount: PADS_AT + 10 + METERED_LAYERS,
  made: PADS_AT + 11 + METERED_LAYERS,
  /**
   * Both sides of each place of the mix, each connection, {@link MOST_READINGS} readings of each effect, all in the
   * order of the program; where the scope writes next.
   */
  places: MIX_AT,
  connections: MIX_AT + 2 * METERED_PLACES,
  effects: MIX_AT + 2 * METERED_PLACES + METERED_CONNECTIONS,
  scopeAt: MIX_AT + 2 * METERED_PLACES + METERED_CONNECTIONS + MOST_READINGS * METERED_EFFECTS,
  /** Mean power of each place over some tenths of a second, weighted as loudness is. */
  powers: MIX_AT + 2 * METERED_PLACES + METERED_CONNECTIONS + MOST_READINGS * METERED_EFFECTS + 1,
  /** How many grains sound, and what is shown of them; seed of the last strike's chances. */
  grainCount: MIX_AT + 2 * METERED_PLACES + METERED_CONNECTIONS + MOST_READINGS * METERED_EFFECTS + 1 + METERED_PLACES,
  strikeSeed:
    MIX_AT + 2 * METERED_PLACES + METERED_CONNECTIONS + MOST_READINGS * METERED_EFFECTS + 1 + METERED_PLACES + 1,
  grains: MIX_AT + 2 * METERED_PLACES + METERED_CONNECTIONS + MOST_READINGS * METERED_EFFECTS + 1 + METERED_PLACES + 2,
} as const;
/** By layer: its voices in the last block. */
export const METER_VOICES = METER.grains + METERED_GRAINS * GRAIN_NUMBERS;
/** Where the values of instruments outside stand, in the order of the patch. */
export const METER_KNOBS = METER_VOICES + METERED_LAYERS;
export const METER_LENGTH = METER_KNOBS + MOST_KNOBS;
