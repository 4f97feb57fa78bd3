import { expect, test } from './base';
import { watchProblems } from './steps';
import { openStage, title, unlock } from './kit/stage';

/** Words and chords for the player: on Stage, as they are sung, and where they are written. */

watchProblems();

test('the page of a song is on Stage as it is sung, goes on by key, and has its macros behind it', async ({ page }) => {
  await openStage(page);
  // The fifth step: Kelp Choir, written in D and sung two semitones lower.
  await page.keyboard.press('5');
  await page.keyboard.press('Enter');
  await expect(title(page)).toHaveText('Kelp Choir');
  const words = page.getByTestId('stage-page');
  await expect(words).toContainText('Under the swell');
  await expect(words.locator('b').filter({ hasText: /^C$/ }).first()).toBeVisible();
  await expect(words).toContainText('A7'.replace('A7', 'G7'));
  await expect(words.getByRole('region', { name: 'Chorus' })).toHaveCount(2);
  // A chord stands over the word that it is written before.
  const over = await words.evaluate((node) => {
    const pair = [...node.querySelectorAll('span')].find((each) => each.textContent?.startsWith('Am7long'))!;
    const [chord, word] = [pair.querySelector('b')!, pair.querySelector('span')!].map((each) =>
      each.getBoundingClientRect(),
    );
    return chord.bottom <= word.top + 2 && Math.abs(chord.left - word.left) < 2;
  });
  expect(over).toBe(true);
  const top = () => words.evaluate((node) => node.scrollTop);
  await page.setViewportSize({ width: 1280, height: 640 });
  await page.keyboard.press('n');
  await expect.poll(top).toBeGreaterThan(40);
  await page.keyboard.press('b');
  await expect.poll(top).toBe(0);
  await page.getByRole('radio', { name: 'macros' }).click();
  await expect(page.getByRole('slider', { name: 'Depth' })).toBeVisible();
  await expect(words).toHaveCount(0);
  await page.setViewportSize({ width: 1280, height: 800 });
});

test('a page is written, read from a file and written to one; it is kept, and undone as every edit', async ({
  page,
}) => {
  await openStage(page);
  await unlock(page);
  await page.getByRole('button', { name: /^Setlist/ }).click();
  const row = page.getByRole('listitem', { name: 'Marsh Bells' });
  await row
    .getByLabel('Page for Marsh Bells')
    .setInputFiles([
      { name: 'bells.cho', mimeType: 'text/plain', buffer: Buffer.from('{title: Bells}\n[G]One for the [C]ebb') },
    ]);
  await expect(row.getByRole('button', { name: 'page · 1 section' })).toBeVisible();
  const written = row.getByLabel('Words and chords of Marsh Bells');
  await expect(written).toHaveValue(/One for the/);
  await written.fill('{title: Bells}\n[G]Two for the [C]flood');
  await written.blur();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    row.getByRole('button', { name: 'as a file' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Marsh Bells.cho');
  const stream = await download.createReadStream();
  const chunks: Buffer[] = [];
  for await (const chunk of stream) chunks.push(chunk as Buffer);
  expect(Buffer.concat(chunks).toString('utf8')).toBe('{title: Bells}\n[G]Two for the [C]flood');
  // What is no text, or too much of it, changes nothing and is said.
  await row
    .getByLabel('Page for Marsh Bells')
    .setInputFiles([{ name: 'wrong.cho', mimeType: 'text/plain', buffer: Buffer.from([0, 1, 2, 0]) }]);
  await expect(page.getByText('“wrong.cho” is no text. Nothing was changed.')).toBeVisible();
  await expect(written).toHaveValue(/Two for the/);
});
