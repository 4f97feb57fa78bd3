import { expect, test } from './base';
import { openDemo, watchProblems } from './steps';

/** Pairs of outputs and the click, by hand. */

watchProblems();

test('pairs are named, places flow to them, and the click goes nowhere before a pair was chosen for it', async ({
  page,
}) => {
  await openDemo(page);
  // The click leads to where it is chosen; it is off.
  const click = page.getByRole('button', { name: 'Click', exact: true });
  await click.click();
  const sheet = page.getByRole('dialog', { name: 'Outputs' });
  await expect(sheet.getByRole('status', { name: 'Latency' })).toContainText(/A key is heard about \d+ ms/);
  await expect(sheet.getByRole('button', { name: 'click', exact: true })).toBeDisabled();
  await sheet.getByRole('button', { name: '+ pair' }).click();
  const name = sheet.getByRole('textbox', { name: 'Name of pair 2' });
  await expect(name).toHaveValue('phones');
  await name.fill('left ear');
  await name.press('Enter');
  // This machine has two channels.
  await expect(sheet.getByText(/“left ear” has none here. What goes there is heard in the first pair/)).toBeVisible();
  await sheet.getByLabel('The click goes to').selectOption({ label: 'left ear' });
  await sheet.getByRole('button', { name: 'click', exact: true }).click();
  await expect(sheet.getByText('It is silent: this device has no channels for where it goes.')).toBeVisible();
  await expect(click).toHaveAttribute('aria-pressed', 'true');
  // Said to be on the first two channels, it is heard; and Check says so once it goes to the hall itself.
  await sheet.getByLabel('Channels of left ear here').selectOption({ label: 'channels 1 and 2' });
  await expect(sheet.getByText(/none here/)).toHaveCount(0);
  await expect(sheet.getByText(/It is silent/)).toHaveCount(0);
  await sheet.getByLabel('The click goes to').selectOption({ index: 1 });
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Check' }).click();
  await expect(page.getByText('The click goes to “hall”, where main goes.').first()).toBeVisible();
  // A layer flows there instead of main, main is sent there; both are seen in the river.
  await page.getByRole('link', { name: 'Mix' }).click();
  await page.getByRole('button', { name: 'Main', exact: true }).click();
  await page.getByLabel('Send to').selectOption({ label: 'left ear (outputs)' });
  await expect(page.getByRole('slider', { name: 'Send from main to left ear (outputs)' })).toBeVisible();
  await page.getByRole('button', { name: 'Layer Hull Bass' }).click();
  await page.getByLabel('Send to').selectOption({ label: 'left ear (outputs)' });
  await expect(page.getByRole('button', { name: 'left ear (outputs)', exact: true })).toBeVisible();
  // On Stage the click is off, for nobody said that it may be heard there.
  await expect(click).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('link', { name: 'Stage' }).click();
  await expect(page.getByRole('button', { name: 'Silence' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Click', exact: true })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await page.goto('/patch/low-water/mix');
  await expect(page.getByRole('button', { name: 'Click', exact: true })).toHaveAttribute('aria-pressed', 'false');
});
