/** Random walks through the interface. */
import { spawn } from 'node:child_process';
import type { Browser, Page } from '@playwright/test';
import { Chance } from '../src/core/dsp/chance';
import { readRig } from '../src/core/rig/read';
import { keptRigs } from './kills';
import { KEYS, SLIDER_KEYS, walkInside } from './walkInside';

const WIDTHS = [1280, 820, 1600, 1024];
/** Acts of one walk. */
export const ACTS = 120;
const VIEWS = ['Mix', 'Layers', 'Control', 'Sounds', 'Stage'];
/** What opens a dialog of the browser's own, or leaves the page. */
const NOT_PRESSED = /export|import|as a file|MIDI file|delete .*rig|folder|take over|browse/i;
/** What comes from something having gone just before it was touched. */
const GONE = /timeout|detached|not visible|intercepts|not attached/i;

/** A server of the small demo at a port of its own, once it answers. */
export async function serveSmall(port: number): Promise<{ address: string; end: () => void }> {
  const server = spawn(process.execPath, ['node_modules/tsx/dist/cli.mjs', 'src/server/main.ts'], {
    env: { ...process.env, PORT: String(port), DEMO: 'build/demo-small' },
    stdio: 'ignore',
    detached: true,
  });
  const end = () => {
    process.off('exit', end);
    // What was begun for it ends with it.
    if (server.exitCode === null) process.kill(-server.pid!);
  };
  process.on('exit', end);
  const address = `http://localhost:${port}`;
  const answers = () =>
    fetch(`${address}/demo/takes.json`).then(
      ({ ok }) => ok,
      () => false,
    );
  for (let tries = 0; tries < 100 && !(await answers()); tries++)
    await new Promise((resolve) => setTimeout(resolve, 100));
  return { address, end };
}

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
    async () => page.keyboard.press(anyOf(KEYS)),
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

/** Longer than an edit takes to be written. */
const WRITTEN_MS = 2500;
/** More than there are steps. */
const MOST_STEPS = 400;

/** Undone all the way the rig is as it was before, and done again as it was left. */
async function wrongWhenUndone(page: Page, before: unknown[], left: unknown[]): Promise<string[]> {
  const wrong: string[] = [];
  for (let n = 0; n < 4; n++) await page.keyboard.press('Escape');
  // As the browser's own buttons do it: a view that has no head to press leads there as well, and nothing is
  // loaded anew.
  await page.evaluate((path) => {
    history.pushState({}, '', path);
    dispatchEvent(new PopStateEvent('popstate', { state: {} }));
  }, '/patch/perigee/mix');
  await page.getByRole('button', { name: 'Undo', exact: true }).waitFor({ timeout: 30_000 });
  // Where the walk itself had undone something, there is more to do again than was undone here.
  let steps = MOST_STEPS;
  for (const [name, wanted] of [
    ['Undo', before],
    ['Redo', left],
  ] as const) {
    // A handle, for it waits as long as it takes: so many steps in a large patch are a minute on a busy machine.
    const button = (await page.getByRole('button', { name, exact: true }).elementHandle({ timeout: 30_000 }))!;
    steps = await button.evaluate(async (element, most) => {
      let n = 0;
      for (; n < most && !(element as HTMLButtonElement).disabled; n++) {
        (element as HTMLButtonElement).click();
        await new Promise((resolve) => setTimeout(resolve));
      }
      return n;
    }, steps);
    if (steps === MOST_STEPS) wrong.push(`${name} never ends`);
    await page.waitForTimeout(WRITTEN_MS);
    const difference = differenceOf(wanted, await keptRigs(page));
    if (difference) wrong.push(`${name}, ${steps} steps: ${difference}`);
  }
  return wrong;
}

/** Where two values of JSON differ first, or undefined. */
function differenceOf(a: unknown, b: unknown, place = ''): string | undefined {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null)
    return Object.is(a, b) ? undefined : `${place} ${JSON.stringify(a)} is ${JSON.stringify(b)}`.slice(0, 300);
  for (const key of new Set([...Object.keys(a), ...Object.keys(b)])) {
    const found = differenceOf((a as never)[key], (b as never)[key], `${place}.${key}`);
    if (found) return found;
  }
  return undefined;
}

/** Where a walk by this seed goes. */
export const nameOfWalk = (seed: number): string =>
  `walk ${seed} in ${viewOf(seed)} at ${WIDTHS[seed % WIDTHS.length]} px`;
const viewOf = (seed: number): string => VIEWS[Math.floor(seed / WIDTHS.length) % VIEWS.length];

/** What came of a walk. */
export interface WalkEnded {
  wrong: string[];
  /** Whether the rig was another at its end. */
  changed: boolean;
  /** Whether it was undone and done again: a rig that was opened on the way has steps of its own. */
  undone: boolean;
  /** Acts of each kind, of a walk from inside the page. */
  kinds: Record<string, number>;
}

/**
 * One walk from the demo on, in a context of its own: nothing may be thrown or told to the console, what is kept must be
 * a rig that can be read, undone it must be what it was, and the page must open with it. `inside`: so many acts, from
 * inside the page; 0: by hands from outside.
 */
export async function walkThrough(browser: Browser, address: string, seed: number, inside = 0): Promise<WalkEnded> {
  const context = await browser.newContext({ viewport: { width: WIDTHS[seed % WIDTHS.length], height: 800 } });
  const page = await context.newPage();
  page.setDefaultTimeout(1000);
  const problems: string[] = [];
  let changed = false;
  let undone = false;
  let kinds: Record<string, number> = {};
  page.on('pageerror', (error) => problems.push((error.stack ?? error.message).slice(0, 900)));
  page.on('console', (message) => {
    if (message.type() === 'error') problems.push(message.text());
  });
  // While something is recorded the page asks before it is left.
  page.on('dialog', (dialog) => void (dialog.type() === 'beforeunload' ? dialog.accept() : dialog.dismiss()));
  try {
    const open = async () => {
      await page.goto(address, { timeout: 30_000 });
      await page.getByTestId('keyboard').locator('rect[data-key]').first().waitFor({ timeout: 30_000 });
    };
    await open();
    await page.getByRole('link', { name: viewOf(seed), exact: true }).click({ timeout: 30_000 });
    // What was edited last is written a moment later; the demo itself when the machine has time for it.
    let before: unknown[] = [];
    for (let n = 0; before.length === 0 && n < 30; n++) {
      await page.waitForTimeout(WRITTEN_MS);
      before = await keptRigs(page);
    }
    if (inside > 0) kinds = await walkInside(page, seed, inside, NOT_PRESSED);
    else await walk(page, seed);
    await page.waitForTimeout(WRITTEN_MS);
    const kept = await keptRigs(page);
    for (const rig of kept) readRig(JSON.parse(JSON.stringify(rig)));
    changed = differenceOf(before, kept) !== undefined;
    undone = kept.length === before.length;
    if (undone) problems.push(...(await wrongWhenUndone(page, before, kept)));
    await open();
  } catch (error) {
    problems.push((error as Error).message);
  } finally {
    await context.close();
  }
  return { wrong: [...new Set(problems)], changed, undone, kinds };
}
