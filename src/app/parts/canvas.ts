import type { RefObject } from 'react';

/** A canvas of a size in the page's pixels, sharp on any screen; null while there is nothing to draw on. */
export function prepared(
  ref: RefObject<HTMLCanvasElement | null>,
  width: number,
  height: number,
): CanvasRenderingContext2D | null {
  const canvas = ref.current;
  if (!canvas || width <= 0 || height <= 0) return null;
  const density = devicePixelRatio || 1;
  if (canvas.width !== Math.round(width * density) || canvas.height !== Math.round(height * density)) {
    canvas.width = Math.round(width * density);
    canvas.height = Math.round(height * density);
    canvas.style.width = `${width}px`;
    canvas.style.height = `${height}px`;
  }
  const context = canvas.getContext('2d');
  context?.setTransform(density, 0, 0, density, 0, 0);
  return context;
}

/** A colour of the theme, such as `--teal`, as canvases take it. */
export const themeColour = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name);

/**
 * Writes velocities at the left rim of a map, readable on whatever water lies there. `yOf` gives the middle of a
 * velocity.
 */
export function writeVelocities(
  context: CanvasRenderingContext2D,
  velocities: readonly number[],
  x: number,
  height: number,
  yOf: (velocity: number) => number,
): void {
  context.fillStyle = themeColour('--faint');
  context.strokeStyle = themeColour('--sheet');
  context.lineWidth = 3;
  context.lineJoin = 'round';
  context.font = '10px "Atkinson Hyperlegible Mono", monospace';
  for (const velocity of velocities) {
    const y = Math.min(height - 3, Math.max(10, yOf(velocity) + 4));
    context.strokeText(String(velocity), x, y);
    context.fillText(String(velocity), x, y);
  }
}
