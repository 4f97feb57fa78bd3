import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { CHROMIUM_ARGS, CHROMIUM_PATH } from '../bench/browser';
import { writeWav } from '../src/core/formats/wav';
import { expect, test } from './base';
import { level, openDemo, watchProblems } from './steps';

/** A voice or a line that comes in, from Chromium's fake device with a file as its input. */

const RATE = 48000;
/** A chord for six seconds, then one tone that grows for two. */
const data = Float32Array.from({ length: 8 * RATE }, (_, i) => {
  const t = i / RATE;
  const tone = (hz: number) => Math.sin(2 * Math.PI * hz * t);
  return t < 6 ? 0.1 * (tone(220) + tone(331) + tone(443)) : 0.02 * 10 ** ((16 * (t - 6)) / 20) * tone(1000);
});
const file = join(mkdtempSync(join(tmpdir(), 'input-')), 'voice.wav');
writeFileSync(file, writeWav({ rate: RATE, channels: 1, data }, { encoding: 'pcm16' }));

test.use({
  permissions: ['microphone'],
  launchOptions: {
    executablePath: CHROMIUM_PATH,
    args: [
      ...CHROMIUM_ARGS,
      '--use-fake-device-for-media-stream',
      '--use-fake-ui-for-media-stream',
      `--use-file-for-fake-audio-capture=${file}`,
    ],
  },
});
watchProblems();

test('a layer hears what comes in: muted at first, opened by hand, muted by silence, and where it feeds back', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: 'New patch', exact: true }).click();
  await page.getByRole('link', { name: 'Sounds' }).click();
  await page.getByRole('button', { name: '+ new' }).click();
  await page.getByRole('menuitem', { name: 'an input: a voice, a line' }).click();
  await page.getByRole('button', { name: 'Add it as a layer' }).click();
  const input = page.getByRole('region', { name: 'Input', exact: true });
  await expect(input.getByRole('status')).toContainText('Muted, until it is opened here');
  // It plays, and nothing is heard: nobody opened it.
  await expect.poll(() => level(page)).toBeLessThanOrEqual(-48);
  await input.getByRole('button', { name: 'Open' }).click();
  await expect.poll(() => level(page)).toBeGreaterThan(-30);
  await expect(input.getByRole('status')).toContainText(/It is heard, about \d+ ms after it sounds/);
  // Softer, by its gain, under the sound that goes on.
  const gain = page.getByRole('slider', { name: 'input gain', exact: true });
  await gain.focus();
  await gain.press('Enter');
  await page.keyboard.type('-24');
  await page.keyboard.press('Enter');
  await expect.poll(() => level(page)).toBeLessThan(-32);
  await page.getByRole('button', { name: 'Silence' }).click();
  await expect(input.getByRole('button', { name: 'Open' })).toBeVisible();
  await expect.poll(() => level(page)).toBeLessThanOrEqual(-48);
  // Opened again beside the take; the tone that grows is noticed, told with its place, and muted.
  await page.getByRole('button', { name: 'Input', exact: true }).click();
  await expect(input.getByRole('button', { name: 'Mute' })).toBeVisible();
  await expect.poll(() => level(page)).toBeGreaterThan(-48);
  await expect(input.getByRole('status')).toContainText(/Muted: it fed back at (99|100)\d Hz/, { timeout: 30_000 });
  await page.getByRole('link', { name: 'Stage' }).click();
  await expect(page.getByText(/The input is muted: it fed back at/)).toBeVisible();
});
