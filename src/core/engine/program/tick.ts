import { LONGEST_RUN, LONGEST_SPAN } from '../../dsp/kernel/layout';

/** Control values are worked out once in this many frames. */
export const TICK = LONGEST_SPAN;
/** Ticks in which a voice reaches what leads it. */
export const LEAD = 4;
/**
 * Frames made in one go where no event falls in between: each voice makes its spans one after another, while all it
 * needs is at hand.
 */
export const RUN = LONGEST_RUN;
/** Spans in a run: it need not begin at a tick. */
export const MOST_SPANS = RUN / TICK + 1;
/** Answers that an engine remembers for whoever wants to show them. */
export const ANSWERS = 64;
