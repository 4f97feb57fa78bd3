/** What a part of the proof is, and what comes out of it. */

/** What came out of trying some items of a part. */
export interface Outcome {
  /** How much was tried, by what it is called. */
  tried: Record<string, number>;
  /** One line each: which seed, what is wrong. */
  failures: string[];
  /** The worst that was measured, by what it is and its unit: larger is worse. */
  figures: Record<string, number>;
}

export interface Part {
  name: string;
  /** What is promised, in one sentence for its reader. */
  promise: string;
  /** What it is held against. */
  against: string;
  /** What is counted, and how many make the part whole. */
  items: string;
  count: number;
  /** Items that are tried in one go; what was tried is kept after each. */
  chunk: number;
  /** It needs the machine for itself: nothing runs beside it. */
  alone?: boolean;
  try: (first: number, count: number) => Outcome | Promise<Outcome>;
}

export const nothing = (): Outcome => ({ tried: {}, failures: [], figures: {} });

/** Two outcomes as one: counts are added, of figures the worse one stays. */
export function together(a: Outcome, b: Outcome): Outcome {
  const tried = { ...a.tried };
  for (const [what, count] of Object.entries(b.tried)) tried[what] = (tried[what] ?? 0) + count;
  const figures = { ...a.figures };
  for (const [what, value] of Object.entries(b.figures)) figures[what] = Math.max(figures[what] ?? -Infinity, value);
  return { tried, failures: [...a.failures, ...b.failures], figures };
}

/** Counts and measures while a part is tried. */
export class Tally {
  readonly outcome = nothing();

  count(what: string, by = 1): void {
    this.outcome.tried[what] = (this.outcome.tried[what] ?? 0) + by;
  }
  measure(what: string, value: number): void {
    this.outcome.figures[what] = Math.max(this.outcome.figures[what] ?? -Infinity, value);
  }
  fail(what: string): void {
    this.outcome.failures.push(what);
  }
}
