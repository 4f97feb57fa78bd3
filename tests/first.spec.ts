import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { forget, openDemo, watchProblems } from './steps';

/** The first five minutes: what somebody meets who has never seen it. */

watchProblems();

async function firstVisit(page: Page): Promise<void> {
  await forget(page);
  await page.goto('/');
  await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible({ timeout: 30_000 });
}
const tries = (page: Page) => page.getByRole('region', { name: 'Three things to try' });

test('it opens on Perigee with three things to try; each answers, and the line goes for good', async ({ page }) => {
  await firstVisit(page);
  await expect(page).toHaveURL(/\/patch\/perigee\/layers$/);
  const line = tries(page);
  await expect(line).toContainText('play a key soft, then hard');
  const key = (await page.getByTestId('keyboard').locator('rect[data-key="60"]').boundingBox())!;
  const strike = async (share: number) => {
    await page.mouse.move(key.x + 4, key.y + key.height * share);
    await page.mouse.down();
    await page.mouse.up();
  };
  await strike(0.97);
  await expect(line.getByRole('status')).toHaveCount(0);
  await strike(0.1);
  await strike(0.97);
  await expect(line.getByRole('status')).toHaveText(/hard strikes bring the bells in/);
  const wheel = page.getByRole('slider', { name: 'wheel' });
  const box = (await wheel.boundingBox())!;
  await page.mouse.click(box.x + 10, box.y + 20);
  await expect(line.getByRole('status').nth(1)).toHaveText(/the wheel brings the wire in/);
  // The edge: that of the keys on velocities, from where it lies in the column of numbers.
  await page.getByRole('textbox', { name: 'to' }).nth(1).fill('90');
  await page.getByRole('textbox', { name: 'to' }).nth(1).press('Enter');
  await expect(line).toContainText('That is the idea');
  await line.getByRole('button', { name: 'Start your own' }).click();
  await expect(page.getByRole('dialog', { name: 'Start your own' })).toBeVisible();
  await expect(line).toHaveCount(0);
  await page.reload();
  await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible({ timeout: 30_000 });
  await expect(line).toHaveCount(0);
});

test('the line is for Perigee alone, and goes when it is closed', async ({ page }) => {
  await openDemo(page);
  await expect(tries(page)).toHaveCount(0);
  await page.goto('/patch/perigee/layers');
  await tries(page).getByRole('button', { name: 'No more of this' }).click();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Mute Felt Keys' })).toBeVisible();
  await expect(tries(page)).toHaveCount(0);
});

const start = async (page: Page, name: string) => {
  await page.getByRole('button', { name: 'Start your own' }).first().click();
  const sheet = page.getByRole('dialog', { name: 'Start your own' });
  await sheet.getByRole('textbox', { name: 'Name of the patch' }).fill(name);
  return sheet;
};

test('a patch of one’s own begins in a rig of one’s own, named at once, and without the take of another', async ({
  page,
}) => {
  await openDemo(page);
  const sheet = await start(page, 'My Evening');
  await sheet.getByRole('button', { name: 'By a template' }).click();
  await expect(page).toHaveTitle(/^My Evening · My rig/);
  await expect(page.getByRole('button', { name: /^Patch My Evening/ })).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'take' })).toHaveValue('own');
  await expect(page.getByRole('combobox', { name: 'take' }).locator('option:checked')).toHaveText('a scale and chords');
  await expect(page.locator('section[aria-label^="Layer "]')).toHaveCount(1);
  // An empty one in this rig, by Enter; the words are those of somebody who has a rig.
  await page.getByRole('button', { name: 'Start your own' }).first().click();
  await expect(page.getByRole('radio', { name: 'in “My rig”' })).toHaveAttribute('aria-checked', 'true');
  await page.getByRole('textbox', { name: 'Name of the patch' }).fill('Second');
  await page.getByRole('textbox', { name: 'Name of the patch' }).press('Enter');
  await expect(page).toHaveTitle(/^Second · My rig/);
  await expect(page.locator('section[aria-label^="Layer "]')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(page).toHaveTitle(/^My Evening/);
});

test('what is taken from the store fills the patch that was begun, by its name', async ({ page }) => {
  await openDemo(page);
  const sheet = await start(page, 'Verse');
  await sheet.getByRole('button', { name: 'From the store …' }).click();
  await page.getByRole('button', { name: 'take “Tide Tines”' }).click();
  await expect(page).toHaveTitle(/^Verse · My rig/);
  await expect(page.locator('section[aria-label^="Layer "]')).not.toHaveCount(0);
  await expect(page.locator('header')).toContainText('1 of 1');
});

test('recordings that are chosen at the start are laid out in the new patch', async ({ page }) => {
  await openDemo(page);
  const sheet = await start(page, 'Mine');
  const tone = Buffer.alloc(44 + 48000);
  tone.write('RIFF', 0);
  tone.writeUInt32LE(36 + 48000, 4);
  tone.write('WAVEfmt ', 8);
  tone.writeUInt32LE(16, 16);
  tone.writeUInt16LE(1, 20);
  tone.writeUInt16LE(1, 22);
  tone.writeUInt32LE(48000, 24);
  tone.writeUInt32LE(96000, 28);
  tone.writeUInt16LE(2, 32);
  tone.writeUInt16LE(16, 34);
  tone.write('data', 36);
  tone.writeUInt32LE(48000, 40);
  for (let i = 0; i < 24000; i++)
    tone.writeInt16LE(Math.round(9000 * Math.sin((i * 2 * Math.PI * 220) / 48000)), 44 + 2 * i);
  await sheet
    .getByLabel('Files: My own recordings …')
    .setInputFiles([{ name: 'Gong A3.wav', mimeType: 'audio/wav', buffer: tone }]);
  await expect(page).toHaveURL(/\/sounds/);
  await expect(page.getByRole('button', { name: 'Play Gong A3.wav' })).toBeVisible();
  await page.getByRole('button', { name: 'Place 1 file' }).click();
  await page.getByRole('link', { name: 'Layers' }).click();
  await expect(page.getByRole('region', { name: 'Layer Gong A3' })).toBeVisible();
  await expect(page).toHaveTitle(/^Mine/);
});

/** What tells a sentence at F1 comes a moment after the view. */
const helpIsThere = (page: Page): Promise<void> =>
  expect(async () => {
    await page.keyboard.press('Escape');
    await page.keyboard.press('F1');
    await expect(page.locator('[data-help-bubble]')).toBeVisible({ timeout: 500 });
  }).toPass();

test('F1 says in one sentence what has the focus, in every view, and leads to its page', async ({ page }) => {
  await openDemo(page);
  const places = [
    ...['layers', 'sounds', 'control', 'mix', 'check'].map((view) => `/patch/slack-tide/${view}`),
    '/patch/kelp-choir/mix',
    '/patch/neap-bass/sounds',
    '/patch/spindrift/sounds',
    '/stage',
  ];
  const all: Record<string, string[]> = {};
  for (const view of places) {
    await page.goto(view);
    await expect(page.getByRole('button', { name: 'Silence' })).toBeVisible();
    await helpIsThere(page);
    const untold = await page.evaluate(async () => {
      const out: string[] = [];
      const things = document.querySelectorAll<HTMLElement>(
        'button, a[href], input, select, textarea, [role="slider"]',
      );
      for (const thing of things) {
        if (thing.tabIndex < 0 || thing.matches(':disabled') || !thing.checkVisibility()) continue;
        thing.focus();
        thing.dispatchEvent(new KeyboardEvent('keydown', { key: 'F1', bubbles: true, cancelable: true }));
        await new Promise((resolve) => requestAnimationFrame(() => resolve(undefined)));
        const told = document.querySelector('[data-help-bubble]')?.textContent ?? '';
        // What only says where it stands has no sentence of its own.
        if (told.length < 12 || /In (Layers|Sounds|Control|Mix|Check|Stage)\. /.test(told))
          out.push(`${thing.getAttribute('aria-label') ?? thing.textContent}: ${told}`);
      }
      return out;
    });
    if (untold.length > 0) all[view] = untold;
  }
  expect(all).toEqual({});
  await page.goto('/patch/slack-tide/control');
  await helpIsThere(page);
  await page.keyboard.press('Escape');
  await page
    .getByRole('button', { name: 'Monitor' })
    .or(page.getByRole('button', { name: 'Settings' }))
    .first()
    .focus();
  await page.keyboard.press('F1');
  await expect(page.getByRole('button', { name: /^Handbook: / })).toBeVisible();
  // By keyboard alone.
  await page.keyboard.press('F1');
  const book = page.getByRole('dialog', { name: 'Handbook' });
  await expect(book).toBeVisible();
  await book.getByRole('searchbox', { name: 'Look in the handbook' }).fill('temperaments scala');
  const found = book.getByRole('list', { name: 'Found in the handbook' });
  await expect(found.getByRole('listitem')).toHaveCount(1);
  await found.getByRole('button').click();
  await expect(book.locator('.found')).toBeInViewport();
});

test('each sheet leads to its page, and the finder says what is chosen', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('Control+k');
  await page.getByLabel('What to look for').fill('tuning');
  await expect(page.getByRole('dialog', { name: 'Go to' }).getByRole('status')).toHaveText(/Concert pitch/);
  await page.keyboard.press('Enter');
  await page.getByRole('dialog', { name: 'Tuning' }).getByRole('button', { name: 'Handbook: Every sheet' }).click();
  await expect(page.getByRole('heading', { name: 'Every sheet' })).toBeInViewport();
});

test('compare says what it did, and what A and B are', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'compare' }).click();
  await expect(page.getByText(/is kept as it is as version A; you go on with B/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'A', exact: true })).toHaveAttribute('title', /as it was left/);
  await expect(page.getByRole('button', { name: 'B', exact: true })).toHaveAttribute(
    'title',
    /what you hear and change now/,
  );
});

test('macros are told from 0 to 100, and typed so', async ({ page }) => {
  await openDemo(page);
  await page.goto('/patch/perigee/layers');
  const strip = page.getByRole('slider', { name: '1 Swell' });
  await strip.focus();
  await page.keyboard.type('50');
  await page.keyboard.press('Enter');
  await expect(strip).toHaveAttribute('aria-valuetext', '50');
  await page.getByRole('link', { name: 'Control' }).click();
  await expect(page.getByRole('slider', { name: /Swell/ }).first()).toHaveAttribute('aria-valuenow', '50');
});
