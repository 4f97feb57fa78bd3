import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Figure } from '../../tests/kit/figure';
import { Tally, type Outcome, type Part } from './part';

/** Tests that hold what we make against something that was not made here, each with its figures. */
const TESTS = [
  'src/core/bounce/stems',
  'src/core/dsp/dsp',
  'src/core/dsp/sampleReader',
  'src/core/effects/references',
  'src/core/effects/referencesOfTime',
  'src/core/engine/shape',
  'src/core/engine/voice/generators/synth',
  'src/core/measure/bands',
  'src/core/measure/loudness',
  'src/core/movers/movers',
  'src/core/music/tunings',
  'src/core/space/naturalNeighbours',
  'src/core/space/window',
].map((name) => `${name}.test.ts`);

interface Report {
  numPassedTests: number;
  testResults: {
    assertionResults: { status: string; fullName: string; failureMessages: string[] }[];
    message: string;
  }[];
}

/** Test files by number, run whole. */
function tryTests(first: number, count: number): Outcome {
  const tally = new Tally();
  const folder = mkdtempSync(join(tmpdir(), 'wavicle-truth-'));
  try {
    for (const path of TESTS.slice(first, first + count)) {
      const [figures, json] = [join(folder, 'figures'), join(folder, 'report.json')];
      const { status, stderr } = spawnSync(
        process.execPath,
        ['node_modules/jest/bin/jest.js', '--runTestsByPath', path, '--json', `--outputFile=${json}`],
        { encoding: 'utf8', env: { ...process.env, FIGURES: figures, WHOLE: '1' } },
      );
      if (!existsSync(json)) {
        tally.fail(`${path}: ${stderr.slice(-300)}`);
        continue;
      }
      const { numPassedTests, testResults } = JSON.parse(readFileSync(json, 'utf8')) as Report;
      tally.count('checks', numPassedTests);
      const results = testResults.flatMap(({ assertionResults }) => assertionResults);
      for (const { status: each, fullName, failureMessages } of results)
        if (each === 'failed') tally.fail(`${path}, ${fullName}: ${failureMessages[0]?.slice(0, 300)}`);
      if (status !== 0 && results.every((each) => each.status !== 'failed'))
        tally.fail(`${path}: ${testResults[0]?.message.slice(0, 300)}`);
      const lines = existsSync(figures) ? readFileSync(figures, 'utf8').trim().split('\n') : [];
      for (const line of lines) {
        const { what, value, unit, against } = JSON.parse(line) as Figure;
        tally.count('figures');
        tally.measure(`${unit}: ${what}, against ${against}`, value);
      }
      rmSync(figures, { force: true });
      rmSync(json, { force: true });
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
  return tally.outcome;
}

export const TRUTH: Part = {
  name: 'truth',
  promise: 'What is heard and measured is what handbooks, standards, other programs’ libraries and the definitions say',
  against: 'what stands beside each figure below',
  items: 'files of tests',
  count: TESTS.length,
  chunk: 1,
  try: tryTests,
};
