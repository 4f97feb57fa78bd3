import type { Parameter } from '../space/parameter';
import type { MoverKindId } from '../space/source';

/**
 * One sort of source that moves by itself. It keeps all its state in a row of numbers, so that a voice can have its own
 * and nothing is ever put on the heap.
 */
export interface MoverKind {
  id: MoverKindId;
  label: string;
  help: string;
  /** Lowest value it gives; the highest is 1. */
  low: -1 | 0;
  parameters: Readonly<Record<string, Parameter>>;
  /** Begins anew: everything but the seed and what comes in is 0 by then. */
  begin(state: Float64Array, at: number, values: Float64Array, first: number, spec: MoverSpec): void;
  /** Goes on by what {@link Time} says and leaves its value in the state. */
  advance(
    state: Float64Array,
    at: number,
    values: Float64Array,
    first: number,
    spec: MoverSpec,
    time: Float64Array,
  ): void;
}

/** What a mover is besides its parameters: plain data that travels with the program. */
export interface MoverSpec {
  /** How its time is told: by a rate in Hz, a length in seconds, or a note value. */
  clock: 'hz' | 'seconds' | 'note';
  /** When it begins anew. On the beat, its place follows from the transport alone. */
  begins: 'strike' | 'phrase' | 'beat' | 'never';
  /** Of an LFO: place in {@link LFO_SHAPES}. */
  shape: number;
  loop: boolean;
  /** Of a contour: x, y and bend of each point, one after another. Of steps: their values. */
  points: Float64Array;
  /** Of a sample and hold: whether it takes what comes in, instead of chance. */
  samplesInput: boolean;
}

/**
 * Places in a state: the value it has now; how far it has come in rounds, and in seconds since it began; a stage; three
 * numbers of the kind's own; chance; whether a key is held; what comes in.
 */
export const VALUE = 0,
  PHASE = 1,
  SECONDS = 2,
  STAGE = 3,
  A = 4,
  B = 5,
  C = 6,
  SEED = 7,
  DRAW = 8,
  HELD = 9,
  INPUT = 10,
  STATE_SIZE = 12;
/** Parameters of a mover at the most. */
export const MOST_PARAMETERS = 10;
/**
 * Places in the time: length of the span in seconds and in quarters, and the transport's position at its end in
 * quarters.
 */
export const SPAN_SECONDS = 0,
  SPAN_QUARTERS = 1,
  POSITION = 2,
  TIME_SIZE = 3;
/** Where each kind has the parameters that several have. */
export const RATE = 0,
  LENGTH = 1,
  LASTS = 2;

/**
 * Puts a new draw, −1…1, into the state: a generator of 32 bits (G. Marsaglia, Xorshift RNGs, 2003: 13, 17, 5) that
 * lives in it.
 */
export function draw(state: Float64Array, at: number): void {
  let x = state[at + SEED] | 0;
  x ^= x << 13;
  x ^= x >>> 17;
  x ^= x << 5;
  state[at + SEED] = x;
  state[at + DRAW] = (x >>> 0) / 0x8000_0000 - 1;
}

/** A seed from whole numbers, never 0. */
export function seedOf(a: number, b: number): number {
  let x = (Math.imul(a | 0, 0x9e3779b1) ^ Math.imul((b | 0) + 0x7f4a7c15, 0x85ebca6b)) | 0;
  x ^= x >>> 15;
  x = Math.imul(x, 0x2c1b3c6d);
  x ^= x >>> 12;
  return x === 0 ? 1 : x;
}

/**
 * How a line between two points bends: t in 0…1 at `bend` −1…1, 0 a straight line, above it quick at first, below slow.
 * (1 − e^(−kt)) / (1 − e^(−k)) with k = 6 · bend.
 * In place, in `values[at]`.
 */
export function bendLine(values: Float64Array, at: number, bends: Float64Array, bend: number): void {
  const k = 6 * bends[bend];
  if (k < 1e-3 && k > -1e-3) return;
  values[at] = (1 - Math.exp(-k * values[at])) / (1 - Math.exp(-k));
}

/** The height of such a line at x between two points, each x, y and the bend that follows it: for pictures. */
export function lineBetween(
  [x0, y0, bend]: readonly [number, number, number],
  [x1, y1]: readonly [number, number, number],
  x: number,
): number {
  if (x1 <= x0) return y1;
  const share = Float64Array.of((x - x0) / (x1 - x0), bend);
  bendLine(share, 0, share, 1);
  return y0 + (y1 - y0) * share[0];
}
