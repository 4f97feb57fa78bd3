import type { RefObject } from 'react';

/** A canvas of a size in the page's pixels, sharp on any screen; null while there is nothing to draw on. */
export function prepared(ref: RefObject<HTMLCanvasElement | null>, width: number, height: number): CanvasRenderingContext2D | null {
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
