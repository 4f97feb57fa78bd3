import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { unreachable } from './reachable';
import { openDemo, watchProblems } from './steps';

watchProblems();

/** Once a page stands, everything can be reached: what is still on its way may be where it will not stay. */
async function nothingOutOfReach(page: Page, where: string): Promise<void> {
  await expect(async () => {
    await page.waitForTimeout(100);
    expect({ where, faults: await page.evaluate(unreachable) }).toEqual({ where, faults: [] });
  }).toPass({ timeout: 20_000 });
}

const VIEWS = ['layers', 'sounds', 'control', 'mix', 'check'] as const;
// A page at 200 % has half the pixels: 640 × 400.
for (const [width, height] of [
  [1280, 800],
  [1280, 640],
  [820, 640],
  [640, 400],
] as const) {
  test(`every control of every view can be reached and pressed, at ${width} × ${height}`, async ({ page }) => {
    await openDemo(page);
    await page.setViewportSize({ width, height });
    for (const patch of ['slack-tide', 'lantern-row']) {
      for (const view of VIEWS) {
        await page.goto(`/patch/${patch}/${view}`);
        await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible();
        await nothingOutOfReach(page, `${patch}, ${view}`);
      }
    }
    await page.goto('/stage');
    await nothingOutOfReach(page, 'stage');
  });
}

for (const [width, height] of [
  [1280, 800],
  [1024, 640],
  [820, 1100],
  [820, 640],
  [600, 900],
  [390, 844],
] as const) {
  test(`on Stage every control is whole and in sight at each step of the show, locked and unlocked, at ${width} × ${height}`, async ({
    page,
  }) => {
    await openDemo(page);
    await page.setViewportSize({ width, height });
    await page.goto('/stage');
    const walk = async (words: string) => {
      for (let step = 0; step < 13; step++) {
        await expect(page.getByText(new RegExp(`^${step + 1} of 13`)).first()).toBeVisible();
        await nothingOutOfReach(page, `${words}, step ${step + 1}`);
        await page.keyboard.press('PageDown');
      }
      for (let step = 0; step < 12; step++) await page.keyboard.press('PageUp');
    };
    await walk('locked');
    await page.getByRole('button', { name: /hold for a second to unlock/ }).press('Enter', { delay: 1300 });
    await expect(page.getByRole('link', { name: 'Build' })).toBeVisible();
    await walk('unlocked');
  });
}

test('Silence is in sight on a phone, locked and unlocked, and where the setlist is empty', async ({ page }) => {
  await openDemo(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto('/stage');
  const silence = page.getByRole('button', { name: 'Silence' });
  const inSight = async () => {
    const box = (await silence.boundingBox())!;
    return box.x >= 0 && box.x + box.width <= 390 && box.y >= 0 && box.y + box.height <= 844;
  };
  expect(await inSight()).toBe(true);
  await page.getByRole('button', { name: /hold for a second to unlock/ }).press('Enter', { delay: 1300 });
  await expect(page.getByRole('link', { name: 'Build' })).toBeVisible();
  expect(await inSight()).toBe(true);
});

test('a list of a hundred patches is walked, typed to find, and stays within the window', async ({ page }) => {
  await openDemo(page);
  await page.setViewportSize({ width: 1280, height: 640 });
  await page.getByRole('button', { name: /^Patch / }).click();
  const list = page.getByRole('listbox', { name: 'Choose another patch' });
  await expect(list.getByRole('option')).toHaveCount(12);
  const box = (await page.getByRole('dialog', { name: 'Choose another patch' }).boundingBox())!;
  expect(box.y + box.height).toBeLessThanOrEqual(640);
  await page.keyboard.type('marsh');
  await expect(list.getByRole('option')).toHaveCount(1);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/marsh-bells/);
  await expect(page.getByRole('button', { name: /^Patch Marsh Bells/ })).toBeFocused();
});

test('a lane is one stop of the Tab key, with arrows and Enter into it', async ({ page }) => {
  await openDemo(page);
  const lane = (n: number) => page.locator('[data-lane]').nth(n);
  await lane(0).focus();
  await page.keyboard.press('Tab');
  await expect(lane(1)).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(lane(0)).toBeFocused();
  await expect(lane(0)).toHaveAttribute('aria-current', 'true');
  await page.keyboard.press('Enter');
  await expect(lane(0).getByRole('button', { name: /^Move / })).toBeFocused();
  await page.keyboard.press('ArrowRight');
  await expect(lane(0).getByRole('button', { name: /^Solo / })).toBeFocused();
  await page.keyboard.press('Tab');
  await expect(lane(0).getByRole('button', { name: /^Mute / })).toBeFocused();
  // The handles of its edges have a focus that is seen.
  const handle = lane(0).getByRole('slider', { name: /lowest key/ });
  await handle.focus();
  await page.keyboard.press('ArrowRight');
  expect(
    await handle
      .locator('circle')
      .last()
      .evaluate((circle) => getComputedStyle(circle).strokeWidth),
  ).toBe('2.5px');
  await page.keyboard.press('Escape');
  await expect(lane(0)).toBeFocused();
});
