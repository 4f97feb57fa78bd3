import { nameOfWalk, walkThrough } from '../bench/walks';
import { expect, ORIGIN, test } from './base';

const SEED = 7;
/** A sample of what `npm run proof hands` does at full size. */
test(`${nameOfWalk(SEED)}, 100 acts by chance: nothing is thrown, what is kept is sound, undone it is what it was`, async ({
  browser,
}) => {
  const { wrong, changed, undone, kinds } = await walkThrough(browser, ORIGIN, SEED, 100);
  expect([wrong, changed, undone]).toEqual([[], true, true]);
  expect(Object.keys(kinds).length).toBeGreaterThan(6);
});
