import { LONGEST_NAME } from './schema';

/** A name as long as a rig takes; blanks around it are none of it. */
export const heldName = (name: string): string => name.trim().slice(0, LONGEST_NAME).trim();

/** The name of a copy: what is too long makes room for the word. */
export const copyName = (name: string): string => `${name.slice(0, LONGEST_NAME - COPY.length).trimEnd()}${COPY}`;
const COPY = ' copy';

/** An id that none of those in use has: the prefix and the lowest free number. */
export function freeId(prefix: string, used: readonly { id: string }[]): string {
  const taken = new Set(used.map(({ id }) => id));
  let n = 1;
  while (taken.has(`${prefix}-${n}`)) n++;
  return `${prefix}-${n}`;
}
