/** How much of anything a rig may hold, and the words it may choose from: what needs no schema to be known. */

export const MARK_SHAPES = ['dot', 'triangle', 'square', 'diamond', 'ring', 'bar', 'cross', 'wave'] as const;

export const MARK_COLOURS = ['teal', 'clay', 'indigo', 'ochre', 'plum', 'moss', 'slate', 'rose'] as const;

/** Sounds of a list at the most. */
export const MOST_CHOICES = 128;

/** Notes that a chord adds at the most. */
export const MOST_ADDED = 6;

/** Voices that a layer's own limit may allow. */
export const MOST_LIMIT = 64;

/** Effects in a row at the most. */
export const MOST_CHAIN = 12;

/** Levels of a row of steps at the most. */
export const MOST_LEVELS = 32;

/** Groups of a patch at the most. */
export const MOST_GROUPS = 16;

/** Shared effects and connections of a patch at the most. */
export const MOST_POOLS = 8,
  MOST_CONNECTIONS = 96;

/** Parts of a take, and notes and moves of a part, at the most. */
export const MOST_PARTS = 16,
  MOST_NOTES = 20000,
  MOST_MOVES = 50000;

/** Draws of a patch at the most, and what one may change. */
export const MOST_DRAWS = 300,
  MOST_CHANGES = 2000;

/** Versions of a patch at the most. */
export const MOST_VERSIONS = 4;

export const RIG_VERSION = 13;

/** Which of the held notes counts where there can be only one. */
export const NOTES_COUNT = ['last', 'highest', 'lowest', 'loudest', 'mean'] as const;

/** Movers of a patch at the most. */
export const MOST_MOVERS = 16;

/** Points of a recorded path at the most. */
export const MOST_PATH = 2000;

/** Instruments of a rig, messages at once, and values of instruments in a patch, at the most. */
export const MOST_INSTRUMENTS = 16,
  MOST_MESSAGES = 32,
  MOST_KNOBS = 32;

/** The longest pause after a message, in ms. */
export const LONGEST_PAUSE = 5000;

export const MESSAGE_KINDS = ['program', 'controller', 'nrpn', 'notesOff', 'bytes'] as const;

/** Pairs of a rig at the most. */
export const MOST_PAIRS = 4;

/** Clicks in a beat. */
export const SUBDIVISIONS = [1, 2, 3, 4] as const;

/** Ports that layers can tell apart at the most. */
export const MOST_PORTS = 4;

/** Characters of a player’s page at the most. */
export const LONGEST_PAGE = 20_000;

/** Entries of a setlist, patches of a song and setlists of a rig at the most. */
export const MOST_ENTRIES = 300,
  MOST_SONG_PATCHES = 16,
  MOST_SETLISTS = 32;

/** What a layer is for. */
export const ROLES = ['unsaid', 'keys', 'bass', 'lead', 'pad', 'drums', 'effects'] as const;

/** Findings set aside at the most. */
export const MOST_ASIDE = 2000;

/** Characters of a name at the most. */
export const LONGEST_NAME = 200;
