/**
 * npm run soak show: an hour of the demo's show in time-lapse with more than ten million random events. npm run soak
 * kills [COUNT]: browsers ended at random moments while somebody edits (200).
 * npm run soak bits [COUNT] [FIRST]: patches of everything at once, played in blocks of many sizes: the same bits, no
 * throw, no fault (2 000, from number 0 on).
 * npm run soak spare [SECONDS] [SEED]: two engines in step through the show (an hour). npm run soak takeovers [COUNT] [SEED]:
 * the first of two machines ended at random moments (20).
 * npm run soak [MINUTES]: long random walks, for as many minutes as told (10). Half of the time through the interface
 * at several widths: nothing may be thrown, what is kept must be a rig that can be read,
 * and a reload must open it. The other half with the random tests of the engine and the edits, from new seeds each
 * round. Prints the seed of what failed, and ends with 1 if anything did.
 */
import { spawn, spawnSync } from 'node:child_process';
import type { Page } from '@playwright/test';
import { Chance } from '../src/core/dsp/chance';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readRig } from '../src/core/rig/read';
import { keptRigs, killTabs } from './kills';
import { hasGrown, soakShow } from './soakShow';
import { soakInStep, takeovers } from './soakSpare';
import { launch } from './browser';
import { CUTS, whatIsWrong } from '../tests/kit/companyPlayed';

const PORT = 4189;
const ADDRESS = `http://localhost:${PORT}`;
const WIDTHS = [1280, 820, 1600, 1024];
const ACTS = 120;
const VIEWS = ['Mix', 'Layers', 'Control', 'Sounds', 'Stage'];
const HUMAN_KEYS = [
  'Control+z',
  'Control+Shift+z',
  'Escape',
  'PageDown',
  'PageUp',
  'Space',
  'h',
  'm',
  's',
  'Control+d',
  'Delete',
  'Control+a',
  'Control+c',
  'Control+v',
  'Control+k',
  'r',
  't',
  'c',
];
const SLIDER_KEYS = ['ArrowLeft', 'ArrowRight', 'Home', 'End', 'Delete', 'ArrowUp'];
/** What opens a dialog of the browser's own, or leaves the page. */
const NOT_PRESSED = /export|import|as a file|MIDI file|delete .*rig|folder|take over|browse/i;
/** What comes from something having gone just before it was touched. */
const GONE = /timeout|detached|not visible|intercepts|not attached/i;

const [word, many, first] = process.argv.slice(2);
const PARTS = ['show', 'kills', 'bits', 'spare', 'takeovers'];
const minutes = word && PARTS.includes(word) ? 1 : Number(word ?? 10);
if (!(minutes > 0)) throw new Error(`${process.argv[2]}: minutes must be a number above 0`);
let failures = 0;
const failed = (what: string) => {
  failures++;
  console.log(`FAILED  ${what}`);
};

async function walk(page: Page, seed: number): Promise<void> {
  const chance = new Chance(seed);
  const share = () => chance.share();
  const anyOf = <T>(list: readonly T[]): T => list[Math.floor(share() * list.length)];
  const oneOf = async (selector: string) => {
    const all = page.locator(selector);
    return all.nth(Math.floor(share() * (await all.count())));
  };
  const acts = [
    async () => {
      const button = await oneOf(
        'button:visible:not([disabled]), [role="tab"]:visible, [role="menuitem"]:visible, [role="option"]:visible, nav a:visible',
      );
      const name = (await button.getAttribute('aria-label')) ?? (await button.textContent()) ?? '';
      if (!NOT_PRESSED.test(name)) await button.click();
    },
    async () => {
      await (await oneOf('[role="slider"]:visible')).focus();
      for (let i = 0; i < 4; i++) await page.keyboard.press(anyOf(SLIDER_KEYS));
    },
    async () => {
      const list = await oneOf('select:visible:not([disabled])');
      await list.selectOption({ index: Math.floor(share() * (await list.locator('option').count())) });
    },
    async () => {
      const box = await (await oneOf('[data-testid="keyboard"] rect[data-key]')).boundingBox();
      if (!box) return;
      await page.mouse.move(box.x + 3, box.y + 60);
      await page.mouse.down();
      await page.waitForTimeout(40);
      if (share() < 0.7) await page.mouse.up();
    },
    async () => page.keyboard.press(anyOf(HUMAN_KEYS)),
    async () => {
      await page.mouse.move(share() * 1200, share() * 780);
      await page.mouse.down();
      await page.mouse.move(share() * 1200, share() * 780, { steps: 3 });
      await page.mouse.up();
    },
    async () => {
      await (
        await oneOf('input[type="text"]:visible, input:not([type]):visible')
      ).fill(anyOf(['', '-9e99', '12', 'C#4', '½ “odd” 名', 'x'.repeat(300)]));
      await page.keyboard.press('Enter');
    },
  ];
  const weights = [4, 2, 1, 1, 1, 1, 0.5];
  const total = weights.reduce((sum, weight) => sum + weight);
  for (let n = 0; n < ACTS; n++) {
    let at = share() * total;
    const which = weights.findIndex((weight) => (at -= weight) < 0);
    try {
      await acts[which]();
    } catch (error) {
      if (!GONE.test((error as Error).message)) throw error;
    }
  }
  await page.mouse.up();
}

async function throughTheInterface(until: number): Promise<void> {
  const server = spawn(process.execPath, ['node_modules/tsx/dist/cli.mjs', 'src/server/main.ts'], {
    env: { ...process.env, PORT: String(PORT), DEMO: 'build/demo-small' },
    stdio: 'ignore',
  });
  const browser = await launch();
  try {
    for (
      let tries = 0;
      tries < 100 &&
      !(await fetch(`${ADDRESS}/demo/takes.json`).then(
        ({ ok }) => ok,
        () => false,
      ));
      tries++
    )
      await new Promise((resolve) => setTimeout(resolve, 100));
    for (let seed = Date.now() % 100000; Date.now() < until; seed++) {
      const context = await browser.newContext({ viewport: { width: WIDTHS[seed % WIDTHS.length], height: 800 } });
      const page = await context.newPage();
      page.setDefaultTimeout(1000);
      const problems: string[] = [];
      page.on('pageerror', (error) => problems.push(error.message));
      page.on('console', (message) => {
        if (message.type() === 'error') problems.push(message.text());
      });
      page.on('dialog', (dialog) => void dialog.dismiss());
      try {
        const open = async () => {
          await page.goto(ADDRESS, { timeout: 30_000 });
          await page.getByTestId('keyboard').locator('rect[data-key]').first().waitFor({ timeout: 30_000 });
        };
        await open();
        await page.locator('header').click({ position: { x: 400, y: 5 } });
        await page
          .getByRole('link', { name: VIEWS[Math.floor(seed / WIDTHS.length) % VIEWS.length], exact: true })
          .click();
        await walk(page, seed);
        // What was edited last is written a moment later.
        await page.waitForTimeout(2500);
        const kept = await keptRigs(page);
        for (const rig of kept) readRig(JSON.parse(JSON.stringify(rig)));
        await open();
      } catch (error) {
        problems.push((error as Error).message);
      }
      if (problems.length)
        failed(
          `walk ${seed} in ${VIEWS[Math.floor(seed / WIDTHS.length) % VIEWS.length]} at ${WIDTHS[seed % WIDTHS.length]} px: ${[...new Set(problems)].join(' · ').slice(0, 600)}`,
        );
      else
        console.log(
          `passed  walk ${seed} in ${VIEWS[Math.floor(seed / WIDTHS.length) % VIEWS.length]} at ${WIDTHS[seed % WIDTHS.length]} px, ${ACTS} acts`,
        );
      await context.close();
    }
  } finally {
    await browser.close();
    server.kill();
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
  const server = spawn(process.execPath, ['node_modules/tsx/dist/cli.mjs', 'src/server/main.ts'], {
    env: { ...process.env, PORT: String(PORT), DEMO: 'build/demo-small' },
    stdio: 'ignore',
  });
  const profile = mkdtempSync(join(tmpdir(), 'wavicle-kills-'));
  try {
    for (
      let tries = 0;
      tries < 100 &&
      !(await fetch(`${ADDRESS}/demo/takes.json`).then(
        ({ ok }) => ok,
        () => false,
      ));
      tries++
    )
      await new Promise((resolve) => setTimeout(resolve, 100));
    const lost = await killTabs(ADDRESS, profile, Number(many ?? 200), Date.now() % 100000, (n, ms) =>
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
    server.kill();
    rmSync(profile, { recursive: true, force: true });
  }
}

/** Two engines in step through an hour of the show. */
async function throughInStep(): Promise<void> {
  const seed = Number(first ?? Date.now() % 100000);
  const { compared, differ, events } = await soakInStep(
    'build/demo/perigee-tide.wavicle',
    Number(many ?? 3600),
    seed,
    (second, wrong) => console.log(`        second ${second}: ${wrong} differ`),
  );
  const words = `${compared} seconds of the show in step, ${events} events, seed ${seed}: ${differ} differ`;
  if (differ > 0 || compared === 0) failed(words);
  else console.log(`passed  ${words}`);
}

/** The first of two machines ended at random moments. */
async function throughTakeovers(): Promise<void> {
  const seed = Number(first ?? Date.now() % 100000);
  const all = await takeovers(Number(many ?? 20), seed, (n, { afterMs, offDb, hangs }) =>
    console.log(`        ${n + 1}: after ${afterMs} ms, ${offDb.toFixed(1)} dB off${hangs ? ', hangs' : ''}`),
  );
  const latest = Math.max(...all.map(({ afterMs }) => afterMs));
  const off = Math.max(...all.map(({ offDb }) => Math.abs(offDb)));
  const words = `${all.length} takeovers, seed ${seed}: at most ${latest} ms, ${off.toFixed(1)} dB off`;
  if (latest > 700 || off > 1 || all.some(({ hangs }) => hangs)) failed(words);
  else console.log(`passed  ${words}`);
}

const began = Date.now();
if (word === 'show') throughTheShow();
else if (word === 'bits') throughBits();
else if (word === 'kills') await throughKills();
else if (word === 'spare') await throughInStep();
else if (word === 'takeovers') await throughTakeovers();
else {
  await throughTheInterface(began + minutes * 30_000);
  inTheCore(began + minutes * 60_000);
}
console.log(failures ? `${failures} failed` : 'nothing failed');
process.exitCode = failures ? 1 : 0;
