import { ORIGIN } from './base';
import { expect, test } from '@playwright/test';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { gzipSync } from 'node:zlib';
import { join } from 'node:path';
import { killTabs } from '../bench/kills';
import { readArchive, writeArchive } from '../src/core/formats/rigArchive';
import { newRig, newSound, newZone, newLayer, newPatch, markAt } from '../src/core/rig/defaults';
import { writeWav } from '../src/core/formats/wav';
import { createHash } from 'node:crypto';
import { keyPoint, level, samplesHere } from './steps';

test('after one visit everything works with the network off: application, fonts, demo, and any view', async ({
  browser,
}) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.goto('/patch/low-water/layers');
  await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible({ timeout: 30_000 });
  await page.mouse.click(400, 5);
  // What can wait comes some seconds later: the application into the cache, the rest of the demo's samples into the
  // browser.
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await expect
    .poll(() => page.evaluate(async () => (await navigator.serviceWorker.getRegistration())?.active?.state), {
      timeout: 60_000,
    })
    .toBe('activated');
  await page.waitForFunction(() => localStorage.getItem('wavicle-demo-pending') === null, undefined, {
    timeout: 60_000,
  });
  // The takes and the rig's text pass the cache once it is there.
  await page.reload();
  await expect(page.getByRole('button', { name: 'Play the take' })).toBeEnabled({ timeout: 30_000 });
  await expect
    .poll(() => page.evaluate(async () => (await (await caches.open('demo')).keys()).length), { timeout: 30_000 })
    .toBeGreaterThan(12);
  expect(await page.evaluate(() => navigator.serviceWorker.controller !== null)).toBe(true);
  await context.setOffline(true);
  const failed: string[] = [];
  page.on('pageerror', (error) => failed.push(error.message));
  await page.goto('/stage');
  await expect(page.getByTestId('stage-title')).toHaveText('Low Water', { timeout: 30_000 });
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
  expect(await page.evaluate(() => document.fonts.check('16px "Atkinson Hyperlegible Next"'))).toBe(true);
  await page.mouse.click(300, 20);
  await expect(page.getByTestId('stage-ready')).toHaveText('ready', { timeout: 60_000 });
  const { x, y } = await keyPoint(page, 60);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await page.mouse.up();
  for (const view of ['layers', 'sounds', 'control', 'mix']) {
    await page.goto(`/patch/breakers/${view}`);
    await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible({ timeout: 30_000 });
  }
  expect(failed).toEqual([]);
  const manifest = JSON.parse(await (await context.request.get(`${ORIGIN}/manifest.webmanifest`)).text()) as {
    icons: unknown[];
    display: string;
    start_url: string;
  };
  // W3C, Web Application Manifest: what browsers ask of an application that can be installed is a name, an icon of 192
  // and one of 512 pixels, a start and a display of its own.
  expect(manifest).toMatchObject({
    name: 'Wavicle',
    display: 'standalone',
    start_url: '/stage',
    icons: expect.arrayContaining([
      expect.objectContaining({ sizes: '192x192' }),
      expect.objectContaining({ sizes: '512x512' }),
    ]) as unknown,
  });
  await context.close();
});

test('what loads at the start is small enough for a slow hall', () => {
  const html = readFileSync('dist/index.html', 'utf8');
  const scripts = [...html.matchAll(/(?:src|href)="(\/assets\/[^"]+\.js)"/g)].map(([, path]) => path);
  expect(scripts.length).toBeGreaterThan(0);
  expect(scripts.reduce((sum, path) => sum + gzipSync(readFileSync(`dist${path}`)).length, 0)).toBeLessThan(250_000);
});

test('a browser that is ended at any moment has lost nothing older than a second', async () => {
  test.setTimeout(180_000);
  const profile = mkdtempSync(join(tmpdir(), 'wavicle-kills-'));
  try {
    const lost = await killTabs(ORIGIN, profile, 3, 11);
    expect(lost).toHaveLength(3);
    expect(Math.max(...lost)).toBeLessThan(1000);
  } finally {
    rmSync(profile, { recursive: true, force: true });
  }
});

test('a large archive plays before it is taken in, and is taken in then; a damaged sample is told', async ({
  browser,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'wavicle-big-'));
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  try {
    // Sixty megabytes in sixty samples; the last one is not what it says.
    const wavs = new Map<string, Uint8Array>();
    const samples = Array.from({ length: 60 }, (_, n) => {
      const bytes = writeWav(
        {
          rate: 48000,
          channels: 1,
          data: Float32Array.from({ length: 500_000 }, (_, i) => 0.3 * Math.sin((2 * Math.PI * (220 + n) * i) / 48000)),
        },
        { root: 60 },
      );
      const id = createHash('sha256').update(bytes).digest('hex');
      wavs.set(id, n === 59 ? bytes.slice().fill(7, 2000, 3000) : bytes);
      return { id, name: `tone ${n}.wav`, rate: 48000, channels: 1 as const, frames: 500_000 };
    });
    const zones = samples.map(({ id }, n) => ({ ...newZone(id, 30 + n) }));
    const sounds = [
      newSound('all', 'All', zones),
      newSound('one', 'One', [
        { ...newZone(samples[40].id, 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const } },
      ]),
    ];
    const rig = {
      ...newRig('big', 'Big'),
      samples,
      sounds,
      patches: [
        { ...newPatch('one', 'One'), layers: [newLayer('a', 'A', 'one', markAt(0))] },
        { ...newPatch('all', 'All'), layers: [newLayer('a', 'A', 'all', markAt(0))] },
      ],
    };
    const path = join(folder, 'big.wavicle');
    writeFileSync(
      path,
      writeArchive(rig, (id) => wavs.get(id)!),
    );
    expect(statSync(path).size).toBeGreaterThan(50e6);
    const page = await context.newPage();
    await page.goto('/patch/low-water/layers');
    await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible({ timeout: 30_000 });
    await page.mouse.click(400, 5);
    await page.getByLabel('File to import').setInputFiles(path);
    await expect(page.getByRole('button', { name: /^Patch One/ })).toBeVisible({ timeout: 30_000 });
    // Its one sample is there before the others are.
    await expect(page.getByText(/Taking in “Big”/)).toBeVisible();
    await samplesHere(page);
    const { x, y } = await keyPoint(page, 60);
    await page.mouse.move(x, y);
    await page.mouse.down();
    await expect.poll(() => level(page), { timeout: 20_000 }).toBeGreaterThan(-45);
    await page.mouse.up();
    await expect(page.getByText('1 sample of “Big” could not be read from the file: tone 59.wav')).toBeVisible({
      timeout: 60_000,
    });
    const kept = await page.evaluate(
      () =>
        new Promise<number>((resolve) => {
          const open = indexedDB.open('wavicle');
          open.onsuccess = () => {
            const count = open.result.transaction('samples').objectStore('samples').count();
            count.onsuccess = () => {
              open.result.close();
              resolve(count.result);
            };
          };
        }),
    );
    expect(kept).toBeGreaterThanOrEqual(59);
  } finally {
    await context.close();
    rmSync(folder, { recursive: true, force: true });
  }
});

test('a rig is written to a file chosen once, and again on save; the page says when the file is older', async ({
  browser,
}) => {
  const context = await browser.newContext({ viewport: { width: 1440, height: 800 } });
  const page = await context.newPage();
  // A file that the browser gives: what is written stays to be looked at. Browsers without a window have no dialog to
  // choose one.
  await page.addInitScript(() => {
    const state = { asked: 0 };
    const handle = async () => {
      const root = await navigator.storage.getDirectory();
      return root.getFileHandle('show.wavicle', { create: true });
    };
    Object.assign(window, {
      state,
      showSaveFilePicker: async () => {
        state.asked++;
        return handle();
      },
    });
  });
  await page.goto('/patch/low-water/layers');
  await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible({ timeout: 30_000 });
  await page.mouse.click(400, 5);
  await page.waitForFunction(() => localStorage.getItem('wavicle-demo-pending') === null, undefined, {
    timeout: 60_000,
  });
  await page.keyboard.press('Control+d');
  await expect(page.getByRole('button', { name: 'no file' })).toBeVisible();
  await page.keyboard.press('Control+s');
  await expect(page.getByText(/is written to show.wavicle/)).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('button', { name: /no file|file older/ })).toHaveCount(0);
  const read = async () =>
    Buffer.from(
      await page.evaluate(async () => {
        const file = await (await (await navigator.storage.getDirectory()).getFileHandle('show.wavicle')).getFile();
        return new Promise<string>((resolve) => {
          const reader = new FileReader();
          reader.onload = () => resolve((reader.result as string).split(',')[1]);
          reader.readAsDataURL(file);
        });
      }),
      'base64',
    );
  const first = readArchive(await read());
  expect(first.rig.patches[0].layers).toHaveLength(3);
  expect(first.wavs.size).toBe(first.rig.samples.length);
  await page.keyboard.press('Control+d');
  await expect(page.getByRole('button', { name: 'file older' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('button', { name: 'file older' })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'file older' }).click();
  await expect(page.getByText(/is written to show.wavicle/)).toBeVisible({ timeout: 30_000 });
  // The reload asked for no other file.
  expect(await page.evaluate(() => (window as unknown as { state: { asked: number } }).state.asked)).toBe(0);
  expect(readArchive(await read()).rig.patches[0].layers).toHaveLength(4);
  await context.close();
});
