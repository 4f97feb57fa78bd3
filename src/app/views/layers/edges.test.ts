import { fullWindow, markAt, newLayer, newPatch } from '../../../core/rig/defaults';
import type { Patch } from '../../../core/rig/schema';
import { edgesOf, MOST_WRITTEN, rowsFor } from './edges';

const layer = (id: string, keys: [number, number], velocities: [number, number] = [1, 127]) => ({
  ...newLayer(id, id, 's', markAt(0)),
  windows: [
    { ...fullWindow('key'), low: keys[0], high: keys[1] },
    { ...fullWindow('velocity'), low: velocities[0], high: velocities[1] },
  ],
});
const patchOf = (...layers: Patch['layers']): Patch => ({ ...newPatch('p', 'P'), layers });

test('edges are said where a window ends inside the field, by key as the middle C is called', () => {
  const patch = patchOf(layer('low', [0, 59]), layer('high', [60, 127], [40, 100]));
  expect(edgesOf(patch, null, 4).map(({ layerId, at, says }) => [layerId, at, says])).toEqual([
    ['low', 59, 'up to B3'],
    ['high', 60, 'from C4'],
    ['high', 40, 'from velocity 40'],
    ['high', 100, 'up to velocity 100'],
  ]);
  expect(edgesOf(patch, null, 3)[1].says).toBe('from C3');
});

test('what is off has none, and of too many only those of the chosen layer are written', () => {
  expect(edgesOf(patchOf({ ...layer('a', [10, 20]), on: false }), null, 4)).toEqual([]);
  const many = patchOf(...Array.from({ length: MOST_WRITTEN }, (_, i) => layer(`l${i}`, [i + 1, 100])));
  expect(edgesOf(many, null, 4)).toEqual([]);
  expect(edgesOf(many, 'l3', 4).map(({ says }) => says)).toEqual(['from E-1', 'up to E7']);
});

test('labels on one line never lie on one another', () => {
  expect(rowsFor([0, 10, 20, 120, 125], 100)).toEqual([0, 1, 2, 0, 1]);
  expect(rowsFor([], 100)).toEqual([]);
});
