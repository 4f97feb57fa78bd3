import { makePlan } from '../../src/core/mapping/plan';
import { PLAN_DEFAULTS, type PlanFile, type PlanOptions } from '../../src/core/mapping/planModel';

export const file = (path: string, more: Partial<PlanFile> = {}): PlanFile => ({
  path,
  sampleId: path,
  frames: 100,
  levelDb: -20,
  root: null,
  tuneCents: 0,
  loop: null,
  ...more,
});
export const plan = (files: PlanFile[], options: Partial<PlanOptions>) =>
  makePlan(files, { ...PLAN_DEFAULTS, ...options });
export const ranges = (made: ReturnType<typeof plan>) =>
  made.rows.map((row) => [row.keyLow, row.root, row.keyHigh, row.velocityLow, row.velocityHigh]);
