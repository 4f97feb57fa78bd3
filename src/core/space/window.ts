/** How a fade rises from 0 to 1. Root is the constant-power curve of SFZ, sine the same in another shape, linear keeps the sum of amplitudes. */
export type FadeShape = 'linear' | 'sine' | 'root';
export const FADE_SHAPES: readonly FadeShape[] = ['linear', 'sine', 'root'];

/** A soft-edged range of a source, in the source's own units. `low` and `high` are both inside; fades run inward from them. */
export interface WindowRange { low: number; high: number; fadeIn: number; fadeOut: number; shape: FadeShape }

/** A rise for t in 0…1: t, sin(πt/2) or √t. */
export function riseOf(shape: FadeShape, t: number): number {
  if (shape === 'linear') return t;
  return shape === 'sine' ? Math.sin((Math.PI * t) / 2) : Math.sqrt(t);
}

/**
 * The gain 0…1 of a window at `x`: 0 outside; with a fade, 0 at the border itself and 1 a fade's length further in.
 * Two windows whose fades cover the same span in opposite directions keep constant power (sine, root) or constant amplitude (linear).
 */
export function gainOfWindow(window: WindowRange, x: number): number {
  if (!(x >= window.low && x <= window.high)) return 0;
  const tIn = window.fadeIn > 0 ? Math.min(1, (x - window.low) / window.fadeIn) : 1;
  const tOut = window.fadeOut > 0 ? Math.min(1, (window.high - x) / window.fadeOut) : 1;
  return riseOf(window.shape, tIn) * riseOf(window.shape, tOut);
}
