import type { Layer, Patch, Rig } from '../rig/schema';

/**
 * How sure a finding is: `sure` follows from the rig's own numbers, `measured` lies beyond a named threshold in rendered sound, `taste` is unusual and may well be meant.
 */
export type Grade = 'sure' | 'measured' | 'taste';

/** Where a finding is: layers and sounds by their ids, keys and velocities from lowest to highest. */
export interface Place { patchId: string | null; layerIds: readonly string[]; soundId?: string; zones?: readonly number[]; keys?: readonly [number, number]; velocities?: readonly [number, number]; macro?: number }

/** An edit that would mend it. `safe`: it changes nothing but what is wrong, so that all such may be taken at once. */
export interface Fix { label: string; safe: boolean; edit: (rig: Rig) => Rig }

export interface Finding {
  rule: string;
  grade: Grade;
  where: Place;
  /** What is wrong, in one sentence, with the names that people gave. */
  message: string;
  /** The strike that shows it; null: none does. */
  hear: { key: number; velocity: number } | null;
  fixes: readonly Fix[];
}

/** A number that a rule goes by; `source` says where it comes from. */
export interface Threshold { label: string; unit: string; value: number; source: string }

/** What rules look at: one patch of a rig, with the thresholds as they are set. */
export interface Subject { rig: Rig; patch: Patch; threshold: (id: string) => number }

/** One rule. `why`: in one sentence, why it matters. `help`: a paragraph for whoever wants to know more. */
export interface Rule { id: string; title: string; why: string; help: string; thresholds?: Readonly<Record<string, Threshold>>; find(subject: Subject): Iterable<Omit<Finding, 'rule'>> }

/** By which a finding is known again after edits that do not concern it: its rule and place. */
export const keyOfFinding = ({ rule, where }: Pick<Finding, 'rule' | 'where'>): string => [rule, where.patchId ?? '', where.layerIds.join('+'), where.soundId ?? '', where.zones?.join(',') ?? '', where.keys?.join('-') ?? '', where.macro ?? ''].join(' ');

export const quoted = ({ name }: { name: string }): string => `“${name}”`;
export const named = (layers: readonly Layer[]): string => layers.map(quoted).join(layers.length === 2 ? ' and ' : ', ');
