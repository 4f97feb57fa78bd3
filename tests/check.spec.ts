import { readFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import findings from './axe';
import { expect, test } from './base';
import { level, openDemo, soundsAbove, watchProblems } from './steps';

/** The rig listens to itself; a patch becomes samples again; everything travels in open formats. */

watchProblems();

const finding = (page: Page) => page.getByRole('complementary', { name: 'Finding', exact: true });
const list = (page: Page) => page.getByRole('list', { name: 'What was found' });
const sheet = async (page: Page, name: RegExp) => {
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name }).click();
};
/** Moves the lower end of the Felt Keys up: a gap of three keys. */
async function plantGap(page: Page): Promise<void> {
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  await page.getByRole('textbox', { name: 'from' }).first().fill('A3');
  await page.keyboard.press('Enter');
}

test('a fault is planted by hand, seen in the header and on the keys, heard, heard as mended, mended, and taken back', async ({
  page,
}) => {
  await openDemo(page);
  await plantGap(page);
  await expect(page.getByRole('link', { name: /Check.*1 found/ })).toBeVisible();
  await page.getByRole('link', { name: /^Check/ }).click();
  await expect(list(page)).toContainText('Between “Hull Bass” and “Felt Keys” nothing answers F♯3 to G♯3.');
  await expect(finding(page)).toContainText('It follows from the rig’s own numbers.');
  await expect(page.locator('rect[data-key="55"]')).toHaveAttribute('fill', /color-mix/);
  // As it is, the key is silent; as mended, it sounds, and nothing has changed yet.
  await finding(page)
    .getByRole('button', { name: /F♯3 at 100/ })
    .click();
  await page.waitForTimeout(500);
  expect(await level(page)).toBe(-48);
  await soundsAbove(page, -42, () => finding(page).getByRole('button', { name: 'as mended' }).click());
  await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled();
  await expect(list(page)).toContainText('Between “Hull Bass”');
  await finding(page).getByRole('button', { name: '“Felt Keys” reaches down to F♯3' }).click();
  await expect(list(page).getByText('Between “Hull Bass”')).toHaveCount(0);
  await expect(page.getByRole('link', { name: /found/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(list(page)).toContainText('Between “Hull Bass”');
  expect(await findings(page)).toEqual([]);
  await finding(page).getByRole('button', { name: 'Show it where it is' }).click();
  await expect(page).toHaveURL(/\/layers$/);
});

test('what is meant is set aside with its reason and stays aside; thresholds and roles are the rig’s own', async ({
  page,
}) => {
  await openDemo(page);
  await plantGap(page);
  await page.getByRole('link', { name: /^Check/ }).click();
  await list(page).getByText('Dead keys').click();
  await finding(page).getByRole('button', { name: 'Set aside …' }).click();
  await page.getByLabel('Why it is meant').fill('a pad of drums comes here');
  await page.keyboard.press('Enter');
  await expect(list(page).getByText('Dead keys')).toHaveCount(0);
  await expect(page.getByRole('status').filter({ hasText: /^saved$/ })).toBeAttached();
  await page.reload();
  await page.getByRole('button', { name: /with a reason/ }).click();
  await expect(list(page)).toContainText('Dead keys');
  await expect(finding(page)).toContainText('“a pad of drums comes here”');
  await finding(page).getByRole('button', { name: 'Count it again' }).click();
  await page.getByRole('button', { name: /^all/ }).click();
  await expect(list(page)).toContainText('Dead keys');
  // A layer that is called drums has dead keys around it by right: of that no rule speaks.
  await finding(page).getByLabel('“Felt Keys” is for').selectOption('keys');
  await page.getByRole('button', { name: 'Thresholds …' }).click();
  const field = page.getByLabel('Stretched far: semitones from the root');
  await field.fill('99');
  await page.keyboard.press('Enter');
  await expect(field).toHaveAttribute('aria-invalid', 'true');
  await field.fill('1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'back to 7' })).toBeVisible();
  await expect(list(page)).toContainText('more than 1 semitones');
  await page.getByRole('button', { name: 'back to 7' }).click();
  await expect(list(page).getByText('more than 1 semitones')).toHaveCount(0);
});

test('listening measures what numbers cannot tell: a patch that is louder than the show is found and levelled', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'Mix' }).click();
  await page.getByRole('button', { name: 'Main', exact: true }).click();
  await page.getByRole('slider', { name: 'level' }).first().focus();
  for (let n = 0; n < 6; n++) await page.keyboard.press('ArrowDown');
  await page.getByRole('link', { name: /^Check/ }).click();
  await expect(page.getByText(/Listened to/)).toBeVisible({ timeout: 60_000 });
  await expect(list(page)).toContainText(/“Low Water” is \d+(\.\d)? LU softer than the middle of the show/, {
    timeout: 110_000,
  });
  await list(page).getByText('Louder or softer than the show').click();
  await expect(finding(page).getByRole('img', { name: /LUFS over patch/ })).toBeVisible();
  await finding(page)
    .getByRole('button', { name: /^Raise this patch by/ })
    .click();
  await expect(list(page).getByText('Louder or softer')).toHaveCount(0, { timeout: 60_000 });
});

test('a patch is bounced, compared with the old one, played, and taken back; a bounce can be given up', async ({
  page,
}) => {
  await openDemo(page);
  await sheet(page, /^Bounce to samples/);
  const dialog = page.getByRole('dialog', { name: 'Bounce to samples' });
  const put = async (name: string, value: string) => {
    await dialog.getByLabel(name).fill(value);
    await page.keyboard.press('Enter');
  };
  await put('strikes', '40, 100');
  await expect(dialog).toContainText('34 strikes');
  await dialog.getByRole('button', { name: 'Bounce', exact: true }).click();
  await dialog.getByRole('button', { name: 'Give up' }).click();
  await expect(dialog.getByRole('button', { name: 'Bounce', exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await put('every so many keys', '12');
  await put('held for, seconds', '0.5');
  await dialog.getByRole('button', { name: 'Bounce', exact: true }).click();
  await expect(dialog.getByText(/Low Water bounced is there: \d+ zones/)).toBeVisible({ timeout: 60_000 });
  await soundsAbove(page, -42, () => dialog.getByRole('button', { name: '▶ the new one' }).click());
  await dialog.getByRole('button', { name: 'Go to it' }).click();
  await expect(page.getByRole('button', { name: /^Patch Low Water bounced/ })).toBeVisible();
  await expect(page.getByRole('region', { name: /^Layer / })).toHaveCount(1);
  const key = (await page.getByTestId('keyboard').locator('rect[data-key="60"]').boundingBox())!;
  await page.mouse.move(key.x + key.width / 2, key.y + key.height * 0.85);
  await soundsAbove(page, -42, () => page.mouse.down());
  await page.mouse.up();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: /^Patch Low Water bounced/ })).toHaveCount(0);
});

test('takes go out as files that sum to the whole, the rig with only what is used, and a page of the patch is one page', async ({
  page,
}) => {
  await openDemo(page);
  await sheet(page, /^Hand over/);
  const dialog = page.getByRole('dialog', { name: 'Hand over' });
  await dialog.getByLabel('stems').check();
  const [stems] = await Promise.all([
    page.waitForEvent('download', { timeout: 100_000 }),
    dialog.getByRole('button', { name: 'Write this take' }).click(),
  ]);
  const files = unzipSync(readFileSync(await stems.path()));
  const names = Object.keys(files);
  expect(names.map((name) => name.replace(/^.*\d\d /, ''))).toEqual([
    'Low Water low water.wav',
    'Hull Bass.wav',
    'Felt Keys.wav',
    'Dome return.wav',
    'main.wav',
  ]);
  await dialog.getByLabel('stems').uncheck();
  await dialog.getByLabel('Format').selectOption('flac');
  const [flac] = await Promise.all([
    page.waitForEvent('download', { timeout: 100_000 }),
    dialog.getByRole('button', { name: 'Write this take' }).click(),
  ]);
  expect(
    readFileSync(await flac.path())
      .subarray(0, 4)
      .toString(),
  ).toBe('fLaC');
  const [archive] = await Promise.all([
    page.waitForEvent('download', { timeout: 100_000 }),
    dialog.getByRole('button', { name: 'With only what is used' }).click(),
  ]);
  const path = await archive.path();
  // The same patches come in beside themselves, without a sound or a recording twice.
  await dialog
    .getByLabel('Archive to take patches from')
    .setInputFiles({ name: 'tide.wavicle', mimeType: 'application/zip', buffer: readFileSync(path) });
  const patches = dialog.getByRole('list', { name: 'Patches to take' }).getByRole('checkbox');
  await expect(patches).toHaveCount(12);
  for (let n = 1; n < 12; n++) await patches.nth(n).uncheck();
  await dialog.getByRole('button', { name: 'Take 1 in' }).click();
  await expect(
    page.getByText(/1 patch came in with 0 sounds and 0 recordings; \d+ sounds and \d+ recordings were here already/),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  // A broken one changes nothing.
  await dialog
    .getByLabel('Archive to take patches from')
    .setInputFiles({ name: 'odd.wavicle', mimeType: 'application/zip', buffer: Buffer.from('no zip at all') });
  await expect(page.getByText(/“odd.wavicle” cannot be read: .*Nothing has changed/)).toBeVisible();
  expect(await findings(page)).toEqual([]);
  const pdf = await page.pdf({ format: 'A4' });
  expect(pdf.toString('latin1').match(/\/Type\s*\/Page[^s]/g)).toHaveLength(1);
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByTestId('printed-patch')).toContainText('Hull Bass');
  await expect(page.getByTestId('printed-patch')).toContainText('♩ = 84');
  await page.emulateMedia({ media: null });
});

test('a sound goes out as a SoundFont that comes back in, and as FLAC', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'Sounds' }).click();
  await page.getByRole('button', { name: 'Send out …' }).click();
  const [font] = await Promise.all([
    page.waitForEvent('download', { timeout: 60_000 }),
    page.getByRole('menuitem', { name: 'SoundFont 2' }).click(),
  ]);
  const path = test.info().outputPath(font.suggestedFilename());
  await font.saveAs(path);
  const bytes = readFileSync(path);
  expect(bytes.subarray(0, 4).toString() + bytes.subarray(8, 12).toString()).toBe('RIFFsfbk');
  // The command line reads it as well: an archive of one sound.
  const found = JSON.parse(
    execFileSync(
      'node',
      [
        'node_modules/tsx/dist/cli.mjs',
        'src/cli/main.ts',
        'import',
        path,
        '--out',
        test.info().outputPath('font.wavicle'),
      ],
      { encoding: 'utf8' },
    ),
  ) as { sounds: { zones: number }[] };
  expect(found.sounds[0].zones).toBeGreaterThan(2);
});
