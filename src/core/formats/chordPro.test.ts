import fc from 'fast-check';
import { readPage, transposeChord, transposePage } from './chordPro';

const PAGE = `{title: In the Kelp}
{st: for a low voice}
{key: D}
# nobody reads this
{start_of_verse: Verse 1}
[D]Under the [Bm7]swell where the [G]long leaves [A7/C#]lean
no chord in this line
{end_of_verse}

{soc}
[Em7]Hold me [A7]down
{eoc}

{c: softer now}
[N.C.]quiet  [x2]
{chorus}
{sot}
e|--0-[1]-|
{eot}
{unknown: stays}`;

test('sections, words with chords, remarks, the chorus again, tabs as they are; remarks of its writer are nobody’s', () => {
  const page = readPage(PAGE);
  expect(page).toMatchObject({ title: 'In the Kelp', subtitle: 'for a low voice', key: 'D' });
  expect(page.sections.map(({ kind, label }) => [kind, label])).toEqual([
    ['verse', 'Verse 1'],
    ['chorus', 'Chorus'],
    ['plain', ''],
    ['chorus', 'Chorus'],
    ['tab', ''],
  ]);
  expect(page.sections[0].lines[0]).toEqual({
    kind: 'words',
    parts: [
      { chord: 'D', text: 'Under the ' },
      { chord: 'Bm7', text: 'swell where the ' },
      { chord: 'G', text: 'long leaves ' },
      { chord: 'A7/C#', text: 'lean' },
    ],
  });
  expect(page.sections[0].lines[1]).toEqual({ kind: 'words', parts: [{ chord: null, text: 'no chord in this line' }] });
  expect(page.sections[2].lines[0]).toEqual({ kind: 'remark', text: 'softer now' });
  expect(page.sections[3].lines).toEqual(page.sections[1].lines);
  expect(page.sections[4].lines).toEqual([{ kind: 'tab', text: 'e|--0-[1]-|' }]);
});

test('the long and the short names of directives, labels as attributes, Windows line ends', () => {
  const long = readPage('{start_of_chorus: label="All"}\r\n[C]la\r\n{end_of_chorus}\r\n');
  expect(long.sections).toEqual([
    { kind: 'chorus', label: 'All', lines: [{ kind: 'words', parts: [{ chord: 'C', text: 'la' }] }] },
  ]);
  expect(readPage('{t:A}\n{st:B}')).toMatchObject({ title: 'A', subtitle: 'B', sections: [] });
});

// Handbook values: intervals on the circle of fifths.
test.each([
  ['C', 2, false, 'D'],
  ['Am7', 3, false, 'Cm7'],
  ['F#m7b5/E', -2, false, 'Em7b5/D'],
  ['Bb', 1, false, 'B'],
  ['G/B', 1, true, 'Ab/C'],
  ['E♭maj9', 2, false, 'Fmaj9'],
  ['Dsus4', -2, false, 'Csus4'],
  ['C#dim7', 5, false, 'F#dim7'],
  ['B+', 1, false, 'C+'],
  ['N.C.', 5, false, 'N.C.'],
  ['Bridge', 5, false, 'Bridge'],
  ['x2', 5, false, 'x2'],
])('%s moved by %i', (chord, by, flats, to) => expect(transposeChord(chord, by, flats)).toBe(to));

test.each([
  ['D', -2, 'C'],
  ['D', 1, 'Eb'],
  ['G', -2, 'F'],
  ['A', 2, 'B'],
  ['Am', 3, 'Cm'],
  ['Em', -1, 'Ebm'],
  ['Em', 2, 'F#m'],
])('in %s, %i semitones on, it is in %s, and its chords are spelled so', (key, by, to) => {
  const moved = transposePage(`{key: ${key}}\n[${key}]la [G]la`, by);
  expect(moved.split('\n')[0]).toBe(`{key: ${to}}`);
  expect(moved).toContain(`[${to}]la`);
  expect(/\[[A-G]b/.test(moved) && /\[[A-G]#/.test(moved)).toBe(false);
});

test('without a key the first chord is taken for it; what is no chord stays; untransposed it is the same text', () => {
  expect(transposePage('[F]a [Bb]b', 2)).toBe('[G]a [C]b');
  expect(transposePage('[G]a [C]b', -2)).toBe('[F]a [Bb]b');
  expect(transposePage('# [G] remark\n[G]x [N.C.]', 2)).toBe('# [G] remark\n[A]x [N.C.]');
  expect(transposePage(PAGE, 0)).toBe(PAGE);
  expect(transposePage(PAGE, 12)).toBe(PAGE);
});

test('there and back is the same music, and nothing that anybody types makes it fail', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 300 }), fc.integer({ min: -12, max: 12 }), (text, by) => {
      const moved = transposePage(text, by);
      const back = transposePage(moved, -by);
      expect(readPage(back).sections.length).toBe(readPage(text).sections.length);
    }),
  );
  fc.assert(
    fc.property(
      fc.constantFrom('C', 'C#m7', 'Eb', 'F#/A#', 'Bbmaj7', 'Gsus4/D'),
      fc.integer({ min: -12, max: 12 }),
      (chord, by) => {
        const there = transposeChord(chord, by, false);
        const flats = chord.includes('b');
        expect(transposeChord(there, -by, flats)).toBe(chord);
      },
    ),
  );
});
