import { GRAIN_POINTS } from '../../dsp/kernel/synthLayout';

/**
 * How a grain rises and falls, over its length 0…1. Source of the windows: F. J. Harris, "On the use of windows for
 * harmonic analysis with the discrete Fourier transform", Proc. IEEE 66 (1978), 51–83.
 */
export const SHAPE_NAMES = [
  'soft edges',
  'tapered cosine',
  'Hann',
  'Hamming',
  'Gaussian',
  'triangle',
  'falling',
  'rising',
  'drawn',
];
export const SOFT_EDGES = 0,
  TAPERED = 1,
  HANN = 2,
  HAMMING = 3,
  GAUSSIAN = 4,
  TRIANGLE_SHAPE = 5,
  FALLING = 6,
  RISING = 7,
  DRAWN = 8;

/** Values of a shape that is kept, from the beginning to the end. */
export const SHAPE_POINTS = GRAIN_POINTS;
/** Points of one that is drawn. */
export const DRAWN_POINTS = 64;

/** Share of a grain in which soft edges and the tapered cosine rise. */
const EDGE = 0.04;
const TAPER = 0.25;
/** Standard deviations from the middle of a Gaussian to its ends. */
const DEVIATIONS = 3;
const DECADES = 3;
/** Rise at the steep end of the exponentials, so that they begin without a click. */
const STEEP = 0.03;

const hann = (t: number): number => 0.5 - 0.5 * Math.cos(2 * Math.PI * t);
const tapered = (t: number, share: number): number => {
  const edge = Math.min(t, 1 - t);
  return edge >= share ? 1 : 0.5 - 0.5 * Math.cos((Math.PI * edge) / share);
};
const falling = (t: number): number => {
  const fall = (10 ** (-DECADES * t) - 10 ** -DECADES) / (1 - 10 ** -DECADES);
  return t < STEEP ? fall * (0.5 - 0.5 * Math.cos((Math.PI * t) / STEEP)) : fall;
};

/** A shape's value at `t` 0…1; `drawn` are the points of the one that is drawn. */
export function shapeAt(shape: number, t: number, drawn: readonly number[] = []): number {
  if (t < 0 || t > 1) return 0;
  switch (shape) {
    case SOFT_EDGES:
      return tapered(t, EDGE);
    case TAPERED:
      return tapered(t, TAPER);
    case HAMMING:
      return 0.54 - 0.46 * Math.cos(2 * Math.PI * t);
    case GAUSSIAN:
      return Math.exp(-0.5 * (DEVIATIONS * (2 * t - 1)) ** 2);
    case TRIANGLE_SHAPE:
      return 1 - Math.abs(2 * t - 1);
    case FALLING:
      return falling(t);
    case RISING:
      return falling(1 - t);
    case DRAWN: {
      if (drawn.length < 2) return hann(t);
      const at = t * (drawn.length - 1);
      const i = Math.min(drawn.length - 2, Math.floor(at));
      return drawn[i] + (drawn[i + 1] - drawn[i]) * (at - i);
    }
    default:
      return hann(t);
  }
}

/** The points of a shape for playing, and its mean square, which levels are made up by. */
export function shapePoints(shape: number, drawn: readonly number[] = []): { points: Float32Array; power: number } {
  const points = Float32Array.from({ length: SHAPE_POINTS + 2 }, (_, i) =>
    shapeAt(shape, Math.min(1, i / SHAPE_POINTS), drawn),
  );
  let power = 0;
  for (let i = 0; i < SHAPE_POINTS; i++) power += points[i] ** 2 / SHAPE_POINTS;
  return { points, power };
}

/** The points of a drawn shape from a recording: its envelope's height over its length, the highest 1. */
export function drawnFrom(data: ArrayLike<number>, channels: number): number[] {
  const frames = Math.floor(data.length / channels);
  const heights = Array.from({ length: DRAWN_POINTS }, (_, i) => {
    let most = 0;
    for (
      let n = Math.floor((i * frames) / DRAWN_POINTS);
      n < Math.max(Math.floor(((i + 1) * frames) / DRAWN_POINTS), Math.floor((i * frames) / DRAWN_POINTS) + 1) &&
      n < frames;
      n++
    )
      most = Math.max(most, Math.abs(data[n * channels]));
    return most;
  });
  const top = Math.max(...heights);
  return heights.map((height) => (top > 0 ? Math.round((height / top) * 1000) / 1000 : 0));
}
