import { CHROMIUM_ARGS, CHROMIUM_PATH } from '../bench/browser';
import { expect, test } from './base';
import { unreachable } from './reachable';
import { openDemo, watchProblems } from './steps';

// A reader who has text at twice its size, in the browser's settings and not by zoom.
test.use({
  launchOptions: { executablePath: CHROMIUM_PATH, args: [...CHROMIUM_ARGS, '--blink-settings=defaultFontSize=32'] },
});
watchProblems();

/**
 * Words that are cut across: of a box that does not grow with them. Names that are shortened by intent say so in their
 * style.
 */
const cut = (): string[] =>
  [...document.querySelectorAll<HTMLElement>('button, h1, h2, h3, label, p, [role="slider"] span')].flatMap(
    (element) => {
      const style = getComputedStyle(element);
      if (
        element.getClientRects().length === 0 ||
        style.overflowY === 'visible' ||
        style.webkitLineClamp !== 'none' ||
        element.closest('.sr-only')
      )
        return [];
      return element.scrollHeight - element.clientHeight > 4
        ? [
            `${element.tagName.toLowerCase()} “${(element.textContent ?? '').trim().slice(0, 40)}”: ${element.scrollHeight} in ${element.clientHeight}`,
          ]
        : [];
    },
  );

const silenceInSight = (): boolean => {
  const silence = [...document.querySelectorAll('button')].find((button) => button.textContent === 'Silence')!;
  const box = silence.getBoundingClientRect();
  const top = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
  return box.left >= 0 && box.top >= 0 && box.right <= innerWidth && box.bottom <= innerHeight && top === silence;
};

for (const view of ['layers', 'sounds', 'control', 'mix', 'check'] as const) {
  test(`with text at twice its size words grow, nothing is cut, Silence stays: ${view}`, async ({ page }) => {
    await openDemo(page);
    await page.goto(`/patch/slack-tide/${view}`);
    await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible();
    await page.waitForTimeout(700);
    expect(await page.evaluate(() => getComputedStyle(document.body).fontSize)).toBe('26px');
    expect(await page.evaluate(silenceInSight)).toBe(true);
    expect(await page.evaluate(cut)).toEqual([]);
    expect(await page.evaluate(unreachable)).toEqual([]);
    expect(await page.evaluate(silenceInSight)).toBe(true);
  });
}

test('with text at twice its size the Stage is whole', async ({ page }) => {
  await openDemo(page);
  await page.goto('/stage');
  await expect(page.getByTestId('stage-title')).toBeVisible();
  expect(await page.evaluate(silenceInSight)).toBe(true);
  expect(await page.evaluate(unreachable)).toEqual([]);
});
