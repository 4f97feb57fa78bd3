import { KEYS, MIDDLE_C } from './pitch';

/** The A of concert pitch, in Hz, and how far it may be moved. */
export const A4 = 69,
  A4_HZ = 440,
  LOWEST_A4_HZ = 415,
  HIGHEST_A4_HZ = 466;

/** Degrees of a scale at the most. */
export const MOST_DEGREES = 1024;

/** Where the keys of a keyboard lie in a scale: what a mapping of the Scala archive says. */
export interface KeyMapping {
  /** Keys after which it repeats; 0: each key is the next degree. */
  size: number;
  /** Keys that it is for; others are silent. */
  first: number;
  last: number;
  /** The key of the first degree. */
  middle: number;
  /** A key, and its frequency in Hz. */
  reference: number;
  referenceHz: number;
  /** Degrees that are one round of the mapping. */
  octave: number;
  /** The degree of each key of a round; null: it is silent. */
  keys: readonly (number | null)[];
}

/** How a keyboard is tuned. */
export interface Tuning {
  /** One of {@link TEMPERAMENTS}, or "own": the degrees that stand here. */
  scale: string;
  /** What it is called; of one's own. */
  name: string;
  /** The key, 0 for C, on which it is built. */
  root: number;
  /** Cents of each degree above the first, the last one that of the octave, or whatever stands for it. */
  degrees: readonly number[];
  mapping: KeyMapping | null;
  /** Per cent of the curve by which octaves are stretched, see {@link stretchCents}. */
  stretch: number;
}

/** Commas in cents: of twelve fifths against seven octaves, and of four fifths against two octaves and a third. */
const PYTHAGOREAN_COMMA = 1200 * (12 * Math.log2(3 / 2) - 7);
const SYNTONIC_COMMA = 1200 * Math.log2(81 / 80);
const FIFTH = 1200 * Math.log2(3 / 2);

const inOctave = (cents: number): number => ((cents % 1200) + 1200) % 1200;
/** Degrees from fifths up and down from the root: by how much each of them is narrowed. */
function byFifths(up: readonly number[], down: readonly number[]): number[] {
  const degrees = new Array<number>(12).fill(0);
  let cents = 0;
  up.forEach((narrowed, i) => {
    cents += FIFTH - narrowed;
    degrees[(7 * (i + 1)) % 12] = inOctave(cents);
  });
  cents = 0;
  down.forEach((narrowed, i) => {
    cents -= FIFTH - narrowed;
    degrees[(12 * 7 - 7 * (i + 1)) % 12] = inOctave(cents);
  });
  return [...degrees.slice(1), 1200];
}
const ratios = (...all: readonly (readonly [number, number])[]): number[] =>
  all.map(([a, b]) => 1200 * Math.log2(a / b));

export interface Temperament {
  id: string;
  label: string;
  help: string;
  degrees: readonly number[];
}

const quarter = SYNTONIC_COMMA / 4,
  sixth = PYTHAGOREAN_COMMA / 6,
  fourth = PYTHAGOREAN_COMMA / 4;

/** The tunings that come along, built on C. Historic ones as J. M. Barbour, "Tuning and temperament" (1951), tables them. */
export const TEMPERAMENTS: readonly Temperament[] = [
  {
    id: 'equal',
    label: 'twelve equal',
    help: 'Every semitone the same.',
    degrees: Array.from({ length: 12 }, (_, i) => 100 * (i + 1)),
  },
  {
    id: 'pythagorean',
    label: 'Pythagorean',
    help: 'Pure fifths from E♭ to G♯; the one between them howls.',
    degrees: byFifths([0, 0, 0, 0, 0, 0, 0, 0], [0, 0, 0]),
  },
  {
    id: 'meantone',
    label: 'quarter-comma meantone',
    help: 'Pure thirds in the keys with few signs.',
    degrees: byFifths(new Array<number>(8).fill(quarter), new Array<number>(3).fill(quarter)),
  },
  {
    id: 'werckmeister-3',
    label: 'Werckmeister III',
    help: 'All keys can be played, each with a colour of its own.',
    degrees: byFifths([fourth, fourth, fourth, 0, 0, fourth], [0, 0, 0, 0, 0]),
  },
  {
    id: 'kirnberger-3',
    label: 'Kirnberger III',
    help: 'A pure third on C, and all keys can be played.',
    degrees: byFifths([quarter, quarter, quarter, quarter, 0, 0], [0, 0, 0, 0, 0]),
  },
  {
    id: 'vallotti',
    label: 'Vallotti',
    help: 'Six fifths a little narrow, six pure.',
    degrees: byFifths([sixth, sixth, sixth, sixth, sixth, 0], [sixth, 0, 0, 0, 0]),
  },
  {
    id: 'young',
    label: 'Young',
    help: 'As Vallotti, a fifth further on.',
    degrees: byFifths([sixth, sixth, sixth, sixth, sixth, sixth], [0, 0, 0, 0, 0]),
  },
  {
    id: 'just',
    label: 'five-limit just',
    help: 'Pure chords on its root, and few others.',
    degrees: ratios(
      [16, 15],
      [9, 8],
      [6, 5],
      [5, 4],
      [4, 3],
      [45, 32],
      [3, 2],
      [8, 5],
      [5, 3],
      [9, 5],
      [15, 8],
      [2, 1],
    ),
  },
];
export const TEMPERAMENT_IDS: readonly string[] = [...TEMPERAMENTS.map(({ id }) => id), 'own'];

/** Twelve equal semitones. */
export const EQUAL: Tuning = { scale: 'equal', name: '', root: 0, degrees: [], mapping: null, stretch: 0 };

const STRETCHED_CENTS = 30;
/**
 * Cents that a key is moved by octaves that are stretched as pianos are: nothing near the middle, `share` of 30 cents at
 * either end. O. L. Railsback, "Scale temperament as applied to piano tuning", JASA 9 (1938); from memory.
 */
export function stretchCents(key: number, share: number): number {
  const x = key >= A4 ? (key - A4) / (108 - A4) : (key - A4) / (A4 - 21);
  return share * STRETCHED_CENTS * Math.sign(x) * Math.abs(x) ** 2.2;
}

/** Cents of a degree above the first one, in as many rounds as it takes. */
function centsOfDegree(degree: number, degrees: readonly number[]): number {
  const count = degrees.length;
  if (count === 0) return 0;
  const round = Math.floor(degree / count);
  const within = degree - round * count;
  return round * degrees[count - 1] + (within === 0 ? 0 : degrees[within - 1]);
}

/** Cents of a key above the first degree; NaN where the mapping leaves it out. */
function centsOfKey(key: number, degrees: readonly number[], root: number, mapping: KeyMapping | null): number {
  if (!mapping) return centsOfDegree(key - MIDDLE_C - root, degrees);
  if (key < mapping.first || key > mapping.last) return NaN;
  const away = key - mapping.middle;
  if (mapping.size === 0) return centsOfDegree(away, degrees);
  const round = Math.floor(away / mapping.size);
  const degree = mapping.keys[away - round * mapping.size];
  if (degree === null || degree === undefined) return NaN;
  return round * centsOfDegree(mapping.octave, degrees) + centsOfDegree(degree, degrees);
}

/**
 * Cents by which each of the 128 keys is away from twelve equal semitones around an A of 440 Hz; NaN: the key is silent.
 * A4 itself stands where concert pitch is, whatever the tuning; a mapping has a reference of its own, which goes along
 * with concert pitch. `a4` in Hz.
 */
export function centsOfTuning(tuning: Tuning, a4: number): Float64Array {
  const { scale, root, mapping, stretch } = tuning;
  const degrees = scale === 'own' ? tuning.degrees : (TEMPERAMENTS.find(({ id }) => id === scale)?.degrees ?? []);
  const concert = 1200 * Math.log2(a4 / A4_HZ);
  const own = scale === 'own' ? mapping : null;
  const reference = own ? own.reference : A4;
  // A reference that the mapping itself leaves silent stands where it would as the next degree.
  const mapped = centsOfKey(reference, degrees, root, own);
  const zero = Number.isNaN(mapped) ? centsOfDegree(reference - (own?.middle ?? 0), degrees) : mapped;
  const absolute = own ? 1200 * Math.log2(own.referenceHz / A4_HZ) + 100 * A4 : 100 * A4;
  return Float64Array.from({ length: KEYS }, (_, key) => {
    const cents = centsOfKey(key, degrees, root, own) - zero + absolute - 100 * key + concert;
    return cents + (stretch === 0 ? 0 : stretchCents(key, stretch / 100));
  });
}

/** What each of the 128 keys is tuned to, for what plays: cents that are always a number, and which keys are silent. */
export interface TunedKeys {
  cents: Float64Array;
  silent: Uint8Array;
}

/** The same for what plays; null where every key stays as it is. A silent key has no cents, so that none get anywhere. */
export function tunedKeys(tuning: Tuning, a4: number): TunedKeys | null {
  if (isPlain(tuning, a4)) return null;
  const cents = centsOfTuning(tuning, a4);
  return {
    cents: cents.map((x) => (Number.isNaN(x) ? 0 : x)),
    silent: Uint8Array.from(cents, (x) => Number(Number.isNaN(x))),
  };
}

/** Semitones by which a tuning moves a key, which may lie beyond 0…127: there it is as far away as at the end. */
export const tunedBy = (tuned: TunedKeys | null, key: number): number =>
  tuned === null ? 0 : tuned.cents[key < 0 ? 0 : key > 127 ? 127 : key | 0] / 100;

/** Whether a tuning leaves a key out. */
export const isSilentKey = (tuned: TunedKeys | null, key: number): boolean =>
  tuned !== null && tuned.silent[key < 0 ? 0 : key > 127 ? 127 : key | 0] === 1;

/** Whether a tuning and a concert pitch leave every key as it is. */
export const isPlain = (tuning: Tuning, a4: number): boolean =>
  tuning.scale === 'equal' && tuning.stretch === 0 && a4 === A4_HZ;

/**
 * How often in a second an interval beats: `low` and `high` in Hz, whose partials `a` and `b` nearly meet (a fifth: 3 and
 * 2).
 */
export const beatsOf = (low: number, high: number, a: number, b: number): number => Math.abs(a * low - b * high);
