import AxeBuilder from './axe';
import { expect, test, type Page } from '@playwright/test';
import { readFileSync, writeFileSync } from 'node:fs';
import { unzipSync, zipSync } from 'fflate';
import { fade, keyPoint, openDemo, level, readout } from './steps';

const problems: string[] = [];
test.beforeEach(({ page }) => {
  problems.length = 0;
  page.on('pageerror', (error) => problems.push(error.message));
  page.on('console', (message) => { if (message.type() === 'error' || message.type() === 'warning') problems.push(message.text()); });
});
test.afterEach(() => expect(problems).toEqual([]));

test('a key played on screen raises the meter, and panic takes it down', async ({ page }) => {
  await openDemo(page);
  await page.locator('header').click({ position: { x: 400, y: 5 } });
  await expect(page.getByTestId('voices')).toBeVisible();
  const { x, y } = await keyPoint(page, 64);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await expect.poll(() => level(page)).toBeGreaterThan(-40);
  await expect(page.getByTestId('voices')).toContainText('1 voices');
  await page.getByRole('button', { name: 'Silence' }).press('Enter');
  await expect.poll(() => level(page)).toBeLessThan(-45);
  await expect(page.getByTestId('voices')).toContainText('0 voices');
  await page.mouse.up();
});

test('the computer keyboard plays, holds with the pedal, and lets go', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('p');
  await expect(page.getByRole('button', { name: 'type to play' })).toHaveAttribute('aria-pressed', 'true');
  await page.waitForFunction(() => !document.body.textContent!.includes('samples to come'));
  await page.keyboard.down('q');
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await expect(page.getByTestId('readout')).toContainText('last strike: C4 (60), velocity 96');
  await page.getByLabel('Stand-in controllers').getByRole('button', { name: 'sustain' }).click();
  await page.keyboard.up('q');
  await page.waitForTimeout(700);
  await expect(page.getByTestId('voices')).toContainText('1 voices');
  await page.getByLabel('Stand-in controllers').getByRole('button', { name: 'sustain' }).click();
  await expect(page.getByTestId('voices')).toContainText('0 voices');
});

test('dragging a fade changes the readout to the formula’s number, in one step of undo', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  const keys = page.getByLabel('Layer Felt Keys in numbers').getByRole('region', { name: 'Keys' });
  await expect(keys.getByLabel('fade in')).toHaveValue('0');
  await fade(page, 'Felt Keys: fade in over keys', 66);
  await expect(keys.getByLabel('fade in')).toHaveValue('12');
  const { x, y } = await keyPoint(page, 58);
  await page.mouse.move(x, y);
  // gain = sin(π/2 · (58 − 54) / 12), worked out here and not by the application.
  const db = 20 * Math.log10(Math.sin((Math.PI / 2) * (4 / 12)));
  await expect.poll(() => readout(page, 'Felt Keys')).toBe(`${db.toFixed(1).replace('-', '−')} dB`);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(keys.getByLabel('fade in')).toHaveValue('0');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
});

test('split here, crossfade by velocity and bring in with the wheel are single steps', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'Split here' }).click();
  await page.getByLabel('first key of the upper one').fill('c4');
  await page.getByLabel('keys that sound both').fill('5');
  await page.getByLabel('keys that sound both').press('Enter');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('comes in from A3');
  const { x, y } = await keyPoint(page, 60);
  await page.mouse.move(x, y);
  await expect.poll(() => readout(page, 'Felt Keys')).toBe('−3.0 dB');
  await expect.poll(() => readout(page, 'Hull Bass')).toBe('−3.0 dB');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('F♯3 and up');
  await page.getByRole('button', { name: 'Crossfade by velocity' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('hard playing');
  await page.getByRole('button', { name: 'Bring in with …' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('with wheel');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('hard playing');
});

test('layers are added, renamed, typed, muted, moved and deleted; a wrong number is told and kept', async ({ page }) => {
  await openDemo(page);
  await page.getByLabel('Add a layer').selectOption('Harbour Bells');
  const bells = page.getByRole('region', { name: 'Layer Harbour Bells' });
  await expect(bells).toContainText('all keys');
  const keys = page.getByLabel('Layer Harbour Bells in numbers').getByRole('region', { name: 'Keys' });
  await keys.getByLabel('from').fill('C9999');
  await keys.getByLabel('from').press('Enter');
  await expect(keys.getByRole('alert')).toContainText('a key such as F#3, or a number from 0 to 127');
  await expect(keys.getByLabel('from')).toHaveValue('C9999');
  await keys.getByLabel('from').fill('72');
  await keys.getByLabel('from').press('Enter');
  await expect(keys.getByLabel('from')).toHaveValue('C5');
  await bells.getByRole('heading').dblclick();
  await bells.getByLabel('Name of the layer').fill('Far bells');
  await bells.getByLabel('Name of the layer').press('Enter');
  const far = page.getByRole('region', { name: 'Layer Far bells', exact: true });
  await far.getByRole('button', { name: 'Mute Far bells' }).click();
  const { x, y } = await keyPoint(page, 77);
  await page.mouse.move(x, y);
  await expect.poll(() => readout(page, 'Far bells')).toBe('silent');
  const handle = far.getByRole('button', { name: 'Move Far bells up or down' });
  await handle.focus();
  await page.keyboard.press('Space');
  await page.waitForTimeout(300);
  await page.keyboard.press('ArrowUp');
  await page.waitForTimeout(300);
  await page.keyboard.press('Space');
  await expect(page.locator('section[aria-label^="Layer "]').nth(1)).toHaveAttribute('aria-label', 'Layer Far bells');
  await page.getByRole('button', { name: 'More for Far bells' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(far).toHaveCount(0);
});

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
  const [download] = await Promise.all([page.waitForEvent('download'), (async () => {
    await page.getByRole('button', { name: /^Patch / }).click();
    await page.getByRole('menuitem', { name: 'Export the rig' }).click();
  })()]);
  return (await download.path())!;
};

test('export, then import, gives the same rig; a damaged archive changes nothing and says what is wrong', async ({ page }, info) => {
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
  renamed['rig.json'] = new TextEncoder().encode(new TextDecoder().decode(renamed['rig.json']).replace('"Perigee Tide"', '"Spring Tide"'));
  writeFileSync(good, zipSync(renamed, { level: 0 }));

  await page.getByLabel('File to import').setInputFiles(damaged);
  await expect(page.getByRole('alert')).toContainText(`${victim}: is damaged`);
  await page.getByLabel('File to import').setInputFiles(cut);
  await expect(page.getByRole('alert').last()).toContainText('not a rig archive, or it is cut off');
  await expect(page.getByRole('button', { name: /^Patch / })).toContainText('Perigee Tide');

  await page.getByLabel('File to import').setInputFiles(good);
  await expect(page.getByRole('button', { name: /^Patch / })).toContainText('Spring Tide');
  const second = unzipSync(readFileSync(await exported(page)));
  expect(JSON.parse(new TextDecoder().decode(second['rig.json']))).toEqual(JSON.parse(new TextDecoder().decode(renamed['rig.json'])));
  expect(Object.keys(second).sort()).toEqual(Object.keys(renamed).sort());
  expect(Buffer.from(second[victim]).equals(Buffer.from(unzipSync(first)[victim]))).toBe(true);
});

test('a second tab is read-only and takes over when the first is closed', async ({ context, page }) => {
  await openDemo(page);
  const second = await context.newPage();
  await second.goto('/');
  await expect(second.locator('header').getByRole('status')).toContainText('read-only');
  const mute = second.getByRole('button', { name: 'Mute Felt Keys' });
  await mute.click();
  await expect(mute).toHaveAttribute('aria-pressed', 'false');
  await page.close();
  await expect(second.locator('header').getByRole('status')).toHaveText('saved');
  await mute.click();
  await expect(mute).toHaveAttribute('aria-pressed', 'true');
});

test('the take plays round and round, moves the wheel and leaves nothing behind', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('PageDown');
  await page.waitForFunction(() => !document.body.textContent!.includes('samples to come'));
  await page.getByRole('button', { name: 'Play the take' }).click();
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await expect.poll(async () => Number(await page.getByRole('slider', { name: 'wheel' }).getAttribute('aria-valuenow')), { timeout: 20_000 }).toBeGreaterThan(5);
  await page.getByRole('button', { name: 'Stop the take' }).click();
  await expect(page.getByTestId('voices')).toContainText('0 voices');
  await expect(page.getByRole('slider', { name: 'wheel' })).toHaveAttribute('aria-valuenow', '0');
});

test('the accessibility check finds nothing, in either theme, with sheets and menus open', async ({ page }) => {
  await openDemo(page);
  expect(await AxeBuilder(page)).toEqual([]);
  await page.getByRole('button', { name: 'Night theme' }).click();
  await page.getByRole('button', { name: 'Shortcuts and settings' }).click();
  expect(await AxeBuilder(page)).toEqual([]);
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.getByRole('button', { name: 'Split here' }).click();
  expect(await AxeBuilder(page)).toEqual([]);
});

test('nothing scrolls the page at 1280 × 800, and middle C can have another name', async ({ page }) => {
  await openDemo(page);
  expect(await page.evaluate(() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight])).toEqual([1280, 800]);
  await page.keyboard.press('?');
  await page.getByLabel('Middle C (key 60) is called').selectOption('C3');
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('F♯2 and up');
});
