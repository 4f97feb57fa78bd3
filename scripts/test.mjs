/** npm test: installs what is missing, then checks everything. Its last line is "N passed, N failed". */
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import {
  ensureBuild,
  ensureChromium,
  ensureDemo,
  ensureDependencies,
  ensureKernel,
  ensureSmallDemo,
  root,
  runPackage,
} from './ensure.mjs';

let passed = 0;
let failed = 0;
const step = (name, work) => {
  console.log(`\n== ${name}`);
  let good = false;
  try {
    good = work() !== false;
  } catch (error) {
    console.error(error.message);
  }
  if (good) passed++;
  else failed++;
  console.log(good ? `${name}: good` : `${name}: FAILED`);
  return good;
};
const report = (path) => (existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : undefined);
const finish = () => {
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exit(failed > 0 ? 1 : 0);
};

if (!step('packages', ensureDependencies)) finish();
if (!step('audio kernel', ensureKernel)) finish();
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
if (!jestGood && jest && jest.numFailedTests + jest.numRuntimeErrorTestSuites === 0) failed++;

if (step('Chromium', ensureChromium) && step('application', ensureBuild)) {
  const browserReport = join(root, 'build/playwright.json');
  rmSync(browserReport, { force: true });
  console.log('\n== browser tests');
  const good = runPackage('@playwright/test/cli.js', ['test'], {
    env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: browserReport },
  });
  const stats = report(browserReport)?.stats;
  passed += (stats?.expected ?? 0) + (stats?.flaky ?? 0);
  failed += stats ? stats.unexpected : 1;
  // Passed at the second try: never in silence.
  if (stats?.flaky > 0)
    console.log(`\n${stats.flaky} browser tests passed only when they were tried again: see “flaky” above`);
  if (!good && stats && stats.unexpected === 0) failed++;
}
finish();
