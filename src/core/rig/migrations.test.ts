import { newEntry, newRig, newSetlist } from './defaults';
import { readRig } from './read';

/** What rigs of each version before lack, and get when they are opened; older ones are in the test of the whole rig. */

test('a rig of version 10 plays on: its entries get a page to be written', () => {
  const { page: _, ...old } = newEntry('e', 'pause');
  const setlists = [{ ...newSetlist('s', 'S'), entries: [old] }];
  const before = { ...newRig('r', 'R'), version: 10, setlists, setlist: 's' };
  expect(readRig(before).setlists[0].entries).toEqual([newEntry('e', 'pause')]);
});
