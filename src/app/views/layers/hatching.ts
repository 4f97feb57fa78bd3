import type { Mark } from '../../../core/rig/schema';

type MarkShape = Mark['shape'];

/**
 * The direction in which a layer hatches, by the shape of its mark: degrees from the horizontal, downward to the right.
 * No two are nearer than 20 degrees, and those whose colours look alike to some eyes are at least 40 apart.
 */
export const DIRECTIONS: Readonly<Record<MarkShape, number>> = {
  dot: 0,
  triangle: 90,
  square: 45,
  diamond: 135,
  ring: 112.5,
  bar: 22.5,
  cross: 67.5,
  wave: 157.5,
};

/** The numbers of lines `spacing` apart, as [x0, y0, x1, y1] each, that cover a chart in a direction. */
export function hatchLines(
  degrees: number,
  spacing: number,
  offset: number,
  width: number,
  height: number,
): [number, number, number, number][] {
  const angle = (degrees * Math.PI) / 180;
  const [dx, dy] = [Math.cos(angle), Math.sin(angle)];
  // Across the lines; the corners tell how far they must go.
  const [nx, ny] = [-dy, dx];
  const corners = [0, width * nx, height * ny, width * nx + height * ny];
  const long = Math.hypot(width, height);
  const out: [number, number, number, number][] = [];
  const first = Math.ceil((Math.min(...corners) - offset) / spacing) * spacing + offset;
  for (let at = first; at <= Math.max(...corners); at += spacing) {
    // Each line is as long as the chart's diagonal, around the foot of the perpendicular from its middle.
    const along = (width / 2) * dx + (height / 2) * dy;
    const [x, y] = [at * nx + along * dx, at * ny + along * dy];
    out.push([x - long * dx, y - long * dy, x + long * dx, y + long * dy]);
  }
  return out;
}

const paths = new Map<string, Path2D>();
/** The same as a path to stroke; kept for charts of a size. */
export function hatchPath(shape: MarkShape, spacing: number, offset: number, width: number, height: number): Path2D {
  const key = `${shape} ${spacing} ${offset} ${width} ${height}`;
  let path = paths.get(key);
  if (!path) {
    if (paths.size > MOST_KEPT) paths.clear();
    path = new Path2D();
    for (const [x0, y0, x1, y1] of hatchLines(DIRECTIONS[shape], spacing, offset, width, height)) {
      path.moveTo(x0, y0);
      path.lineTo(x1, y1);
    }
    paths.set(key, path);
  }
  return path;
}
const MOST_KEPT = 64;

/**
 * Which of several gains is the greatest in each cell: its place in the list, −1 where none reaches `floor`. Of equal
 * ones the first.
 */
export function loudestOf(grids: readonly ArrayLike<number>[], cells: number, floor: number): Int8Array {
  const out = new Int8Array(cells).fill(-1);
  const best = new Float64Array(cells).fill(floor);
  grids.forEach((grid, place) => {
    for (let i = 0; i < cells; i++) {
      if (!(grid[i] > best[i])) continue;
      best[i] = grid[i];
      out[i] = place;
    }
  });
  return out;
}
