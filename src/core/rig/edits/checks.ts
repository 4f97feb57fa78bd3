import type { Rig, Role } from '../schema';
import { updateLayer, updatePatch } from './layers';
import { MOST_ASIDE } from '../limits';

/** What is said of findings: pure functions. */

/** A finding is meant, and why; the oldest of too many are forgotten. */
export const setAside = (rig: Rig, finding: string, reason: string): Rig => ({
  ...rig,
  checks: {
    ...rig.checks,
    aside: [
      ...rig.checks.aside.filter((each) => each.finding !== finding),
      { finding: finding.slice(0, 1000), reason: reason.trim().slice(0, 400) },
    ].slice(-MOST_ASIDE),
  },
});

/** A finding counts again. */
export const takeBack = (rig: Rig, finding: string): Rig =>
  rig.checks.aside.some((each) => each.finding === finding)
    ? { ...rig, checks: { ...rig.checks, aside: rig.checks.aside.filter((each) => each.finding !== finding) } }
    : rig;

/** Another threshold of a rule for this rig; null: the rule's own. */
export function setThreshold(rig: Rig, rule: string, id: string, value: number | null): Rig {
  const thresholds = Object.fromEntries(
    Object.entries(rig.checks.thresholds).filter(([name]) => name !== `${rule}.${id}`),
  );
  return {
    ...rig,
    checks: { ...rig.checks, thresholds: value === null ? thresholds : { ...thresholds, [`${rule}.${id}`]: value } },
  };
}

/** What a layer is for, as the player says. */
export const setRole = (rig: Rig, patchId: string, layerId: string, role: Role): Rig =>
  updatePatch(rig, patchId, (patch) =>
    updateLayer(patch, layerId, (layer) => (layer.role === role ? layer : { ...layer, role })),
  );
