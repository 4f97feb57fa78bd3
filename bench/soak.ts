/**
 * npm run soak show: an hour of the demo's show in time-lapse with more than ten million random events. npm run soak
 * kills [COUNT]: browsers ended at random moments while somebody edits (200).
 * npm run soak bits [COUNT] [FIRST]: patches of everything at once, played in blocks of many sizes: the same bits, no
 * throw, no fault (2 000, from number 0 on).
 * Two machines in step are tried by npm run proof in-step, in-time and takeovers.
 * npm run soak [MINUTES]: long random walks, for as many minutes as told (10). Half of the time through the interface
 * at several widths: nothing may be thrown, what is kept must be a rig that can be read,
 * and a reload must open it. The other half with the random tests of the engine and the edits, from new seeds each
 * round. Prints the seed of what failed, and ends with 1 if anything did.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { killTabs } from './kills';
import { hasGrown, soakShow } from './soakShow';
import { launch } from './browser';
import { CUTS, whatIsWrong } from '../tests/kit/companyPlayed';
import { ACTS, nameOfWalk, serveSmall, walkThrough } from './walks';

const PORT = 4189;

const [word, many, first] = process.argv.slice(2);
const PARTS = ['show', 'kills', 'bits'];
const minutes = word && PARTS.includes(word) ? 1 : Number(word ?? 10);
if (!(minutes > 0)) throw new Error(`${process.argv[2]}: minutes must be a number above 0`);
let failures = 0;
const failed = (what: string) => {
  failures++;
  console.log(`FAILED  ${what}`);
};

async function throughTheInterface(until: number): Promise<void> {
  const { address, end } = await serveSmall(PORT);
  const browser = await launch();
  try {
    for (let seed = Date.now() % 100000; Date.now() < until; seed++) {
      const { wrong } = await walkThrough(browser, address, seed);
      if (wrong.length) failed(`${nameOfWalk(seed)}: ${wrong.join(' · ').slice(0, 600)}`);
      else console.log(`passed  ${nameOfWalk(seed)}, ${ACTS} acts`);
    }
  } finally {
    await browser.close();
    end();
  }
}

function inTheCore(until: number): void {
  for (let round = 1; Date.now() < until; round++) {
    const { status, stderr } = spawnSync(
      process.execPath,
      ['node_modules/jest/bin/jest.js', '-t', 'random|whatever is edited', 'src/core'],
      { encoding: 'utf8', env: process.env },
    );
    if (status) failed(`random tests of the core, round ${round}:\n${stderr.slice(-3000)}`);
    else console.log(`passed  random tests of the core, round ${round}`);
  }
}

/** An hour of the show. */
function throughTheShow(): void {
  const soak = soakShow(
    'build/demo/perigee-tide.wavicle',
    Number(many ?? 3600),
    Date.now() % 100000,
    (second, { heapMb, tookSeconds }) =>
      console.log(
        `        minute ${Math.round(second / 60)}: ${heapMb[heapMb.length - 1]} MB, ${(second / tookSeconds).toFixed(1)} times as fast as time`,
      ),
  );
  const words = `${soak.seconds} s of the show in ${Math.round(soak.tookSeconds)} s, ${soak.events} events, ${soak.changes} changes of patch: ${soak.stuck} stuck, ${soak.bad} frames that are no sound, ${soak.heapMb[2]} to ${soak.heapMb[soak.heapMb.length - 1]} MB`;
  if (soak.stuck > 0 || soak.bad > 0 || hasGrown(soak) || soak.peak === 0) failed(words);
  else console.log(`passed  ${words}`);
}

/** Patches of everything at once. */
function throughBits(): void {
  const from = Number(first ?? 0),
    count = Number(many ?? 2000);
  for (let seed = from; seed < from + count; seed++) {
    const wrong = whatIsWrong(seed);
    if (wrong) failed(wrong);
    if ((seed - from) % 100 === 99) console.log(`        ${seed - from + 1} of ${count}`);
  }
  if (failures === 0)
    console.log(
      `passed  ${count} patches from number ${from} on: the same bits in blocks of ${CUTS.join(', ')} and 8192`,
    );
}

/** Browsers ended at random moments. */
async function throughKills(): Promise<void> {
  const { address, end } = await serveSmall(PORT);
  const profile = mkdtempSync(join(tmpdir(), 'wavicle-kills-'));
  try {
    const lost = await killTabs(address, profile, Number(many ?? 200), Date.now() % 100000, (n, ms) =>
      console.log(`        ${n + 1}: ${ms} ms lost`),
    );
    const worst = Math.max(...lost);
    if (worst >= 1000) failed(`${lost.length} browsers ended: ${worst} ms of edits were lost once`);
    else
      console.log(
        `passed  ${lost.length} browsers ended at random moments: at most ${worst} ms of edits lost, every rig can be read`,
      );
  } catch (error) {
    failed((error as Error).message);
  } finally {
    end();
    rmSync(profile, { recursive: true, force: true });
  }
}

const began = Date.now();
if (word === 'show') throughTheShow();
else if (word === 'bits') throughBits();
else if (word === 'kills') await throughKills();
else {
  await throughTheInterface(began + minutes * 30_000);
  inTheCore(began + minutes * 60_000);
}
console.log(failures ? `${failures} failed` : 'nothing failed');
process.exitCode = failures ? 1 : 0;
