/**
 * Where things lie in the memory of a kernel that works for effects, in bytes. Read by TypeScript and by AssemblyScript.
 * Each effect has a room of its own behind all this, of which it knows the first byte; within it, places are counted
 * from there.
 */

/** Begins behind the 9 pages that every kernel has. */
const BEGIN = 589824;
/** A span of both channels, frame by frame, left and right side by side as 64-bit floats; a few frames more than it. */
export const PAIRS = BEGIN;
export const PAIRS_BYTES = 40 * 16;
/** A second span, of what an effect listens to. */
export const SIDE_PAIRS = PAIRS + PAIRS_BYTES;
/** What is worked out in between, by whoever works at the moment. */
export const SCRATCH = SIDE_PAIRS + PAIRS_BYTES;
export const SCRATCH_BYTES = 16384;

/**
 * The filters of oversampling, one side of each, as 32-bit floats: three for going up and down without their middle, the
 * nearest tap first, and the last one down, the middle first.
 */
export const HALF_REACHES = [31, 9, 5];
/** Taps of the three, and where each begins. */
export const FIRST_TAPS = 16,
  SECOND_TAPS = 5,
  THIRD_TAPS = 3;
export const HALF_FIRST = SCRATCH + SCRATCH_BYTES;
export const HALF_SECOND = HALF_FIRST + 4 * FIRST_TAPS;
export const HALF_THIRD = HALF_SECOND + 4 * SECOND_TAPS;
export const SHARP_REACH = 69;
export const SHARP = HALF_THIRD + 4 * THIRD_TAPS;

/**
 * Turns of the Fourier transform: cosine and minus sine of 2π·k/4096, as 32-bit floats side by side, for k < 4096.
 */
export const TURNS = SHARP + 4 * (SHARP_REACH + 3);
export const TURN_COUNT = 4096;
/** Two buffers of the transform: 2048 places of left and right, real and imaginary each. */
export const TRANSFORM = TURNS + 8 * TURN_COUNT;
export const TRANSFORM_OTHER = TRANSFORM + 16 * 2048;

/** Rooms of effects from here on. */
export const ROOMS = TRANSFORM_OTHER + 16 * 2048 + 64;

/**
 * Saturation: gain before the curve, and which it is; the last two inputs, the divided difference between them and the
 * second antiderivative at the last; then the lines of the filters, which keep what they still need.
 */
export const SATURATION_GAIN = 0,
  SATURATION_CURVE = 8,
  SATURATION_STATE = 16;
/** Lines of left and right as 32-bit floats, a few frames longer than the longest span; going down, two of each. */
export const SATURATION_UP_FIRST = 80;
export const SATURATION_UP_SECOND = SATURATION_UP_FIRST + 8 * 68;
export const SATURATION_UP_THIRD = SATURATION_UP_SECOND + 8 * 78;
export const SATURATION_DOWN_FIRST = SATURATION_UP_THIRD + 8 * 138;
export const SATURATION_DOWN_FIRST_BYTES = 8 * 138,
  SATURATION_DOWN_SECOND_BYTES = 8 * 78,
  SATURATION_DOWN_SHARP_BYTES = 8 * 106;
export const SATURATION_DOWN_SECOND = SATURATION_DOWN_FIRST + 2 * SATURATION_DOWN_FIRST_BYTES;
export const SATURATION_DOWN_SHARP = SATURATION_DOWN_SECOND + 2 * SATURATION_DOWN_SECOND_BYTES;
export const SATURATION_BYTES = SATURATION_DOWN_SHARP + 2 * SATURATION_DOWN_SHARP_BYTES;

/**
 * Convolution in blocks of two sizes. Numbers: shares of the low and high cut, gain, how wide; then whole ones: frames of
 * the pre-delay, mask and place of its line, the frame within a long block, long blocks of the recording, how many blocks
 * of each size are ready, and which of the past is the newest.
 */
export const SHORT = 128,
  LONG = 2048;
/** Short blocks cover what comes before the long ones can be ready: two of them. */
export const SHORTS = (2 * LONG) / SHORT - 1;
export const CONVOLUTION_LOW = 0,
  CONVOLUTION_HIGH = 8,
  CONVOLUTION_GAIN = 16,
  CONVOLUTION_WIDE = 24,
  CONVOLUTION_DELAY = 32,
  CONVOLUTION_MASK = 36,
  CONVOLUTION_PLACE = 40,
  CONVOLUTION_FRAME = 44,
  CONVOLUTION_LONGS = 48,
  CONVOLUTION_SHORT_READY = 52,
  CONVOLUTION_LONG_READY = 56,
  CONVOLUTION_SHORT_NEWEST = 60,
  CONVOLUTION_LONG_NEWEST = 64;
/** State of the low cut and the high cut. */
export const CONVOLUTION_FILTERS = 80;
/** The first short block of the recording as it is: left, then right. */
export const CONVOLUTION_DIRECT = 128;
/** What came in over the last short block and this one, left and then right; a few frames more than them. */
export const RECENT_BYTES = 4 * (2 * SHORT + 4);
export const CONVOLUTION_RECENT = CONVOLUTION_DIRECT + 8 * SHORT;
/** What blocks give: the short ones now, the long ones now and for the next; what came in over two long blocks. */
export const CONVOLUTION_SHORT_OUT = CONVOLUTION_RECENT + 2 * RECENT_BYTES;
export const CONVOLUTION_LONG_OUT = CONVOLUTION_SHORT_OUT + 8 * SHORT;
export const CONVOLUTION_LONG_NEXT = CONVOLUTION_LONG_OUT + 8 * LONG;
export const CONVOLUTION_LONG_IN = CONVOLUTION_LONG_NEXT + 8 * LONG;
/**
 * A spectrum: left and right, real and imaginary, of each as many as the block has frames, and a line of cache more, so
 * that blocks one after another do not push each other out of it.
 */
export const SHORT_PART = 4 * SHORT + 64,
  LONG_PART = 4 * LONG + 64;
export const SHORT_SPECTRUM = 4 * SHORT_PART,
  LONG_SPECTRUM = 4 * LONG_PART;
export const CONVOLUTION_SHORT_SUM = CONVOLUTION_LONG_IN + 16 * LONG;
export const CONVOLUTION_LONG_SUM = CONVOLUTION_SHORT_SUM + SHORT_SPECTRUM;
/** The recording and the past, transformed; those of long blocks lie behind them: as many as it has. */
export const CONVOLUTION_SHORT_RESPONSE = CONVOLUTION_LONG_SUM + LONG_SPECTRUM;
export const CONVOLUTION_SHORT_PAST = CONVOLUTION_SHORT_RESPONSE + SHORTS * SHORT_SPECTRUM;
export const CONVOLUTION_LINE = CONVOLUTION_SHORT_PAST + SHORTS * SHORT_SPECTRUM;
/** Where the line of the pre-delay ends, which has mask + 1 frames, the transformed recording begins. */
export const LINE_FRAME_BYTES = 8;

/**
 * A section of second order for both channels: b0, b1, b2, a1, a2 over a0, then its state. Sections in a row lie one
 * behind the other.
 */
export const SECTION_STATE = 48,
  SECTION_BYTES = 80;
/** Sections beside each other: the gain of each, then the sections. */
export const BESIDE_MOST = 16,
  BESIDE_SECTIONS = 8 * BESIDE_MOST;

/**
 * Vocoder: how many bands, gain, attack, release and breath, a section for what goes past the bands; by band its b0, a1,
 * a2 and level, so that two can be read at once; states of the voice, two bands at a time, and of what is played.
 */
export const VOCODER_MOST = 32;
export const VOCODER_COUNT = 0,
  VOCODER_GAIN = 8,
  VOCODER_ATTACK = 16,
  VOCODER_RELEASE = 24,
  VOCODER_BREATH = 32,
  VOCODER_PAST = 48;
export const VOCODER_B0 = 128;
export const VOCODER_A1 = VOCODER_B0 + 8 * VOCODER_MOST;
export const VOCODER_A2 = VOCODER_A1 + 8 * VOCODER_MOST;
export const VOCODER_LEVELS = VOCODER_A2 + 8 * VOCODER_MOST;
export const VOCODER_VOICE = VOCODER_LEVELS + 8 * VOCODER_MOST;
export const VOCODER_PLAYED = VOCODER_VOICE + 32 * VOCODER_MOST;
export const VOCODER_BYTES = VOCODER_PLAYED + 64 * VOCODER_MOST;

/**
 * Three-band compressor: five sections whose coefficients stand for nine (low-pass and high-pass at both crossovers, an
 * all-pass at the second), states of the nine; shares of attack, release and forgetting; by band, low and middle and
 * high and nothing: threshold above, slope, threshold below, gain, then peak and gain now.
 */
export const THREE_SECTION = 48;
export const THREE_SECTIONS = 0,
  THREE_STATES = 5 * THREE_SECTION,
  THREE_ATTACK = THREE_STATES + 9 * 32,
  THREE_RELEASE = THREE_ATTACK + 8,
  THREE_FORGET = THREE_RELEASE + 8,
  THREE_AMOUNT = THREE_FORGET + 8;
export const THREE_ABOVE = THREE_AMOUNT + 8,
  THREE_SLOPE = THREE_ABOVE + 32,
  THREE_BELOW = THREE_SLOPE + 32,
  THREE_GAIN = THREE_BELOW + 32,
  THREE_PEAK = THREE_GAIN + 32,
  THREE_NOW = THREE_PEAK + 32;
export const THREE_BYTES = THREE_NOW + 32;

/**
 * Reverb: how wide, late and early, shares of ducking, its depth in dB, envelope and dB of ducking now; whole numbers;
 * the low cut; by line, where it is read (frames behind) and how far that moves with each frame, gain, pole and state of
 * its damping; early reflections, all-passes before the lines, and those of the spring; then the lines themselves. Each
 * line has mask + 1 frames, and its first {@link GUARD} again behind them, so that a span is read without a turn.
 */
export const GUARD = 48;
export const REVERB_LINES = 16,
  REVERB_TAPS = 8,
  REVERB_SPREADS = 4,
  REVERB_DISPERSERS = 24,
  REVERB_RING = 16;
export const REVERB_WIDE = 0,
  REVERB_LATE = 8,
  REVERB_EARLY = 16,
  REVERB_ATTACK = 24,
  REVERB_RELEASE = 32,
  REVERB_DUCK = 40,
  REVERB_ENVELOPE = 48,
  REVERB_DUCKED = 56,
  REVERB_PREDELAY = 64,
  REVERB_IS_SPRING = 68,
  REVERB_AT = 72,
  REVERB_LINE_MASK = 76,
  REVERB_PRE_MASK = 80,
  REVERB_SPREAD_MASK = 84,
  REVERB_DISPERSE = 88,
  REVERB_CUT = 96;
export const REVERB_OFFSETS = REVERB_CUT + SECTION_BYTES;
export const REVERB_STEPS = REVERB_OFFSETS + 8 * REVERB_LINES;
export const REVERB_GAINS = REVERB_STEPS + 8 * REVERB_LINES;
export const REVERB_POLES = REVERB_GAINS + 4 * REVERB_LINES;
export const REVERB_LOWS = REVERB_POLES + 4 * REVERB_LINES;
export const REVERB_TAP_FRAMES = REVERB_LOWS + 4 * REVERB_LINES;
export const REVERB_TAP_GAINS = REVERB_TAP_FRAMES + 8 * REVERB_TAPS;
export const REVERB_SPREAD_FRAMES = REVERB_TAP_GAINS + 8 * REVERB_TAPS;
export const REVERB_RINGS = REVERB_SPREAD_FRAMES + 8 * REVERB_SPREADS;
export const REVERB_MEMORY = REVERB_RINGS + 16 * REVERB_RING * REVERB_DISPERSERS;

/**
 * What shifts the pitch of lines: how far behind it reads, where the reading that fades out is, share of the crossfade;
 * what the delay grows by and the share with each frame; and between which delays nothing has to jump. It stands where
 * things are worked out, and is brought there for each call.
 */
export const SHIFT_DELAY = SCRATCH,
  SHIFT_OTHER = SCRATCH + 8,
  SHIFT_SHARE = SCRATCH + 16,
  SHIFT_GROWTH = SCRATCH + 24,
  SHIFT_SHARE_STEP = SCRATCH + 32,
  SHIFT_NEAREST = SCRATCH + 40,
  SHIFT_FARTHEST = SCRATCH + 48;
/** The jump that is most alike so far, in frames, and how much it is (below −1: none was looked at). */
export const JUMP_BEST = SCRATCH + 128,
  JUMP_LIKENESS = SCRATCH + 136;
/** What a lag is measured on: its result, and the frames, as 64-bit floats. */
export const LAG_RESULT = SCRATCH + 64,
  LAG_FRAMES = SCRATCH + 80;
