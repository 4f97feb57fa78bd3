import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { readFileSync, writeFileSync } from 'node:fs';
import { unzipSync, zipSync } from 'fflate';
import { level, openDemo, samplesHere, watchProblems } from './steps';

watchProblems();

test('reload keeps an edit, the patch and the view', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('PageDown');
  await expect(page).toHaveURL(/\/patch\/tern-colony\/layers$/);
  const level0 = page.getByRole('region', { name: 'Layer Bowed Wire' }).getByRole('slider', { name: 'level' });
  await level0.focus();
  await page.keyboard.press('Home');
  await expect(level0).toHaveAttribute('aria-valuetext', 'silent');
  await expect(page.locator('header').getByRole('status')).toHaveText('saved');
  await page.reload();
  await expect(page).toHaveURL(/\/patch\/tern-colony\/layers$/);
  await expect(level0).toHaveAttribute('aria-valuetext', 'silent');
  await page.goto('/');
  await expect(page).toHaveURL(/\/patch\/tern-colony\/layers$/);
});

const exported = async (page: Page): Promise<string> => {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    (async () => {
      await page.getByRole('button', { name: 'New patch, rig and files' }).click();
      await page.getByRole('menuitem', { name: 'Export the rig' }).click();
    })(),
  ]);
  return (await download.path())!;
};

test('export, then import, gives the same rig; a damaged archive changes nothing and says what is wrong', async ({
  page,
}, info) => {
  await openDemo(page);
  const first = readFileSync(await exported(page));
  const damaged = info.outputPath('damaged.wavicle');
  const files = unzipSync(first);
  const victim = Object.keys(files).find((name) => name.endsWith('.wav'))!;
  files[victim][5000] ^= 255;
  writeFileSync(damaged, zipSync(files, { level: 0 }));
  const cut = info.outputPath('cut.wavicle');
  writeFileSync(cut, first.subarray(0, first.length / 2));
  const good = info.outputPath('good.wavicle');
  const renamed = unzipSync(first);
  renamed['rig.json'] = new TextEncoder().encode(
    new TextDecoder().decode(renamed['rig.json']).replace('"Perigee Tide"', '"Spring Tide"'),
  );
  writeFileSync(good, zipSync(renamed, { level: 0 }));

  await page.getByLabel('File to import').setInputFiles(damaged);
  await expect(page.getByRole('alert')).toContainText(`${victim}: is damaged`);
  await page.getByLabel('File to import').setInputFiles(cut);
  await expect(page.getByRole('alert').last()).toContainText('not a rig archive, or it is cut off');
  await expect(page.getByRole('button', { name: /^Patch / })).toContainText('Perigee Tide');

  await page.getByLabel('File to import').setInputFiles(good);
  await expect(page.getByRole('button', { name: /^Patch / })).toContainText('Spring Tide');
  const second = unzipSync(readFileSync(await exported(page)));
  // It stands beside the rig of that id, under an id of its own.
  const { id: _, ...whole } = JSON.parse(new TextDecoder().decode(renamed['rig.json'])) as { id: string };
  expect(JSON.parse(new TextDecoder().decode(second['rig.json']))).toMatchObject(whole);
  expect(Object.keys(second).sort()).toEqual(Object.keys(renamed).sort());
  expect(Buffer.from(second[victim]).equals(Buffer.from(unzipSync(first)[victim]))).toBe(true);
});

test('a second tab is read-only and takes over when the first is closed', async ({ context, page }) => {
  await openDemo(page);
  const second = await context.newPage();
  await second.goto('/');
  await expect(second.locator('header').getByRole('status')).toContainText('read-only');
  const mute = second.getByRole('button', { name: 'Mute Felt Keys' });
  // Controls are off, and say why.
  await expect(mute).toBeDisabled();
  await expect(second.locator('main')).toHaveAttribute('title', /Another tab has this rig/);
  await page.close();
  await expect(second.locator('header').getByRole('status')).toHaveText('saved');
  await mute.click();
  await expect(mute).toHaveAttribute('aria-pressed', 'true');
});

test('the take plays round and round, moves the wheel and leaves nothing behind', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('PageDown');
  await samplesHere(page);
  await page.getByRole('button', { name: 'Play the take' }).click();
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await expect
    .poll(async () => Number(await page.getByRole('slider', { name: 'wheel' }).getAttribute('aria-valuenow')), {
      timeout: 20_000,
    })
    .toBeGreaterThan(5);
  await page.getByRole('button', { name: 'Stop the take' }).click();
  await expect(page.getByTestId('voices')).toContainText('0 voices');
  await expect(page.getByRole('slider', { name: 'wheel' })).toHaveAttribute('aria-valuenow', '0');
});
