/**
 * npm run check: what can be known of a change in less than a minute. Types and dependency rules of everything; lint,
 * format and the nearest unit tests of what was changed since the last commit (or in it, where nothing is).
 */
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { ensureDependencies, ensureKernel, root } from './ensure.mjs';
import { testsOfChanged } from './changed.mjs';

/** Seconds for unit tests, by how long they took in the last `npm test`. */
const UNIT_SECONDS = 25;

const git = (...args) =>
  spawnSync('git', args, { cwd: root, encoding: 'utf8' })
    .stdout.split('\n')
    .filter((line) => line !== '' && existsSync(join(root, line)));
const now = [...git('diff', '--name-only', 'HEAD'), ...git('ls-files', '--others', '--exclude-standard')];
const changed = now.length > 0 ? now : git('diff', '--name-only', 'HEAD~1', 'HEAD');
const code = changed.filter((path) => /\.(ts|tsx|mjs|js|cjs)$/.test(path) && !path.includes('kernel/assembly/'));
const report = join(root, 'build/jest.json');
const took = existsSync(report)
  ? Object.fromEntries(
      JSON.parse(readFileSync(report, 'utf8')).testResults.map((suite) => [
        relative(root, suite.name),
        suite.endTime - suite.startTime,
      ]),
    )
  : {};
const { run: units, left } = testsOfChanged(
  changed,
  git('ls-files', '--cached', '--others', '--exclude-standard', 'src', 'demo', 'scripts', 'bench'),
  took,
  UNIT_SECONDS,
);

ensureDependencies();
ensureKernel();
const tool = (path, args) => ['node', [join(root, 'node_modules', path), ...args]];
const info = (name) => ['--incremental', '--tsBuildInfoFile', `build/${name}.tsbuildinfo`];
const checks = [
  ['types of core', ...tool('typescript/bin/tsc', ['-p', 'src/core', ...info('core')])],
  ['types', ...tool('typescript/bin/tsc', ['-p', 'tsconfig.json', '--noEmit', ...info('all')])],
  [
    'dependency rules',
    ...tool('dependency-cruiser/bin/dependency-cruise.mjs', [
      ...['src', 'demo', 'bench', 'tests', '--config', '.dependency-cruiser.cjs', '--cache', 'build/depcruise'],
    ]),
  ],
  code.length > 0 && ['lint', ...tool('eslint/bin/eslint.js', [...code, '--max-warnings', '0', '--no-warn-ignored'])],
  changed.length > 0 && [
    'format',
    ...tool('prettier/bin/prettier.cjs', ['--check', '--ignore-unknown', '--log-level', 'warn', ...changed]),
  ],
  units.length > 0 && ['units', ...tool('jest/bin/jest.js', ['--runTestsByPath', ...units, '--maxWorkers=1'])],
].filter(Boolean);

const began = performance.now();
const failed = [];
const runOne = ([name, command, args]) =>
  new Promise((resolve) => {
    const said = [];
    const child = spawn(command, args, { cwd: root });
    child.stdout.on('data', (text) => said.push(text));
    child.stderr.on('data', (text) => said.push(text));
    child.on('close', (result) => {
      console.log(`${result === 0 ? 'good  ' : 'FAILED'}  ${name}`);
      if (result !== 0) {
        failed.push(name);
        console.log(said.join(''));
      }
      resolve();
    });
  });
const line = [...checks];
await Promise.all(
  Array.from({ length: 2 }, async () => {
    while (line.length > 0) await runOne(line.shift());
  }),
);
console.log(
  `\n${changed.length} files changed; ${units.length} files of unit tests ran, ${left.length} near ones did not`,
);
console.log(
  `${failed.length === 0 ? 'good' : `FAILED: ${failed.join(', ')}`} in ${Math.round((performance.now() - began) / 1000)} s`,
);
process.exit(failed.length > 0 ? 1 : 0);
