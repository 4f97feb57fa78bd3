import { expect, test } from './base';
import { keyPoint, level, watchProblems } from './steps';
import { openStage, title, unlock, midi, withController } from './kit/stage';

watchProblems();

test('the show goes on by page-turner, number and touch; held notes ring on, and a reload comes back to the step', async ({
  page,
}) => {
  await openStage(page);
  await expect(page.getByTestId('stage-next')).toHaveText('Tern Colony');
  await expect(page.getByTestId('stage-notes')).toContainText('bass to the F');
  await page.keyboard.press('PageDown');
  await expect(title(page)).toHaveText('Tern Colony');
  await expect(page.getByTestId('stage-ready')).toHaveText('ready', { timeout: 60_000 });
  // A wire is held, and goes on under the next patch.
  const { x, y } = await keyPoint(page, 84);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await expect.poll(() => level(page)).toBeGreaterThan(-40);
  await page.keyboard.press('ArrowRight');
  await expect(title(page)).toHaveText('Perigee');
  await page.waitForTimeout(800);
  expect(await level(page)).toBeGreaterThan(-45);
  await page.mouse.up();
  await expect.poll(() => level(page), { timeout: 20_000 }).toBeLessThan(-46);
  // Pauses are steps; numbers go anywhere.
  await page.keyboard.press('6');
  await page.keyboard.press('Enter');
  await expect(title(page)).toHaveText('Pause');
  await expect(page.getByText('Kelp Choir goes on playing')).toBeVisible();
  await page.keyboard.press('1');
  await page.keyboard.press('2');
  await page.keyboard.press('Enter');
  await expect(title(page)).toHaveText('Spindrift');
  await page.getByRole('button', { name: 'Back' }).click();
  await expect(title(page)).toHaveText('Neap Bass');
  await expect(page.getByText('Down to the Sluice')).toBeVisible();
  await page.getByRole('button', { name: 'Setlist' }).click();
  await page
    .getByRole('dialog', { name: 'Setlist' })
    .getByRole('button', { name: /Kelp Choir/ })
    .click();
  await expect(title(page)).toHaveText('Kelp Choir');
  await expect(page.getByText('−2 semitones')).toBeVisible();
  await page.reload();
  await expect(title(page)).toHaveText('Kelp Choir', { timeout: 30_000 });
});

test('a pedal, a program change with its bank and a pad go through the show; a pedal that stays down goes one step', async ({
  page,
}) => {
  await withController(page);
  await openStage(page);
  await midi(page, 0xc0, 3);
  await expect(title(page)).toHaveText('Slack Tide');
  await midi(page, 0xb0, 0, 0, 0xb0, 32, 1, 0xc0, 3);
  await midi(page, 0xb0, 32, 0, 0xc0, 1);
  await expect(title(page)).toHaveText('Tern Colony');
  await unlock(page);
  await page.getByRole('button', { name: 'Setlist' }).click();
  const way = page.getByRole('region', { name: 'Going through the show' });
  await way.getByRole('button', { name: 'Learn …' }).first().click();
  await midi(page, 0xb0, 80, 127);
  await midi(page, 0xb0, 80, 0);
  await expect(way.getByText('→ ↓ page down · CC 80')).toBeVisible();
  await page.keyboard.press('Escape');
  for (const value of [20, 70, 127, 120, 100, 60, 0]) await midi(page, 0xb0, 80, value);
  await expect(title(page)).toHaveText('Perigee');
  await expect(page.getByRole('button', { name: /^next.*Slack Tide/ })).toContainText('CC 80');
});

test('held on, the lock leaves the Stage to where one came from', async ({ page }) => {
  await openStage(page);
  await page.getByRole('button', { name: /hold for a second/ }).hover();
  await page.mouse.down();
  await expect(page.getByText('hold on to leave')).toBeVisible();
  await expect(page).toHaveURL(/\/patch\/low-water\/layers$/);
  await page.mouse.up();
  await page.goto('/stage');
  // Let go when it is unlocked, it stays; and a click locks it again.
  await unlock(page);
  await expect(page.getByText('unlocked', { exact: true })).toBeVisible();
  await page.waitForTimeout(2200);
  await expect(page).toHaveURL(/\/stage$/);
  await page.getByRole('button', { name: /^unlocked/ }).click();
  await expect(page.getByText('hold to unlock', { exact: true })).toBeVisible();
});

test('nothing can be edited while it is locked; macros and pads are played, and fingers leave the arrow keys to the show', async ({
  page,
}) => {
  await openStage(page);
  await page.keyboard.press('4');
  await page.keyboard.press('Enter');
  await expect(title(page)).toHaveText('Slack Tide');
  for (const key of ['Delete', 'm', 's', 'Control+z', 'Control+d', 'Space']) await page.keyboard.press(key);
  await expect(page.getByRole('link', { name: 'Build' })).toHaveCount(0);
  await page.getByRole('button', { name: /hold for a second/ }).click();
  await expect(page.getByText('hold to unlock', { exact: true })).toBeVisible();
  const macro = page.getByRole('slider', { name: 'Open' });
  const before = Number(await macro.getAttribute('aria-valuenow'));
  const box = (await macro.boundingBox())!;
  await page.mouse.move(box.x + 40, box.y + 100);
  await page.mouse.down();
  await page.mouse.move(box.x + 40, box.y + 20, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => Number(await macro.getAttribute('aria-valuenow'))).toBeGreaterThan(before + 10);
  // The page-turner after it still turns the page.
  await page.keyboard.press('ArrowRight');
  await expect(title(page)).toHaveText('Kelp Choir');
  await page.keyboard.press('ArrowLeft');
  await expect(title(page)).toHaveText('Slack Tide');
  // Reached by Tab, a macro has the arrows.
  await page.getByRole('slider', { name: 'Drift' }).focus();
  await page.keyboard.press('Tab');
  await page.keyboard.press('ArrowUp');
  await expect(title(page)).toHaveText('Slack Tide');
  await expect(page.getByRole('slider', { name: 'Current' })).toHaveAttribute('aria-valuenow', '4');
  await unlock(page);
  await page.getByRole('link', { name: 'Build' }).click();
  await expect(page).toHaveURL(/slack-tide\/layers/);
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
});

test('a setlist is put in order, gets a song, a pause, notes, a tempo and a transposition, and is printed on one page', async ({
  page,
}) => {
  await openStage(page);
  await unlock(page);
  await page.getByRole('button', { name: 'Setlist' }).click();
  const panel = page.getByRole('dialog', { name: 'Setlist' });
  await panel.getByRole('button', { name: 'setlists' }).click();
  await page.getByRole('menuitem', { name: 'New, empty' }).click();
  await panel.getByRole('button', { name: '+ patch' }).click();
  await page.getByRole('menuitem', { name: 'Marsh Bells' }).click();
  await panel.getByRole('button', { name: '+ patch' }).click();
  await page.getByRole('menuitem', { name: 'Low Water' }).click();
  await panel.getByRole('button', { name: '+ pause' }).click();
  const row = (n: number) => panel.getByRole('list', { name: 'Entries' }).locator('> li').nth(n);
  // By keyboard: lifted, moved up, put down.
  const grip = row(1).getByRole('button', { name: /Move Low Water/ });
  await grip.focus();
  await page.keyboard.press('Space');
  await page.waitForTimeout(120);
  await page.keyboard.press('ArrowUp');
  await page.waitForTimeout(120);
  await page.keyboard.press('Space');
  await expect(row(0).getByRole('textbox', { name: 'Name of entry 1' })).toHaveAttribute('placeholder', 'Low Water');
  await row(0).getByLabel('tempo', { exact: true }).fill('99');
  await page.keyboard.press('Enter');
  await row(0).getByLabel('transposed').fill('-3');
  await page.keyboard.press('Enter');
  await row(0)
    .getByLabel(/^Notes for/)
    .fill('Only the left hand.');
  await row(0).getByRole('button', { name: 'and then …' }).click();
  await page.getByRole('menuitem', { name: 'Perigee' }).click();
  await row(0).getByRole('textbox', { name: 'Name of entry 1' }).fill('Ebb “½”');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await page.keyboard.press('1');
  await page.keyboard.press('Enter');
  await expect(page.getByText('1 of 4 · patch 1 of 2')).toBeVisible();
  await expect(page.getByTestId('stage-notes')).toHaveText('Only the left hand.');
  await expect(page.getByText('−3 semitones')).toBeVisible();
  await page.keyboard.press('PageDown');
  await expect(title(page)).toHaveText('Perigee');
  await page.keyboard.press('l');
  const pdf = (await page.pdf({ format: 'A4' })).toString('latin1');
  expect(pdf.match(/\/Type\s*\/Page\b(?!s)/g)).toHaveLength(1);
  await page.emulateMedia({ media: 'print' });
  await expect(page.locator('.printed')).toContainText('Ebb “½”');
  await expect(page.locator('.printed')).toContainText('Low Water → Perigee');
  await page.emulateMedia({ media: null });
});

test('what goes wrong is told in one line, and stops nothing', async ({ page }) => {
  await withController(page);
  await openStage(page);
  const line = page.getByTestId('trouble');
  await midi(page, 0x90, 64, 100);
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await page.evaluate(() => (window as unknown as { pullOut: () => void }).pullOut());
  await expect(line).toContainText('“Keys 61” is gone');
  await expect(title(page)).toHaveText('Low Water');
  await page.evaluate(() => (window as unknown as { plugIn: () => void }).plugIn());
  await expect(line).not.toContainText('is gone');
  await midi(page, 0x90, 66, 100);
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await midi(page, 0x80, 66, 0);
});

test('the sound device goes, and sound goes on with the one that there is', async ({ page }) => {
  await page.addInitScript(() => {
    const Real = window.AudioContext;
    const all: AudioContext[] = [];
    window.AudioContext = class extends Real {
      constructor(options?: AudioContextOptions) {
        super(options);
        all.push(this);
      }
    };
    Object.assign(window, { withdraw: () => all[all.length - 1].close(), contexts: () => all.length });
  });
  await openStage(page);
  await page.evaluate(() => (window as unknown as { withdraw: () => Promise<void> }).withdraw());
  await expect(page.getByTestId('trouble')).toContainText('The sound device was gone', { timeout: 20_000 });
  expect(await page.evaluate(() => (window as unknown as { contexts: () => number }).contexts())).toBeGreaterThan(1);
  const { x, y } = await keyPoint(page, 66);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await page.mouse.up();
});

test('a rehearsal tells of every patch', async ({ page }) => {
  await openStage(page);
  await unlock(page);
  await page.getByRole('button', { name: 'Setlist' }).click();
  await page.getByRole('combobox', { name: 'Setlist of the next show' }).selectOption({ label: 'Half Tide' });
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Rehearsal' }).click();
  const rows = page.getByTestId('rehearsal').locator('tbody tr');
  await expect(rows).toHaveCount(5);
  await expect(page.getByText(/The middle of the show is at −2\d\.\d LUFS/)).toBeVisible({ timeout: 100_000 });
  for (let n = 0; n < 5; n++) await expect(rows.nth(n)).toContainText(/−\d+\.\d LUFS.*ms.*all here/);
});
