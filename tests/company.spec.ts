import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { folderOf, wav } from './kit/folders';
import { openDemo, watchProblems } from './steps';

watchProblems();

const header = (page: Page) => page.locator('header').getByRole('status');

test('sounds are drawn from a folder: what a draw took comes in with it, undone it goes', async ({ page }, info) => {
  const folder = folderOf(info.outputPath('Weir'), {
    'one.wav': wav(261.6),
    'two.wav': wav(330),
    'three.wav': wav(392),
  });
  await openDemo(page);
  const plays = page.getByLabel('plays');
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  const sounds = await plays.locator('option').count();
  await page.getByRole('button', { name: 'Chance …' }).click();
  const sheet = page.getByRole('dialog', { name: 'Chance' });
  await sheet.getByRole('combobox', { name: 'Draw' }).selectOption({ label: 'layer Felt Keys' });
  await sheet.getByLabel('Folder to draw from').setInputFiles(folder);
  await expect(sheet.getByRole('combobox', { name: 'Sounds' })).toHaveValue('folder');
  await sheet.getByRole('slider', { name: 'how far' }).press('End');
  await sheet.getByRole('button', { name: 'Draw', exact: true }).click();
  await expect(plays.locator('option')).toHaveCount(sounds + 1, { timeout: 60_000 });
  await expect(plays.locator('option:checked')).toHaveText(/^(one|two|three)$/);
  await expect(header(page)).toHaveText('saved');
  await page.keyboard.press('Control+z');
  await expect(plays.locator('option')).toHaveCount(sounds);
  await expect(plays.locator('option:checked')).toHaveText('Felt Keys');
});

test('what an arpeggio makes of a take becomes a take, and plays past the arpeggio', async ({ page }) => {
  await openDemo(page);
  await page.goto('/patch/first-light/layers');
  await page.getByRole('region', { name: 'Layer Bells' }).getByRole('heading').click();
  await page.getByRole('tab', { name: /^arpeggio/ }).click();
  const take = page.getByRole('combobox', { name: 'take', exact: true });
  const before = await take.locator('option').count();
  const keep = page.getByRole('button', { name: 'write it down as a take' });
  await expect(keep).toBeEnabled();
  await keep.click();
  await expect(page.getByText(/\d+ notes are a take of this patch now/)).toBeVisible({ timeout: 60_000 });
  await expect(take.locator('option:checked')).toHaveText('Bells, written down');
  expect(await take.locator('option').count()).toBeGreaterThan(before - 1);
  await page.getByRole('button', { name: 'Edit the take' }).click();
  await expect(page.getByLabel('Bells plays')).toHaveValue(/^notes\./);
  await expect(page.getByTestId('notes')).not.toHaveAttribute('data-count', '0');
});

test('what is built in is switched off and on again for all layers, as one step each', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'Control' }).click();
  const off = page
    .getByRole('region', { name: 'Built in' })
    .getByRole('button', { name: /^bend.*: off for all layers/ });
  await off.scrollIntoViewIfNeeded();
  await off.click();
  await expect(off).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Control+z');
  await expect(off).toHaveAttribute('aria-pressed', 'false');
});

test('a new patch joins no show, and is offered to the setlist', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: 'New patch', exact: true }).click();
  await page.keyboard.type('Dry Dock');
  await page.keyboard.press('Enter');
  await page.getByRole('link', { name: 'Stage' }).click();
  await page.getByRole('button', { name: /hold for a second/ }).press('Enter', { delay: 1300 });
  await page.getByRole('button', { name: 'Setlist' }).click();
  const offers = page.getByRole('region', { name: 'In no show yet' });
  await offers.getByRole('button', { name: '+ Dry Dock' }).click();
  await expect(offers.getByRole('button', { name: '+ Dry Dock' })).toHaveCount(0);
  await expect(page.getByText(/of 14/).first()).toBeVisible();
});
