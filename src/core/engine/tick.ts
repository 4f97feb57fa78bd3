/** Control values are worked out once in this many frames. */
export const TICK = 32;
/** Answers that an engine remembers for whoever wants to show them. */
export const ANSWERS = 64;
