import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { writeWav } from '../src/core/formats/wav';
import axeFinds from './axe';
import { addLayer, keyPoint, level, openDemo, samplesHere, strike, watchProblems } from './steps';

/** The mix: the river and its strips, effects, hearing with and without, takes and what plays along. */
watchProblems();

const openMix = async (page: Page, patch: string) => {
  await openDemo(page);
  await page.goto(`/patch/${patch}/mix`);
  await expect(page.getByRole('group', { name: 'The mix as a river' })).toBeVisible();
  await page.locator('header').click({ position: { x: 440, y: 5 } });
  await samplesHere(page);
};
const addEffect = async (page: Page, kind: string) => {
  await page.getByRole('button', { name: /^\+ effect on/ }).click();
  await page.getByRole('option', { name: kind, exact: true }).click();
};
const typeInto = async (page: Page, strip: string, text: string) => {
  await page.getByRole('complementary').getByRole('slider', { name: strip, exact: true }).first().focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
};
/** The loudness of 3 s of sound that begin now; where the sound lags behind the clock, that takes longer. */
const settled = async (page: Page): Promise<number> => {
  const seconds = page.getByTestId('measured-seconds');
  // What sounded before has died away within a second.
  for (const heard of [1, 4]) {
    await page.getByRole('button', { name: 'measure anew' }).click();
    await expect(async () => expect(Number(await seconds.textContent())).toBe(0)).toPass({ timeout: 30_000 });
    await expect(async () => expect(Number(await seconds.textContent())).toBeGreaterThanOrEqual(heard)).toPass({
      timeout: 90_000,
    });
  }
  return Number(((await page.getByTestId('short-term').textContent()) ?? '').replace('−', '-').replace(' LUFS', ''));
};

test('the chain of Kelp Choir is built by hand: cuts on layers, a group with its chain, a space that is sent to', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: 'New patch', exact: true }).click();
  for (const sound of ['Breath Choir', 'Bowed Wire', 'Harbour Bells']) await addLayer(page, sound);
  await page.getByRole('link', { name: 'Mix' }).click();
  await page.getByRole('button', { name: 'Layer Breath Choir' }).click();
  await addEffect(page, 'equaliser');
  // A click on the picture makes a bell; it is dragged by its number, and becomes a cut in its strip.
  const curve = page.getByRole('group', { name: 'The curve of the equaliser' });
  await curve.click({ position: { x: 60, y: 40 } });
  const band = curve.getByRole('slider', { name: /^Band 3, bell/ });
  await expect(band).toBeVisible();
  const box = (await band.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 30, box.y + 50, { steps: 5 });
  await page.mouse.up();
  expect(Number(await band.getAttribute('aria-valuenow'))).toBeGreaterThan(80);
  await typeInto(page, 'band 3', 'low cut');
  await typeInto(page, 'frequency 3', '220');
  await expect(page.getByRole('button', { name: 'low cut 220: equaliser on Breath Choir', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Gather in a group' }).click();
  await addEffect(page, 'compressor');
  await page.getByRole('button', { name: 'presets' }).click();
  await page.getByRole('menuitem', { name: 'holds keys together' }).click();
  await page.getByRole('button', { name: '+ shared effect' }).click();
  await page.getByRole('option', { name: 'reverb', exact: true }).click();
  await page.getByRole('button', { name: 'Group Together' }).click();
  await page.getByLabel('Send to').selectOption({ label: 'Reverb' });
  await expect(page.getByRole('slider', { name: 'Send from Together to Reverb' })).toHaveAttribute(
    'aria-valuenow',
    '-12',
  );
  await samplesHere(page);
  await strike(page, 60);
  // Water flows: the send's level is measured, and the space rings after the key.
  await expect
    .poll(() =>
      page.evaluate(() =>
        Math.max(
          ...[...document.querySelectorAll<SVGPathElement>('svg path')].map(
            (path) => parseFloat(path.style.strokeWidth) || 0,
          ),
        ),
      ),
    )
    .toBeGreaterThan(2);
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Shared effect Reverb' })).toBeVisible();
});

test('a stretch is dragged for its level, muted by key; an effect is taken along to another stretch; a stretch’s end to another place', async ({
  page,
}) => {
  await openMix(page, 'kelp-choir');
  const way = page.getByRole('slider', { name: 'Way from Kelp to main' });
  const box = (await way.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.6, box.y + box.height / 2);
  const from = await page.evaluate(
    ([x, y]) => document.elementFromPoint(x, y)?.getAttribute('data-stretch'),
    [box.x + box.width * 0.6, box.y + box.height / 2],
  );
  expect(from).toBe('out-group-kelp');
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.6, box.y + box.height / 2 + 40, { steps: 6 });
  await page.mouse.up();
  await expect(way).toHaveAttribute('aria-valuenow', '-10');
  await page.keyboard.press('Control+z');
  await expect(way).toHaveAttribute('aria-valuenow', '0');
  await way.focus();
  await page.keyboard.press('m');
  await expect(way).toHaveAttribute('aria-valuetext', /muted/);
  await page.keyboard.press('m');
  // An effect's mark, from the group to the stretch of a layer.
  const mark = (await page.getByRole('button', { name: 'compressor on Kelp', exact: true }).boundingBox())!;
  const layer = (await page.getByRole('button', { name: /^high cut .* on Ground$/ }).boundingBox())!;
  await page.mouse.move(mark.x + mark.width / 2, mark.y + mark.height / 2);
  await page.mouse.down();
  await page.mouse.move(mark.x - 60, mark.y - 10, { steps: 4 });
  await page.mouse.move(layer.x - 30, layer.y + layer.height / 2, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'compressor on Ground', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'compressor on Ground', exact: true }).press('ArrowDown');
  await expect(page.getByRole('button', { name: 'compressor on Ground', exact: true })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  // The end of Ground's water is taken past the group, to the dome; a step of undo takes it back.
  const out = page.getByRole('slider', { name: 'Way from Ground to Kelp' });
  const end = (await page.locator('[data-end="out-layer-ground"]').boundingBox())!;
  const dome = (await page.getByRole('button', { name: 'Shared effect Dome' }).boundingBox())!;
  await page.mouse.move(end.x + 8, end.y + 8);
  await page.mouse.down();
  await page.mouse.move(dome.x + 20, dome.y + 60, { steps: 4 });
  await page.mouse.move(dome.x + dome.width / 2, dome.y + dome.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('slider', { name: 'Way from Ground to Dome' })).toHaveCount(1);
  await page.keyboard.press('Control+z');
  await expect(out).toHaveCount(1);
  // The send is taken from the dome to the echo by its panel; a circle is refused, and told.
  await page.getByRole('slider', { name: 'Send from Drift to Dome' }).press('Enter');
  await page.getByLabel('Goes to', { exact: true }).selectOption({ label: 'main' });
  await expect(page.getByRole('slider', { name: 'Send from Drift to main' })).toHaveCount(1);
  await page.getByRole('button', { name: 'Shared effect Dome' }).click();
  await page.getByLabel('Send to').selectOption({ label: 'Drift' });
  await expect(page.getByRole('slider', { name: 'Send from Dome to Drift' })).toHaveCount(1);
  await page.getByRole('button', { name: 'Shared effect Drift' }).click();
  await page.getByLabel('Send to').selectOption({ label: 'Dome' });
  await expect(page.getByText(/flow in a circle/)).toBeVisible();
});

test('with and without under a held chord: levelled to within half a LU, and the difference is told', async ({
  page,
}) => {
  await openDemo(page);
  // Bowed strings that go on as they are: what differs is the effect alone.
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: 'New patch', exact: true }).click();
  await addLayer(page, 'Bowed Wire');
  await page.getByRole('link', { name: 'Mix' }).click();
  await page.getByRole('button', { name: 'Layer Bowed Wire' }).click();
  await addEffect(page, 'compressor');
  await typeInto(page, 'threshold', '-40');
  await typeInto(page, 'ratio', '4');
  await page.getByRole('button', { name: 'hold', exact: true }).click();
  for (const key of [50, 57, 62]) await strike(page, key);
  const aside = page.getByRole('complementary', { name: 'Effect on Bowed Wire' });
  await aside.getByRole('button', { name: 'without', exact: true }).click();
  await expect(page.getByTestId('difference')).toHaveText(
    /Levelled: without it is [+−]\d+\.\d LU and [+−]\d+\.\d dB in peak/,
    { timeout: 60_000 },
  );
  // It does a good deal here, so that levelling it is worth something.
  expect(
    Math.abs(
      Number((await page.getByTestId('difference').textContent())!.match(/is ([+−]\d+\.\d) LU/)![1].replace('−', '-')),
    ),
  ).toBeGreaterThan(3);
  // The place that is looked at is before the gain that makes up: what is told of main is compared.
  await page.getByRole('button', { name: 'Main', exact: true }).click();
  const without = await settled(page);
  await page.getByRole('button', { name: 'compressor on Bowed Wire', exact: true }).click();
  await aside.getByRole('button', { name: 'with', exact: true }).click();
  await page.getByRole('button', { name: 'Main', exact: true }).click();
  const withIt = await settled(page);
  expect(Number.isFinite(withIt) && withIt < 0).toBe(true);
  expect(Math.abs(without - withIt)).toBeLessThan(0.5);
});

test('strips: the same mix as a table, sends made by dragging them up, solo of a shared effect; the front', async ({
  page,
}) => {
  await openMix(page, 'low-water');
  await page.getByRole('button', { name: 'strips', exact: true }).click();
  const table = page.getByRole('group', { name: 'The mix as strips' });
  const send = table.getByRole('slider', { name: /^send of .* to Dome$/ }).first();
  await send.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
  await expect(table.locator('[data-target^="connection."]')).toHaveCount(2);
  await table.getByRole('button', { name: 'Mute Hull Bass' }).click();
  await expect(table.getByRole('button', { name: 'Mute Hull Bass' })).toHaveAttribute('aria-pressed', 'true');
  await table.getByRole('button', { name: 'Solo Dome' }).click();
  await table.getByRole('button', { name: 'Solo Dome' }).click();
  await page.getByRole('link', { name: 'Layers' }).click();
  await page.getByRole('button', { name: '+ value …' }).click();
  await page.getByRole('combobox', { name: 'Which value' }).fill('decay reverb');
  await page.keyboard.press('Enter');
  await expect(
    page.getByRole('group', { name: 'On the front' }).getByRole('slider', { name: 'decay of reverb on Dome' }),
  ).toBeVisible();
});

test('every effect opens with its picture and its values, and the accessibility check finds nothing in any of the three pictures', async ({
  page,
}) => {
  await openMix(page, 'low-water');
  await page.getByRole('button', { name: 'Main', exact: true }).click();
  await page.getByRole('button', { name: /^\+ effect on/ }).click();
  const kinds = await page
    .getByRole('listbox', { name: /^Adds an effect/ })
    .getByRole('option')
    .evaluateAll((options) => options.map((option) => option.getAttribute('aria-label')!));
  await page.keyboard.press('Escape');
  expect(kinds).toHaveLength(30);
  for (const kind of kinds) {
    await addEffect(page, kind);
    await expect(
      page.getByRole('complementary', { name: 'Effect on main' }).getByRole('heading', { level: 2 }),
    ).toContainText(new RegExp(`^${kind}`, 'i'));
    await expect(page.getByRole('complementary', { name: 'Effect on main' }).locator('svg').first()).toBeVisible();
    await page.getByRole('button', { name: 'Delete this effect' }).click();
  }
  await addEffect(page, 'echo');
  expect(await axeFinds(page)).toEqual([]);
  await page.getByRole('button', { name: 'strips', exact: true }).click();
  expect(await axeFinds(page)).toEqual([]);
  await page.getByRole('button', { name: 'take and backing' }).click();
  await expect(page.getByTestId('notes')).toBeVisible();
  expect(await axeFinds(page)).toEqual([]);
});

test('a number that is typed is taken when it is whole: the 1 on the way to 16 bars cuts no take short', async ({
  page,
}) => {
  await openMix(page, 'low-water');
  await page.getByRole('button', { name: 'take and backing' }).click();
  const notes = page.getByTestId('notes');
  const count = (await notes.getAttribute('data-count'))!;
  expect(Number(count)).toBeGreaterThan(4);
  const bars = page.getByRole('complementary', { name: 'The take' }).getByRole('spinbutton').first();
  const before = await bars.inputValue();
  const longer = `1${Number(before) % 10}`;
  const type = async (text: string) => {
    await bars.focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.type(text);
  };
  await type(longer);
  await expect(notes).toHaveAttribute('data-count', count);
  await page.keyboard.press('Enter');
  await expect(bars).toHaveValue(longer);
  await expect(notes).toHaveAttribute('data-count', count);
  // A step is taken at once; what cannot be, or is nothing, leaves what was.
  await page.keyboard.press('ArrowUp');
  const stepped = `${Number(longer) + 1}`;
  await expect(bars).toHaveValue(stepped);
  for (const nothing of ['999', '0', '']) {
    await type(nothing);
    if (nothing === '') await page.keyboard.press('Delete');
    await bars.blur();
    await expect(bars).toHaveValue(stepped);
  }
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(bars).toHaveValue(before);
  await expect(notes).toHaveAttribute('data-count', count);
});

test('a take is recorded with a strip that moves, plays back as it was, and is edited', async ({ page }) => {
  await openMix(page, 'low-water');
  await page.getByRole('button', { name: 'Record a take' }).click();
  // The beats of a bar that are left are seen from the keys.
  await expect(page.getByLabel('Counting in')).toHaveText(/^[4321]$/);
  await expect(page.getByLabel('Counting in')).toHaveCount(0);
  await page.waitForTimeout(300);
  await strike(page, 60);
  await page.getByRole('complementary').getByRole('slider', { name: 'main level' }).focus();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('ArrowLeft');
  await strike(page, 64);
  await page.getByRole('button', { name: 'End the recording' }).click();
  await expect(page.getByText('A take of 2 notes was recorded.')).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'take', exact: true })).toContainText('Take 1');
  await page.getByRole('button', { name: 'Play the take' }).click();
  // The key that was played lights again.
  await expect
    .poll(
      () =>
        page.evaluate(() =>
          document.querySelector('[data-testid="keyboard"] rect[data-key="60"]')?.getAttribute('fill'),
        ),
      { intervals: [30] },
    )
    .not.toBe('var(--key-white)');
  await page.getByRole('button', { name: 'Stop the take' }).click();
  await page.getByRole('button', { name: 'Edit the take' }).click();
  const notes = page.getByTestId('notes');
  await expect(notes).toHaveAttribute('data-count', '2');
  await expect(page.getByText('main.level')).toBeVisible();
  // Drawn on empty ground, chosen all, moved up an octave, taken away.
  const at = await keyPoint(page, 72);
  const box = (await notes.boundingBox())!;
  await page.mouse.click(at.x, box.y + box.height - 60);
  await expect(notes).toHaveAttribute('data-count', '3');
  await notes.focus();
  await page.keyboard.press('Control+a');
  await expect(page.getByRole('heading', { name: '3 notes' })).toBeVisible();
  await page.getByRole('button', { name: '+12' }).click();
  await page.getByRole('button', { name: 'quantise' }).click();
  await notes.focus();
  await page.keyboard.press('Delete');
  await expect(notes).toHaveAttribute('data-count', '0');
  await page.keyboard.press('Control+z');
  await expect(notes).toHaveAttribute('data-count', '3');
  // Another patch plays along.
  await page.getByRole('button', { name: '+ part' }).click();
  await page
    .getByRole('listbox', { name: /^Another part/ })
    .getByRole('option', { name: 'patch Lantern Row' })
    .click();
  const pad = await keyPoint(page, 36);
  await page.mouse.click(pad.x, box.y + box.height - 40);
  await expect(notes).toHaveAttribute('data-count', '1');
  await expect(
    page.getByRole('region', { name: 'Parts and backing' }).getByText('Lantern Row', { exact: true }),
  ).toBeVisible();
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
});

const recording = (name: string, seconds: number, at: (i: number) => number) => ({
  name,
  mimeType: 'audio/wav',
  buffer: Buffer.from(
    writeWav({ rate: 48000, channels: 1, data: Float32Array.from({ length: seconds * 48000 }, (_, i) => at(i)) }),
  ),
});

test('recordings: one as an impulse for the convolution, one that plays along alone; a second round over the first', async ({
  page,
}) => {
  await openMix(page, 'low-water');
  await page.getByRole('button', { name: 'Layer Felt Keys' }).click();
  await addEffect(page, 'convolution');
  await page
    .getByLabel('A recording to bring')
    .setInputFiles(recording('cave.wav', 1, (i) => 0.3 * Math.sin(i * i) * Math.exp(-i / 12000)));
  await expect(page.getByLabel('Recording', { exact: true }).locator('option:checked')).toHaveText(/cave/);
  await page.getByRole('button', { name: 'take and backing' }).click();
  // What is not a recording is told, and nothing comes of it.
  await page
    .getByLabel('A recording to play along')
    .setInputFiles({ name: 'list.wav', mimeType: 'audio/wav', buffer: Buffer.from('no audio at all') });
  await expect(page.getByText(/list\.wav/).first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Mute list' })).toHaveCount(0);
  await page
    .getByLabel('A recording to play along')
    .setInputFiles(recording('loop.wav', 2, (i) => (i % 24000 < 12000 ? 0.5 * Math.sin(i * 0.05) : 0)));
  await page.getByRole('button', { name: 'Mute hands' }).click();
  await page.getByRole('button', { name: 'Play the take' }).click();
  await expect.poll(() => level(page), { intervals: [50] }).toBeGreaterThan(-30);
  await page.getByRole('button', { name: 'Stop the take' }).click();
  const before = Number(await page.getByTestId('notes').getAttribute('data-count'));
  await page.getByRole('button', { name: 'Overdub' }).click();
  await page.getByRole('button', { name: 'Record a take' }).click();
  await page.waitForTimeout(3600);
  await strike(page, 72);
  await page.getByRole('button', { name: 'End the recording' }).click();
  await expect(page.getByTestId('notes')).toHaveAttribute('data-count', String(before + 1));
  await page.reload();
  await expect(page.getByRole('group', { name: 'The mix as a river' })).toBeVisible();
  await expect(page.getByRole('button', { name: /convolution on Felt Keys/ })).toBeVisible();
});
