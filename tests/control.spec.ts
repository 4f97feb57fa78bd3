import accessibilityFaults from './axe';
import { expect, test } from './base';
import { addLayer, keyPoint, level, openDemo, readout, samplesHere, watchProblems } from './steps';
import type { Page } from '@playwright/test';

const control = (page: Page) => page.getByRole('link', { name: 'Control' }).click();
const layers = (page: Page) => page.getByRole('link', { name: 'Layers' }).click();
const routes = (page: Page) => page.getByRole('table').getByRole('row');

watchProblems();

/** Drags on a strip by a share of its width. */
async function drag(page: Page, name: string, by: number): Promise<void> {
  const strip = page.getByRole('slider', { name, exact: true }).first();
  await strip.scrollIntoViewIfNeeded();
  const box = (await strip.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 6, box.y + box.height / 2);
  await page.mouse.move(box.x + box.width * (0.5 + by), box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
}

test('a macro with three targets by pointing: it plays, is heard, survives a reload, and is undone whole', async ({
  page,
}) => {
  await openDemo(page);
  await samplesHere(page);
  await control(page);
  await page.getByRole('button', { name: '+ macro' }).click();
  await page.getByRole('button', { name: 'connect … with Macro 1' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'is out' })).toBeVisible();
  await layers(page);
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  for (const [name, by] of [
    ['pan', 0.3],
    ['high cut', -0.4],
    ['low cut', 0.2],
  ] as const)
    await drag(page, name, by);
  // The level of the first lane, to silence.
  await drag(page, 'level', -0.9);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('status').filter({ hasText: 'is out' })).toHaveCount(0);
  await control(page);
  await expect(routes(page)).toHaveCount(5);
  await expect(page.getByRole('row', { name: /Macro 1 level of Hull Bass/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Macro 1 high cut of Felt Keys/ })).toBeVisible();
  // Played: the bass is heard with the macro down, and not with it up; the patch itself stays as it is.
  const strike = async (): Promise<number> => {
    const { x, y } = await keyPoint(page, 40);
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.waitForTimeout(500);
    const heard = await level(page);
    await page.mouse.up();
    await page.waitForTimeout(900);
    return heard;
  };
  expect(await strike()).toBeGreaterThan(-30);
  const macro = page.getByRole('slider', { name: 'Macro 1', exact: true });
  await macro.focus();
  await page.keyboard.press('End');
  await expect(macro).toHaveAttribute('aria-valuenow', '100');
  await page.waitForTimeout(1200);
  expect(await strike()).toBeLessThan(-40);
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(macro).toHaveAttribute('aria-valuenow', '0');
  await expect(routes(page)).toHaveCount(5);
  // A reload begins another history: what was made is taken away by hand, and brought back by undo.
  await macro.focus();
  await page.getByRole('button', { name: 'Delete this macro' }).click();
  await expect(page.getByRole('table')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(routes(page)).toHaveCount(5);
  expect(await accessibilityFaults(page)).toEqual([]);
});

test('an XY pad over four layers: in a corner one plays alone, in the middle all do; a blend of two; all of it undone', async ({
  page,
}) => {
  await openDemo(page);
  await addLayer(page, 'Harbour Bells');
  await addLayer(page, 'Reed Bank');
  await control(page);
  await page.getByRole('button', { name: 'Spread over a pad' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  const pad = page.getByTestId('pad-1');
  const box = (await pad.boundingBox())!;
  const key = await keyPoint(page, 72);
  await page.mouse.move(key.x, key.y);
  const heard = async () => Promise.all(['Felt Keys', 'Harbour Bells', 'Reed Bank'].map((name) => readout(page, name)));
  await expect.poll(heard).toEqual(['−6.0 dB', '−6.0 dB', '−6.0 dB']);
  // The dot is held, and stays within its pad.
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width + 30, box.y - 20, { steps: 5 });
  await page.mouse.up();
  await page.mouse.move(key.x, key.y);
  await expect.poll(async () => (await heard())[0]).toMatch(/^(0\.0|−0\.\d) dB$/);
  await expect.poll(async () => (await heard())[1]).toMatch(/silent|−\d\d/);
  await page.getByRole('button', { name: 'return to start' }).click();
  await page.mouse.move(key.x, key.y);
  await expect.poll(heard).toEqual(['−6.0 dB', '−6.0 dB', '−6.0 dB']);
  await page.getByRole('button', { name: 'Blend layers' }).click();
  for (const name of ['Hull Bass', 'Felt Keys']) await page.getByRole('checkbox', { name }).uncheck();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByRole('img', { name: 'Gain of Harbour Bells, Reed Bank along the blend' })).toBeVisible();
  const paths = () =>
    page
      .getByRole('img', { name: /^Gain of Harbour Bells, Reed Bank/ })
      .locator('path')
      .evaluateAll((all) => all.map((each) => each.getAttribute('d')));
  await page.getByLabel('drawn over').selectOption('key');
  const level = await paths();
  await page.getByRole('slider', { name: 'by key' }).focus();
  await page.keyboard.press('End');
  await expect.poll(paths).not.toEqual(level);
  const low = await keyPoint(page, 108);
  await page.mouse.move(low.x, low.y);
  await expect.poll(async () => (await heard()).slice(1)).toEqual(['silent', '−6.0 dB']);
  for (let i = 0; i < 7; i++) await page.keyboard.press('Control+z');
  await expect(page.getByTestId('pad-1')).toHaveCount(0);
  await layers(page);
  await expect(page.locator('section[aria-label^="Layer "]')).toHaveCount(2);
  await page.getByLabel('From bottom to top', { exact: true }).selectOption('cc.1');
  await expect(page.getByTestId('plane')).toBeVisible();
});

test('a fader of the stand-in is learned and moves the macro; the monitor shows its bytes; an encoder on a strip goes through a macro', async ({
  page,
}) => {
  await openDemo(page);
  await control(page);
  await page.getByRole('button', { name: '+ macro' }).click();
  await page.getByRole('button', { name: 'more …' }).click();
  await page.getByRole('button', { name: 'Learn …' }).click();
  const fader = page.getByRole('slider', { name: 'fader 2' });
  await fader.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowUp');
  await expect(page.getByText('CC 21, channel 16 moves Macro 1, in every patch.')).toBeVisible();
  await page.keyboard.press('End');
  await expect(page.getByRole('slider', { name: 'Macro 1', exact: true })).toHaveAttribute('aria-valuenow', '100');
  await page.getByRole('button', { name: 'Monitor' }).click();
  await expect(page.getByRole('row', { name: /CC 21 = 127 16 BF 15 7F from Box Macro 1/ })).toBeVisible();
  expect(await accessibilityFaults(page)).toEqual([]);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Close the stand-ins' }).click();
  await layers(page);
  await page
    .getByRole('button', { name: /^What moves level/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'Learn: move a control …' }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'more …' }).click();
  await expect(page.getByText(/^Learning level/)).toHaveCount(0);
});

test('a wheel that gets other work says that it still moves the vibrato, and is freed in one click', async ({
  page,
}) => {
  await openDemo(page);
  await addLayer(page, 'Bowed Wire');
  await page.getByRole('button', { name: 'Bring in with …' }).click();
  await page.getByRole('combobox', { name: 'with' }).selectOption('cc.1');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText(/still moves the vibrato of Bowed Wire/)).toBeVisible();
  await page.getByRole('button', { name: 'Take that off for Bowed Wire' }).click();
  await page.getByRole('tab', { name: 'pitch', exact: true }).click();
  await expect(page.getByRole('button', { name: 'not on the wheel' })).toBeVisible();
});
