import { gainOfDb } from '../../../core/music/pitch';
import type { Mark } from '../../../core/rig/schema';
import { hatchPath, loudestOf } from './hatching';

/**
 * How the field draws who is there, without mixing colours: under all, the wash of the loudest; over it the hatching of
 * each in its own direction, the denser the louder; and everyone's edges.
 */

/** Edges and depths that are drawn: where a layer begins to sound, and four levels inside. */
export const LEVELS = [1e-4, gainOfDb(-15), gainOfDb(-9), gainOfDb(-6), gainOfDb(-3)];
const SHORE = 0,
  HALF = 2,
  FULL = LEVELS.length - 1;

/** A layer on a chart: its gain by cell, row by row from the bottom, and the contours of that at {@link LEVELS}. */
export interface Drawn {
  mark: Mark;
  grid: ArrayLike<number>;
  paths: readonly Path2D[];
}
export interface Sheet {
  columns: number;
  rows: number;
  width: number;
  height: number;
}

/** With more than so many layers each hatches less, or nothing would be told apart. */
const MANY = 6;
const SPACING = 26,
  WIDE = 44;
/** How much of its colour the wash of the loudest has, from where it begins to where it is whole. */
const WASH = { chart: [0.1, 0.24], night: [0.14, 0.34] } as const;

const rgbOf = (colour: string): [number, number, number] => {
  const hex = colour.trim();
  return [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16)) as [number, number, number];
};

/** One pixel for each cell: the colour of who is loudest there. The top row is the last of the grid. */
export function washPixels(
  layers: readonly { grid: ArrayLike<number>; rgb: readonly [number, number, number] }[],
  { columns, rows }: Sheet,
  [least, most]: readonly [number, number],
): Uint8ClampedArray<ArrayBuffer> {
  const loudest = loudestOf(
    layers.map(({ grid }) => grid),
    columns * rows,
    LEVELS[SHORE],
  );
  const pixels = new Uint8ClampedArray(4 * columns * rows);
  loudest.forEach((place, cell) => {
    if (place < 0) return;
    const { grid, rgb } = layers[place];
    const row = rows - 1 - Math.floor(cell / columns);
    const at = 4 * (row * columns + (cell % columns));
    pixels.set(rgb, at);
    pixels[at + 3] = 255 * (least + (most - least) * Math.min(1, grid[cell]));
  });
  return pixels;
}

let scratch: HTMLCanvasElement | undefined;

/** The wash; the rest is drawn over what stands on the chart besides. */
export function drawWash(
  context: CanvasRenderingContext2D,
  layers: readonly Drawn[],
  sheet: Sheet,
  colour: (mark: Mark) => string,
): void {
  const night = document.documentElement.dataset.theme === 'night';
  const pixels = washPixels(
    layers.map(({ grid, mark }) => ({ grid, rgb: rgbOf(colour(mark)) })),
    sheet,
    night ? WASH.night : WASH.chart,
  );
  scratch ??= document.createElement('canvas');
  scratch.width = sheet.columns;
  scratch.height = sheet.rows;
  scratch.getContext('2d')!.putImageData(new ImageData(pixels, sheet.columns, sheet.rows), 0, 0);
  context.imageSmoothingEnabled = true;
  context.drawImage(scratch, 0, 0, sheet.width, sheet.height);
}

/** Hatchings and edges. */
export function drawShores(
  context: CanvasRenderingContext2D,
  layers: readonly Drawn[],
  { width, height }: Sheet,
  colour: (mark: Mark) => string,
): void {
  const sounding = layers.filter(({ grid }) => hasWater(grid)).length;
  const spacing = sounding > MANY ? WIDE : SPACING;
  for (const { mark, paths } of layers) {
    context.strokeStyle = colour(mark);
    context.lineWidth = 0.9;
    const hatch = (level: number, offset: number, alpha: number) => {
      context.save();
      context.clip(paths[level], 'evenodd');
      context.globalAlpha = alpha;
      context.stroke(hatchPath(mark.shape, spacing, offset, width, height));
      context.restore();
    };
    hatch(SHORE, 0, 0.5);
    if (sounding <= MANY) hatch(HALF, spacing / 2, 0.5);
    paths.forEach((path, level) => {
      const isEdge = level === SHORE || level === FULL;
      context.globalAlpha = level === SHORE ? 1 : isEdge ? 0.75 : 0.32;
      context.lineWidth = level === SHORE ? 1.8 : isEdge ? 1 : 0.8;
      context.setLineDash(isEdge ? [] : [2, 3]);
      context.stroke(path);
    });
  }
  context.setLineDash([]);
  context.globalAlpha = 1;
}

function hasWater(grid: ArrayLike<number>): boolean {
  for (let i = 0; i < grid.length; i++) if (grid[i] > LEVELS[SHORE]) return true;
  return false;
}
