import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { rigFormatMarkdown } from '../src/core/rig/describe';

test('docs/rig-format.md is what the schema says (npm run docs)', () => expect(readFileSync('docs/rig-format.md', 'utf8')).toBe(rigFormatMarkdown()));

test('every picture and file the README links to is there, and every picture is linked', () => {
  const readme = readFileSync('README.md', 'utf8');
  for (const [, path] of readme.matchAll(/\]\((?!https?:)([^)#]+)\)/g)) expect({ path, there: existsSync(path) }).toEqual({ path, there: true });
  for (const name of readdirSync('docs/screenshots')) expect(readme).toContain(name);
});
