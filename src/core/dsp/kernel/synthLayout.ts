/**
 * Where things lie in the memory of a kernel that plays oscillators, in bytes, behind everything in `layout.ts`. Read
 * by TypeScript and by AssemblyScript.
 */

/** Begins behind the 9 pages that every kernel has. */
export const SYNTH = 589824;
const STRIP = 160;
/**
 * What each oscillator gives, before its level, as 32-bit floats; what wrapped at each frame, and how long before it
 * (below 0: nothing).
 */
export const OUTPUTS = SYNTH;
export const WRAPS = OUTPUTS + 4 * STRIP;
export const STRIP_BYTES = STRIP;
/** What one oscillator adds up: left, right, and before its level. */
export const SUM = WRAPS + 4 * STRIP;
/** Left and right of what goes to both filters, to the first, to the second, and past them. */
export const PATHS = SUM + 3 * STRIP;
/**
 * How a step of 1 differs from the band-limited one: {@link STEP_TAPS} values for each of {@link STEP_PHASES} + 1
 * places between two frames.
 */
export const STEP_TAPS = 32;
export const STEP_PHASES = 64;
export const STEPS = PATHS + 8 * STRIP;

/** One block for each voice: four oscillators, the last of them the sub, then what they share. */
export const SYNTH_VOICES = 602112;
export const OSCILLATOR_BYTES = 1024;
export const SYNTH_VOICE_BYTES = 4608;
export const SHARED = 4 * OSCILLATOR_BYTES;
/**
 * Within an oscillator: by voice of its unison, phase and step as shares of a cycle (32 bits), gains left and right at
 * the beginning and the end of the span.
 */
export const PHASES = 0,
  INCREMENTS = 32,
  LEFTS = 64,
  RIGHTS = 96,
  NEXT_LEFTS = 128,
  NEXT_RIGHTS = 160;
/**
 * The two waves between which it stands, and 32 − log₂ of their length; where it stands between them (of a pulse: its
 * width) at the beginning and the end.
 */
export const WAVE = 192,
  OTHER_WAVE = 196,
  SHIFT = 200,
  MIX = 204,
  NEXT_MIX = 208;
/** What it goes over from in this span. */
export const OLD_WAVE = 212,
  OLD_OTHER = 216,
  OLD_SHIFT = 220,
  OLD_MIX = 224,
  GOES_OVER = 228;
/**
 * Voices of its unison, whether it is a pulse, the oscillator that modulates it, phase and frequency modulation and
 * ring at the beginning and the end.
 */
export const UNISON = 232,
  IS_PULSE = 236,
  FROM = 240,
  PHASE_MOD = 244,
  NEXT_PHASE_MOD = 248,
  FREQUENCY_MOD = 252,
  NEXT_FREQUENCY_MOD = 256,
  RING = 260,
  NEXT_RING = 264;
/**
 * The oscillator that it begins anew with (−1: none), whether others do so with it, the way it goes, whether it plays
 * at all, what wrapped after the last frame, its share of a voice, whether it is a saw or made of saws, and whether
 * others listen to it.
 */
export const SYNC = 268,
  LEADS = 272,
  PATH = 276,
  PLAYS = 280,
  PENDING = 284,
  SHARE = 288,
  IS_PLAIN = 312,
  MODULATES = 316;
/**
 * The last four outputs, for those that come before it; what is still to come of steps: left, right, before its level;
 * where that stands.
 */
export const HISTORY = 292,
  DELAYED = 320,
  DELAYED_FRAMES = 32,
  DELAYED_AT = 308;
/** What wrapped at each of the last four frames, for those that come before it in a circle. */
export const WRAP_HISTORY = 704;
/**
 * Within what a voice's oscillators share: their order, whether they go round in a circle, noise: gains, colour, state
 * of its chance and of its filter, its way; a bit for each way in use; whether it plays; whether there are two
 * channels, and whether the filters stand side by side.
 */
export const ORDER = 0,
  IS_CIRCLE = 16,
  NOISE_LEFT = 20,
  NEXT_NOISE_LEFT = 24,
  NOISE_COLOUR = 28,
  NOISE_SEED = 32,
  NOISE_LOW = 36,
  NOISE_PATH = 40,
  WAYS = 44,
  NOISE_PLAYS = 48,
  STEREO = 52,
  SIDE_BY_SIDE = 56;

/** Waves from here on. */
export const WAVES = 1966080;
/** Pages of 64 kB that a kernel with oscillators has in all. */
export const SYNTH_PAGES = 544;

/**
 * Combs of voices behind the waves, each with its settings (delay in frames, how much of what is delayed is added, how
 * much of the treble a round loses, what scales the whole), what its treble was left at, left and right, where it
 * stands, and its line, left and right side by side as 32-bit floats.
 */
export const COMB_DELAY = 0,
  COMB_SHARE = 8,
  COMB_LOSS = 16,
  COMB_LEVEL = 24,
  COMB_LOST = 32,
  COMB_AT = 48,
  COMB_LINE = 64;
/** Frames that a comb remembers: at 48 kHz its lowest tooth is then at 12 Hz. */
export const COMB_FRAMES = 4096;
export const COMB_BYTES = COMB_LINE + 8 * COMB_FRAMES;
/** Combs for so many voices; one that finds none goes without. */
export const MOST_COMBS = 96;
export const COMBS = SYNTH_PAGES * 65536;
/**
 * Shapes of grains behind them: heights at {@link GRAIN_POINTS} + 2 places of a grain, as 32-bit floats. First those that
 * come with the application, then for each voice the one that is drawn.
 */
export const GRAIN_POINTS = 512;
export const GRAIN_SHAPE_BYTES = 4 * (GRAIN_POINTS + 2);
export const MOST_GRAIN_SHAPES = 16;
export const GRAIN_SHAPES = COMBS + MOST_COMBS * COMB_BYTES;
export const DRAWN_SHAPES = GRAIN_SHAPES + MOST_GRAIN_SHAPES * GRAIN_SHAPE_BYTES;
/** Pages of a kernel with all of this. */
export const ALL_PAGES = SYNTH_PAGES + 60;
