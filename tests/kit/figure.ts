import { appendFileSync } from 'node:fs';

/** A figure that a test has measured, and what it was held against. */
export interface Figure {
  what: string;
  value: number;
  unit: string;
  /** The reference, or the ideal that was worked out. */
  against: string;
}

/**
 * Says how far something was from its reference, in a unit in which more is worse: the proof writes the worst of each
 * down (FIGURES is the file that it reads). The test itself says how much is too much. Gives the figure back.
 */
export function figure(what: string, value: number, unit: string, against: string): number {
  const path = process.env.FIGURES;
  if (path) appendFileSync(path, `${JSON.stringify({ what, value, unit, against } satisfies Figure)}\n`);
  return value;
}
