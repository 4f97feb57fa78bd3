import type { Page } from '@playwright/test';
import { expect, test } from './base';

/** Holds every test of a file to this: the page throws nothing and its console stays quiet. */
export function watchProblems(): void {
  const problems: string[] = [];
  test.beforeEach(({ page }) => {
    problems.length = 0;
    page.on('pageerror', (error) => problems.push(error.message));
    page.on('console', (message) => {
      if (message.type() === 'error' || message.type() === 'warning') problems.push(message.text());
    });
  });
  test.afterEach(() => expect(problems).toEqual([]));
}

/** The demo rig on its first patch, with nothing left from before. */
export async function openDemo(page: Page): Promise<void> {
  await forget(page);
  await page.goto('/patch/low-water/layers');
  await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible({ timeout: 30_000 });
  await expect(page).toHaveURL(/\/patch\/low-water\/layers$/);
  await page.locator('header').click({ position: { x: 400, y: 5 } });
  await samplesHere(page);
}

/** Clears what the browser keeps of rigs and settings; samples, which are what they are, may stay. */
export async function forget(page: Page): Promise<void> {
  await page.goto('/icon.svg');
  await page.evaluate(async () => {
    localStorage.clear();
    if (!(await indexedDB.databases()).some(({ name }) => name === 'wavicle')) return;
    await new Promise<void>((resolve, reject) => {
      const request = indexedDB.open('wavicle');
      request.onerror = () => reject(new Error('the database cannot be opened'));
      request.onsuccess = () => {
        const db = request.result;
        const names = ['rigs', 'state', 'states', 'takes', 'parts'].filter((name) =>
          db.objectStoreNames.contains(name),
        );
        if (names.length === 0) {
          db.close();
          resolve();
          return;
        }
        const transaction = db.transaction(names, 'readwrite');
        for (const name of names) transaction.objectStore(name).clear();
        transaction.oncomplete = () => {
          db.close();
          resolve();
        };
      };
    });
  });
}

/** Waits until sound runs and every sample of what plays has come. */
export const samplesHere = (page: Page): Promise<unknown> =>
  page.waitForFunction(
    () => !/samples? to come/.test(document.body.textContent!) && document.querySelector('[data-testid="voices"]'),
  );

/** The output level that the meter tells, in dB. */
export const level = async (page: Page): Promise<number> =>
  Number(await page.getByTestId('meter').getAttribute('aria-valuenow'));

/**
 * Does something, and holds it to this: the output was louder than `db` at some moment since. What sounds shortly is
 * not missed on a slow machine.
 */
export async function soundsAbove(page: Page, db: number, act: () => Promise<unknown>): Promise<void> {
  await page.evaluate(() => {
    const seen = window as { loudest?: number; watch?: number };
    seen.loudest = -120;
    window.clearInterval(seen.watch);
    seen.watch = window.setInterval(() => {
      seen.loudest = Math.max(
        seen.loudest!,
        Number(document.querySelector('[data-testid="meter"]')?.getAttribute('aria-valuenow') ?? -120),
      );
    }, 8);
  });
  await act();
  await expect.poll(() => page.evaluate(() => (window as { loudest?: number }).loudest!)).toBeGreaterThan(db);
}

/** A point on a key of the keyboard, low on its front. */
export async function keyPoint(page: Page, key: number): Promise<{ x: number; y: number }> {
  const box = (await page.getByTestId('keyboard').locator(`rect[data-key="${key}"]`).boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height * 0.85 };
}

/** What the readout says of a layer. */
export const readout = async (page: Page, layer: string): Promise<string> =>
  (await page.getByTestId('readout').locator('li').filter({ hasText: layer }).locator('span').last().textContent())!;

/** Drags a handle of a lane until it stands over a key. */
export async function fade(page: Page, handle: string, key: number): Promise<void> {
  const from = (await page.getByRole('slider', { name: handle }).locator('circle').last().boundingBox())!;
  const to = await keyPoint(page, key);
  const y = from.y + from.height / 2;
  await page.mouse.move(from.x + from.width / 2, y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, y, { steps: 4 });
  await page.mouse.move(to.x, y, { steps: 4 });
  await page.mouse.up();
}

/** The Sounds view with one sound of the demo rig, ready to be played. */
export async function openSounds(page: Page, soundId: string): Promise<void> {
  await openDemo(page);
  await page.goto(`/patch/low-water/sounds/${soundId}`);
  await expect(page.getByTestId('zone-map')).toBeVisible();
  await page.locator('header').click({ position: { x: 560, y: 5 } });
  await samplesHere(page);
}

/** Strikes a key on screen and lets it go. */
export async function strike(page: Page, key: number): Promise<void> {
  const { x, y } = await keyPoint(page, key);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.waitForTimeout(120);
  await page.mouse.up();
}

/** A layer of the patch in view from a sound of the rig. */
export async function addLayer(page: Page, sound: string): Promise<void> {
  await page.getByRole('button', { name: '+ layer from …' }).click();
  const many = page.getByRole('listbox', { name: 'Add a layer' }).getByRole('option', { name: sound, exact: true });
  await many.or(page.getByRole('menuitem', { name: sound, exact: true })).click();
}
