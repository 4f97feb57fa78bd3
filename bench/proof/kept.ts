import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { nothing, together, type Outcome, type Part } from './part';

/** What was tried of a part so far, in chunks from its first item on, each named by it. */
export interface Tried {
  /** The state of the code that was tried. */
  code: string;
  chunks: Record<number, { outcome: Outcome; seconds: number; count: number }>;
}
export type Kept = Record<string, Tried>;

/** What an earlier run left behind; where there is none, or it cannot be read, it begins anew. */
export function readKept(path: string): Kept {
  if (!existsSync(path)) return {};
  try {
    return JSON.parse(readFileSync(path, 'utf8')) as Kept;
  } catch {
    console.log(`${path} cannot be read: all parts begin anew.`);
    return {};
  }
}

/** Written beside it first, so that a run that is ended by force leaves what there was. */
export function keep(path: string, kept: Kept): void {
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(`${path}.new`, JSON.stringify(kept));
  renameSync(`${path}.new`, path);
}

export interface Sum {
  outcome: Outcome;
  /** Items that were tried. */
  items: number;
  /** Seconds that it took, of one core. */
  seconds: number;
}

/** All chunks of a part as one. */
export function sumOf(tried: Tried | undefined): Sum {
  const chunks = Object.values(tried?.chunks ?? {});
  return {
    outcome: chunks.map(({ outcome }) => outcome).reduce(together, nothing()),
    items: chunks.reduce((sum, { count }) => sum + count, 0),
    seconds: chunks.reduce((sum, { seconds }) => sum + seconds, 0),
  };
}

/** What of a part is still to be tried, up to so many items. */
export function restOf({ chunk }: Part, tried: Tried | undefined, upTo: number): { first: number; count: number }[] {
  const rest: { first: number; count: number }[] = [];
  for (let first = 0; first < upTo; first += chunk) {
    const count = Math.min(chunk, upTo - first);
    const done = tried?.chunks[first];
    if (!done || done.count < count) rest.push({ first, count });
  }
  return rest;
}
