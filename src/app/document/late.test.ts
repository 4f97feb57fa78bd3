import { untilThere } from './late';

test('what cannot be fetched is fetched again until it is there', async () => {
  let tries = 0;
  const fetchIt = () => (++tries < 4 ? Promise.reject(new Error('the line is gone')) : Promise.resolve('there'));
  expect([await untilThere(fetchIt, 1), tries]).toEqual(['there', 4]);
});
