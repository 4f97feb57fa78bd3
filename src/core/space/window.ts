/**
 * How a fade rises from 0 to 1. Root is the constant-power curve of SFZ, sine the same in another shape, linear keeps
 * the sum of amplitudes.
 */
export type FadeShape = 'linear' | 'sine' | 'root';
export const FADE_SHAPES: readonly FadeShape[] = ['linear', 'sine', 'root'];

/**
 * A soft-edged range of a source, in the source's own units. `low` and `high` are both inside; fades run inward from
 * them.
 */
export interface WindowRange {
  low: number;
  high: number;
  fadeIn: number;
  fadeOut: number;
  shape: FadeShape;
}

/** A rise for t in 0…1: t, sin(πt/2) or √t. */
export function riseOf(shape: FadeShape, t: number): number {
  if (shape === 'linear') return t;
  return shape === 'sine' ? Math.sin((Math.PI * t) / 2) : Math.sqrt(t);
}

/**
 * The same for an element of an array: what the audio thread uses, which hands no fraction to a function and takes none
 * from one.
 */
function riseInPlace(shape: FadeShape, values: Float64Array, at: number): void {
  if (shape === 'linear') return;
  values[at] = shape === 'sine' ? Math.sin((Math.PI * values[at]) / 2) : Math.sqrt(values[at]);
}

const scratch = new Float64Array(2);
const way = new Float64Array(1);

/**
 * The gain 0…1 of a window at `x`: 0 outside; with a fade, 0 at the border itself and 1 a fade's length further in.
 * Two windows whose fades cover the same span in opposite directions keep constant power (sine, root) or constant
 * amplitude (linear).
 */
export function gainOfWindow(window: WindowRange, x: number): number {
  scratch[0] = x;
  scratch[1] = 1;
  multiplyByWindow(window, scratch, 0, scratch, 1);
  return scratch[1];
}

/**
 * Multiplies `into[place]` by the gain of a window at `values[at]`: what the audio thread uses, which hands no fraction
 * to a function.
 */
export function multiplyByWindow(
  { low, high, fadeIn, fadeOut, shape }: WindowRange,
  values: Float64Array,
  at: number,
  into: Float64Array,
  place: number,
): void {
  const x = values[at];
  if (!(x >= low && x <= high)) {
    into[place] = 0;
    return;
  }
  for (let side = 0; side < 2; side++) {
    const fade = side === 0 ? fadeIn : fadeOut;
    way[0] = side === 0 ? x - low : high - x;
    if (way[0] >= fade) continue;
    way[0] /= fade;
    riseInPlace(shape, way, 0);
    into[place] *= way[0];
  }
}
