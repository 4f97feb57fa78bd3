import { readKbm, readScl, writeKbm, writeScl } from './scala';

/** The example of the format's own description at huygens-fokker.org, quarter-comma meantone; from memory. */
const MEANTONE = `! meanquar.scl
!
1/4-comma meantone scale. Pietro Aaron's temperament (1523)
 12
!
 76.04900
 193.15686
 310.26471
 5/4
 503.42157
 579.47057
 696.57843
 25/16
 889.73529
 1006.84314
 1082.89214
 2/1
`;

test('the example of the format: cents, ratios, comments', () => {
  const { description, degrees } = readScl(MEANTONE);
  expect(description).toMatch(/meantone/);
  expect(degrees).toHaveLength(12);
  expect(degrees[3]).toBeCloseTo(386.3137, 4);
  expect(degrees[7]).toBeCloseTo(772.6274, 4);
  expect(degrees[11]).toBe(1200);
});

test('what a line may hold: whole numbers, labels behind the pitch, other line ends, no notes at all', () => {
  expect(readScl('x\r\n3\r\n100.0 cents\r\n 3/2 fifth\r\n2').degrees.map((cents) => Math.round(cents))).toEqual([
    100, 702, 1200,
  ]);
  expect(readScl('nothing\n0\n').degrees).toEqual([]);
  expect(readScl('\n1\n2/1').description).toBe('');
  expect(readScl('down and up\n2\n-5.0\n2/1').degrees[0]).toBe(-5);
});

test.each([
  ['', /a description and a count/],
  ['a\nmany', /line 2: expected the count of notes/],
  ['a\n3\n100.0\n2/1', /line 2: tells 3 notes, but only 2 follow/],
  ['a\n2\nhello\n2/1', /line 3: “hello” is neither cents/],
  ['a\n2\n-3/2\n2/1', /line 3: .* no ratio/],
  ['a\n2\n3/0\n2/1', /line 3: .* no ratio/],
  ['a\n1\n0.0', /line 3: the last note must lie above/],
  ['a\n99999', /whole number from 0 to 1024/],
])('a scale that is none is refused with its line: %j', (text, message) => {
  expect(() => readScl(text)).toThrow(message);
});

test('written and read, a scale and a mapping are what they were', () => {
  const scale = readScl(MEANTONE);
  const again = readScl(writeScl(scale));
  expect(again.description).toBe(scale.description);
  again.degrees.forEach((cents, i) => expect(cents).toBeCloseTo(scale.degrees[i], 6));
  const mapping = readKbm('! white keys\n12\n0\n127\n60\n69\n440.0\n7\n0\nx\n1\nx\n2\n3\nx\n4\nx\n5\nx\n6\n');
  expect(mapping.keys).toEqual([0, null, 1, null, 2, 3, null, 4, null, 5, null, 6]);
  expect(readKbm(writeKbm(mapping))).toEqual(mapping);
});

test.each([
  ['', /size of the map is missing/],
  ['12\n0\n127\n60\n69\nloud\n7', /line 6: .* no frequency/],
  ['12\n100\n20\n60\n69\n440\n7', /line 3: the last key 20 lies below/],
  ['2\n0\n127\n60\n69\n440\n7\n0\ny', /line 9: expected a degree, or x/],
])('a mapping that is none is refused with its line: %j', (text, message) => {
  expect(() => readKbm(text)).toThrow(message);
});

test('keys that a mapping leaves out at its end are silent, one without keys goes on by itself', () => {
  expect(readKbm('3\n0\n127\n60\n69\n440\n3\n0').keys).toEqual([0, null, null]);
  expect(readKbm('0\n0\n127\n60\n69\n440\n0').keys).toEqual([]);
});
