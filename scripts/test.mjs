/**
 * npm test: installs what is missing, then checks everything. npm test -- NAME: the tests alone that have it in their
 * path, or else in their title. Its last line is "N passed, N failed".
 */
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';
import { testsNamed } from './changed.mjs';
import {
  ensureBuild,
  ensureChromium,
  ensureDemo,
  ensureDependencies,
  ensureKernel,
  ensureSmallDemo,
  ensureStore,
  root,
  runPackage,
} from './ensure.mjs';

let passed = 0;
let failed = 0;
/** What failed, told again at the end: what comes before is long. */
const failures = [];
const slowest = (of, tests) => {
  console.log(`\nThe slowest ${of}, in seconds:`);
  const ten = [...tests].sort((a, b) => b.ms - a.ms).slice(0, 10);
  for (const { name, ms } of ten) console.log(`${(ms / 1000).toFixed(1).padStart(7)}  ${name}`);
};
const step = (name, work) => {
  console.log(`\n== ${name}`);
  let good = false;
  try {
    good = work() !== false;
  } catch (error) {
    console.error(error.message);
  }
  if (good) passed++;
  else {
    failed++;
    failures.push(name);
  }
  console.log(good ? `${name}: good` : `${name}: FAILED`);
  return good;
};
const report = (path) => (existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : undefined);
const finish = () => {
  for (const name of failures) console.log(`\nFAILED  ${name}`);
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exit(failed > 0 ? 1 : 0);
};

if (!step('packages', ensureDependencies)) finish();
if (!step('audio kernel', ensureKernel)) finish();

/** npm test -- NAME: only what matches, units and browser alike. */
const [name] = process.argv.slice(2);
const filesIn = (...folders) =>
  folders.flatMap((folder) => readdirSync(join(root, folder), { recursive: true }).map((path) => join(folder, path)));
const textOf = (path) => readFileSync(join(root, path), 'utf8');
const named = (folders, kind) =>
  testsNamed(
    name,
    filesIn(...folders).filter((path) => kind.test(path)),
    textOf,
  );
if (name !== undefined) {
  const units = named(['src', 'demo', 'scripts', 'bench'], /\.test\.tsx?$/);
  const specs = named(['tests'], /\.spec\.ts$/);
  if (units.files.length + specs.files.length === 0) {
    console.error(`No test has “${name}” in its path or its title.`);
    process.exit(1);
  }
  ensureDemo();
  ensureSmallDemo();
  ensureStore();
  const title = name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  if (units.files.length > 0)
    step('unit tests', () =>
      runPackage('jest/bin/jest.js', ['--runTestsByPath', ...units.files, ...(units.titled ? ['-t', title] : [])]),
    );
  if (specs.files.length > 0 && step('Chromium', ensureChromium) && step('application', ensureBuild))
    step('browser tests', () =>
      runPackage('@playwright/test/cli.js', ['test', ...specs.files, ...(specs.titled ? ['-g', title] : [])]),
    );
  finish();
}

step(
  'types',
  () =>
    runPackage('typescript/bin/tsc', ['-p', 'src/core']) && runPackage('typescript/bin/tsc', ['-p', 'tsconfig.json']),
);
step('lint', () => runPackage('eslint/bin/eslint.js', ['.', '--max-warnings', '0']));
step('format', () => runPackage('prettier/bin/prettier.cjs', ['--check', '.', '--log-level', 'warn']));
step('dependency rules', () =>
  runPackage('dependency-cruiser/bin/dependency-cruise.mjs', [
    'src',
    'demo',
    'bench',
    'tests',
    '--config',
    '.dependency-cruiser.cjs',
  ]),
);

mkdirSync(join(root, 'build'), { recursive: true });
step('demo rig', () => {
  ensureDemo();
  ensureSmallDemo();
  ensureStore();
});
const jestReport = join(root, 'build/jest.json');
rmSync(jestReport, { force: true });
console.log('\n== unit tests');
const jestGood = runPackage('jest/bin/jest.js', ['--ci', '--json', `--outputFile=${jestReport}`], {
  stdio: ['ignore', 'ignore', 'inherit'],
});
const jest = report(jestReport);
passed += jest?.numPassedTests ?? 0;
failed += jest ? jest.numFailedTests + jest.numRuntimeErrorTestSuites : 1;
const suites = jest?.testResults ?? [];
const nameOfSuite = ({ name }) => relative(root, name);
for (const suite of suites) {
  if (suite.assertionResults.length === 0 && suite.status === 'failed') failures.push(nameOfSuite(suite));
  for (const { fullName, status } of suite.assertionResults)
    if (status === 'failed') failures.push(`${nameOfSuite(suite)} › ${fullName}`);
}
slowest(
  'files of unit tests',
  suites.map((suite) => ({ name: nameOfSuite(suite), ms: suite.endTime - suite.startTime })),
);
if (!jestGood && jest && jest.numFailedTests + jest.numRuntimeErrorTestSuites === 0) failed++;

if (step('Chromium', ensureChromium) && step('application', ensureBuild)) {
  const browserReport = join(root, 'build/playwright.json');
  rmSync(browserReport, { force: true });
  console.log('\n== browser tests');
  const good = runPackage('@playwright/test/cli.js', ['test'], {
    env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: browserReport },
  });
  const told = report(browserReport);
  const stats = told?.stats;
  const tests = [];
  const walk = ({ file, specs = [], suites: inner = [] }) => {
    for (const { title, tests: runs } of specs)
      for (const { status, results } of runs) {
        const name = `${file} › ${title}`;
        tests.push({ name, ms: results.reduce((sum, { duration }) => sum + duration, 0) });
        if (status === 'unexpected') failures.push(name);
      }
    inner.forEach(walk);
  };
  told?.suites.forEach(walk);
  slowest('browser tests', tests);
  passed += (stats?.expected ?? 0) + (stats?.flaky ?? 0);
  failed += stats ? stats.unexpected : 1;
  // Passed at the second try: never in silence.
  if (stats?.flaky > 0)
    console.log(`\n${stats.flaky} browser tests passed only when they were tried again: see “flaky” above`);
  if (!good && stats && stats.unexpected === 0) failed++;
}
finish();
