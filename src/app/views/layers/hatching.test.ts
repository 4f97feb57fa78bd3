import { readFileSync } from 'node:fs';
import { DIRECTIONS, hatchLines, loudestOf } from './hatching';
import { washPixels } from './waters';
import { MARK_COLOURS, MARK_SHAPES } from '../../../core/rig/limits';

/** Degrees between two directions of lines, 0…90. */
const between = (a: number, b: number): number => Math.min((a - b + 360) % 180, (b - a + 360) % 180);

describe('hatching', () => {
  test('every mark has a direction of its own, at least 20 degrees from any other', () => {
    for (const a of MARK_SHAPES)
      for (const b of MARK_SHAPES)
        if (a !== b) expect(between(DIRECTIONS[a], DIRECTIONS[b])).toBeGreaterThanOrEqual(20);
  });

  test.each(MARK_SHAPES)('lines of %s lie evenly, in its direction, and reach over the whole chart', (shape) => {
    const [width, height, spacing] = [300, 140, 20];
    const lines = hatchLines(DIRECTIONS[shape], spacing, 0, width, height);
    const angle = (DIRECTIONS[shape] * Math.PI) / 180;
    const across = (x: number, y: number) => -Math.sin(angle) * x + Math.cos(angle) * y;
    for (const [x0, y0, x1, y1] of lines) {
      expect(across(x0, y0)).toBeCloseTo(across(x1, y1), 6);
      expect(Math.abs(across(x0, y0) / spacing - Math.round(across(x0, y0) / spacing))).toBeLessThan(1e-6);
      expect(Math.hypot(x1 - x0, y1 - y0)).toBeGreaterThan(Math.hypot(width, height));
    }
    // No place of the chart is farther from a line than half a spacing.
    for (const [x, y] of [
      [0, 0],
      [width, 0],
      [0, height],
      [width, height],
      [150, 70],
    ]) {
      const nearest = Math.min(...lines.map(([x0, y0]) => Math.abs(across(x, y) - across(x0, y0))));
      expect(nearest).toBeLessThanOrEqual(spacing + 1e-6);
    }
  });

  test('the loudest is who is louder than all others; of equal ones the first; where nobody sounds, nobody', () => {
    expect([
      ...loudestOf(
        [
          [0, 0.5, 1, 1e-5],
          [0, 0.6, 1, 0],
        ],
        4,
        1e-4,
      ),
    ]).toEqual([-1, 1, 0, -1]);
  });

  test('the wash is that of the loudest alone, deeper where it is louder, and upside down as the grid is', () => {
    const red = { grid: [1, 0, 0.2, 0], rgb: [255, 0, 0] as const };
    const blue = { grid: [0.5, 0.5, 0.5, 0], rgb: [0, 0, 255] as const };
    const sheet = { columns: 2, rows: 2, width: 10, height: 10 };
    const pixels = washPixels([red, blue], sheet, [0.1, 0.3]);
    const pixel = (i: number) => [...pixels.slice(4 * i, 4 * i + 4)];
    expect(pixel(2)).toEqual([255, 0, 0, 76]);
    expect(pixel(3)).toEqual([0, 0, 255, 51]);
    expect(pixel(0)).toEqual([0, 0, 255, 51]);
    expect(pixel(1)).toEqual([0, 0, 0, 0]);
  });
});

/**
 * What people see who lack one kind of cone, as matrices on linear light (G. M. Machado, M. M. Oliveira, L. A. F.
 * Fernandes, “A Physiologically-based Model for Simulation of Color Vision Deficiency”, IEEE TVCG 15, 2009, severity 1;
 * from memory).
 */
const SIGHTS = {
  all: [1, 0, 0, 0, 1, 0, 0, 0, 1],
  'without long': [0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998],
  'without middle': [0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.01182, 0.04294, 0.968881],
  'without short': [1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.3039],
} as const;
const styles = readFileSync('src/app/parts/styles.css', 'utf8');
/** The colours of marks in a theme: the first block is the chart's, the second the night's. */
const coloursOf = (theme: 0 | 1): string[] =>
  MARK_COLOURS.map((name) => [...styles.matchAll(new RegExp(`^  --${name}: (#[0-9a-f]{6});`, 'gm'))][theme][1]);
const linear = (x: number) => (x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4);
/** CIELAB of what is seen of a colour of sRGB, white at D65 (IEC 61966-2-1 and CIE 15; from memory). */
function seen(colour: string, matrix: readonly number[]): [number, number, number] {
  const light = [1, 3, 5].map((at) => linear(parseInt(colour.slice(at, at + 2), 16) / 255));
  const [r, g, b] = [0, 3, 6].map((row) =>
    Math.min(
      1,
      Math.max(
        0,
        light.reduce((sum, each, i) => sum + each * matrix[row + i], 0),
      ),
    ),
  );
  const f = (t: number) => (t > 216 / 24389 ? Math.cbrt(t) : (t * (24389 / 27) + 16) / 116);
  const x = f((0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047);
  const y = f(0.2126729 * r + 0.7151522 * g + 0.072175 * b);
  const z = f((0.0193339 * r + 0.119192 * g + 0.9503041 * b) / 1.08883);
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}
/** Distance in CIELAB (CIE 1976): about 2.3 is just noticeable (M. Mahy et al., 1994; from memory). */
const distance = (a: readonly number[], b: readonly number[]): number => Math.hypot(...a.map((x, i) => x - b[i]));

describe.each([
  ['chart', 0],
  ['night', 1],
] as const)('marks in the theme %s', (_, theme) => {
  test.each(Object.entries(SIGHTS))('with the sight of %s', (_sight, matrix) => {
    const colours = coloursOf(theme).map((colour) => seen(colour, matrix));
    const pairs = colours.flatMap((a, i) =>
      colours.slice(i + 1).map((b, k) => ({ i, j: i + 1 + k, far: distance(a, b) })),
    );
    const near = pairs.filter(({ i, j, far }) => {
      const apart = between(DIRECTIONS[MARK_SHAPES[i]], DIRECTIONS[MARK_SHAPES[j]]);
      // Four layers, which is what a patch has: colours alone nearly do. More: colours, or directions that are far apart.
      return j < 4 ? far < 10 : far < 10 && apart < 40;
    });
    expect(near.map(({ i, j, far }) => `${MARK_COLOURS[i]} ${MARK_COLOURS[j]} ${far.toFixed(1)}`)).toEqual([]);
  });
});
