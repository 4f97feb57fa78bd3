import { nameOfWalk, wrongOnWalk } from '../bench/walks';
import { expect, ORIGIN, test } from './base';

const SEED = 7;
/** A sample of what `npm run proof hands` does at full size. */
test(`${nameOfWalk(SEED)}, 100 acts by chance: nothing is thrown, what is kept is sound, undone it is what it was`, async ({
  browser,
}) => {
  expect(await wrongOnWalk(browser, ORIGIN, SEED, 100)).toEqual([]);
});
