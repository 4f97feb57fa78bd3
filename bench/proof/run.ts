/**
 * npm run proof [NAME …] [--of COUNT] [--anew]: tries what is promised, at full size, on as many cores as there are,
 * and writes docs/proof.md. Goes on where it was stopped; --anew forgets what was tried of the parts named, --of tries
 * their first items alone. Ends with 1 if anything failed.
 */
import { execFileSync, fork, type ChildProcess } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { keep, readKept, restOf, sumOf } from './kept';
import type { Answer, Task } from './lane';
import { writePage } from './page';
import type { Part } from './part';
import { PARTS } from './parts';

const KEPT = 'build/proof.json';
/** A process is made anew after so many chunks: what it has kept in memory is none of what is proved. */
const CHUNKS_OF_A_LANE = 40;

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { of: { type: 'string' }, anew: { type: 'boolean' } },
});
const unknown = positionals.filter((name) => !PARTS.some((part) => part.name === name));
const most = values.of === undefined ? Infinity : Number(values.of);
if (unknown.length > 0 || !(most > 0)) {
  const parts = PARTS.map(({ name }) => name).join(', ');
  console.error(
    unknown.length > 0
      ? `No part is called ${unknown.join(', ')}: there are ${parts}.`
      : '--of wants a number above 0.',
  );
  process.exit(2);
}
const asked = PARTS.filter(({ name }) => positionals.length === 0 || positionals.includes(name));

const git = (...words: string[]): string => execFileSync('git', words, { encoding: 'utf8' }).trim();
const code = `${git('rev-parse', '--short', 'HEAD')}${git('status', '--porcelain', '-uno') ? ' and what was not committed' : ''}`;
const kept = readKept(KEPT);
if (values.anew) for (const { name } of asked) delete kept[name];

/** One process and what it does in turn. */
class Lane {
  private child: ChildProcess | null = null;
  private done = 0;

  async try(task: Task): Promise<Answer> {
    if (this.done++ % CHUNKS_OF_A_LANE === 0) this.end();
    const child = (this.child ??= fork(fileURLToPath(new URL('lane.ts', import.meta.url))));
    return new Promise<Answer>((resolve) => {
      const answer = (given: Answer) => {
        child.off('exit', ended);
        resolve(given);
      };
      const ended = (exit: number | null, signal: string | null) => {
        child.off('message', answer);
        this.child = null;
        const what = `${task.name} from ${task.first} on: its process ended (${signal ?? `exit code ${exit}`})`;
        resolve({ outcome: { tried: {}, failures: [what], figures: {} }, seconds: 0 });
      };
      child.once('message', answer);
      child.once('exit', ended);
      child.send(task);
    });
  }

  end(): void {
    this.child?.removeAllListeners();
    this.child?.kill();
    this.child = null;
  }
}

async function prove(part: Part): Promise<void> {
  const upTo = Math.min(part.count, most);
  const tried = (kept[part.name] ??= { code, chunks: {} });
  const rest = restOf(part, tried, upTo);
  if (rest.length > 0 && tried.code !== code) tried.code = `${tried.code.split(' to ')[0]} to ${code}`;
  const lanes = Array.from({ length: part.alone ? 1 : availableParallelism() }, () => new Lane());
  let toldAt = Date.now();
  await Promise.all(
    lanes.map(async (lane) => {
      for (let task = rest.shift(); task; task = rest.shift()) {
        const answer = await lane.try({ name: part.name, ...task });
        // What ended before it was tried is told, and tried again by the next run.
        const wasTried = Object.keys(answer.outcome.tried).length > 0;
        tried.chunks[task.first] = { ...answer, count: wasTried ? task.count : 0 };
        keep(KEPT, kept);
        for (const failure of answer.outcome.failures) console.log(`FAILED  ${failure}`);
        if (Date.now() - toldAt < 60_000) continue;
        toldAt = Date.now();
        console.log(`        ${part.name}: ${sumOf(tried).items} of ${upTo} ${part.items}`);
      }
      lane.end();
    }),
  );
  const { outcome, items, seconds } = sumOf(tried);
  const failed = outcome.failures.length;
  console.log(
    `${failed > 0 ? 'FAILED ' : 'passed '} ${part.name}: ${items} ${part.items}, ${failed} failed, ${Math.round(seconds)} s of one core`,
  );
}

for (const part of asked) {
  await prove(part);
  writePage('docs/proof.md', kept);
}
const failures = asked.reduce((sum, { name }) => sum + sumOf(kept[name]).outcome.failures.length, 0);
console.log(failures > 0 ? `${failures} failed` : 'nothing failed');
process.exitCode = failures > 0 ? 1 : 0;
