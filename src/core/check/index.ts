import type { Patch, Rig } from '../rig/schema';
import type { Finding, Rule } from './finding';
import { deadKeys } from './rules/deadKeys';
import { foughtOver } from './rules/foughtOver';
import { pedalOnBass } from './rules/pedalOnBass';
import { stretched } from './rules/stretched';
import { everythingAtOnce } from './rules/everythingAtOnce';
import { idleMacro } from './rules/idleMacro';
import { neverSounds } from './rules/neverSounds';
import { twoJobs } from './rules/twoJobs';
import { unknownPort } from './rules/unknownPort';

/** Every rule, in the order in which findings are told. */
export const RULES: readonly Rule[] = [neverSounds, deadKeys, everythingAtOnce, unknownPort, idleMacro, twoJobs, pedalOnBass, foughtOver, stretched];

export const ruleOf = (id: string): Rule => RULES.find((rule) => rule.id === id)!;

const GRADES = ['sure', 'measured', 'taste'] as const;

/** What the rules have to say of one patch, the surest first. */
export function checkPatch(rig: Rig, patch: Patch): Finding[] {
  const found = RULES.flatMap((rule) => [...rule.find({ rig, patch, threshold: (id) => rule.thresholds?.[id]?.value ?? NaN })].map((finding): Finding => ({ rule: rule.id, ...finding })));
  return GRADES.flatMap((grade) => found.filter((finding) => finding.grade === grade));
}

/** The same of every patch. */
export const checkRig = (rig: Rig): Finding[] => rig.patches.flatMap((patch) => checkPatch(rig, patch));
