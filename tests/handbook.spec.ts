import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { keyPoint, level, openDemo, watchProblems } from './steps';

watchProblems();

/**
 * The steps of docs/handbook.md, done from its text alone: what it calls by name is looked for by that name, at 1280 ×
 * 800.
 */
const button = (page: Page, name: string | RegExp) => page.getByRole('button', { name }).first();
const view = (page: Page, name: string) => page.getByRole('link', { name, exact: true }).click();
const press = async (page: Page, key: number) => {
  const { x, y } = await keyPoint(page, key);
  await page.mouse.move(x, y);
  await page.mouse.down();
};

test('Begin: hear, play with keys, the take, silence, find, an empty patch', async ({ page }) => {
  await openDemo(page);
  await press(page, 60);
  await expect.poll(() => level(page)).toBeGreaterThan(-40);
  await page.mouse.up();
  await page.keyboard.press('p');
  await page.keyboard.down('q');
  await expect.poll(() => level(page)).toBeGreaterThan(-40);
  await page.keyboard.up('q');
  await page.keyboard.press('p');
  await page.keyboard.press('Space');
  await expect(button(page, 'Stop the take')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await expect.poll(() => level(page)).toBeLessThan(-40);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('high cut felt');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('slider', { name: 'high cut' }).first()).toBeVisible();
  await button(page, 'New patch, rig and files').click();
  await page.getByRole('menuitem', { name: 'New patch', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the patch' })).toBeFocused();
});

test('Bring in: the demo folder is read, heard, placed and taken back; a loop; levels; alternates', async ({
  page,
}) => {
  await openDemo(page);
  await view(page, 'Sounds');
  await button(page, 'Try the demo folder').click();
  await expect(button(page, /^Place \d+ files$/)).toBeEnabled({ timeout: 60_000 });
  await page.getByTestId('tray-files').press('ArrowDown');
  await expect(page.getByLabel('Enter puts the file')).toBeVisible();
  await button(page, /^Place \d+ files$/).click();
  await page.getByTestId('zone-map').click({ position: { x: 300, y: 60 } });
  await page.getByRole('tab', { name: 'Waveform' }).click();
  await page.getByRole('tab', { name: 'Zones' }).click();
  await page.getByTestId('zone-map').press('Control+a');
  await expect(button(page, 'Match levels')).toBeVisible();
  await expect(page.getByText('Alternates').first()).toBeVisible();
  await page.keyboard.press('Control+z');
});

test('Layer, split, crossfade: a second sound, a split, by velocity, with the wheel, windows, a group, two ways', async ({
  page,
}) => {
  await openDemo(page);
  await button(page, /^\+ layer from/).click();
  await page
    .getByRole('dialog')
    .getByRole('option', { name: /^Felt Keys/ })
    .first()
    .click();
  const lanes = page.getByRole('region', { name: /^Layer / });
  await expect(lanes).toHaveCount(3);
  await lanes.nth(0).getByRole('heading').click();
  await button(page, 'Split here').click();
  await page.keyboard.press('Escape');
  await button(page, 'Split here').click();
  const form = page.getByRole('dialog', { name: 'Split here' });
  await expect(form.getByRole('button', { name: 'exchange' })).toBeVisible();
  await form.getByRole('button', { name: 'Apply' }).click();
  await button(page, 'Crossfade by velocity').click();
  await page.getByRole('dialog', { name: 'Crossfade by velocity' }).getByRole('button', { name: 'Apply' }).click();
  await button(page, 'Bring in with …').click();
  await page
    .getByRole('dialog', { name: 'Bring in with …' })
    .getByLabel('with')
    .selectOption({ label: 'wheel (CC 1)' });
  await page.getByRole('dialog', { name: 'Bring in with …' }).getByRole('button', { name: 'Apply' }).click();
  await lanes.nth(0).getByRole('heading').click();
  await page.getByRole('tab', { name: 'windows' }).click();
  await page.getByLabel('from', { exact: true }).first().fill('F#2');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('from', { exact: true }).first()).toHaveValue('F♯2');
  for (const tab of ['level', 'filters', 'pitch', 'touch', 'start', 'notes', 'arpeggio', 'hears'])
    await page.getByRole('tab', { name: tab }).click();
  await lanes
    .nth(1)
    .getByRole('heading')
    .click({ modifiers: ['ControlOrMeta'] });
  await button(page, 'Group 2 layers').click();
  await expect(page.getByRole('region', { name: /^Group / })).toBeVisible();
  await button(page, 'compare').click();
  await expect(
    page
      .getByRole('group', { name: /versions/i })
      .or(page.getByRole('button', { name: /^A/ }))
      .first(),
  ).toBeVisible();
});

test('Move things, and mix: a macro and its sign, a pad, a mover, an effect, a shared one, who is in whose band', async ({
  page,
}) => {
  await openDemo(page);
  await view(page, 'Control');
  await button(page, '+ macro').click();
  await expect(button(page, 'Learn …')).toBeVisible();
  await page.keyboard.press('c');
  await view(page, 'Layers');
  await expect(page.locator('[data-connecting]').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await view(page, 'Control');
  await button(page, 'Spread over a pad').click();
  await page.getByRole('dialog').getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByRole('application', { name: /^XY pad/ })).toBeVisible();
  await button(page, '+ mover').click();
  await page.getByRole('menuitem').first().click();
  await expect(page.getByText('Built in, without a route')).toBeVisible();
  await view(page, 'Mix');
  await page
    .getByRole('button', { name: /^Layer / })
    .first()
    .click();
  await button(page, /^\+ effect on/).click();
  await page.getByRole('dialog').getByRole('option').first().click();
  await expect(button(page, 'without')).toBeVisible();
  await button(page, '+ shared effect').click();
  await page.getByRole('dialog').getByRole('option').first().click();
  await expect(page.getByText('Who is in whose band')).toBeVisible();
  await button(page, 'take and backing').click();
  await expect(page.getByTestId('notes')).toBeVisible();
});

test('Check, the show, bounce and hand over stand where the handbook says', async ({ page }) => {
  await openDemo(page);
  await view(page, 'Check');
  await expect(button(page, /Mend all that is safe/)).toBeVisible();
  await expect(button(page, 'Thresholds …')).toBeVisible();
  await view(page, 'Stage');
  await page.getByRole('button', { name: /hold for a second/ }).press('Enter', { delay: 1300 });
  await button(page, 'Setlist').click();
  await expect(button(page, '+ patch')).toBeVisible();
  await button(page, 'Setlist').click();
  await button(page, 'Rehearsal').click();
  await page.getByRole('link', { name: 'Build' }).click();
  await button(page, 'New patch, rig and files').click();
  await page.getByRole('menuitem', { name: 'Bounce to samples …' }).click();
  await expect(page.getByRole('dialog').getByText('rebuild the patch')).toBeVisible();
  await page.keyboard.press('Escape');
  await button(page, 'New patch, rig and files').click();
  await page.getByRole('menuitem', { name: 'Hand over: takes, pages, archives …' }).click();
  for (const name of ['Write this take', 'With everything', 'With only what is used', /^Print/])
    await expect(page.getByRole('dialog').getByRole('button', { name })).toBeVisible();
  await page.keyboard.press('Escape');
  await view(page, 'Sounds');
  await expect(button(page, 'Send out …')).toBeVisible();
});

test('the handbook opens in the application with every picture', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('?');
  await page.getByRole('button', { name: 'Handbook: the whole job' }).click();
  const book = page.getByRole('dialog', { name: 'Handbook' });
  await expect(book.getByRole('heading', { name: 'Every command' })).toBeVisible();
  const pictures = book.locator('img');
  expect(await pictures.count()).toBeGreaterThan(15);
  for (const picture of await pictures.all()) {
    await picture.scrollIntoViewIfNeeded();
    await expect.poll(() => picture.evaluate((each: HTMLImageElement) => each.naturalWidth)).toBeGreaterThan(300);
  }
});
