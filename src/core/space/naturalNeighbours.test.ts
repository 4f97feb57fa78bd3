import { Delaunay, polygonArea } from 'd3';
import fc from 'fast-check';
import { Chance } from '../dsp/chance';
import { NaturalNeighbours } from './naturalNeighbours';
import { riseOf } from './window';
import { figure } from '../../../tests/kit/figure';

const sharesAt = (points: readonly (readonly [number, number])[], x: number, y: number): number[] => {
  const neighbours = new NaturalNeighbours(Float64Array.from(points.flat()));
  neighbours.shareOut(Float64Array.of(x, y), 0);
  return [...neighbours.shares].slice(0, points.length);
};
const SQUARE = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
] as const;
const close = (values: readonly number[], digits = 9) => values.map((x) => expect.closeTo(x, digits));

test('1 at an anchor, ¼ each at the centre of a square, halves in the middle of an edge', () => {
  expect(sharesAt(SQUARE, 1, 0)).toEqual(close([0, 1, 0, 0]));
  expect(sharesAt(SQUARE, 0.5, 0.5)).toEqual(close([0.25, 0.25, 0.25, 0.25]));
  expect(sharesAt(SQUARE, 0.5, 0)).toEqual(close([0.5, 0.5, 0, 0]));
});

// R. Sibson 1981: natural-neighbour coordinates reproduce linear functions within the convex hull of the anchors, here
// their own places.
test('the place of the dot is the mean of the anchors, weighted by their shares', () => {
  const point = fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }));
  fc.assert(
    fc.property(fc.array(point, { minLength: 0, maxLength: 4 }), point, (inner, [x, y]) => {
      const anchors = [...SQUARE, ...inner];
      const shares = sharesAt(anchors, x, y);
      expect(shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
      expect(Math.min(...shares)).toBeGreaterThanOrEqual(0);
      for (const [axis, place] of [x, y].entries()) {
        const mean = anchors.reduce((sum, anchor, i) => sum + anchor[axis] * shares[i], 0);
        const off = figure(
          'shares of a pad: the dot as the mean of its anchors',
          Math.abs(mean - place),
          'of the plane',
          'R. Sibson 1981',
        );
        expect(off).toBeLessThan(5e-4);
      }
    }),
    { numRuns: 300, seed: 5 },
  );
});

test('continuous over the whole plane, the hull’s edge and its outside included', () => {
  const anchors = [
    [0.2, 0.2],
    [0.8, 0.3],
    [0.5, 0.9],
    [0.45, 0.5],
  ] as const;
  let before: number[] | undefined;
  for (let i = 0; i <= 4000; i++) {
    const t = i / 4000;
    const shares = sharesAt(anchors, t, 0.15 + 0.7 * Math.abs(Math.sin(7 * t)));
    if (before) for (let n = 0; n < 4; n++) expect(Math.abs(shares[n] - before[n])).toBeLessThan(0.03);
    before = shares;
  }
});

test('a dot outside has the shares of the nearest point of the hull; one and two anchors, and anchors in a row', () => {
  expect(
    sharesAt(
      [
        [0, 0],
        [1, 0],
        [0, 1],
      ],
      1,
      1,
    ),
  ).toEqual(close([0, 0.5, 0.5]));
  expect(sharesAt([[0.3, 0.3]], 0.9, 0.1)).toEqual([1]);
  expect(
    sharesAt(
      [
        [0, 0],
        [1, 0],
      ],
      0.25,
      0.8,
    ),
  ).toEqual(close([0.75, 0.25]));
  expect(
    sharesAt(
      [
        [0, 0.5],
        [0.5, 0.5],
        [1, 0.5],
      ],
      0.75,
      0,
    ),
  ).toEqual(close([0, 0.5, 0.5]));
  expect(
    sharesAt(
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [1, 0],
      ],
      1,
      0,
    ),
  ).toEqual(close([0, 0.5, 0, 0.5]));
  expect(sharesAt([], 0.5, 0.5)).toEqual([]);
});

// Signal theory: the sum of squares of equal-power shares is 1.
test('shares through a root keep constant power over the whole plane', () => {
  const anchors = [
    [0.1, 0.1],
    [0.9, 0.15],
    [0.85, 0.9],
    [0.2, 0.8],
    [0.5, 0.5],
  ] as const;
  for (let x = 0; x <= 1; x += 0.05)
    for (let y = 0; y <= 1; y += 0.05) {
      expect(sharesAt(anchors, x, y).reduce((sum, share) => sum + riseOf('root', share) ** 2, 0)).toBeCloseTo(1, 9);
    }
});

/** What of a convex polygon lies on the near side of the line half-way between two points (Sutherland and Hodgman 1974). */
function nearer(polygon: [number, number][], [px, py]: readonly [number, number], [qx, qy]: readonly [number, number]) {
  const side = ([x, y]: [number, number]) => (x - (px + qx) / 2) * (qx - px) + (y - (py + qy) / 2) * (qy - py);
  return polygon.flatMap((here, i): [number, number][] => {
    const before = polygon[(i + polygon.length - 1) % polygon.length];
    const [a, b] = [side(before), side(here)];
    const t = a / (a - b);
    const crossing: [number, number] = [before[0] + t * (here[0] - before[0]), before[1] + t * (here[1] - before[1])];
    return [...(a * b < 0 ? [crossing] : []), ...(b <= 0 ? [here] : [])];
  });
}

// R. Sibson 1981, by its definition: the area that the cell of the dot takes from the cell of each anchor, as a share of
// the cell. Cells of the diagram and areas by d3 (Voronoi, polygonArea).
test('shares are the areas that the dot’s cell would take, by a library of geometry', () => {
  const chance = new Chance(11);
  for (let n = 0; n < 200; n++) {
    const inner = Array.from({ length: chance.below(5) }, (): [number, number] => [chance.share(), chance.share()]);
    const anchors: (readonly [number, number])[] = [...SQUARE, ...inner];
    const dot: [number, number] = [0.02 + 0.96 * chance.share(), 0.02 + 0.96 * chance.share()];
    const diagram = Delaunay.from([...anchors, dot].map(([x, y]): [number, number] => [x, y])).voronoi([
      -50, -50, 51, 51,
    ]);
    const cell = (diagram.cellPolygon(anchors.length) as [number, number][]).slice(1);
    const whole = Math.abs(polygonArea(cell));
    const shares = sharesAt(anchors, ...dot);
    for (const [i, anchor] of anchors.entries()) {
      // Of the dot's cell what is nearest to this anchor among all anchors.
      const taken = anchors.reduce((left, other) => (other === anchor ? left : nearer(left, anchor, other)), cell);
      const area = taken.length < 3 ? 0 : Math.abs(polygonArea(taken)) / whole;
      const off = figure(
        'shares of a pad',
        Math.abs(shares[i] - area),
        'of 1',
        'R. Sibson 1981, by areas of d3’s cells',
      );
      expect([n, i, off < 2e-3]).toEqual([n, i, true]);
    }
  }
});
