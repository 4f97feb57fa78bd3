/** Control values are worked out once in this many frames. */
export const TICK = 32;
