import type { Layer, Patch, Rig } from '../rig/schema';
import type { Heard, TakeHeard } from './heard';

/**
 * How sure a finding is: `sure` follows from the rig's own numbers, `measured` lies beyond a named threshold in
 * rendered sound, `taste` is unusual and may well be meant.
 */
export type Grade = 'sure' | 'measured' | 'taste';

/** What a rule looks after: a shelf of the list in the view. */
export type Shelf = 'keys' | 'strikes' | 'samples' | 'hands' | 'show';

/** Where a finding is: layers and sounds by their ids, keys and velocities from lowest to highest. */
export interface Place {
  patchId: string | null;
  layerIds: readonly string[];
  soundId?: string;
  zones?: readonly number[];
  keys?: readonly [number, number];
  velocities?: readonly [number, number];
  macro?: number;
  /** What tells it from others of the same rule in the same place. */
  what?: string;
}

/** An edit that would mend it. `safe`: it changes nothing but what is wrong, so that all such may be taken at once. */
export interface Fix {
  label: string;
  safe: boolean;
  edit: (rig: Rig) => Rig;
}

/**
 * Strikes that show it, one after another or together; `set`: where sources stand meanwhile; `alone`: layers that are
 * heard alone.
 */
export interface Hear {
  strikes: readonly { key: number; velocity: number }[];
  together?: boolean;
  set?: Readonly<Record<string, number>>;
  alone?: readonly string[];
}

/** A small picture of what was measured: heights over places, with the place that is meant. */
export interface Curve {
  over: string;
  unit: string;
  points: readonly (readonly [at: number, value: number])[];
  mark: number;
  mended?: readonly (readonly [at: number, value: number])[];
}

export interface Finding {
  rule: string;
  grade: Grade;
  where: Place;
  /** What is wrong, in one sentence, with the names that people gave. */
  message: string;
  /** The strike that shows it; null: none does. */
  hear: Hear | null;
  curve?: Curve;
  fixes: readonly Fix[];
}

/** A number that a rule goes by; `source` says where it comes from. */
export interface Threshold {
  label: string;
  unit: string;
  value: number;
  low: number;
  high: number;
  source: string;
}

/**
 * What rules look at: one patch of a rig, with the thresholds as they are set, and what was heard; undefined: nobody
 * listened yet. `show`: takes of other patches that were heard, by patch. `missing`: samples that are not there.
 * `outputs`: MIDI outputs that are there; undefined: nobody knows.
 */
export interface Subject {
  rig: Rig;
  patch: Patch;
  threshold: (id: string) => number;
  heard: Heard | undefined;
  show: ReadonlyMap<string, TakeHeard>;
  missing: ReadonlySet<string>;
  outputs: ReadonlySet<string> | undefined;
  /** Hz at which an input fed back last on this machine; 0: it did not. */
  fedBackAt: number;
}

/** One rule. `why`: in one sentence, why it matters. `help`: a paragraph for whoever wants to know more. */
export interface Rule {
  id: string;
  shelf: Shelf;
  title: string;
  why: string;
  help: string;
  thresholds?: Readonly<Record<string, Threshold>>;
  find(subject: Subject): Iterable<Omit<Finding, 'rule'>>;
}

/** Common practice of the trade, with no published source. */
export const CP = 'a rule of thumb, from common practice';

/** By which a finding is known again after edits that do not concern it: its rule and place. */
export const keyOfFinding = ({ rule, where }: Pick<Finding, 'rule' | 'where'>): string =>
  [
    rule,
    where.patchId ?? '',
    where.layerIds.join('+'),
    where.soundId ?? '',
    where.zones?.join(',') ?? '',
    where.keys?.join('-') ?? '',
    where.velocities?.join('-') ?? '',
    where.macro ?? '',
    ...(where.what ? [where.what] : []),
  ].join(' ');

export const quoted = ({ name }: { name: string }): string => `“${name}”`;
export const named = (layers: readonly Layer[]): string =>
  layers.map(quoted).join(layers.length === 2 ? ' and ' : ', ');
export const strike = (key: number, velocity: number, more: Partial<Hear> = {}): Hear => ({
  strikes: [{ key, velocity }],
  ...more,
});
/** A number as it is told: at most one place after the point. */
export const told = (x: number): string => String(Math.round(x * 10) / 10);
