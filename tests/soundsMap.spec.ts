import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeWav } from '../src/core/formats/wav';
import { keyPoint, level, openDemo, openSounds, samplesHere, strike, watchProblems } from './steps';

watchProblems();

const numbers = (page: Page) => page.getByLabel('Chosen zones in numbers');
const heading = (page: Page) => numbers(page).getByRole('heading').first();
const part = (page: Page, name: string, label: string) =>
  numbers(page).getByRole('region', { name }).getByLabel(label, { exact: true });
/** A point over a key at a velocity of the map (which ends above its lower rail). */
async function mapPoint(page: Page, key: number, velocity: number): Promise<{ x: number; y: number }> {
  const box = (await page.getByTestId('zone-map').boundingBox())!;
  return { x: (await keyPoint(page, key)).x, y: box.y + (box.height - 12) * (1 - (velocity - 0.5) / 127) };
}
const clickMap = async (page: Page, key: number, velocity: number, modifier?: 'Shift') => {
  const { x, y } = await mapPoint(page, key, velocity);
  if (modifier) await page.keyboard.down(modifier);
  await page.mouse.click(x, y);
  if (modifier) await page.keyboard.up(modifier);
};
const drag = async (page: Page, points: { x: number; y: number }[]) => {
  await page.mouse.move(points[0].x, points[0].y);
  await page.mouse.down();
  for (const { x, y } of points.slice(1)) await page.mouse.move(x, y, { steps: 6 });
  await page.mouse.up();
};

test('zones are chosen by click, one more by Shift, all by Control A, a row by the rail, and some by a line around them', async ({
  page,
}) => {
  await openSounds(page, 'felt-keys');
  await clickMap(page, 60, 20);
  await expect(heading(page)).toHaveText('One zone');
  await expect(page.getByRole('table', { name: 'Zones' }).locator('[aria-selected="true"]')).toContainText(
    'Felt Keys C4 soft.wav',
  );
  await clickMap(page, 60, 110, 'Shift');
  await expect(heading(page)).toHaveText('2 zones');
  await clickMap(page, 60, 110, 'Shift');
  await expect(heading(page)).toHaveText('One zone');
  await page.getByTestId('zone-map').press('Control+a');
  await expect(heading(page)).toHaveText('40 zones');
  const box = (await page.getByTestId('zone-map').boundingBox())!;
  await page.mouse.click(box.x + 4, (await mapPoint(page, 60, 60)).y);
  await expect(heading(page)).toHaveText('10 zones');
  await expect(part(page, 'Velocities', 'from')).toHaveValue('49');
  // The tins leave water free for a line to begin in.
  await page.getByRole('button', { name: /^Tin Kit/ }).click();
  await expect(page.getByTestId('zone-map')).toHaveAttribute('aria-label', /^Map of 96 zones/);
  const corners = await Promise.all(
    [
      [35, 126],
      [40, 126],
      [40, 1],
      [35, 1],
      [35, 125],
    ].map(([key, velocity]) => mapPoint(page, key, velocity)),
  );
  await drag(page, corners);
  await expect(heading(page)).toHaveText('48 zones');
});

test('an edge and a fade are pulled by hand, and the numbers are those of the map', async ({ page }) => {
  await openSounds(page, 'hull-bass');
  await clickMap(page, 38, 115);
  await expect(part(page, 'Keys', 'from')).toHaveValue('C2');
  await expect(part(page, 'Keys', 'to')).toHaveValue('D2');
  const box = (await page.getByTestId('zone-map').boundingBox())!;
  const scale = ((await keyPoint(page, 48)).x - (await keyPoint(page, 36)).x) / 12;
  const { y } = await mapPoint(page, 38, 115);
  // The middle of a key at the back of the keyboard, where the map meets it.
  const right = (await keyPoint(page, 38)).x + scale / 2;
  await drag(page, [
    { x: right, y },
    { x: right + scale * 4.5, y },
  ]);
  await expect(part(page, 'Keys', 'to')).not.toHaveValue('D2');
  const to = await part(page, 'Keys', 'to').inputValue();
  expect(['F♯2', 'G2']).toContain(to);
  const top = box.y + 9;
  const middle = ((await keyPoint(page, 36)).x - scale / 2 + right + scale * 4.5) / 2;
  await drag(page, [
    { x: middle, y: top },
    { x: middle, y: top + 60 },
  ]);
  const fade = Number(await part(page, 'Velocities', 'fade out').inputValue());
  expect(fade).toBeGreaterThan(15);
  expect(fade).toBeLessThan(35);
  await page.keyboard.press('Control+z');
  await expect(part(page, 'Velocities', 'fade out')).toHaveValue('0');
  await page.keyboard.press('Control+z');
  await expect(part(page, 'Keys', 'to')).toHaveValue('D2');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
});

test('arrow keys move zones on the map and the choice in the table; Delete removes, undo brings back', async ({
  page,
}) => {
  await openSounds(page, 'hull-bass');
  await clickMap(page, 38, 64);
  await page.getByTestId('zone-map').press('ArrowRight');
  await expect(numbers(page).getByLabel('root', { exact: true })).toHaveValue('D2');
  await page.getByTestId('zone-map').press('Shift+ArrowLeft');
  await expect(numbers(page).getByLabel('root', { exact: true })).toHaveValue('E1');
  const rows = page.getByLabel('Zones: arrow keys choose, Shift chooses up to there');
  await rows.press('ArrowDown');
  await expect(page.getByRole('table', { name: 'Zones' }).locator('[aria-selected="true"]')).toHaveCount(1);
  await rows.press('Shift+ArrowDown');
  await expect(heading(page)).toHaveText('2 zones');
  await page.getByTestId('zone-map').press('Delete');
  await expect(page.getByRole('button', { name: /^Hull Bass/ })).toContainText('58');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /^Hull Bass/ })).toContainText('60');
});

test('the keys play the sound alone over its whole range, or the patch', async ({ page }) => {
  await openSounds(page, 'hull-bass');
  await strike(page, 72);
  await expect(page.getByTestId('last-answer')).toContainText('Hull Bass');
  await page.getByRole('button', { name: 'the patch', exact: true }).click();
  const answer = (key: number) =>
    expect.poll(async () => {
      await strike(page, key);
      await page.waitForTimeout(150);
      return page.getByTestId('last-answer').textContent();
    });
  await answer(72).toContain('Felt Keys');
  await answer(40).toContain('Hull Bass');
});

test('what was played in another program is not taken for an answer of this one', async ({ page }) => {
  await openDemo(page);
  for (const key of [41, 43, 45, 72]) await strike(page, key);
  // A patch without layers has no zones at all, and a sound its own.
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: 'New patch' }).click();
  await page.getByRole('link', { name: 'Sounds' }).click();
  await page.getByRole('button', { name: 'the patch', exact: true }).click();
  await page.waitForTimeout(300);
  await expect(page.getByTestId('last-answer')).toContainText('nothing yet');
  await page.getByRole('button', { name: /^Harbour Bells/ }).click();
  await page.getByRole('button', { name: 'this sound', exact: true }).click();
  await samplesHere(page);
  await strike(page, 60);
  await expect(page.getByTestId('last-answer')).toContainText('Harbour Bells');
});

test('an edit of a zone is kept, and so is the view', async ({ page }) => {
  await openSounds(page, 'hull-bass');
  await clickMap(page, 38, 64);
  await numbers(page).getByLabel('gain').fill('-4.5');
  await numbers(page).getByLabel('gain').press('Enter');
  await numbers(page).getByLabel('release').fill('2 s');
  await numbers(page).getByLabel('release').press('Enter');
  await expect(page.locator('header').getByRole('status')).toHaveText('saved');
  await page.waitForTimeout(300);
  await page.reload();
  await expect(page).toHaveURL(/\/patch\/low-water\/sounds\/hull-bass$/);
  await clickMap(page, 38, 64);
  await expect(numbers(page).getByLabel('gain')).toHaveValue('−4.5 dB');
  await expect(numbers(page).getByLabel('release')).toHaveValue('2 s');
});

test('levels are matched, and the soft stays softer where that is wished', async ({ page }) => {
  await openSounds(page, 'felt-keys');
  await page.getByRole('button', { name: 'Try the demo folder' }).click();
  await page.getByRole('button', { name: 'Place 20 files' }).click();
  await expect(page.getByTestId('zone-map')).toHaveAttribute('aria-label', /^Map of 20 zones/);
  await page.getByTestId('zone-map').press('Control+a');
  await expect(heading(page)).toHaveText('20 zones');
  await numbers(page).getByRole('button', { name: 'Match levels' }).click();
  // Within each dynamic the takes are alike already, to a few tenths.
  await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled();
  await page.waitForTimeout(400);
  await numbers(page).getByLabel('soft stays softer than hard').uncheck();
  await numbers(page).getByRole('button', { name: 'Match levels' }).click();
  // The soft ones are 8 dB below the hard ones: they come up by four, the others go down by four.
  const gains = async () =>
    await page
      .getByRole('table', { name: 'Zones' })
      .getByLabel(/^gain/)
      .evaluateAll((inputs) =>
        inputs.map((input) => Number((input as HTMLInputElement).value.replace('−', '-').replace(' dB', ''))),
      );
  await expect.poll(async () => Math.round(Math.max(...(await gains())))).toBe(4);
  await expect.poll(async () => Math.round(Math.min(...(await gains())))).toBe(-4);
});

test('reading many files can be stopped, and what was read stays', async ({ page }, info) => {
  const folder = info.outputPath('Many');
  mkdirSync(folder, { recursive: true });
  const data = Float32Array.from({ length: 44100 * 4 }, (_, i) => Math.sin(i / 30) * 0.3);
  for (let i = 0; i < 150; i++) {
    data[0] = i / 1000;
    writeFileSync(join(folder, `wire ${i}.wav`), writeWav({ rate: 44100, channels: 1, data }));
  }
  await openSounds(page, 'felt-keys');
  await page.getByLabel('Folder to bring in').setInputFiles(folder);
  const bar = page.getByRole('progressbar', { name: 'Files read' });
  await expect.poll(async () => Number(await bar.getAttribute('aria-valuenow'))).toBeGreaterThan(3);
  await page.getByRole('button', { name: 'Stop reading' }).click();
  await expect(bar).toHaveCount(0);
  const text = await page.getByRole('button', { name: /^Place \d+ files/ }).textContent();
  const count = Number(/\d+/.exec(text!)![0]);
  expect(count).toBeGreaterThan(3);
  expect(count).toBeLessThan(150);
});

test('a second tab can look at sounds and cannot place any', async ({ context, page }) => {
  await openSounds(page, 'felt-keys');
  const second = await context.newPage();
  await second.goto('/patch/low-water/sounds/felt-keys');
  await expect(second.locator('header').getByRole('status')).toContainText('read-only');
  await second.getByRole('button', { name: /^Tin Kit/ }).click();
  await expect(second.getByTestId('zone-map')).toHaveAttribute('aria-label', /^Map of 96 zones/);
  await expect(second.getByRole('button', { name: 'Try the demo folder' })).toBeDisabled();
  await expect(second.getByRole('button', { name: '+ new' })).toBeDisabled();
  await second.close();
});

test('effects begin at the controller’s lowest key, which the settings tell', async ({ page }) => {
  await openSounds(page, 'felt-keys');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Shortcuts' })).toContainText('step through the files and hear them');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', { name: 'Settings' }).click();
  await page.getByLabel('lowest key of the controller').fill('E1');
  await page.getByLabel('lowest key of the controller').press('Enter');
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.getByRole('button', { name: 'Try the demo folder' }).click();
  await expect(page.getByText('name 5 notes')).toBeVisible();
  await page.getByLabel('effects on keys').check();
  await expect(page.getByText('one file for each key from E1 (28)')).toBeVisible();
  await page.getByLabel('by pitch').check();
  await expect(page.getByText('roots by ear')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Place 20 files' })).toBeEnabled({ timeout: 30_000 });
});

test('a layer for each dynamic: two sounds, two layers, their velocities apart', async ({ page }) => {
  await openSounds(page, 'felt-keys');
  await page.getByRole('button', { name: 'Try the demo folder' }).click();
  await page.getByLabel('a layer for each dynamic').check();
  await page.getByLabel('soft edge').fill('20');
  await page.getByLabel('soft edge').press('Enter');
  await page.getByRole('button', { name: 'Place 20 files' }).click();
  await expect(page.getByRole('button', { name: /^Fog Signal soft/ })).toContainText('10');
  await page.getByRole('link', { name: 'Layers' }).click();
  await expect(page.getByRole('region', { name: 'Layer Fog Signal soft' })).toContainText('soft playing');
  await expect(page.getByRole('region', { name: 'Layer Fog Signal hard' })).toContainText('hard playing');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('region', { name: /^Layer Fog Signal/ })).toHaveCount(0);
});

test('a loop moved by a layer is heard, and the strips tell it', async ({ page }) => {
  await openDemo(page);
  await page.goto('/patch/lantern-row/layers');
  await page.locator('header').click({ position: { x: 560, y: 5 } });
  await samplesHere(page);
  await page.getByRole('region', { name: 'Layer Reed Bank' }).getByRole('heading').click();
  await page.getByRole('tab', { name: 'start', exact: true }).click();
  const strip = page.getByLabel('Layer Reed Bank in numbers').getByRole('slider', { name: 'loop length' });
  await strip.focus();
  await page.keyboard.press('Home');
  await expect(strip).toHaveAttribute('aria-valuetext', '0.5 %');
  await samplesHere(page);
  const { x, y } = await keyPoint(page, 64);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await page.waitForTimeout(1500);
  expect(await level(page)).toBeGreaterThan(-45);
  await page.mouse.up();
  await expect(page.getByTestId('voices')).toContainText('0 voices');
});
