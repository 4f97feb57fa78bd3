import { MemoryDatabase } from './memoryDatabase';

const made = () =>
  new MemoryDatabase({ rigs: { keyPath: 'id' }, samples: {}, states: { keyPath: 'id', numbered: true } });

test('values lie under the key that is in them, or that is given', async () => {
  const db = made();
  await db.put('rigs', { id: 'a', name: 'one' });
  await db.put('rigs', { id: 'a', name: 'two' });
  await db.put('samples', new Uint8Array([1]), 'x');
  expect(await db.getAll('rigs')).toEqual([{ id: 'a', name: 'two' }]);
  expect([await db.getKey('samples', 'x'), await db.getKey('samples', 'y'), await db.get('samples', 'y')]).toEqual([
    'x',
    undefined,
    undefined,
  ]);
  await db.delete('rigs', 'a');
  expect(await db.getAllKeys('rigs')).toEqual([]);
});
test('numbered ones get a number of their own, and are found by an index', async () => {
  const db = made();
  const states = db.transaction(['states', 'rigs']).objectStore('states');
  await states.add({ rigId: 'a', at: 1 });
  await states.add({ rigId: 'b', at: 2 });
  await states.add({ rigId: 'a', at: 3 });
  expect(await states.index('rigId').getAll('a')).toEqual([
    { id: 1, rigId: 'a', at: 1 },
    { id: 3, rigId: 'a', at: 3 },
  ]);
  expect(await states.index('rigId').getAllKeys('a')).toEqual([1, 3]);
});
test('what has no key, or no store, is refused', () => {
  const db = made();
  expect(() => db.put('rigs', { name: 'x' })).toThrow('has no key');
  expect(() => db.get('other', 'x')).toThrow('no store “other”');
});
