import type { Finding } from '../../../core/check/finding';

/** Findings of the same rule and grade together, where the first of them stands; in each, the order stays. */
export function byRule<F extends Pick<Finding, 'rule' | 'grade'>>(findings: readonly F[]): F[][] {
  const groups = new Map<string, F[]>();
  for (const finding of findings) {
    const key = `${finding.rule} ${finding.grade}`;
    const group = groups.get(key);
    if (group) group.push(finding);
    else groups.set(key, [finding]);
  }
  return [...groups.values()];
}
