import type { Rig } from '../../core/rig/schema';

/** Reading and checking of rigs: their schemas, older versions, what can be rescued of damaged ones. */
type Reading = typeof import('../../core/rig/read') & typeof import('../../core/rig/salvage');

let here: Reading | undefined;
let coming: Promise<Reading> | undefined;

/**
 * Comes when the page stands: what this browser keeps, and what the server made, is sealed, and can be shown without
 * it. Rejects where it cannot be fetched; the next call tries again.
 */
export function reading(): Promise<Reading> {
  coming ??= Promise.all([import('../../core/rig/read'), import('../../core/rig/salvage')]).then(
    ([read, salvage]) => (here = { ...read, ...salvage }),
    (error: unknown) => {
      coming = undefined;
      throw error;
    },
  );
  return coming;
}

/** What keeps a rig from being read again; undefined: nothing does. */
export type Fault = { message: string } | undefined;

/** The first fault of a rig that edits have made; a promise in the moment before reading is there. */
export const faultOf = (rig: Rig): Fault | Promise<Fault> =>
  here ? here.faultOf(rig) : reading().then((now) => now.faultOf(rig));
