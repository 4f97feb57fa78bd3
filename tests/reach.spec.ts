import { expect, test } from './base';
import { openDemo, watchProblems } from './steps';

watchProblems();

/** Controls that are in sight and yet cannot be pressed: of no size, outside the window, or under something else. What a panel scrolls to is scrolled to first. */
const unreachable = (): string[] => {
  const faults: string[] = [];
  const nameOf = (element: Element) => `${element.tagName.toLowerCase()} “${(element.getAttribute('aria-label') ?? element.textContent ?? '').trim().slice(0, 40)}”`;
  for (const element of document.querySelectorAll<HTMLElement>('button, a[href], input, select, textarea, [role="slider"], [role="tab"], [role="option"]')) {
    const style = getComputedStyle(element);
    if (element.closest('[hidden], .sr-only, [aria-hidden="true"], [inert], svg') || style.display === 'none' || style.visibility === 'hidden' || style.pointerEvents === 'none' || element.matches('.hidden, [type="file"], [tabindex="-1"], :disabled')) continue;
    if (element.getClientRects().length === 0) continue;
    element.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    const box = element.getBoundingClientRect();
    if (box.width < 4 || box.height < 4) { faults.push(`${nameOf(element)} is ${Math.round(box.width)} × ${Math.round(box.height)}`); continue; }
    const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
    // All of it, not only where it would be pressed: a button that is cut off is one that nobody reads.
    if (box.left < -1 || box.top < -1 || box.right > innerWidth + 1 || box.bottom > innerHeight + 1) { faults.push(`${nameOf(element)} is outside, at ${Math.round(x)}, ${Math.round(y)}`); continue; }
    const top = document.elementFromPoint(x, y);
    if (top && top !== element && !element.contains(top) && !top.contains(element) && !(element instanceof HTMLInputElement && top.closest('label')?.contains(element))) faults.push(`${nameOf(element)} lies under ${nameOf(top)}`);
  }
  return faults;
};

const VIEWS = ['layers', 'sounds', 'control', 'mix', 'check'] as const;
for (const [width, height] of [[1280, 800], [1280, 640], [820, 640]] as const) {
  test(`every control of every view can be reached and pressed, at ${width} × ${height}`, async ({ page }) => {
    await openDemo(page);
    await page.setViewportSize({ width, height });
    for (const patch of ['slack-tide', 'lantern-row']) {
      for (const view of VIEWS) {
        await page.goto(`/patch/${patch}/${view}`);
        await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible();
        await page.waitForTimeout(700);
        expect({ patch, view, faults: await page.evaluate(unreachable) }).toEqual({ patch, view, faults: [] });
      }
    }
    await page.goto('/stage');
    await page.waitForTimeout(700);
    expect(await page.evaluate(unreachable)).toEqual([]);
  });
}

for (const [width, height] of [[1280, 800], [1024, 640], [820, 1100], [820, 640], [600, 900], [390, 844]] as const) {
  test(`on Stage every control is whole and in sight at each step of the show, locked and unlocked, at ${width} × ${height}`, async ({ page }) => {
    await openDemo(page);
    await page.setViewportSize({ width, height });
    await page.goto('/stage');
    const walk = async (words: string) => {
      for (let step = 0; step < 13; step++) {
        await expect(page.getByText(new RegExp(`^${step + 1} of 13`)).first()).toBeVisible();
        await page.waitForTimeout(100);
        expect({ words, step, faults: await page.evaluate(unreachable) }).toEqual({ words, step, faults: [] });
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
  const inSight = async () => { const box = (await silence.boundingBox())!; return box.x >= 0 && box.x + box.width <= 390 && box.y >= 0 && box.y + box.height <= 844; };
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
