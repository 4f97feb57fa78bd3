/** What the page costs: until it is there, while an edge is dragged, and until an edit is seen. */
import { chromium, type Browser, type Page } from '@playwright/test';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readArchive, writeArchive } from '../src/core/formats/rigArchive';
import { markAt, newLayer, newPatch } from '../src/core/rig/defaults';
import type { Patch, Rig } from '../src/core/rig/schema';
import { makeApp } from '../src/server/app';
import { CHROMIUM_ARGS, CHROMIUM_PATH } from './browser';
import { median, row } from './row';

const DEMO = 'build/demo';
const root = process.cwd();

export async function pageBench(): Promise<void> {
  if (!existsSync('dist/index.html')) throw new Error('Build first: npm run build');
  const server = makeApp(root, DEMO).listen(0);
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
  const browser = await chromium.launch({ executablePath: CHROMIUM_PATH, args: CHROMIUM_ARGS });
  try {
    await visits(browser, address);
    await manyPatches(browser, address);
  } finally {
    await browser.close();
    server.close();
  }
}

const keyboardShows = (page: Page) =>
  page.getByTestId('keyboard').locator('rect[data-key]').first().waitFor({ timeout: 60_000 });
const samplesAreThere = (page: Page) =>
  page.waitForFunction(() => !/samples? to come/.test(document.body.textContent ?? ''), undefined, { polling: 50 });

/** Three first visits, each in a browser that was never here, and one more to the same. */
async function visits(browser: Browser, address: string): Promise<void> {
  const first: number[] = [],
    last: number[] = [],
    again: number[] = [];
  for (let n = 0; n < 3; n++) {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    let began = performance.now();
    await page.goto(address);
    await keyboardShows(page);
    first.push(performance.now() - began);
    await samplesAreThere(page);
    last.push(performance.now() - began);
    began = performance.now();
    await page.reload();
    await keyboardShows(page);
    again.push(performance.now() - began);
    await context.close();
  }
  const seconds = (ms: number[]) => `${(median(ms) / 1000).toFixed(2)} s`;
  row('keyboard on screen, first visit', seconds(first), '1.2 s', median(first) <= 1200);
  row('keyboard on screen, again', seconds(again), '0.5 s', median(again) <= 500);
  row('first visit to the last sample of the patch in view', seconds(last), '2.5 s', median(last) <= 2500);
}

/** A rig of a hundred patches of sixteen layers each, the first of thirty-two. */
function largeRig(): string {
  const { rig, wavs } = readArchive(readFileSync(join(DEMO, 'perigee-tide.wavicle')));
  const sounds = rig.sounds.filter(({ zones }) => zones.length > 0);
  const patches = Array.from({ length: 100 }, (_, p): Patch => ({
    ...newPatch(`p${p}`, `Patch ${p}`),
    layers: Array.from({ length: p === 0 ? 32 : 16 }, (__, n) =>
      newLayer(`p${p}l${n}`, `Layer ${n}`, sounds[n % sounds.length].id, markAt(n)),
    ),
  }));
  const large: Rig = { ...rig, patches, setlists: [], setlist: null };
  const path = join(tmpdir(), `wavicle-bench-${process.pid}.wavicle`);
  writeFileSync(
    path,
    writeArchive(large, (id) => wavs.get(id)!),
  );
  return path;
}

async function manyPatches(browser: Browser, address: string): Promise<void> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.goto(address);
  await keyboardShows(page);
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('menuitem', { name: /^Import a rig/ }).click(),
  ]);
  await chooser.setFiles(largeRig());
  await page.getByRole('button', { name: /^Patch Patch 0/ }).waitFor({ timeout: 120_000 });
  await page.locator('section[aria-label="Layer Layer 0"]').first().waitFor();
  await samplesAreThere(page);
  await page.waitForTimeout(3000);
  const script = await scriptOfDrag(page);
  row('script of a frame while an edge is dragged, 32 layers', `${script.toFixed(1)} ms`, '4 ms', script <= 4);
  await page.getByRole('tab', { name: 'level', exact: true }).click();
  const edits = await page
    .getByRole('slider', { name: /level/ })
    .first()
    .evaluate(async (strip: HTMLElement) => {
      const times: number[] = [];
      strip.focus();
      for (let i = 0; i < 16; i++) {
        const began = performance.now();
        strip.dispatchEvent(new KeyboardEvent('keydown', { key: i % 2 ? 'ArrowLeft' : 'ArrowRight', bubbles: true }));
        // The message comes after the frame that shows the edit was drawn.
        await new Promise((resolve) =>
          requestAnimationFrame(() => {
            const channel = new MessageChannel();
            channel.port1.onmessage = resolve;
            channel.port2.postMessage(0);
          }),
        );
        if (i > 3) times.push(performance.now() - began);
        await new Promise((resolve) => setTimeout(resolve, 500));
      }
      return times;
    });
  const ms = median(edits);
  row('edit among 100 patches × 16 layers, to the next frame', `${ms.toFixed(0)} ms`, '50 ms', ms <= 50);
  await context.close();
}

/** Milliseconds of script for each movement of the pointer that drags an edge. */
async function scriptOfDrag(page: Page): Promise<number> {
  const handle = page.getByRole('slider', { name: 'Layer 0: highest velocity' }).first().locator('circle').last();
  const box = (await handle.boundingBox())!;
  const metrics = await page.context().newCDPSession(page);
  await metrics.send('Performance.enable');
  const scriptSeconds = async () =>
    (await metrics.send('Performance.getMetrics')).metrics.find(({ name }) => name === 'ScriptDuration')!.value;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y + 4);
  await page.waitForTimeout(300);
  const before = await scriptSeconds();
  const STEPS = 60;
  for (let n = 0; n < STEPS; n++) {
    await page.mouse.move(x, y + 4 + (n % 30));
    await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(resolve)));
  }
  const after = await scriptSeconds();
  await page.mouse.up();
  return (1000 * (after - before)) / STEPS;
}
