/**
 * The path a route takes from its source to its target: named shapes, or points joined by straight lines (x and y in
 * 0…1, x rising).
 */
export type Curve = 'linear' | 'slow' | 'fast' | 'smooth' | { points: readonly (readonly [number, number])[] };
export const CURVE_NAMES = ['linear', 'slow', 'fast', 'smooth'] as const;

const scratch = new Float64Array(1);

/**
 * A curve at t in 0…1: `slow` is t², `fast` √t, `smooth` 3t² − 2t³. Two-sided sources (−1…1) take the same curve on
 * both sides
 * of the middle, mirrored.
 */
export function bendByCurve(curve: Curve, t: number): number {
  scratch[0] = t;
  bendInPlace(curve, scratch, 0);
  return scratch[0];
}

/** The same for an element of an array: what the audio thread uses, which hands no fraction to a function. */
export function bendInPlace(curve: Curve, values: Float64Array, at: number): void {
  const t = Math.abs(values[at]);
  const sign = values[at] < 0 ? -1 : 1;
  if (curve === 'linear') return;
  if (curve === 'slow') values[at] = sign * t * t;
  else if (curve === 'fast') values[at] = sign * Math.sqrt(t);
  else if (curve === 'smooth') values[at] = sign * t * t * (3 - 2 * t);
  else {
    const { points } = curve;
    let i = 1;
    while (i < points.length - 1 && points[i][0] < t) i++;
    const x0 = points[i - 1][0],
      y0 = points[i - 1][1],
      x1 = points[i][0],
      y1 = points[i][1];
    const share = x1 > x0 ? Math.min(1, Math.max(0, (t - x0) / (x1 - x0))) : 1;
    values[at] = sign * (y0 + (y1 - y0) * share);
  }
}
