// eslint-disable-next-line @typescript-eslint/no-require-imports
const { testsNamed, testsOfChanged } = require('./changed.mjs') as {
  testsOfChanged: (
    changed: string[],
    tests: string[],
    took: Record<string, number>,
    seconds: number,
  ) => { run: string[]; left: string[] };
  testsNamed: (name: string, tests: string[], textOf: (path: string) => string) => { files: string[]; titled: boolean };
};

const TESTS = [
  'src/core/rig/links.test.ts',
  'src/core/rig/rig.test.ts',
  'src/core/engine/engine.test.ts',
  'src/core/engine/company.test.ts',
  'src/app/hands/keys.test.ts',
];

describe('units of what changed', () => {
  test('the changed tests come first, then those of the same name, then those of the same folder', () => {
    const { run, left } = testsOfChanged(['src/core/rig/links.ts', 'src/app/hands/keys.test.ts'], TESTS, {}, 60);
    expect(run).toEqual(['src/app/hands/keys.test.ts', 'src/core/rig/links.test.ts', 'src/core/rig/rig.test.ts']);
    expect(left).toEqual([]);
  });
  test('what would take too long is left out and told, but one runs', () => {
    const took = { 'src/core/engine/engine.test.ts': 60_000, 'src/core/engine/company.test.ts': 108_000 };
    expect(testsOfChanged(['src/core/engine/engine.ts'], TESTS, took, 25)).toEqual({
      run: ['src/core/engine/engine.test.ts'],
      left: ['src/core/engine/company.test.ts'],
    });
  });
  test('a change that no test is near to runs none', () => {
    expect(testsOfChanged(['docs/handbook.md'], TESTS, {}, 25)).toEqual({ run: [], left: [] });
  });
});

describe('tests by name', () => {
  const textOf = (path: string) => (path.includes('company') ? "test('a voice beside every other kind')" : '');
  test('a part of a path runs those files', () =>
    expect(testsNamed('core/rig', TESTS, textOf)).toEqual({ files: TESTS.slice(0, 2), titled: false }));
  test('words of a title run the tests that have them', () =>
    expect(testsNamed('Beside every', TESTS, textOf)).toEqual({
      files: ['src/core/engine/company.test.ts'],
      titled: true,
    }));
  test('what nothing has runs nothing', () => expect(testsNamed('no such thing', TESTS, textOf).files).toEqual([]));
});
