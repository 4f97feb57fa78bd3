import { LONGEST_SPAN } from '../dsp/kernel/layout';

/** Control values are worked out once in this many frames. */
export const TICK = LONGEST_SPAN;
/** Answers that an engine remembers for whoever wants to show them. */
export const ANSWERS = 64;
