import type { Page } from '@playwright/test';
import { writeFileSync } from 'node:fs';
import { expect, test } from './base';
import { addLayer, keyPoint, level, openDemo, readout, samplesHere, strike, watchProblems } from './steps';

watchProblems();

const rigsSheet = async (page: Page) => {
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: /Rigs in this browser/ }).click();
  return page.getByRole('dialog', { name: 'Rigs in this browser' });
};
const saved = (page: Page) => expect(page.locator('header').getByRole('status')).toHaveText('saved');

/** Changes what the browser keeps of the rig, as a version before or a mishap might have left it. */
const damage = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<void>((resolve) => {
        const request = indexedDB.open('wavicle');
        request.onsuccess = () => {
          const transaction = request.result.transaction('rigs', 'readwrite');
          const rigs = transaction.objectStore('rigs');
          rigs.get('perigee-tide').onsuccess = ({ target }) => {
            const stored = (target as IDBRequest<{ rig: string }>).result;
            const rig = JSON.parse(stored.rig) as { patches: { name: string }[] };
            rig.patches[0].name = 'x'.repeat(300);
            // As versions before kept it: the rig itself, not its text.
            rigs.put({ ...stored, rig });
          };
          transaction.oncomplete = () => {
            request.result.close();
            resolve();
          };
        };
      }),
  );

test('a rig that cannot be opened stays as it is, is told, rescued as a copy and exported', async ({ page }) => {
  await openDemo(page);
  await saved(page);
  // An edit makes sure that it is kept.
  await page.getByRole('button', { name: 'Mute Felt Keys' }).click();
  await saved(page);
  await damage(page);
  await page.reload();
  await expect(page.getByRole('button', { name: 'a rig cannot be opened' })).toBeVisible();
  // The demo is there to go on with; edits of it leave the damaged one alone.
  await page.getByRole('button', { name: 'Mute Felt Keys' }).click();
  await saved(page);
  await page.getByRole('button', { name: 'a rig cannot be opened' }).click();
  const sheet = page.getByRole('dialog', { name: 'Rigs in this browser' });
  await expect(sheet).toContainText('patches[0].name: is longer than 200 characters');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    sheet.getByRole('button', { name: 'Export it as it is' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('damaged rig.wavicle');
  await sheet.getByRole('button', { name: 'Open what can be read' }).click();
  await expect(page.getByRole('button', { name: /^Patch / })).toContainText('rescued');
  await expect(page.getByText('1 thing was mended or left out')).toBeVisible();
  // What was muted before it was damaged is muted in the copy, and the damaged one is still there.
  await expect(page.getByRole('button', { name: 'Mute Felt Keys' })).toHaveAttribute('aria-pressed', 'true');
  await expect(sheet.getByRole('list', { name: 'Rigs' }).getByRole('listitem')).toHaveCount(3);
});

test('rigs stand side by side: made, named, opened, duplicated, deleted after a question; states are kept and gone back to', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'Mute Hull Bass' }).click();
  await saved(page);
  let sheet = await rigsSheet(page);
  await sheet.getByLabel('Keep this state as').fill('before the show');
  await sheet.getByLabel('Keep this state as').press('Enter');
  await expect(sheet.getByRole('list', { name: 'States' })).toContainText('before the show');
  await sheet.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'Mute Hull Bass' }).click();
  await expect(page.getByRole('button', { name: 'Mute Hull Bass' })).toHaveAttribute('aria-pressed', 'false');
  sheet = await rigsSheet(page);
  await sheet
    .getByRole('listitem')
    .filter({ hasText: 'before the show' })
    .getByRole('button', { name: 'go back to it' })
    .click();
  await expect(page.getByRole('button', { name: 'Mute Hull Bass' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Mute Hull Bass' })).toHaveAttribute('aria-pressed', 'false');
  await sheet.getByRole('button', { name: 'The demo rig as one more' }).click();
  await expect(page.getByRole('button', { name: /^Patch / })).toContainText('Perigee Tide (2)');
  const rows = sheet.getByRole('list', { name: 'Rigs' }).getByRole('listitem');
  await expect(rows).toHaveCount(2);
  await rows.filter({ hasNotText: 'in view' }).getByRole('button', { name: 'duplicate' }).click();
  await expect(rows).toHaveCount(3);
  const copy = rows.filter({ hasText: 'Perigee Tide copy' });
  await copy.getByRole('button', { name: 'name' }).click();
  await sheet.getByLabel('Name of the rig').fill('Spare');
  await sheet.getByLabel('Name of the rig').press('Enter');
  const spare = rows.filter({ hasText: 'Spare' });
  await spare.getByRole('button', { name: 'delete' }).click();
  await expect(spare.getByRole('alertdialog')).toContainText('There is no way back');
  await spare.getByRole('button', { name: 'delete it for good' }).click();
  await expect(rows).toHaveCount(2);
  await rows.filter({ hasNotText: '(2)' }).getByRole('button', { name: 'open' }).click();
  await expect(page.getByRole('button', { name: /^Patch / })).not.toContainText('(2)');
  await page.reload();
  await expect(page.getByRole('button', { name: /^Patch / })).not.toContainText('(2)');
});

test('a sound that several patches use says so, and one patch can have its own', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'Sounds' }).click();
  await page.getByRole('button', { name: /^Felt Keys/ }).click();
  await expect(page.getByRole('note', { name: 'Used in several patches' })).toContainText(
    'used in 6 patches (Low Water, Tern Colony, Perigee, Slack Tide, Marsh Bells, First Light)',
  );
  await page.getByRole('button', { name: 'own copy for this patch' }).click();
  await expect(page).not.toHaveURL(/felt-keys/);
  await expect(page.getByRole('note', { name: 'Used in several patches' })).toHaveCount(0);
  await page.getByRole('link', { name: 'Layers' }).click();
  await expect(page.getByLabel('plays')).toHaveValue(/^(?!felt-keys)/);
});

test('the first key after a reload waits for sound and is heard', async ({ page }) => {
  await openDemo(page);
  await page.reload();
  await expect(page.getByText('click or press a key to start sound')).toBeVisible();
  // The bass is looped: it lasts as long as it is held, however late one looks.
  const { x, y } = await keyPoint(page, 40);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await expect.poll(() => level(page).catch(() => -99)).toBeGreaterThan(-40);
  await page.mouse.up();
});

test('Escape twice silences from a typed field and from a list; Space is the take’s but on a button that was reached by keyboard; the field is left after Enter', async ({
  page,
}) => {
  await openDemo(page);
  // The bass is looped: it lasts as long as it is held.
  const hold = page.getByRole('button', { name: 'hold', exact: true });
  const voices = page.getByTestId('voices');
  const field = page
    .getByLabel('Layer Hull Bass in numbers')
    .getByRole('region', { name: 'Keys' })
    .getByLabel('to', { exact: true });
  for (const focus of [field, page.locator('footer select'), page.getByRole('button', { name: 'Mute Felt Keys' })]) {
    await hold.click();
    await strike(page, 40);
    await expect(voices).toContainText('1 voice');
    await focus.focus();
    if (focus === field) await page.keyboard.type('40');
    // Twice at once, as a hand in need does it.
    await Promise.all([page.keyboard.press('Escape'), page.keyboard.press('Escape')]);
    if (focus === field) await expect(field).toHaveValue('F3');
    await expect(voices).toContainText('0 voices');
    await expect(hold).toHaveAttribute('aria-pressed', 'false');
  }
  const mute = page.getByRole('button', { name: 'Mute Hull Bass' });
  await mute.focus();
  await page.keyboard.press('Space');
  await expect(mute).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('button', { name: 'Play the take' })).toBeVisible();
  // After a click with the pointer it is the take's.
  await mute.click();
  await expect(mute).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop the take' })).toBeVisible();
  await expect(mute).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play the take' })).toBeVisible();
  await field.fill('50');
  await field.press('Enter');
  await expect(field).toHaveValue('D3');
  await expect(field).not.toBeFocused();
  // The number that was typed is what is undone, and it is said.
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('F3');
  await expect(page.getByText('Undone: the window on key of “Hull Bass”.')).toBeVisible();
  await field.focus();
  await page.keyboard.press('PageDown');
  await expect(page).toHaveURL(/tern-colony/);
});

test('hold keeps keys, repeat strikes them again', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'hold', exact: true }).click();
  await strike(page, 60);
  await strike(page, 64);
  await expect(page.getByTestId('voices')).toContainText('2 voices');
  await page.getByLabel('Repeated every').selectOption('1/8');
  await page.getByRole('button', { name: 'repeat', exact: true }).click();
  const strikes = () => page.getByTestId('readout').textContent();
  await expect.poll(strikes).toContain('last strike: E4 (64)');
  await strike(page, 60);
  await strike(page, 64);
  await page.getByRole('button', { name: 'repeat', exact: true }).click();
  await page.getByRole('button', { name: 'hold', exact: true }).click();
  await expect(page.getByTestId('voices')).toContainText('0 voices');
});

test('Delete on a strip, a mute or a handle leaves the layer; on free ground it removes it, which is told and taken back', async ({
  page,
}) => {
  await openDemo(page);
  const keys = page.getByRole('region', { name: 'Layer Felt Keys' });
  await keys.getByRole('heading').click();
  for (const control of [
    keys.getByRole('slider', { name: 'level' }),
    page.getByRole('button', { name: 'Mute Felt Keys' }),
    page.getByRole('slider', { name: 'Felt Keys: lowest key' }),
  ]) {
    await control.focus();
    await page.keyboard.press('Delete');
    await expect(keys).toBeVisible();
  }
  await keys.getByRole('heading').click();
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await page.keyboard.press('Delete');
  await expect(keys).toHaveCount(0);
  await expect(page.getByText('The layer “Felt Keys” is gone. Control Z brings it back.')).toBeVisible();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(keys).toBeVisible();
});

test('a border is dragged anywhere along its line, and takes its neighbour along when asked; the line in the field moves both', async ({
  page,
}) => {
  await openDemo(page);
  const described = (name: string) => page.getByRole('region', { name: `Layer ${name}` });
  const border = (await described('Hull Bass').locator('[data-border="high"]').first().boundingBox())!;
  const to = await keyPoint(page, 47);
  await page.mouse.move(border.x + border.width / 2, border.y + border.height / 2);
  await page.mouse.down();
  await page.mouse.move(to.x, border.y + border.height / 2, { steps: 6 });
  await page.mouse.up();
  await expect(described('Hull Bass')).toContainText('up to B2');
  await expect(described('Felt Keys')).toContainText('F♯3 and up');
  await page.getByRole('button', { name: 'Take “Felt Keys” along' }).click();
  await expect(described('Felt Keys')).toContainText('C3 and up');
  const line = (await page.getByTestId('split-line').boundingBox())!;
  const there = await keyPoint(page, 59);
  await page.mouse.move(line.x + line.width / 2, line.y + 40);
  await page.mouse.down();
  await page.mouse.move(there.x, line.y + 40, { steps: 6 });
  await page.mouse.up();
  await expect(described('Felt Keys')).toContainText(/^.*(A♯3|B3) and up/);
  await page.getByTestId('split-line').focus();
  await page.keyboard.press('ArrowRight');
  await expect(described('Hull Bass')).toContainText(/up to (A♯3|B3)/);
});

test('the split form refuses a wrong key in its place, takes a key that is clicked and applies with Enter', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'Split here' }).click();
  const key = page.getByLabel('first key of the upper one');
  await key.fill('H9');
  await key.press('Enter');
  await expect(page.getByRole('alert').first()).toContainText('a key such as E3');
  await expect(page.getByRole('button', { name: 'Apply' })).toBeVisible();
  await strike(page, 48);
  await expect(key).toHaveValue('C3');
  await page.getByLabel('keys that sound both').press('Enter');
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('C3 and up');
});

test('solo is seen in the readout as mute is; a value out of range is said and not shown as if it were held', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'Solo Hull Bass' }).click();
  const { x, y } = await keyPoint(page, 70);
  await page.mouse.move(x, y);
  await expect.poll(() => readout(page, 'Felt Keys')).toBe('silent');
  await page.getByRole('tab', { name: 'level', exact: true }).click();
  const strip = page.getByLabel('Layer Hull Bass in numbers').getByRole('slider', { name: 'level', exact: true });
  await strip.focus();
  await page.keyboard.type('99');
  await page.keyboard.press('Enter');
  await expect(page.getByText('level: “99” was not taken, it wants a value from silent to 6.0 dB.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(strip).toHaveAttribute('aria-valuetext', '0.6 dB');
  await page.getByRole('tab', { name: 'pitch', exact: true }).click();
  const octave = page.getByRole('group', { name: 'octave' });
  const semitones = page.getByRole('group', { name: 'semitones' });
  await octave.getByRole('button', { name: 'octave up' }).click();
  await semitones.getByRole('button', { name: 'semitones down' }).click();
  await expect(octave.locator('output')).toHaveText('+1');
  await expect(semitones.locator('output')).toHaveText('−1');
});

test('many layers: lanes use the height, the new one is in view, all have marks of their own and bands on the keys', async ({
  page,
}) => {
  await openDemo(page);
  for (let i = 0; i < 10; i++) await addLayer(page, ['Reed Bank', 'Tin Kit'][i % 2]);
  const lanes = page.locator('section[aria-label^="Layer "]');
  await expect(lanes).toHaveCount(12);
  await expect(lanes.last()).toBeInViewport({ ratio: 0.9 });
  const marks = await lanes.evaluateAll((all) =>
    all.map((lane) => {
      const path = lane.querySelector('svg path[d^="M"]')!;
      return `${path.getAttribute('d')} ${path.getAttribute('stroke')}`;
    }),
  );
  expect(new Set(marks).size).toBeGreaterThanOrEqual(11);
  await expect(page.getByTestId('readout').getByRole('listitem')).toHaveCount(12);
  for (const [width, height] of [
    [820, 700],
    [1024, 700],
    [853, 533],
  ]) {
    await page.setViewportSize({ width, height });
    for (const name of ['Silence', 'Split here', 'Bring in with …'])
      await expect(page.getByRole('button', { name })).toBeInViewport({ ratio: 1 });
    const name = page.locator('header').getByText('Low Water', { exact: true });
    expect(await name.evaluate((element) => element.scrollWidth <= element.clientWidth)).toBe(true);
  }
  await page.setViewportSize({ width: 1280, height: 800 });
});

test('a take of one’s own stays with its patch; an edit right after a new patch lands in it; patches change at once', async ({
  page,
}, info) => {
  await openDemo(page);
  const track = [0, 0x90, 70, 100, 96, 70, 0, 0, 0xff, 0x2f, 0];
  const own = info.outputPath('my tune.mid');
  writeFileSync(
    own,
    Uint8Array.from([
      ...Buffer.from('MThd'),
      0,
      0,
      0,
      6,
      0,
      0,
      0,
      1,
      0,
      96,
      ...Buffer.from('MTrk'),
      0,
      0,
      0,
      track.length,
      ...track,
    ]),
  );
  await page.getByLabel('MIDI file', { exact: true }).setInputFiles(own);
  const take = page.locator('footer select option:checked').first();
  await expect(page.locator('footer').getByRole('combobox', { name: 'take' }).locator('option:checked')).toHaveText(
    'my tune.mid',
  );
  await page.keyboard.press('PageDown');
  await expect(take).toHaveText('tern colony');
  await page.keyboard.press('PageUp');
  await expect(take).toHaveText('my tune.mid');
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: 'New patch' }).press('Enter');
  await addLayer(page, 'Reed Bank');
  await expect(page.getByRole('button', { name: /^Patch / })).toContainText('New patch');
  await expect(page.locator('section[aria-label^="Layer "]')).toHaveCount(1);
  await page.keyboard.press('PageUp');
  await samplesHere(page);
  const title = await page.evaluate(async () => {
    window.dispatchEvent(new KeyboardEvent('keydown', { key: 'PageUp', bubbles: true, cancelable: true }));
    await new Promise(requestAnimationFrame);
    return document.title;
  });
  expect(title).toContain('Spindrift ·');
});

test('another tab takes over where it is asked to, and the first becomes read-only', async ({ context, page }) => {
  await openDemo(page);
  await saved(page);
  const second = await context.newPage();
  await second.goto('/');
  await expect(second.getByRole('button', { name: 'Mute Felt Keys' })).toBeDisabled();
  await second.getByRole('button', { name: 'take over' }).click();
  await expect(second.getByRole('button', { name: 'Mute Felt Keys' })).toBeEnabled();
  await expect(page.getByRole('button', { name: 'Mute Felt Keys' })).toBeDisabled();
});

test('a reload with a full tray asks first', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'Sounds' }).click();
  await page.getByRole('button', { name: 'Try the demo folder' }).click();
  await expect(page.getByRole('button', { name: 'Place 20 files' })).toBeEnabled();
  const asked = new Promise<string>((resolve) =>
    page.once('dialog', (dialog) => {
      resolve(dialog.type());
      void dialog.accept();
    }),
  );
  await page.reload();
  expect(await asked).toBe('beforeunload');
});
