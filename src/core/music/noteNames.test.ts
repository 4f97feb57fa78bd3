import { nameOfKey, parseKey, type MiddleC } from './noteNames';

// General MIDI and SFZ call key 60 C4; other makers call it C3 or C5 (common practice, no source).
test.each<[number, MiddleC, string]>([
  [60, 3, 'C3'],
  [60, 4, 'C4'],
  [60, 5, 'C5'],
  [54, 4, 'F♯3'],
  [0, 4, 'C-1'],
  [127, 4, 'G9'],
  [21, 4, 'A0'],
  [108, 4, 'C8'],
])('key %i with middle C as C%i is %s', (key, middleC, name) => {
  expect(nameOfKey(key, middleC)).toBe(name);
  expect(parseKey(name, middleC)).toBe(key);
});

test('all keys survive being named in all conventions', () => {
  for (const middleC of [3, 4, 5] as const)
    for (let key = 0; key < 128; key++) expect(parseKey(nameOfKey(key, middleC), middleC)).toBe(key);
});

test.each([
  ['gb3', 54],
  ['Gb3', 54],
  ['fs3', 54],
  ['F♯3', 54],
  ['e#3', 53],
  ['cb4', 59],
  ['60', 60],
  [' 127 ', 127],
  ['C−1', 0],
])('%s is read as %i', (text, key) => {
  expect(parseKey(text)).toBe(key);
});

test.each(['', 'H3', 'C', '128', 'G#9', 'C-2', 'C 4', '3.5', 'F##3', '-1'])('"%s" is no key', (text) => {
  expect(parseKey(text)).toBeUndefined();
});
