import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { openDemo } from './steps';

/** A tablet on a stand: fingers, no pointer that hovers. */

const onTablet = async (browser: import('@playwright/test').Browser, run: (page: Page) => Promise<void>) => {
  const context = await browser.newContext({
    viewport: { width: 1180, height: 820 },
    hasTouch: true,
    isMobile: true,
    serviceWorkers: 'block',
  });
  try {
    const page = await context.newPage();
    await openDemo(page);
    expect(await page.evaluate(() => matchMedia('(pointer: coarse)').matches)).toBe(true);
    await run(page);
  } finally {
    await context.close();
  }
};

test('two fingers move two strips at once, as one step; undo takes both back', async ({ browser }) => {
  await onTablet(browser, async (page) => {
    const strips = page.locator('section[aria-label^="Layer "]').getByRole('slider', { name: 'level', exact: true });
    const before = [
      await strips.nth(0).getAttribute('aria-valuenow'),
      await strips.nth(1).getAttribute('aria-valuenow'),
    ];
    const boxes = [(await strips.nth(0).boundingBox())!, (await strips.nth(1).boundingBox())!];
    const client = await page.context().newCDPSession(page);
    const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', by: number) =>
      client.send('Input.dispatchTouchEvent', {
        type,
        touchPoints:
          type === 'touchEnd'
            ? []
            : boxes.map(({ x, y, width, height }, id) => ({ x: x + width / 2 - by, y: y + height / 2, id })),
      });
    await touch('touchStart', 0);
    for (let by = 4; by <= 32; by += 4) await touch('touchMove', by);
    await touch('touchEnd', 0);
    for (const n of [0, 1]) await expect(strips.nth(n)).not.toHaveAttribute('aria-valuenow', before[n]!);
    await page.getByRole('button', { name: 'Undo' }).click();
    for (const n of [0, 1]) await expect(strips.nth(n)).toHaveAttribute('aria-valuenow', before[n]!);
    await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  });
});

test('what is taken hold of in Layers and Control is 44 px for a finger, and there without hovering', async ({
  browser,
}) => {
  await onTablet(browser, async (page) => {
    for (const view of ['layers', 'control']) {
      await page.goto(`/patch/slack-tide/${view}`);
      await expect(page.getByRole('button', { name: 'Play the take' })).toBeVisible();
      await page.waitForTimeout(500);
      const small = await page.evaluate(() => {
        const out: string[] = [];
        for (const thing of document.querySelectorAll('[data-strip], .edge-grip, .grip, [data-testid="split-line"]')) {
          if (!thing.checkVisibility()) continue;
          const { width, height } = thing.getBoundingClientRect();
          const { opacity } = getComputedStyle(thing);
          const name = thing.getAttribute('aria-label') ?? thing.textContent ?? '';
          if (Math.max(width, height) < 43.5 || (thing.matches('[data-strip]') && height < 43.5) || Number(opacity) < 1)
            out.push(`${name}: ${width} × ${height}, ${opacity}`);
        }
        return out;
      });
      expect({ view, small }).toEqual({ view, small: [] });
    }
  });
});

test('a phone is told what can be done there, and what cannot', async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 390, height: 800 }, serviceWorkers: 'block' });
  const page = await context.newPage();
  await page.goto('/patch/perigee/layers');
  const told = page.getByRole('status', { name: 'This screen is narrow' });
  await expect(told).toContainText('Stage fits this one');
  await told.getByRole('button', { name: 'Close' }).click();
  await expect(told).toHaveCount(0);
  await context.close();
});
