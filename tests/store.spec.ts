import { expect, test } from './base';
import { openDemo, soundsAbove } from './steps';

/** Harbour Store: heard first, and then taken into one's own rig, as a patch or as a layer. */

test('a patch of the store is heard in the place of the one in view, given back, and taken as a patch of this rig', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('button', { name: '+ layer from …' }).click();
  await page.getByText('the store …').click();
  const sheet = page.getByRole('complementary', { name: 'Harbour Store' }).or(page.getByRole('dialog'));
  await expect(page.getByRole('heading', { name: 'struck keys' })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Hear “/ })).toHaveCount(30);
  await soundsAbove(page, -50, () => page.getByRole('button', { name: 'Hear “Tide Tines”' }).click());
  await page.getByRole('button', { name: 'Give back what “Tide Tines” stands in for' }).click();
  await expect(page.getByRole('button', { name: 'Hear “Tide Tines”' })).toBeVisible();
  await page.getByRole('searchbox', { name: 'Look in the store' }).fill('drawbars');
  await expect(page.getByRole('button', { name: /^Hear “/ })).toHaveCount(1);
  await page.getByRole('searchbox', { name: 'Look in the store' }).fill('tide');
  await page.getByRole('button', { name: 'take “Tide Tines”' }).click();
  await expect(page.getByText('is a patch of this rig now')).toBeVisible();
  await expect(page.getByText('Tide Tines', { exact: true }).first()).toBeVisible();
  await expect(sheet).toHaveCount(0);
  await expect(page.getByText('as it is shown')).toBeAttached();
  // It is an edit like any other.
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page).not.toHaveURL(/tide-tines/);
});

test('a sound of the store becomes a layer of the patch in view', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: '+ layer from …' }).click();
  await page.getByText('the store …').click();
  await page.getByRole('radio', { name: 'sounds' }).click();
  await page.getByRole('button', { name: 'as a layer “Lamp Bars”' }).click();
  await expect(page.getByText('Lamp Bars').first()).toBeVisible();
  await expect(page.getByText('52 zones')).toBeVisible();
});
