import type { Room } from '../dsp/kernel/effectRooms';
import type { PreparedSample } from '../dsp/sample';
import type { Parameter } from '../space/parameter';

/** What effects are sorted by where they are chosen. */
export const FAMILIES = ['tone', 'dynamics', 'colour', 'motion', 'space', 'pitch and time'] as const;
export type Family = (typeof FAMILIES)[number];

/**
 * Which picture shows what an effect does now: gain over frequency, out over in, level after a strike, or level over a
 * bar.
 */
export type PictureKind = 'response' | 'curve' | 'decay' | 'pattern';

/** A set of values in words; what it leaves out has its default. */
export interface Preset {
  name: string;
  values: Readonly<Record<string, number>>;
  steps?: readonly number[];
}

/**
 * One sort of effect: its parameters, what it needs, and how one is made. Adding an effect is one such file and one
 * line in the index.
 */
export interface EffectKind {
  id: string;
  label: string;
  help: string;
  family: Family;
  picture: PictureKind;
  /** In the order of the values that {@link Effect.aim} gets; the first is always `mix`. */
  parameters: Readonly<Record<string, Parameter>>;
  /**
   * Parameters in steps that change its whole make: it is faded out before they change, and in again after. All other
   * steps change at once.
   */
  remakes?: readonly string[];
  /**
   * Seconds after the end of what comes in until what goes out is below −100 dBFS for good; absent: a few milliseconds.
   * `values` in units.
   */
  tail?(values: Float64Array, tempo: number): number;
  /** Time in seconds in which what is slow in it, beside its own times, gets 63 % of its way; absent: nothing is. */
  settles?(values: Float64Array): number;
  /** What it gives instead, in words, where its values ask for more than it has room for. */
  limits?(values: Float64Array, tempo: number): string | undefined;
  /** Frames by which what goes out is later than what came in. */
  latency?(rate: number): number;
  /** Elements of memory it needs, of 32 bits each. */
  room?(rate: number): number;
  make(context: EffectContext): Effect;
  presets: readonly Preset[];
  /** Values with which it begins in a chain, where its own would take the sound itself away, or make it jump. */
  inChain?: Readonly<Record<string, number>>;
  /** A row of so many levels 0…1 belongs to it, in place of parameters. */
  steps?: number;
  /** It may listen to another layer. */
  listens?: boolean;
  /** It needs a recording that the user brings. */
  impulse?: boolean;
  /** Numbers that it tells of itself while it works, at most {@link MOST_READINGS}. */
  readings?: readonly { label: string; unit: string }[];
}

export const MOST_READINGS = 3;
/** Parameters of an effect at the most. */
export const MOST_EFFECT_PARAMETERS = 48;

/**
 * Places in {@link EffectContext.time}: where the transport is in quarters at the first frame of the span, quarters
 * that a frame takes, and whether it has jumped.
 */
export const AT_QUARTERS = 0,
  QUARTERS_PER_FRAME = 1;

export interface EffectContext {
  rate: number;
  seed: number;
  /** Zeros, as many as {@link EffectKind.room} says, in the memory of a kernel; null: it needs none. */
  room: Room | null;
  time: Float64Array;
  /** Cents that each of the 128 keys is away from equal semitones around 440 Hz, as the patch is tuned. */
  cents: Float64Array;
  /** The key of the last note of the layer, as it sounds and is tuned; of all notes, where it is not the effect of a layer. */
  key: Float64Array;
  /** Levels of a row of steps; how many there are stands last. */
  steps: Float64Array;
  /** What it listens to, over the run that is being made; null: to what comes in. */
  side: { left: Float32Array; right: Float32Array } | null;
  /** A recording; null: none is there. */
  impulse: PreparedSample | null;
}

/**
 * An effect at work. It allocates nothing and takes no fractions: values come in an array. `process` works in place on
 * a span of at most 32 frames; spans end only at ticks and events, so the sound
 * does not depend on how the output is cut. `aim` comes before a span whenever a value has changed; values glide by
 * themselves.
 */
export interface Effect {
  aim(values: Float64Array): void;
  process(left: Float32Array, right: Float32Array, from: number, to: number): void;
  reset(): void;
  readonly readings?: Float32Array;
}

/** A fixed key as it is tuned. */
export const fixedKey = (key: number, cents: Float64Array): number => key + cents[Math.round(key)] / 100;

/** The (fractional) key that an effect is tuned to: that of the last note where there is one, else a fixed one. */
export const keyAsTuned = (note: Float64Array, fixed: number, cents: Float64Array): number =>
  note[0] >= 0 ? note[0] : fixedKey(fixed, cents);
