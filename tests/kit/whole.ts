/**
 * Long searches are run whole by `npm run whole`; `npm test` runs a sample of each, which begins in the same way, so
 * that what it finds is found again.
 */
export const WHOLE = process.env.WHOLE !== undefined;

/** How many of something are tried: all of them, or those of the sample. */
export const tried = (whole: number, sample: number): number => (WHOLE ? whole : sample);
