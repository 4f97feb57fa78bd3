import type { MiddleC } from '../music/noteNames';
import type { FolderMeaning, FoldersRead } from './folders';
import type { FolderReading, Meaning } from './names';
import type { Stretch } from './stretch';
import type { VelocityRange } from './velocities';

/** A file brought in, as far as a plan looks at it. */
export interface PlanFile {
  /** Path inside the folder that was brought in. */
  path: string;
  /** Content hash. */
  sampleId: string;
  frames: number;
  /** Measured loudness, for the order of dynamics. */
  levelDb: number;
  /** What the file itself says, from its `smpl` and `inst` chunks. */
  root: number | null;
  tuneCents: number;
  loop: { start: number; end: number } | null;
  range?: { keyLow: number; keyHigh: number; velocityLow: number; velocityHigh: number } | null;
  /** What was heard, where it was asked for; null: nothing that has a pitch. */
  pitch?: { key: number; cents: number; clarity: number } | null;
}

export type Layout = 'names' | 'run' | 'one-key' | 'effects' | 'pitch' | 'kit';
export const LAYOUTS: readonly Layout[] = ['names', 'run', 'one-key', 'effects', 'pitch', 'kit'];

export interface PlanOptions {
  layout: Layout;
  /** First key of a run or of effects, the key of one-key. */
  from: number;
  middleC: MiddleC;
  /** From key to key of a run: so many semitones, or the white keys. */
  step: number | 'white';
  stretch: Stretch;
  /** Ranges for the dynamics, soft to hard; shared out evenly where they are not given or their number does not fit. */
  ranges: readonly VelocityRange[] | null;
  /** Velocities around each border that sound both. */
  softEdge: number;
  /** What decides soft → hard. */
  order: 'names' | 'level';
  /** Below this clarity 0…1 a sound counts as unpitched. */
  leastClarity: number;
  corrections: Readonly<Record<number, Meaning>>;
  /** What the folders mean; guessed where nobody says. */
  folders: FolderMeaning | 'auto';
  /**
   * The names were tried and said nothing of keys: the files go one after another instead, or on the pads of a kit
   * where they name drums.
   */
  fallback?: boolean;
  /** Each file is a sound of its own among which a layer chooses: over all keys, at the root that it has itself. */
  list?: boolean;
}

export const PLAN_DEFAULTS: PlanOptions = {
  layout: 'names',
  from: 60,
  middleC: 4,
  step: 1,
  stretch: 'nearest',
  ranges: null,
  softEdge: 0,
  order: 'names',
  leastClarity: 0.85,
  corrections: {},
  folders: 'auto',
};

/** Where one file goes. `placed` false: it stays out, for the reason in `problem`. */
export interface PlanRow {
  file: number;
  placed: boolean;
  problem: string | null;
  root: number;
  tuneCents: number;
  pitchPerKey: number;
  keyLow: number;
  keyHigh: number;
  velocityLow: number;
  velocityHigh: number;
  velocityFadeIn: number;
  velocityFadeOut: number;
  /** Which dynamic it belongs to, soft to hard. */
  dynamic: number;
  alternate: number | null;
  fullLength: boolean;
  /** Its keys and velocities come from the file itself and stay as they are. */
  own: boolean;
  /** Which of the plan's sounds it is for. */
  sound: number;
  /**
   * How much the level is to follow velocity, in per cent; null: as usual. Where dynamics were recorded, or every
   * velocity is to sound the same, it does not.
   */
  levelFollows: number | null;
}

export interface Plan {
  rows: PlanRow[];
  /** How the names were read; null where the layout does not look at them. */
  reading: FolderReading | null;
  /** How the folders were read; null where there are none that differ. */
  folders: FoldersRead | null;
  /** Names of the sounds it makes; empty where it is one, which has no name of its own. */
  sounds: string[];
  /** Names of the dynamics, soft to hard. */
  dynamics: string[];
  /** What was understood, in sentences. */
  explanation: string[];
  /** What should be looked at before it is applied. */
  warnings: string[];
}

/** A row over all keys and velocities, before anything is known of its file. */
export const newRow = (file: number): PlanRow => ({
  file,
  placed: true,
  problem: null,
  root: 60,
  tuneCents: 0,
  pitchPerKey: 100,
  keyLow: 0,
  keyHigh: 127,
  velocityLow: 1,
  velocityHigh: 127,
  velocityFadeIn: 0,
  velocityFadeOut: 0,
  dynamic: 0,
  alternate: null,
  fullLength: false,
  own: false,
  sound: 0,
  levelFollows: null,
});
