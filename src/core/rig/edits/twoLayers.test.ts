import { fullWindow, markAt, newLayer } from '../defaults';
import type { Layer } from '../schema';
import { twoLayers } from './windows';

const on = (id: string, low: number, high: number): Layer => ({
  ...newLayer(id, id, 's', markAt(0)),
  windows: [{ ...fullWindow('key'), low, high }, fullWindow('velocity')],
});
const layers = [on('lead', 60, 127), on('bass', 0, 47), on('pad', 0, 127), on('keys', 0, 127)];

test('the chosen layer and its neighbour, the one with the lower keys first', () => {
  expect(twoLayers({ layers }, 'lead', [])).toEqual(['bass', 'lead']);
  expect(twoLayers({ layers }, 'bass', ['bass'])).toEqual(['bass', 'pad']);
  // The last one goes with the one before it; where keys are alike, the upper of the list is first.
  expect(twoLayers({ layers }, 'keys', [])).toEqual(['pad', 'keys']);
  expect(twoLayers({ layers }, null, [])).toEqual(['bass', 'lead']);
  expect(twoLayers({ layers }, 'gone', ['gone'])).toEqual(['bass', 'lead']);
});
test('two that are chosen together are those two, whichever was touched last', () => {
  expect(twoLayers({ layers }, 'keys', ['keys', 'bass'])).toEqual(['bass', 'keys']);
  expect(twoLayers({ layers }, 'lead', ['keys', 'bass', 'lead'])).toEqual(['bass', 'lead']);
});
