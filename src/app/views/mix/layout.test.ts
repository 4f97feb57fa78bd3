import { markAt, newLayer, newPatch } from '../../../core/rig/defaults';
import { addEffect, addPool, addSend } from '../../../core/rig/edits/mix';
import { groupLayers } from '../../../core/rig/edits/groups';
import {
  inARow,
  layOutRiver,
  nearestStretch,
  orderAt,
  placeOfMark,
  placeUnder,
  pointOf,
  stretchOfPlace,
} from './layout';

const patch = () => {
  const plain = {
    ...newPatch('p', 'p'),
    layers: Array.from({ length: 6 }, (_, i) => newLayer(`l${i}`, `L${i}`, 's', markAt(i))),
  };
  return addSend(
    addPool(addPool(groupLayers(plain, ['l0', 'l1'], 'g', 'G'), 'x', 'echo')!.patch, 'y', 'reverb')!.patch,
    'pool.y',
    'pool.x',
  );
};

test.each([
  [1000, 420],
  [560, 380],
  [1500, 700],
])('everything lies inside %i × %i, springs apart, water flowing to the right', (width, height) => {
  const layout = layOutRiver(patch(), width, height);
  const springs = layout.springs.map((place) => layout.spots.get(place)!);
  springs.forEach((spot, i) => {
    if (i > 0) expect(spot.y - springs[i - 1].y).toBeGreaterThanOrEqual(spot.height);
  });
  for (const { y } of layout.spots.values()) {
    expect(y).toBeGreaterThan(0);
    expect(y).toBeLessThan(height);
  }
  for (const { a, b, connection } of layout.stretches)
    if (connection?.kind !== 'send') expect(b.x).toBeGreaterThan(a.x);
  // What flows into another shared effect lies left of it.
  expect(layout.spots.get('pool.y')!.x).toBeLessThan(layout.spots.get('pool.x')!.x);
});

test('a mark is found on its stretch, and put down in its order; the end of a stretch finds the place it is dropped on', () => {
  let made = patch();
  for (let n = 0; n < 3; n++) made = addEffect(made, 'group.g', 'equaliser')!.patch;
  const layout = layOutRiver(made, 1000, 420);
  const stretch = stretchOfPlace(layout, 'group.g')!;
  for (let n = 0; n < 3; n++) {
    const found = nearestStretch(layout, pointOf(stretch, placeOfMark(n, 3)))!;
    expect(found.stretch.from).toBe('group.g');
    expect(orderAt(made, 'group.g', found.t - 0.06, 'none')).toBe(n);
  }
  const pool = layout.spots.get('pool.x')!;
  expect(placeUnder(layout, pool)).toBe('pool.x');
  expect(placeUnder(layout, { x: 5, y: 5 })).toBeUndefined();
});

test('small marks stand in a row without lying on one another, by their names while there is room', () => {
  const names = ['low cut 220', 'high cut 3.8k', 'compressor', 'chorus'];
  for (const room of [120, 240, 400, 900]) {
    const row = inARow(names, room);
    row.forEach(({ x, isLetter }, n) => {
      const next = row[n + 1];
      if (next) expect(next.x - x).toBeGreaterThanOrEqual(isLetter ? 20 : names[n].length * 6);
    });
    // The last ends within the room, as long as letters have any.
    const last = row[row.length - 1];
    expect(last.x + (last.isLetter ? 20 : names[3].length * 6)).toBeLessThanOrEqual(Math.max(room, 120));
  }
  expect(inARow(names, 900).every(({ isLetter }) => !isLetter)).toBe(true);
  expect(inARow(names, 120).every(({ isLetter }) => isLetter)).toBe(true);
});
