import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { rigFormatMarkdown } from '../src/core/rig/describe';

test('docs/rig-format.md is what the schema says (npm run docs)', () =>
  expect(readFileSync('docs/rig-format.md', 'utf8')).toBe(rigFormatMarkdown()));

test('every file that the README links to is there, and every picture is in it or in the handbook', () => {
  const readme = readFileSync('README.md', 'utf8');
  for (const [, path] of readme.matchAll(/\]\((?!https?:)([^)#]+)\)/g))
    expect({ path, there: existsSync(path) }).toEqual({ path, there: true });
  const handbook = readFileSync('docs/handbook.md', 'utf8');
  for (const name of readdirSync('docs/screenshots')) expect(readme + handbook).toContain(name);
});

const sources = (folder: string): string =>
  readdirSync(folder, { withFileTypes: true })
    .map((entry) =>
      entry.isDirectory()
        ? sources(`${folder}/${entry.name}`)
        : /\.tsx?$/.test(entry.name)
          ? readFileSync(`${folder}/${entry.name}`, 'utf8')
          : '',
    )
    .join('');

test('every picture of the handbook is there, and whatever it calls by name stands in the application', () => {
  const handbook = readFileSync('docs/handbook.md', 'utf8');
  for (const [, path] of handbook.matchAll(/!\[[^\]]+\]\(([^)]+)\)/g))
    expect({ path, there: existsSync(`docs/${path}`) }).toEqual({ path, there: true });
  // As it is read on the screen: lines of the source are no lines of the page.
  const application = (sources('src/app') + sources('src/core/check')).replace(/\{' '\}/g, ' ').replace(/\s+/g, ' ');
  const names = [...handbook.matchAll(/“([^”]+)”/g)].map(([, name]) => name);
  expect(names.length).toBeGreaterThan(50);
  for (const name of names) {
    // Where a name goes on, or has a number in it, its parts are looked for.
    for (const part of name
      .split('…')
      .map((each) => each.replace(/\d+ (files|layers|in a group)/, '').trim())
      .filter(Boolean))
      expect({ name, there: application.includes(part) }).toEqual({ name, there: true });
  }
});
