import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { folderOf, wav } from './kit/folders';
import { addLayer, keyPoint, level, openDemo, readout, samplesHere, strike, watchProblems } from './steps';

/** Layers that fit together: what becomes of their notes, shapes, groups, versions, choosing and carrying. */
watchProblems();

const part = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();
const newPatch = async (page: Page) => {
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: 'New patch', exact: true }).click();
  await expect(page.getByText('This patch has no layer yet.')).toBeVisible();
};
const voices = (page: Page) => page.getByTestId('voices');
const numbers = (page: Page, name: string) => page.getByLabel(`Layer ${name} in numbers`);
const typeInto = async (page: Page, strip: string, text: string) => {
  await page.getByRole('slider', { name: strip, exact: true }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
};

test('Low Water is built from an empty patch by hand, and plays as it should', async ({ page }) => {
  await openDemo(page);
  await newPatch(page);
  await addLayer(page, 'Hull Bass');
  await addLayer(page, 'Felt Keys');
  await page.getByRole('button', { name: 'Split here' }).click();
  await page.getByLabel('first key of the upper one').fill('F#3');
  await page.getByRole('button', { name: 'Apply' }).click();
  // The bass: one note at a time, sliding, off the pedal.
  await page.getByRole('region', { name: 'Layer Hull Bass' }).getByRole('heading').click();
  await part(page, 'pitch');
  await page.getByRole('button', { name: 'legato' }).click();
  await typeInto(page, 'glide', '80 ms');
  await part(page, 'filters');
  await typeInto(page, 'high cut', '2.6k');
  await part(page, 'hears');
  await numbers(page, 'Hull Bass').getByRole('button', { name: 'sustain', exact: true }).click();
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  await numbers(page, 'Felt Keys').getByRole('button', { name: 'bend', exact: true }).click();
  await samplesHere(page);
  // Two bass keys held are one voice; with the pedal down the bass ends with its key, the keys ring on.
  await page.getByRole('button', { name: 'hold', exact: true }).click();
  await strike(page, 40);
  await strike(page, 45);
  await expect(voices(page)).toContainText('1 voice');
  await page.getByRole('button', { name: 'hold', exact: true }).click();
  await expect(voices(page)).toContainText('0 voices');
  await page.getByLabel('Stand-in controllers').getByRole('button', { name: 'sustain' }).click();
  await strike(page, 40);
  await strike(page, 64);
  await page.waitForTimeout(700);
  await expect(voices(page)).toContainText('1 voice');
  await page.getByLabel('Stand-in controllers').getByRole('button', { name: 'sustain' }).click();
  // Kept over a reload.
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  await page.getByRole('region', { name: 'Layer Hull Bass' }).getByRole('heading').click();
  await part(page, 'pitch');
  await expect(page.getByRole('slider', { name: 'glide' })).toHaveAttribute('aria-valuetext', '80 ms');
  await expect(page.getByRole('button', { name: 'legato' })).toHaveAttribute('aria-pressed', 'true');
});

test('an arpeggio split from a template: the left hand drives it in a scale, the keys that sound are lit', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: 'Templates, and what was kept …' }).click();
  await page.getByRole('button', { name: /^Arpeggio split/ }).click();
  await expect(page.locator('section[aria-label^="Layer "]')).toHaveCount(2);
  await page.locator('section[aria-label^="Layer "]').first().getByRole('heading').click();
  await part(page, 'arpeggio');
  await expect(page.getByRole('switch', { name: 'Arpeggio' })).toHaveAttribute('aria-checked', 'true');
  await page.getByTitle(/^Arpeggios to try/).click();
  await page.getByRole('option', { name: 'Even water' }).click();
  await part(page, 'notes');
  await page.getByRole('switch', { name: 'Scale' }).click();
  await page.getByLabel('Root').selectOption('2');
  await page.getByLabel('Scale name').selectOption('dorian');
  await samplesHere(page);
  await page.getByRole('button', { name: 'hold', exact: true }).click();
  for (const key of [38, 42, 45]) await strike(page, key);
  // In D Dorian the F sharp becomes an F, which is lit now and then; the G sharp above the split is nobody's but the
  // other layer's.
  const lit = (key: number) => page.getByTestId('keyboard').locator(`rect[data-key="${key}"]`).getAttribute('fill');
  const colour = await lit(38);
  expect(colour).toMatch(/^var\(--/);
  await expect.poll(() => lit(41), { timeout: 15_000, intervals: [70] }).toBe(colour);
  await expect.poll(() => lit(41), { timeout: 15_000, intervals: [70] }).toBe('var(--key-white)');
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await page.getByRole('button', { name: 'hold', exact: true }).click();
  await expect(voices(page)).toContainText('0 voices');
  // A chord is spelled by its name.
  await page.getByRole('switch', { name: 'Chord' }).click();
  await strike(page, 50);
  await expect(page.getByText(/D3 gives Dm/)).toBeVisible();
});

test('layers are chosen together, edited together, grouped, folded, and the group moves them all', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('region', { name: 'Layer Hull Bass' }).getByRole('heading').click();
  await page
    .getByRole('region', { name: 'Layer Felt Keys' })
    .getByRole('heading')
    .click({ modifiers: ['Control'] });
  await part(page, 'level');
  await page.getByRole('button', { name: 'as much', exact: true }).click();
  const bass = page.getByRole('region', { name: 'Layer Hull Bass' }).getByRole('slider', { name: 'level' });
  const before = Number(await bass.getAttribute('aria-valuenow'));
  await numbers(page, 'Felt Keys').getByRole('slider', { name: 'level', exact: true }).focus();
  await page.keyboard.press('ArrowLeft');
  await expect.poll(async () => Number(await bass.getAttribute('aria-valuenow'))).toBeLessThan(before - 1);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => Number(await bass.getAttribute('aria-valuenow'))).toBe(before);
  await page.getByRole('button', { name: 'Group 2 layers' }).click();
  const group = page.getByRole('region', { name: 'Group Group 1' });
  await page.getByRole('button', { name: 'Fold Group 1' }).click();
  await expect(page.locator('section[aria-label^="Layer "]')).toHaveCount(0);
  await group.getByRole('slider', { name: 'level' }).focus();
  await page.keyboard.press('Home');
  await samplesHere(page);
  const { x, y } = await keyPoint(page, 64);
  await page.mouse.move(x, y);
  // Struck anew for each look, until the edit has reached the engine and what rang before is gone.
  await expect
    .poll(async () => {
      await page.mouse.down();
      await page.waitForTimeout(300);
      const heard = await level(page);
      await page.mouse.up();
      return heard;
    })
    .toBeLessThan(-47);
  await group.getByRole('button', { name: 'More for Group 1' }).click();
  await page.getByRole('menuitem', { name: 'Dissolve' }).click();
  await expect(page.locator('section[aria-label^="Layer "]')).toHaveCount(2);
});

test('versions are switched under held notes; what differs is listed; edits are jumped to', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  await page.getByRole('button', { name: 'compare', exact: true }).click();
  await part(page, 'filters');
  await typeInto(page, 'high cut', '900');
  await page.getByRole('button', { name: 'hold', exact: true }).click();
  // A note of the bass, for its sound is looped: it holds on by itself however slow the machine is.
  await strike(page, 40);
  await expect(voices(page)).toContainText('1 voice');
  await page.getByRole('button', { name: 'A', exact: true }).click();
  await expect(page.getByRole('slider', { name: 'high cut' })).toHaveAttribute('aria-valuetext', '7 kHz');
  await expect(voices(page)).toContainText('1 voice');
  await page.getByRole('button', { name: 'B', exact: true }).click();
  await expect(page.getByRole('slider', { name: 'high cut' })).toHaveAttribute('aria-valuetext', '900 Hz');
  await page.getByRole('button', { name: 'About the versions' }).click();
  await expect(page.getByRole('region', { name: 'What differs' })).toContainText('Felt Keys: high cut 7 kHz → 900 Hz');
  await expect(page.getByLabel('About the versions').getByText(/LUFS/).first()).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Edits', exact: true }).click();
  const edits = page.getByRole('dialog', { name: 'Edits' });
  await expect(edits).toContainText('Felt Keys: high cut 900 Hz');
  await edits.getByRole('button', { name: 'as it was opened' }).click();
  await expect(page.getByRole('button', { name: 'compare', exact: true })).toBeVisible();
  await expect(page.getByRole('slider', { name: 'high cut' })).toHaveAttribute('aria-valuetext', '7 kHz');
});

test('a sound is tried in its place and given back, or kept; a part of a layer is found by name', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  const plays = page.getByLabel('plays');
  await page.getByRole('button', { name: 'Browse sounds' }).click();
  await page.getByLabel('Look for a sound').fill('bowed');
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText(/^trying/)).toBeVisible();
  await expect(plays).toHaveValue('felt-keys');
  await page.keyboard.press('Escape');
  await expect(plays).toHaveValue('felt-keys');
  await page.getByRole('button', { name: 'Browse sounds' }).click();
  await page.getByLabel('Look for a sound').fill('metal bright');
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText(/^trying/)).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(plays).toHaveValue('harbour-bells');
  // Typed at once: the sheet's code is still on its way.
  await page.keyboard.press('Control+k');
  await page.keyboard.type('tilt pivot felt');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('slider', { name: 'tilt pivot' })).toBeFocused();
});

test('a group is copied into another patch with what moves it, shown before it comes', async ({ page }) => {
  await openDemo(page);
  await page.goto('/patch/slack-tide/layers');
  await page.getByRole('region', { name: 'Layer Reeds' }).getByRole('heading').click();
  await page.keyboard.press('Control+c');
  await expect(page.getByText(/is copied, with all that moves it/)).toBeVisible();
  await page.goto('/patch/undertow/layers');
  await page.getByRole('region', { name: 'Layer Hull Bass' }).getByRole('heading').click();
  await page.keyboard.press('Control+v');
  const sheet = page.getByRole('dialog', { name: /^Paste/ });
  await expect(sheet).toContainText('layer “Reeds”');
  await expect(sheet).toContainText('macro “Current” as macro.');
  await sheet.getByRole('button', { name: 'Paste all of it' }).click();
  await expect(page.getByRole('region', { name: 'Layer Reeds' })).toBeVisible();
  await page.getByRole('link', { name: 'Control' }).click();
  await expect(page.getByRole('region', { name: 'Macros' })).toContainText('Current');
  await page.keyboard.press('Control+z');
  // Going back shows the place where it was.
  await expect(page.getByRole('region', { name: 'Layer Hull Bass' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Layer Reeds' })).toHaveCount(0);
});

test('pads of a kit are struck, chosen, and end one another', async ({ page }) => {
  await openDemo(page);
  await page.goto('/patch/lantern-row/layers');
  await page.locator('header').click({ position: { x: 440, y: 5 } });
  await samplesHere(page);
  await page.locator('[data-pad="46"]').click({ position: { x: 40, y: 40 } });
  await expect(page.getByLabel('Group Open Tin in numbers')).toBeVisible();
  await expect.poll(() => readout(page, 'Open Tin')).toBe('0.0 dB');
  await page.locator('[data-pad="42"]').click({ position: { x: 40, y: 40 } });
  await expect(page.getByLabel('Group Shut Tin in numbers')).toBeVisible();
  await expect(page.getByTestId('readout')).toContainText('last strike: F♯2 (42)');
});

test('who hears what is one table over all layers', async ({ page }) => {
  await openDemo(page);
  await part(page, 'hears');
  await page.getByRole('button', { name: 'all layers in a table …' }).click();
  const box = page.getByRole('checkbox', { name: 'Felt Keys hears bend' });
  await expect(box).toHaveAttribute('aria-checked', 'false');
  await box.click();
  await expect(box).toHaveAttribute('aria-checked', 'true');
  await page.getByRole('button', { name: 'all patches' }).click();
  for (const patch of ['Low Water', 'First Light', 'Undertow'])
    await expect(page.getByRole('dialog', { name: 'Who hears what' })).toContainText(patch);
  await expect(page.getByRole('checkbox', { name: 'Reeds hears program' })).toHaveCount(2);
});

test('instruments and files of a folder are tried in place, and come into the rig only when kept', async ({
  page,
}, info) => {
  const folder = folderOf(info.outputPath('Weir'), {
    'weir.sfz': '<region> sample=wavs/a.wav lokey=0 hikey=127 pitch_keycenter=60',
    'wavs/a.wav': wav(261.6),
    'bad.sfz': '#include "bad.sfz"',
  });
  await openDemo(page);
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  const plays = page.getByLabel('plays');
  const sounds = await plays.locator('option').count();
  await page.getByRole('button', { name: 'Browse sounds' }).click();
  await page.getByLabel('Folder to try').setInputFiles(folder);
  await expect(page.getByText(/bad\.sfz, line 1: #include/)).toBeVisible();
  await page.getByLabel('Look for a sound').fill('weir');
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText(/^trying/)).toBeVisible();
  // It sounds in the layer's place, and the rig is as it was.
  await strike(page, 72);
  await expect.poll(() => level(page)).toBeGreaterThan(-60);
  await expect(plays.locator('option')).toHaveCount(sounds);
  await page.keyboard.press('Escape');
  await expect(plays).toHaveValue('felt-keys');
  await page.getByRole('button', { name: 'Browse sounds' }).click();
  await page.getByLabel('Folder to try').setInputFiles(folder);
  await page.getByLabel('Look for a sound').fill('weir');
  await expect(page.getByRole('option', { name: /weir/ })).toHaveCount(1);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(plays.locator('option:checked')).toHaveText('weir');
  await expect(page.locator('header').getByRole('status')).toHaveText('saved');
  await page.reload();
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  await expect(plays.locator('option:checked')).toHaveText('weir');
});

test('a file dropped on a pad comes on top, one dropped on a member takes its place', async ({ page }) => {
  await openDemo(page);
  await page.goto('/patch/lantern-row/layers');
  await page.locator('header').click({ position: { x: 440, y: 5 } });
  await samplesHere(page);
  const drop = (target: string, name: string, bytes: Uint8Array | string = wav(440)) =>
    page.evaluate(
      ([selector, file, base64]) => {
        const transfer = new DataTransfer();
        transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], file));
        document
          .querySelector(selector)!
          .dispatchEvent(new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: transfer }));
      },
      [target, name, Buffer.from(bytes).toString('base64')] as const,
    );
  const members = page.locator('[data-pad="46"] li');
  const before = await members.count();
  await drop('[data-pad="46"]', 'gong.wav');
  await expect(members).toHaveCount(before + 1);
  await expect(members.last()).toContainText('gong');
  await drop('[data-pad="46"] li:last-child', 'bowl.wav');
  await expect(members.last()).toContainText('bowl');
  await expect(members).toHaveCount(before + 1);
  // An empty pad is made by what is dropped on it.
  await drop('[data-pad="40"]', 'dish.wav');
  await expect(page.getByRole('button', { name: /^Pad dish/ })).toBeVisible();
  await drop('[data-pad="41"]', 'broken.wav', 'this is no audio');
  await expect(page.getByText(/broken\.wav: .*Nothing of these came in/)).toBeVisible();
});

test('a patch is kept as a template, goes out as a file, and comes back from it', async ({ page }) => {
  await openDemo(page);
  const open = async () => {
    await page.getByRole('button', { name: 'New patch, rig and files' }).click();
    await page.getByRole('menuitem', { name: /^Templates/ }).click();
  };
  await open();
  await page.getByRole('button', { name: 'keep this patch' }).click();
  const kept = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: 'Forget Low Water' }) });
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    kept.getByRole('button', { name: 'as a file' }).click(),
  ]);
  await kept.getByRole('button', { name: 'Forget Low Water' }).click();
  await expect(kept).toHaveCount(0);
  await page.getByLabel('File of a template').setInputFiles(await download.path());
  await kept.getByRole('button', { name: 'new patch' }).click();
  await expect(page).not.toHaveURL(/low-water/);
  for (const layer of ['Hull Bass', 'Felt Keys'])
    await expect(page.getByRole('region', { name: `Layer ${layer}` })).toBeVisible();
  await strike(page, 72);
  await expect.poll(() => level(page)).toBeGreaterThan(-60);
});

test('values of a layer are kept, go out as a file, come back from it and are taken by another layer', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  await part(page, 'filters');
  await typeInto(page, 'high cut', '900');
  await page.getByRole('button', { name: 'More for filters' }).click();
  await page.getByRole('menuitem', { name: /^Keep as/ }).click();
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: /^Templates/ }).click();
  const kept = page
    .getByRole('listitem')
    .filter({ has: page.getByRole('button', { name: 'Forget Felt Keys: filters' }) });
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    kept.getByRole('button', { name: 'as a file' }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/\.json$/);
  await kept.getByRole('button', { name: 'Forget Felt Keys: filters' }).click();
  await expect(kept).toHaveCount(0);
  const bytes = readFileSync(await download.path());
  const open = (content: Buffer) =>
    page
      .getByLabel('File of a template')
      .setInputFiles({ name: 'dark.json', mimeType: 'application/json', buffer: content });
  await open(Buffer.from(bytes.toString().replace('900', '"dark"')));
  await expect(page.getByText(/values\.cutoff: "dark" is not a number/)).toBeVisible();
  await open(bytes);
  await expect(kept).toHaveCount(1);
  await page.keyboard.press('Escape');
  await page.getByRole('region', { name: 'Layer Hull Bass' }).getByRole('heading').click();
  await part(page, 'filters');
  await page.getByRole('button', { name: 'More for filters' }).click();
  await page.getByRole('menuitem', { name: /^Take “Felt Keys: filters”/ }).click();
  await expect(page.getByRole('slider', { name: 'high cut' })).toHaveAttribute('aria-valuetext', '900 Hz');
});
