import { curvesOfTable } from '../../../../core/sounds/synth/pictures';
import { landsOf } from './WaveChart';

jest.mock('../../../document/soundLab', () => ({ soundLab: {} }));

/** The area that lies above a height, as a share of the chart: from the polygons of its path. */
function shareAbove(d: string, width: number, height: number): number {
  const rings = d.split('M').slice(1);
  const area = (ring: string) => {
    const points = ring
      .replace('Z', '')
      .split('L')
      .map((point) => point.split(',').map(Number));
    return points.reduce((sum, [x, y], i) => {
      const [nx, ny] = points[(i + 1) % points.length];
      return sum + (x * ny - nx * y) / 2;
    }, 0);
  };
  return Math.abs(rings.reduce((sum, ring) => sum + area(ring), 0)) / (width * height);
}

test('the coast of a sine lies in its middle: half is land; of lines of greater height the land is smaller', () => {
  const sine = Array.from({ length: 73 }, (_, i) => Math.sin((2 * Math.PI * i) / 72));
  const lands = landsOf(
    Array.from({ length: 81 }, () => sine),
    240,
    200,
  );
  expect(lands.map(({ height }) => height)).toEqual([-0.8, -0.6, -0.4, -0.2, 0, 0.2, 0.4, 0.6, 0.8]);
  const shares = lands.map(({ d }) => shareAbove(d, 240, 200));
  // What runs off the chart is counted as well: a ring of half a cell around it.
  expect(shares[4]).toBeGreaterThan(0.47);
  expect(shares[4]).toBeLessThan(0.56);
  // A sine is above 0.8 for 2 · arccos 0.8 of its cycle (geometry).
  expect(Math.abs(shares[8] - Math.acos(0.8) / Math.PI)).toBeLessThan(0.03);
  for (let i = 1; i < shares.length; i++) expect(shares[i]).toBeLessThan(shares[i - 1]);
});

test('one wave alone is drawn as well, and every row of ours has a coast', () => {
  expect(landsOf([[0, 1, 0, -1, 0]], 100, 100)).toHaveLength(9);
  for (const table of ['leaning', 'vowels']) {
    const row = curvesOfTable(table, 72);
    if (row) expect(landsOf(row, 240, 200)[4].d).not.toBe('');
  }
});
