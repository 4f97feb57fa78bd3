/** Which tests belong to what was changed, or to a name: pure, so that it can be tested by itself. */
import { basename, dirname } from 'node:path';

const isTest = (path) => /\.(test|spec)\.tsx?$/.test(path);
const stem = (path) => basename(path).replace(/(\.(test|spec))?\.\w+$/, '');

/**
 * Unit tests of changed files, the nearest first: those that were changed themselves, those of the same name, those of
 * the same folder. As many as fit into `seconds`, by how long they took last (`tookMs` by path; unknown: 5 s); at least
 * one. Gives those that run and those that are left out.
 */
export function testsOfChanged(changed, tests, tookMs, seconds) {
  const nearness = (test) => {
    if (changed.includes(test)) return 0;
    const near = changed.filter((path) => dirname(path) === dirname(test));
    if (near.some((path) => stem(path) === stem(test))) return 1;
    return near.length > 0 ? 2 : 3;
  };
  const wanted = tests
    .filter((test) => isTest(test) && nearness(test) < 3)
    .sort((a, b) => nearness(a) - nearness(b) || (tookMs[a] ?? 5000) - (tookMs[b] ?? 5000));
  const run = [];
  let sum = 0;
  for (const test of wanted) {
    sum += tookMs[test] ?? 5000;
    if (run.length > 0 && sum > seconds * 1000) break;
    run.push(test);
  }
  return { run, left: wanted.slice(run.length) };
}

/**
 * Tests that a name asks for: files whose path has it, and, where none has, files in which a title has it (`titled`:
 * then only those titles are meant). `textOf` gives the text of a file.
 */
export function testsNamed(name, tests, textOf) {
  const low = name.toLowerCase();
  const byPath = tests.filter((path) => path.toLowerCase().includes(low));
  if (byPath.length > 0) return { files: byPath, titled: false };
  const files = tests.filter((path) => textOf(path).toLowerCase().includes(low));
  return { files, titled: true };
}
