import type { LoopHeard, Recording } from '../measure/recording';

export type { LoopHeard } from '../measure/recording';

/**
 * What was heard of a patch, as plain numbers: measured away from the page ({@link listen}), and held against by rules.
 */

/**
 * One strike of some layers, without effects: loudness of its first 0.4 s in LUFS and the middle of its spectrum in Hz;
 * null: silence.
 */
export interface StrikeHeard {
  layerIds: readonly string[];
  key: number;
  velocity: number;
  lufs: number | null;
  middleHz: number;
}

/** Two strikes beside each other where what sounds is another thing, of one layer or of several. */
export interface StepHeard {
  layerIds: readonly string[];
  along: 'velocity' | 'key';
  soft: StrikeHeard;
  hard: StrikeHeard;
  /** The zones that are left and reached, of one layer: places in its sound. */
  from: { soundId: string; zones: readonly number[] } | null;
  to: { soundId: string; zones: readonly number[] } | null;
}

/**
 * A pad or a blend between whose layers a fade was heard: the sources of their windows, and where it stood for each
 * point.
 */
export interface FadeOver {
  name: string;
  sources: readonly string[];
  sets: readonly Readonly<Record<string, number>>[];
}

/**
 * Where two layers, or two dynamics of one sound (`within`), fade into each other along a source: at some points, how
 * far the sum lies from what the layers have unfaded (dB), and where.
 */
export interface FadeHeard {
  layerIds: readonly string[];
  within?: { soundId: string; zones: readonly number[] };
  source: string;
  over?: FadeOver;
  key: number;
  velocity: number;
  points: readonly { at: number; offDb: number }[];
}

/** Two layers on one strike: likeness −1…1 of their sums to mono, and how far their levels are apart in dB. */
export interface PairHeard {
  layerIds: readonly [string, string];
  key: number;
  velocity: number;
  likeness: number;
  apartDb: number;
}

/** A layer on one strike: how much is lost in mono, in dB (0: nothing, −3: both sides are strangers). */
export interface MonoHeard {
  layerId: string;
  key: number;
  velocity: number;
  lostDb: number;
}

/**
 * Ten fingers at full velocity, with all effects: how far the limiter goes (dB, at most 0), the share of one core's
 * time that it takes, voices.
 */
export interface ChordHeard {
  keys: readonly number[];
  limiterDb: number;
  load: number;
  /** The load was measured more than once, with the same result. */
  steady: boolean;
  voices: number;
}

/** A patch on its take. */
export interface TakeHeard {
  lufs: number | null;
  peakDb: number | null;
  limiterDb: number;
  monoDb: number | null;
  switchMs: number;
}

export interface Heard {
  samples: Readonly<Record<string, Recording>>;
  /** By {@link loopName}. */
  loops: Readonly<Record<string, LoopHeard>>;
  steps: readonly StepHeard[];
  fades: readonly FadeHeard[];
  pairs: readonly PairHeard[];
  mono: readonly MonoHeard[];
  chord: ChordHeard | null;
  take: TakeHeard | null;
  /** Strikes that were listened to, and seconds that it took. */
  strikes: number;
  seconds: number;
}

/** Names a loop of a sample. */
export const loopName = (sampleId: string, loop: { start: number; end: number; crossfade: number }): string =>
  `${sampleId} ${loop.start} ${loop.end} ${loop.crossfade}`;

/** Nothing was heard yet. */
export const NOTHING_HEARD: Heard = {
  samples: {},
  loops: {},
  steps: [],
  fades: [],
  pairs: [],
  mono: [],
  chord: null,
  take: null,
  strikes: 0,
  seconds: 0,
};
