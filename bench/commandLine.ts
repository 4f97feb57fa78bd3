/** How long commands take from the shell that need no sound of what they read. */
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { performance } from 'node:perf_hooks';
import { median, row } from './row';

const RIG = 'build/demo/perigee-tide.wavicle';

export function commandLine(): void {
  if (!existsSync(RIG)) throw new Error('Build the demo first: npm run demo');
  for (const args of [
    ['show', RIG],
    ['resolve', RIG, '--patch', 'Low Water', '--key', '60', '--velocity', '90'],
    ['moves', RIG, '--patch', 'Low Water'],
  ]) {
    const times = [0, 1, 2, 3, 4].map(() => {
      const began = performance.now();
      const { status, stderr } = spawnSync(process.execPath, ['scripts/wavicle.mjs', ...args], { encoding: 'utf8' });
      if (status !== 0) throw new Error(`wavicle ${args.join(' ')}: ${stderr}`);
      return performance.now() - began;
    });
    row(
      `wavicle ${args[0]} on the demo archive, median`,
      `${(median(times) / 1000).toFixed(2)} s`,
      '0.3 s',
      median(times) <= 300,
    );
  }
}
