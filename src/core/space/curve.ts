/** The path a route takes from its source to its target: named shapes, or points joined by straight lines (x and y in 0…1, x rising). */
export type Curve = 'linear' | 'slow' | 'fast' | 'smooth' | { points: readonly (readonly [number, number])[] };
export const CURVE_NAMES = ['linear', 'slow', 'fast', 'smooth'] as const;

/**
 * A curve at t in 0…1: `slow` is t², `fast` √t, `smooth` 3t² − 2t³. Two-sided sources (−1…1) take the same curve on both sides
 * of the middle, mirrored.
 */
export function bendByCurve(curve: Curve, t: number): number {
  if (t < 0) return -bendByCurve(curve, -t);
  if (curve === 'linear') return t;
  if (curve === 'slow') return t * t;
  if (curve === 'fast') return Math.sqrt(t);
  if (curve === 'smooth') return t * t * (3 - 2 * t);
  const { points } = curve;
  let i = 1;
  while (i < points.length - 1 && points[i][0] < t) i++;
  const [x0, y0] = points[i - 1];
  const [x1, y1] = points[i];
  const share = x1 > x0 ? Math.min(1, Math.max(0, (t - x0) / (x1 - x0))) : 1;
  return y0 + (y1 - y0) * share;
}
