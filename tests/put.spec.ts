import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { openDemo, samplesHere, strike, watchProblems } from './steps';
import { wav } from './kit/folders';

watchProblems();

/**
 * Carries one thing of the page to another by mouse, as hands do: where it goes is in sight before it is pressed. Else
 * it would be scrolled to with the button down, and a panel that stands beside it would move away under the pointer.
 */
async function carry(page: Page, from: string, to: string): Promise<void> {
  await page.locator(to).scrollIntoViewIfNeeded();
  await page.dragAndDrop(from, to);
}

const dropFiles = (page: Page, target: string, names: readonly string[], at = { x: 0.5, y: 0.5 }) =>
  page.evaluate(
    ([selector, list, x, y, base64]) => {
      const transfer = new DataTransfer();
      const bytes = (n: number) => {
        const all = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
        all[all.length - 2] ^= n + 1;
        return all;
      };
      list.forEach((name, i) => transfer.items.add(new File([bytes(i)], name)));
      const element = document.querySelector(selector)!;
      const box = element.getBoundingClientRect();
      const event = {
        bubbles: true,
        cancelable: true,
        dataTransfer: transfer,
        clientX: box.left + x * box.width,
        clientY: box.top + y * box.height,
      };
      element.dispatchEvent(new DragEvent('dragover', event));
      element.dispatchEvent(new DragEvent('drop', event));
    },
    [target, names, at.x, at.y, Buffer.from(wav(300)).toString('base64')] as const,
  );

test('layers are chosen in Mix as in Layers: shift, control, all; they are gathered and edited together', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'Mix' }).click();
  const river = page.getByRole('group', { name: 'The mix as a river' });
  const springs = river.getByRole('button', { name: /^Layer / });
  await expect(page.getByRole('button', { name: 'Gather in a group' })).toBeDisabled();
  await springs.nth(0).click();
  await springs.nth(1).click({ modifiers: ['Shift'] });
  await expect(river.getByRole('button', { name: /^Layer /, pressed: true })).toHaveCount(2);
  await expect(page.getByText('2 layers: strips')).toBeVisible();
  await springs.nth(0).click();
  await expect(river.getByRole('button', { name: /^Layer /, pressed: true })).toHaveCount(1);
  await page.keyboard.press('Control+a');
  const count = await springs.count();
  await expect(river.getByRole('button', { name: /^Layer /, pressed: true })).toHaveCount(count);
  await springs.nth(0).click();
  await springs.nth(1).click({ modifiers: ['ControlOrMeta'] });
  await page.getByRole('button', { name: 'Gather 2 in a group' }).click();
  await expect(river.getByRole('button', { name: 'Group Together' })).toBeVisible();
  await page.getByRole('button', { name: 'strips', exact: true }).click();
  const names = page.getByRole('rowheader').getByRole('button');
  await names.nth(0).click();
  await names.nth(1).click({ modifiers: ['Shift'] });
  await expect(page.getByRole('rowheader').getByRole('button', { pressed: true })).toHaveCount(2);
});

test('what is done in a menu of a lane or a pad stays in the menu', async ({ page }) => {
  await openDemo(page);
  // Two that are chosen are still chosen in the menu of one of them.
  const lanes = page.getByRole('region', { name: /^Layer / });
  await lanes.nth(0).getByRole('heading').click();
  await lanes
    .nth(1)
    .getByRole('heading')
    .click({ modifiers: ['Shift'] });
  await lanes
    .nth(0)
    .getByRole('button', { name: /^More for/ })
    .click();
  await page.getByRole('menuitem', { name: 'New group' }).click();
  await expect(page.getByRole('region', { name: /^Group / })).toContainText('2');
  // A pad is not struck by what is done in its menu.
  await page.goto('/patch/lantern-row/layers');
  const pad = page.locator('[data-pad="46"]');
  await pad.getByRole('button', { name: /^More for pad/ }).click();
  await page.getByRole('menuitem', { name: 'choke 3', exact: true }).click();
  await expect(pad.getByText('3', { exact: true })).toBeVisible();
  await expect(page.getByText(/^last strike/)).toHaveCount(0);
});

test('a pad is filled from the rig: tried on it, kept on it, and the same twice is told', async ({ page }) => {
  await openDemo(page);
  await page.goto('/patch/lantern-row/layers');
  await page.locator('header').click({ position: { x: 440, y: 5 } });
  await samplesHere(page);
  const pad = page.locator('[data-pad="46"]');
  const before = await pad.locator('li').count();
  await pad.getByRole('button', { name: /^More for pad/ }).click();
  await page.getByRole('menuitem', { name: 'Fill it from the rig …' }).click();
  const browser = page.getByRole('dialog', { name: 'Browse sounds' });
  await browser.getByLabel('Kind').selectOption('synth');
  await expect(browser.locator('li').first()).toContainText(/Neap|Bass|Lead/);
  await browser.getByLabel('Kind').selectOption('');
  await browser.getByLabel('Look for a sound').fill('felt');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(pad.locator('li').last()).toContainText('Felt Keys');
  await expect(pad.locator('li')).toHaveCount(Math.min(before + 1, 4));
  // An empty pad has its way in as well; and by a drag.
  const empty = page
    .locator('[data-pad]')
    .filter({ hasNotText: /[A-Z]\w{2}/ })
    .last();
  const key = await empty.getAttribute('data-pad');
  await empty.getByRole('button', { name: /from the rig/ }).click();
  await browser.getByLabel('Look for a sound').fill('felt');
  await expect(page.locator('[aria-label="Sounds"] [role="option"]').first()).toContainText('Felt Keys');
  await carry(page, '[aria-label="Sounds"] [role="option"]', `[data-pad="${key}"]`);
  await expect(page.getByText(/“Felt Keys” is on the pad of/)).toBeVisible();
  await expect(page.locator(`[data-pad="${key}"]`)).toContainText('Felt Keys');
  await page.keyboard.press('Escape');
  await page
    .locator(`[data-pad="${key}"]`)
    .getByRole('button', { name: /^More for pad/ })
    .click();
  await page.getByRole('menuitem', { name: 'Fill it from the rig …' }).click();
  await browser.getByLabel('Look for a sound').fill('felt');
  await expect(page.locator('[aria-label="Sounds"] [role="option"]').first()).toContainText('Felt Keys');
  await carry(page, '[aria-label="Sounds"] [role="option"]', `[data-pad="${key}"]`);
  await expect(page.getByText(/The same recording sounds .* at once/)).toBeVisible();
});

test('a file of the tray goes to one place by Enter, as the single file it is', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'Sounds' }).click();
  await dropFiles(page, 'main', ['kick 1.wav', 'kick 2.wav', 'kick 3.wav']);
  const files = page.getByTestId('tray-files');
  await expect(files.getByText('a3', { exact: true })).toBeVisible();
  await page.getByLabel('Enter puts the file').selectOption({ label: 'on the next free pad (C2)' });
  await files.press('ArrowDown');
  await files.press('Enter');
  await expect(page.getByText('“kick 2” is on the pad of C2')).toBeVisible();
  await expect(files.getByText('put', { exact: true })).toHaveCount(1);
  // Going back takes it away, also in the tray.
  await page.keyboard.press('Control+z');
  await expect(files.getByText('put', { exact: true })).toHaveCount(0);
  await page.keyboard.press('Control+Shift+z');
  await expect(files.getByText('put', { exact: true })).toHaveCount(1);
  await page.getByLabel('Enter puts the file').selectOption({ label: 'in the layer Felt Keys' });
  await files.press('ArrowDown');
  await files.press('Enter');
  await expect(page.getByText('“kick 3” plays in “Felt Keys” now')).toBeVisible();
  await page.getByRole('link', { name: 'Layers' }).click();
  await expect(page.getByRole('heading', { name: 'kick 2' })).toBeVisible();
});

test('a sound of the list, and a file, go into the zone they are dropped on; the notice ends with the drop', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'Sounds' }).click();
  await page.getByRole('button', { name: /^Felt Keys/ }).click();
  await carry(page, '[aria-label="Sounds of the rig"] [data-item]:has-text("Tin Kit")', '[data-testid="zone-map"]');
  await expect(page.getByText('“Tin Kit” is in the zone now')).toBeVisible();
  await page.keyboard.press('Control+z');
  await dropFiles(page, '[data-testid="zone-map"]', ['gong.wav']);
  await expect(page.getByText('1 of 1 zone has new samples, in the order of their names.')).toBeVisible();
  await expect(page.getByText('Drop recordings, folders, SFZ files')).toHaveCount(0);
  await page.getByRole('tab', { name: 'Zones' }).click();
  await expect(page.getByRole('table', { name: 'Zones' })).toContainText('gong.wav');
  // Of several that are chosen all get something, in an order that is said.
  await page.getByTestId('zone-map').press('Control+a');
  await dropFiles(page, '[data-testid="zone-map"]', ['a.wav', 'b.wav']);
  await expect(
    page.getByText(/2 of \d+ zones have new samples, key by key from the lowest, soft to hard/),
  ).toBeVisible();
  await expect(page.getByText('Drop recordings, folders, SFZ files')).toHaveCount(0);
  await strike(page, 60);
});
