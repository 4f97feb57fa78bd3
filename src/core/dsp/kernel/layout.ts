/**
 * Where things lie in the kernel's memory, in bytes. Read by both sides: by TypeScript, and by AssemblyScript, in which
 * the kernel is written.
 */

/** The longest span made in one go. Its buffers hold a few more frames: the kernel makes four at a time. */
export const LONGEST_SPAN = 32;
const BUFFER = 40 * 8;
/**
 * Frames of a recording that one reading may need, as 32-bit floats, the channels of a frame side by side. It begins
 * one frame before an even one.
 */
export const WINDOW_FRAMES = 136;
export const WINDOW = 1024;
/**
 * Two pairs of channels, in 64-bit floats as everything below: what a voice makes, and the part of it that fades out.
 */
export const MADE = WINDOW + WINDOW_FRAMES * 8;
export const MADE_RIGHT = MADE + BUFFER;
export const TAIL = MADE_RIGHT + BUFFER;
export const TAIL_RIGHT = TAIL + BUFFER;
/** Where voices are added up, over the spans of a run. */
export const LONGEST_RUN = 4 * LONGEST_SPAN;
/** A third pair, for a filter that works beside another. */
export const SIDE = TAIL_RIGHT + BUFFER;
export const SIDE_RIGHT = SIDE + BUFFER;
/** A fourth pair, for what goes past the filters. */
export const PAST = SIDE_RIGHT + BUFFER;
export const PAST_RIGHT = PAST + BUFFER;
export const BUS = PAST_RIGHT + BUFFER;
export const BUS_RIGHT = BUS + LONGEST_RUN * 8;

/**
 * A grain's part of a span: how many frames, the first of them, whether it goes backward and has two channels, and where
 * its shape lies; then frames since it began, its length, gains left and right.
 */
export const GRAIN = BUS_RIGHT + LONGEST_RUN * 8;
export const GRAIN_COUNT = GRAIN,
  GRAIN_FROM = GRAIN + 4,
  GRAIN_BACKWARD = GRAIN + 8,
  GRAIN_STEREO = GRAIN + 12,
  GRAIN_SHAPE = GRAIN + 16,
  GRAIN_AGE = GRAIN + 24,
  GRAIN_LENGTH = GRAIN + 32,
  GRAIN_LEFT = GRAIN + 40,
  GRAIN_RIGHT = GRAIN + 48;

/** The numbers of a voice, one block for each. */
export const VOICES = GRAIN + 64;
export const VOICE_BYTES = 1664;
export const MOST_VOICE_BLOCKS = 288;
/**
 * Where the compiler puts what the kernel's own functions read (tables of `exp` and the like), behind everything that
 * is written to. The build puts it there, and a test looks that it stays.
 */
export const STATIC = VOICES + MOST_VOICE_BLOCKS * VOICE_BYTES;
export const STATIC_BYTES = 65536;
/** Pages of 64 kB that every kernel has. */
export const PAGES = 9;
/** Within the block. A reading: position in frames of the level, and frames of it for each frame of output. */
export const READING = 0;
export const TAIL_READING = 16;
/**
 * Gains left→left, left→right, right→left, right→right where the last span left them; a mono voice has the first two.
 */
export const GAINS = 32;
/** Where they go in the next span: the panner's gains in the same order, times the amplitude. */
export const PAN_GAINS = 64;
export const AMPLITUDE = 96;
/**
 * Sections of second order that a voice's sound may go through, in this order: two of the first filter, two of the
 * second, the low cut, three of the tilt.
 */
export const SECTIONS = 8;
export const FIRST = 0,
  SECOND = 2,
  LOW_CUT = 4,
  TILT = 5;
/** Their states: band and low of the left channel, then of the right. */
export const STATES = 128;
export const STATE_BYTES = 32;
/** Their coefficients, ten pairs each: see `setSection`. */
export const COEFFICIENTS = STATES + SECTIONS * STATE_BYTES;
export const SECTION_BYTES = 160;

/** Bits of a position within the window that lie behind its point. */
export const FRACTION_BITS = 25;
