import { readFileSync } from 'node:fs';
import { SHEETS, slugOf, VIEWS } from '../../parts/help/places';
import { lookUp } from './handbookSearch';

const paragraphs = [
  { heading: 'Begin', text: 'Press a key on the keyboard at the bottom.' },
  { heading: 'Every sheet', text: `${'Settings: theme. '.repeat(9)}Tuning: temperaments, files of the Scala archive.` },
];

test('all words have to stand in a paragraph or its heading, as parts of words in any order', () => {
  expect(lookUp(paragraphs, 'scala temper').map(({ heading }) => heading)).toEqual(['Every sheet']);
  expect(lookUp(paragraphs, 'begin key').map(({ heading }) => heading)).toEqual(['Begin']);
  expect(lookUp(paragraphs, 'key scala')).toEqual([]);
  expect(lookUp(paragraphs, '  ')).toEqual([]);
});

test('what is around the first word is shown, and where it goes on', () => {
  const [{ snippet }] = lookUp(paragraphs, 'temperaments');
  expect(snippet).toContain('Tuning: temperaments');
  expect(snippet.startsWith('… ')).toBe(true);
  expect(lookUp(paragraphs, 'press')[0].snippet).toBe(paragraphs[0].text);
});

test('every view and every sheet has its page in the handbook', () => {
  const text = readFileSync('docs/handbook.md', 'utf8');
  const headings = [...text.matchAll(/^##+ (.+)$/gm)].map(([, title]) => slugOf(title));
  for (const { page } of [...Object.values(VIEWS), ...Object.values(SHEETS)]) expect(headings).toContain(slugOf(page));
});
