import { found, stepIn } from './Chooser';

const choices = Array.from({ length: 100 }, (_, n) => ({
  id: `${n}`,
  name: `Patch ${n}`,
  group: n < 50 ? 'first' : 'second',
  help: n === 7 ? 'a bell at night' : undefined,
}));
test('what is typed may be parts of words in any order, of the name, its family or what it does', () => {
  expect(found(choices, '')).toHaveLength(100);
  expect(found(choices, 'night bell').map(({ id }) => id)).toEqual(['7']);
  expect(
    found(choices, 'second 9')
      .map(({ id }) => Number(id))
      .every((n) => n >= 50),
  ).toBe(true);
  expect(found(choices, 'nothing such')).toEqual([]);
});
test('arrow keys stay within the list', () => {
  expect([
    stepIn('ArrowDown', 99, 100),
    stepIn('ArrowUp', 0, 100),
    stepIn('End', 3, 100),
    stepIn('Home', 3, 100),
    stepIn('PageDown', 3, 100),
    stepIn('x', 3, 100),
  ]).toEqual([99, 0, 99, 0, 11, undefined]);
});
