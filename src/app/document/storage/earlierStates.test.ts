import { EVERY_MS, spareStates, type Kept } from './earlierStates';

const MINUTE = 60_000,
  HOUR = 60 * MINUTE,
  DAY = 24 * HOUR;

test('of a fortnight of editing there stay some of the last hour, some of the last day and one a day for a week, and what was named', () => {
  let states: Kept[] = [];
  const end = 20 * DAY;
  for (let now = 0, id = 1; now <= end; now += EVERY_MS, id++) {
    states.push({ id, at: now, name: id === 100 ? 'before the show' : null });
    const gone = new Set(spareStates(states, now));
    states = states.filter((state) => !gone.has(state.id));
  }
  const ages = states.filter(({ name }) => name === null).map(({ at }) => end - at);
  const between = (from: number, to: number) => ages.filter((age) => age >= from && age < to).length;
  expect(between(0, HOUR)).toBeGreaterThanOrEqual(12);
  expect(between(HOUR, DAY)).toBeGreaterThanOrEqual(9);
  expect(between(DAY, 8 * DAY)).toBeGreaterThanOrEqual(6);
  expect(Math.max(...ages)).toBeLessThanOrEqual(8 * DAY);
  expect(ages.length).toBeLessThan(40);
  expect(states.some(({ name }) => name === 'before the show')).toBe(true);
});
test('a lone state stays, one of long ago goes', () => {
  expect(spareStates([{ id: 1, at: 0, name: null }], HOUR)).toEqual([]);
  expect(
    spareStates(
      [
        { id: 1, at: 0, name: null },
        { id: 2, at: 9 * DAY, name: null },
      ],
      9 * DAY,
    ),
  ).toEqual([1]);
});
