import { readFileSync } from 'node:fs';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM_ARGS, CHROMIUM_PATH } from '../bench/browser';
import { ORIGIN, expect, test } from './base';
import { keyPoint, level, openDemo, samplesHere, watchProblems } from './steps';

watchProblems();

const saved = 'saved';

test('an edit whose drag is interrupted by another view is kept', async ({ page }) => {
  await openDemo(page);
  const level = page.locator('section[aria-label^="Layer Hull Bass"]').getByRole('slider', { name: 'level' });
  const box = (await level.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.8, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.5, box.y + 8, { steps: 4 });
  const moved = await level.getAttribute('aria-valuenow');
  // By keyboard, while the button is still down: the element that was dragged is gone.
  await page.keyboard.press('PageDown');
  await expect(page).toHaveURL(/tern-colony/);
  await expect(page.locator('header').getByRole('status')).toHaveText(saved, { timeout: 5000 });
  await page.mouse.up();
  await page.goto('/patch/low-water/layers');
  await expect(level).toHaveAttribute('aria-valuenow', moved!);
});

test('a newer version in another tab is not kept waiting; this one says so and only reads from then on', async ({
  browser,
  baseURL,
}) => {
  // What it leaves behind is of a version that other tests cannot read.
  const context = await browser.newContext({ baseURL });
  const page = await context.newPage();
  await openDemo(page);
  // The worker of sounds has a connection of its own.
  await page.getByRole('link', { name: 'Sounds' }).click();
  await page.getByTestId('zone-map').focus();
  await page.keyboard.press('Control+a');
  await page.getByRole('tab', { name: 'Waveform' }).click();
  await expect(page.getByTestId('waveform')).toBeVisible();
  await page.waitForTimeout(500);
  const other = await context.newPage();
  await other.goto('/icon.svg');
  const ms = await other.evaluate(
    () =>
      new Promise<number>((resolve, reject) => {
        const began = performance.now();
        const request = indexedDB.open('wavicle', 99);
        request.onsuccess = () => {
          request.result.close();
          resolve(performance.now() - began);
        };
        request.onerror = () => reject(new Error(String(request.error)));
      }),
  );
  expect(ms).toBeLessThan(5000);
  await expect(page.getByText(/A newer version of Wavicle was opened in another tab/)).toBeVisible();
  await expect(page.locator('header').getByRole('status')).toHaveText('read-only');
  await context.close();
});

test('a digit in an untouched field of the setlist is typed there, and the show stays where it is', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'Stage' }).click();
  await page.getByRole('button', { name: /hold for a second to unlock/ }).press('Enter', { delay: 1300 });
  await page.keyboard.press('l');
  const field = page.locator('input[data-writing]').first();
  await field.focus();
  await page.keyboard.press('5');
  await page.waitForTimeout(1500);
  await expect(field).toHaveValue('5');
  await expect(page.getByText(/^1 of /)).toBeVisible();
  await page.keyboard.press('Escape');
});

test('an input of the computer is recorded: our own server permits it', async () => {
  const browser = await chromium.launch({
    executablePath: CHROMIUM_PATH,
    args: [...CHROMIUM_ARGS, '--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'],
  });
  const page = await browser.newPage({ baseURL: ORIGIN, viewport: { width: 1280, height: 800 } });
  await page.goto('/patch/low-water/sounds');
  await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible({ timeout: 30_000 });
  const { x, y } = await keyPoint(page, 60);
  await page.mouse.click(x, y);
  await samplesHere(page);
  await page.getByRole('button', { name: 'Record …' }).click();
  const box = page.getByRole('dialog', { name: 'Record an input' });
  const input = box.getByRole('combobox', { name: 'Input' });
  await expect(input.locator('option')).not.toHaveCount(1);
  await expect(input).not.toHaveValue('stand-in');
  await box.getByRole('button', { name: 'Record', exact: true }).click();
  await expect(box.getByText(/^[2-9]\.\d s$/)).toBeVisible({ timeout: 20_000 });
  await box.getByRole('button', { name: /Stop/ }).click();
  await expect(page.getByText('recording 1.wav').first()).toBeVisible({ timeout: 15_000 });
  // Chromium's fake device beeps: there is something in it.
  await expect(page.getByText(/Nothing came in/)).toHaveCount(0);
  await browser.close();
});

/**
 * A browser that keeps nothing: as its settings forbid it, as an older version of the page finds what a newer one left,
 * and as a tab that does not give way keeps it.
 */
const NOTHING = {
  'its settings forbid it': {
    words: /its settings do not let pages keep anything/,
    begin: async (page: Page) => {
      await page.addInitScript(() => {
        const refused = () => {
          throw new DOMException('refused', 'SecurityError');
        };
        const { open } = IDBFactory.prototype;
        const { request } = LockManager.prototype;
        Object.defineProperty(IDBFactory.prototype, 'open', { configurable: true, value: refused });
        for (const name of ['localStorage', 'sessionStorage'])
          Object.defineProperty(window, name, { configurable: true, get: refused });
        Object.defineProperty(LockManager.prototype, 'request', {
          configurable: true,
          value: () => Promise.reject(new DOMException('refused', 'SecurityError')),
        });
        Object.assign(window, {
          allow: () => {
            Object.defineProperty(IDBFactory.prototype, 'open', { configurable: true, value: open });
            Object.defineProperty(LockManager.prototype, 'request', { configurable: true, value: request });
          },
        });
      });
      return async () => page.evaluate(() => (window as unknown as { allow: () => void }).allow());
    },
  },
  'it was made by a newer version': {
    words: /made by a newer version of Wavicle/,
    begin: async (page: Page) => {
      await page.evaluate(
        () =>
          new Promise<void>((resolve) => {
            indexedDB.open('wavicle', 99).onsuccess = ({ target }) => {
              (target as IDBOpenDBRequest).result.close();
              resolve();
            };
          }),
      );
      return async () =>
        page.evaluate(
          () =>
            new Promise<void>((resolve) => {
              indexedDB.deleteDatabase('wavicle').onsuccess = () => resolve();
            }),
        );
    },
  },
  'an older tab does not give way': {
    words: /another tab with an older version/,
    begin: async (page: Page) => {
      const old = await page.context().newPage();
      await old.goto('/icon.svg');
      await old.evaluate(
        () =>
          new Promise<void>((resolve) => {
            indexedDB.open('wavicle', 1).onsuccess = () => resolve();
          }),
      );
      return async () => old.close();
    },
  },
} as const;
for (const [name, { words, begin }] of Object.entries(NOTHING)) {
  test(`where nothing can be kept (${name}) the demo plays from memory, files are read and written, and what was made is kept as soon as it can be`, async ({
    browser,
    baseURL,
  }) => {
    test.slow();
    const context = await browser.newContext({ baseURL });
    const page = await context.newPage();
    await page.goto('/icon.svg');
    const mend = await begin(page);
    await page.goto('/patch/low-water/layers');
    await expect(page.getByText(words)).toBeVisible({ timeout: 30_000 });
    await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible({ timeout: 30_000 });
    await page.locator('header').click({ position: { x: 400, y: 5 } });
    await samplesHere(page);
    // It plays, and edits are edits that are said not to be kept.
    const key = await keyPoint(page, 60);
    await page.mouse.move(key.x, key.y);
    await page.mouse.down();
    await expect.poll(async () => level(page)).toBeGreaterThan(-60);
    await page.mouse.up();
    const strip = page.locator('section[aria-label^="Layer Hull Bass"]').getByRole('slider', { name: 'level' });
    await strip.focus();
    await page.keyboard.press('ArrowLeft');
    const moved = await strip.getAttribute('aria-valuenow');
    await expect(page.locator('header').getByRole('status')).toHaveText('not saved');
    // Out and in again.
    await page.getByRole('button', { name: 'New patch, rig and files' }).click();
    const [file] = await Promise.all([
      page.waitForEvent('download', { timeout: 60_000 }),
      page
        .getByRole('menuitem', { name: /^Export/ })
        .first()
        .click(),
    ]);
    const path = await file.path();
    await page.getByRole('button', { name: 'New patch, rig and files' }).click();
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('menuitem', { name: /^Import a rig/ }).click(),
    ]);
    await chooser.setFiles({ name: 'again.wavicle', mimeType: 'application/zip', buffer: readFileSync(path) });
    await expect(page.getByText(/is open beside your other rigs/)).toBeVisible({ timeout: 60_000 });
    await mend();
    await page.getByRole('button', { name: 'Try again' }).click();
    await expect(page.getByText(/keeps what you do again/)).toBeVisible({ timeout: 30_000 });
    await expect(page.getByText(words)).toHaveCount(0);
    await expect(page.locator('header').getByRole('status')).toHaveText(saved);
    await context.newPage().then(async (fresh) => {
      await page.close();
      await fresh.goto('/patch/low-water/layers');
      await expect(
        fresh.locator('section[aria-label^="Layer Hull Bass"]').getByRole('slider', { name: 'level' }),
      ).toHaveAttribute('aria-valuenow', moved!, { timeout: 30_000 });
      await expect(fresh.locator('header').getByRole('status')).toHaveText(saved);
    });
    await context.close();
  });
}
