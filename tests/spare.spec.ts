import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ChildProcess } from 'node:child_process';
import { begin } from '../bench/kills';
import { heardDb, heardSince, hold, newMachine, openUnlocked, pair, serve, tap } from '../bench/twoMachines';
import { expect, ORIGIN, test } from './base';
import { title } from './kit/stage';
import { level } from './steps';

/** A second machine in step: two servers and two browsers here. */

const OWN = Number(new URL(ORIGIN).port);
const MAIN = OWN + 300;
let server: ChildProcess;
test.beforeAll(async () => {
  server = await serve(MAIN);
});
test.afterAll(() => {
  server.kill();
});

test('plays along in step and mute, takes over by a touch under held notes, and gives back', async ({ browser }) => {
  const main = await newMachine(browser);
  const second = await newMachine(browser);
  const problems: string[] = [];
  for (const page of [main, second]) {
    page.on('pageerror', (error) => problems.push(error.message));
    page.on('console', (message) => {
      if (message.type() === 'error' || message.type() === 'warning') problems.push(message.text());
    });
  }
  await openUnlocked(main, MAIN);
  await openUnlocked(second, OWN);
  await pair(main, second, MAIN, false);
  // It goes through the show with the other, which alone is heard.
  await main.keyboard.press('4');
  await main.keyboard.press('Enter');
  await expect(title(main)).toHaveText('Slack Tide');
  await expect(title(second)).toHaveText('Slack Tide');
  await hold(main, 60);
  await expect.poll(() => level(main)).toBeGreaterThan(-40);
  await main.waitForTimeout(1500);
  await expect(second.getByTestId('spare')).toContainText('in step since');
  expect(await level(second)).toBeLessThanOrEqual(-48);
  // What is edited on the one that leads is here as well; here it cannot be.
  await second.keyboard.press('5');
  await second.keyboard.press('Enter');
  await expect(title(second)).toHaveText('Slack Tide');
  const before = await level(main);
  await second.getByRole('button', { name: 'take over' }).click();
  await expect.poll(() => level(second)).toBeGreaterThan(before - 4);
  await expect.poll(() => level(main)).toBeLessThanOrEqual(-48);
  await expect(second.getByTestId('spare')).toContainText('This machine leads');
  await expect(main.getByTestId('spare')).toContainText('plays along, mute');
  await main.mouse.up();
  // Its own keys work at once, and let go of what only the other held.
  await expect(second.getByRole('button', { name: 'let go of what is held' })).toBeVisible();
  await hold(second, 67);
  await expect(second.getByRole('button', { name: 'let go of what is held' })).toHaveCount(0);
  await expect.poll(() => level(second)).toBeGreaterThan(-40);
  await second.mouse.up();
  await expect.poll(() => level(second), { timeout: 40_000 }).toBeLessThanOrEqual(-48);
  // Back, once both are in step again.
  await expect(main.getByTestId('spare')).toContainText('in step since', { timeout: 60_000 });
  await main.getByRole('button', { name: 'take over' }).click();
  await expect(main.getByTestId('spare')).toContainText('This machine leads');
  await expect(second.getByTestId('spare')).toContainText('plays along, mute');
  await hold(main, 60);
  await expect.poll(() => level(main)).toBeGreaterThan(-40);
  await main.mouse.up();
  // Nothing is left down by the changes between them: at the next rest they are in step once more.
  await expect(second.getByTestId('spare')).toContainText('in step since', { timeout: 60_000 });
  expect(problems).toEqual([]);
  for (const page of [main, second]) await page.context().close();
});

test('when the first page is loaded anew, the second has taken over by itself; touched, the first follows and takes back', async ({
  browser,
}) => {
  const main = await newMachine(browser);
  const second = await newMachine(browser);
  await openUnlocked(main, MAIN);
  await openUnlocked(second, OWN);
  await pair(main, second, MAIN, true);
  // An edit on the one that leads is one here, and none can be made here.
  await main.getByLabel('A4').fill('442');
  await main.keyboard.press('Enter');
  await expect(second.getByLabel('A4')).toHaveValue(/442/);
  await second.getByLabel('A4').fill('430');
  await second.keyboard.press('Enter');
  await expect(second.getByLabel('A4')).toHaveValue(/442/);
  await main.reload();
  await expect(second.getByTestId('spare')).toContainText('has taken over: “main machine” has ended');
  await hold(second, 60);
  await expect.poll(() => level(second)).toBeGreaterThan(-40);
  await second.mouse.up();
  await expect(main.getByTestId('spare')).toContainText('leads. This machine plays along, mute', { timeout: 30_000 });
  await main.mouse.click(300, 20);
  await expect(main.getByTestId('spare')).toContainText('in step since', { timeout: 60_000 });
  await main.getByRole('button', { name: 'take over' }).click();
  await expect(second.getByTestId('spare')).toContainText('plays along, mute');
  await hold(main, 60);
  await expect.poll(() => level(main)).toBeGreaterThan(-40);
  await main.mouse.up();
  for (const page of [main, second]) await page.context().close();
});

test('when the first is killed, the second goes on by itself within 0.7 s at the same level, and nothing hangs', async ({
  browser,
}) => {
  const profile = mkdtempSync(join(tmpdir(), 'wavicle-main-'));
  const first = await begin(profile);
  const second = await newMachine(browser);
  await tap(first.page);
  await openUnlocked(first.page, MAIN);
  await openUnlocked(second, OWN);
  await pair(first.page, second, MAIN, true);
  await first.page.keyboard.press('4');
  await first.page.keyboard.press('Enter');
  await expect(title(first.page)).toHaveText('Slack Tide');
  await expect(title(second)).toHaveText('Slack Tide');
  await hold(first.page, 60);
  await first.page.waitForTimeout(2500);
  await expect(second.getByTestId('spare')).toContainText('in step since');
  const now = Date.now();
  const before = await heardDb(first.page, now - 400, now);
  const killed = Date.now();
  await first.kill();
  await expect(second.getByTestId('spare')).toContainText('one plays alone');
  await second.waitForTimeout(400);
  const at = await heardSince(second, killed, before - 10);
  expect(at - killed).toBeLessThan(1500);
  expect(Math.abs((await heardDb(second, at + 30, at + 330)) - before)).toBeLessThan(3);
  await hold(second, 72);
  await second.mouse.up();
  await expect.poll(() => level(second), { timeout: 40_000 }).toBeLessThanOrEqual(-48);
  await second.context().close();
  rmSync(profile, { recursive: true, force: true });
});
