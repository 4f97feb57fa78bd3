import { LONGEST_NAME, type Route } from './schema';

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

/** Routes with copies, under ids made anew (those of copies of copies would grow without end), of each whose target `copyOf` gives another one. */
export const withCopies = (routes: readonly Route[], copyOf: (target: string) => string | undefined): Route[] => routes.reduce<Route[]>((all, route) => {
  const target = copyOf(route.target);
  return target === undefined ? all : [...all, { ...route, id: freeId('route', all), target }];
}, [...routes]);
