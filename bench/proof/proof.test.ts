/** A sample of what `npm run proof` tries at full size, and how it keeps what it has tried. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Chance } from '../../src/core/dsp/chance';
import { BACK } from './back';
import { ENGINE } from './engine';
import { IN_STEP, SHOW } from './long';
import { keep, readKept, restOf, sumOf } from './kept';
import { MESSAGES } from './messages';
import { mutatedBytes, mutatedJson, mutatedText } from './mutate';
import { writePage } from './page';
import { PARAMETERS } from './parameters';
import { together, type Part } from './part';
import { PARTS } from './parts';
import { FILES, READERS } from './readers';

describe('a sample of each part that needs no browser', () => {
  test('what is changed is taken where it is not: honest files of every kind', async () => {
    for (const { name, bases, read } of READERS)
      for (const base of bases) expect([name, await read(base as never)]).toEqual([name, undefined]);
  });
  test.each([
    ['back', BACK, 16],
    ['messages', MESSAGES, 1450],
    ['parameters', PARAMETERS, 1],
    ['engine', ENGINE, 1],
    ['show', SHOW, 3],
    ['in-step', IN_STEP, 4],
  ] as const)(
    '%s',
    async (_, part, count) => {
      const { tried, failures } = await part.try(0, count);
      expect(failures).toEqual([]);
      expect(Object.values(tried).every((each) => each > 0)).toBe(true);
    },
    120_000,
  );
  test('files: some of each kind are taken and some refused, where a form can be broken and no sum is over it', async () => {
    const { tried, failures } = await FILES.try(0, 480);
    expect(failures).toEqual([]);
    for (const { name } of READERS.filter((reader) => !/page|SFZ|rig archive|FLAC/.test(reader.name)))
      expect([name, tried[`${name}: taken`] > 0, tried[`${name}: refused`] > 0]).toEqual([name, true, true]);
  }, 120_000);
});

describe('files changed by chance', () => {
  const changed = (seed: number) => [
    mutatedBytes(
      Uint8Array.from({ length: 64 }, (_, n) => n),
      new Chance(seed),
    ),
    mutatedText('one two\nthree=4\nfive', new Chance(seed)),
    mutatedJson({ a: [1, { b: 'c' }], d: null }, new Chance(seed)),
  ];
  test('the same number makes the same file; others make others', () => {
    expect(changed(5)).toEqual(changed(5));
    const all = new Set(Array.from({ length: 200 }, (_, seed) => JSON.stringify(changed(seed))));
    expect(all.size).toBeGreaterThan(190);
  });
  test('what they were made from stays as it is', () => {
    const bytes = Uint8Array.of(1, 2, 3, 4);
    const json = { a: { b: [1, 2] } };
    for (let seed = 0; seed < 50; seed++) {
      mutatedBytes(bytes, new Chance(seed));
      mutatedJson(json, new Chance(seed));
    }
    expect([...bytes, JSON.stringify(json)]).toEqual([1, 2, 3, 4, '{"a":{"b":[1,2]}}']);
  });
});

describe('what was tried is kept', () => {
  const part: Part = {
    ...FILES,
    name: 'files',
    count: 25,
    chunk: 10,
    try: () => ({ tried: {}, failures: [], figures: {} }),
  };
  const chunk = (count: number, failures: string[] = []) => ({
    outcome: { tried: { files: count }, failures, figures: { ms: count } },
    seconds: 2,
    count,
  });
  test('it goes on with what is missing, and with chunks of which only a part was tried', () => {
    expect(restOf(part, undefined, 25)).toEqual([
      { first: 0, count: 10 },
      { first: 10, count: 10 },
      { first: 20, count: 5 },
    ]);
    const tried = { code: 'a', chunks: { 0: chunk(10), 20: chunk(3) } };
    expect(restOf(part, tried, 25).map(({ first }) => first)).toEqual([10, 20]);
    expect(restOf(part, tried, 5)).toEqual([]);
  });
  test('counts are added, the worst figure stays, no failure is lost', () => {
    const sum = sumOf({ code: 'a', chunks: { 0: chunk(10, ['x']), 10: chunk(4, ['y']) } });
    expect(sum).toEqual({
      outcome: { tried: { files: 14 }, failures: ['x', 'y'], figures: { ms: 10 } },
      items: 14,
      seconds: 4,
    });
    expect(together(sum.outcome, sum.outcome).tried).toEqual({ files: 28 });
  });
  test('on disk, and the page says what was tried, what was not, and what failed', () => {
    const folder = mkdtempSync(join(tmpdir(), 'wavicle-proof-'));
    try {
      const path = join(folder, 'deep', 'proof.json');
      const kept = { files: { code: 'abc', chunks: { 0: chunk(10, ['file 3: broken\nat line']) } } };
      keep(path, kept);
      expect(readKept(path)).toEqual(JSON.parse(JSON.stringify(kept)));
      writeFileSync(path, '{');
      const said = jest.spyOn(console, 'log').mockImplementation(() => undefined);
      expect(readKept(path)).toEqual({});
      said.mockRestore();
      writePage(join(folder, 'proof.md'), kept);
      const page = readFileSync(join(folder, 'proof.md'), 'utf8');
      for (const { name, promise } of PARTS) expect(page).toContain(`## ${name}\n\n${promise}.`);
      expect(page).toContain('10 of 1 000 000 files changed by chance');
      expect(page).toContain('1 failed.\n  - file 3: broken\n');
      expect(page.match(/Not tried yet/g)).toHaveLength(PARTS.length - 1);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
