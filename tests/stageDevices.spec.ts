import AxeBuilder from './axe';
import type { Page } from '@playwright/test';
import { createSocket } from 'node:dgram';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeArchive } from '../src/core/formats/rigArchive';
import { markAt, newEntry, newLayer, newPatch, newRig, newSetlist, newSound } from '../src/core/rig/defaults';
import { spreadOverPad } from '../src/core/rig/edits/pads';
import type { Patch, Rig } from '../src/core/rig/schema';
import { expect, test } from './base';
import { forget, watchProblems } from './steps';
import { openStage, title, unlock, midi, withController } from './kit/stage';

watchProblems();

test('on Stage everything is large enough for fingers and named for those who hear it, on desks, phones and tablets', async ({
  page,
}) => {
  await openStage(page);
  await page.keyboard.press('4');
  await page.keyboard.press('Enter');
  await expect(title(page)).toHaveText('Slack Tide');
  for (const size of [
    { width: 1280, height: 800 },
    { width: 820, height: 1100 },
    { width: 390, height: 844 },
    { width: 844, height: 390 },
    { width: 1920, height: 1080 },
  ]) {
    await page.setViewportSize(size);
    await page.waitForTimeout(250);
    const small = await page.evaluate(() =>
      [
        ...document.querySelectorAll(
          '[data-testid="stage"] button, [data-testid="stage"] [role="slider"], [data-testid="stage"] [role="application"]',
        ),
      ]
        .filter((node) => {
          const { width, height } = node.getBoundingClientRect();
          return width > 0 && (width < 40 || height < 40);
        })
        .map(
          (node) =>
            `${node.getAttribute('aria-label') ?? node.textContent} ${Math.round(node.getBoundingClientRect().width)} × ${Math.round(node.getBoundingClientRect().height)}`,
        ),
    );
    expect(small, `${size.width} × ${size.height}`).toEqual([]);
    // Nothing lies outside, and nothing over anything else.
    expect(
      await page.evaluate(() => [
        document.documentElement.scrollWidth > innerWidth,
        document.documentElement.scrollHeight > innerHeight,
      ]),
    ).toEqual([false, false]);
    for (const name of ['Silence', 'Kelp Choir']) {
      const box = (await page.getByRole('button', { name }).first().boundingBox())!;
      expect(
        await page.evaluate(({ x, y }) => document.elementFromPoint(x, y)?.closest('button')?.textContent ?? '', {
          x: box.x + box.width / 2,
          y: box.y + box.height / 2,
        }),
        `${name} at ${size.width} × ${size.height}`,
      ).toContain(name);
    }
    const macros = await page
      .getByRole('slider')
      .evaluateAll((nodes) => nodes.map((node) => node.getBoundingClientRect().bottom));
    const keys = (await page.getByTestId('keyboard').boundingBox())!;
    expect(Math.max(...macros)).toBeLessThanOrEqual(keys.y + 1);
  }
  await page.setViewportSize({ width: 1280, height: 800 });
  expect(await AxeBuilder(page)).toEqual([]);
  await page.getByRole('button', { name: 'Chart theme' }).click();
  await unlock(page);
  await page.getByRole('button', { name: 'Setlist' }).click();
  await page.waitForTimeout(300);
  expect(await AxeBuilder(page)).toEqual([]);
});

test('sixteen macros, two pads, twelve layers and long names have room from a phone to a desk; a patch beside the list plays by its own name', async ({
  page,
}) => {
  await withController(page);
  await forget(page);
  await page.goto('/');
  await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible({ timeout: 30_000 });
  const folder = mkdtempSync(join(tmpdir(), 'wavicle-stage-'));
  const path = join(folder, 'odd.wavicle');
  const layers = Array.from({ length: 12 }, (_, i) =>
    newLayer(
      `l${i}`,
      i === 3 ? 'Ein sehr langer Name für eine Schicht, die niemand so nennen würde' : `Layer ${i + 1}`,
      's',
      markAt(i),
    ),
  );
  const macros = Array.from({ length: 16 }, (_, i) => ({
    number: i + 1,
    name: i === 2 ? 'Overflowinglylongmacroname' : `M${i + 1}`,
    value: i / 16,
    style: (['strip', 'momentary', 'latched'] as const)[i % 3],
  }));
  const plain: Patch = {
    ...newPatch('many', 'Twelve of Everything and a Name as Long as the Harbour Wall'),
    notes: 'x'.repeat(400),
    layers,
    macros,
  };
  const many = [1, 2].reduce((patch, n) => spreadOverPad(patch, ['l0', 'l1', 'l2', 'l3'], `Pad ${n}`)!.patch, plain);
  const rig: Rig = {
    ...newRig('odd', 'Odd'),
    sounds: [{ ...newSound('s', 'S'), kind: 'synth' }],
    patches: [many, { ...newPatch('encore', 'Encore'), layers: [layers[0]], notes: 'Only if they stay.' }],
    setlists: [newSetlist('x', 'X', [newEntry('e', 'patch', ['many'])])],
    setlist: 'x',
    controllers: { ...newRig('', '').controllers, programs: 'patches' },
  };
  writeFileSync(
    path,
    writeArchive(rig, () => new Uint8Array()),
  );
  await page.mouse.click(400, 5);
  await page.getByLabel('File to import').setInputFiles(path);
  await expect(page.getByRole('button', { name: /^Patch Twelve/ })).toBeVisible();
  rmSync(folder, { recursive: true });
  await page.getByRole('link', { name: 'Stage' }).click();
  await expect(title(page)).toContainText('Twelve of Everything');
  for (const size of [
    { width: 1280, height: 800 },
    { width: 820, height: 800 },
    { width: 390, height: 844 },
    { width: 1024, height: 1366 },
  ]) {
    await page.setViewportSize(size);
    await page.waitForTimeout(300);
    const boxes = await page
      .getByTestId('stage')
      .locator('[role="slider"], [role="application"], button')
      .evaluateAll((nodes) =>
        nodes.map((node) => {
          const { x, y, width, height } = node.getBoundingClientRect();
          return { name: node.getAttribute('aria-label') ?? node.textContent, x, y, width, height };
        }),
      );
    const at = `${size.width} × ${size.height}`;
    expect(
      boxes.filter(({ width, height }) => width < 40 || height < 40),
      at,
    ).toEqual([]);
    expect(
      boxes.filter(
        ({ x, y, width, height }) => x < -1 || y < -1 || x + width > size.width + 1 || y + height > size.height + 1,
      ),
      at,
    ).toEqual([]);
    const over = boxes.flatMap((a, i) =>
      boxes
        .slice(i + 1)
        .filter(
          (b) =>
            Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x) > 1 &&
            Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y) > 1,
        )
        .map((b) => `${a.name} over ${b.name}`),
    );
    expect(over, at).toEqual([]);
  }
  await midi(page, 0xc0, 1);
  await expect(title(page)).toHaveText('Encore');
  await expect(page.getByTestId('stage-notes')).toHaveText('Only if they stay.');
  await expect(page.getByText('not in this setlist')).toBeVisible();
  await midi(page, 0xc0, 0);
  await expect(title(page)).toContainText('Twelve of Everything');
});

/** Slack Tide plays, and devices may be paired. */
async function offerPairing(page: Page): Promise<void> {
  await openStage(page);
  await page.keyboard.press('4');
  await page.keyboard.press('Enter');
  await unlock(page);
  await page.getByRole('button', { name: 'Setlist' }).click();
  await page.getByRole('button', { name: 'Devices' }).click();
  await page.getByRole('button', { name: 'Offer pairing' }).click();
}

test('OSC moves what it names and is told of the show, once it is switched on', async ({ page }) => {
  await offerPairing(page);
  const ear = createSocket('udp4');
  const heard: string[] = [];
  ear.on('message', (bytes) => heard.push(bytes.toString('latin1')));
  await new Promise<void>((resolve) => {
    ear.bind(0, '127.0.0.1', resolve);
  });
  // A port that nobody has, for either way.
  const free = await new Promise<number>((resolve) => {
    const probe = createSocket('udp4');
    probe.bind(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
  const osc = page.getByRole('region', { name: 'OSC' });
  for (const [n, port] of [free, ear.address().port].entries()) {
    await osc.getByLabel('port').nth(n).fill(String(port));
    await page.keyboard.press('Enter');
    await osc.getByRole('button', { name: 'off' }).first().click();
    await expect(osc.getByRole('button', { name: 'on' })).toHaveCount(n + 1);
  }
  // Open Sound Control 1.0: an address and a tag string, each ended and padded to four bytes, then a float of 32 bits,
  // most significant byte first.
  const padded = (text: string) => Buffer.from(`${text}${'\0'.repeat(4 - (text.length % 4))}`);
  const value = Buffer.alloc(4);
  value.writeFloatBE(0.9);
  const message = Buffer.concat([padded('/wavicle/macro/4'), padded(',f'), value]);
  await new Promise<void>((resolve) => {
    ear.send(message, free, '127.0.0.1', () => resolve());
  });
  await expect(page.getByRole('slider', { name: 'Open' })).toHaveAttribute('aria-valuenow', '90');
  await new Promise<void>((resolve) => {
    ear.send(padded('/wavicle/next'), free, '127.0.0.1', () => resolve());
  });
  await expect(title(page)).toHaveText('Kelp Choir');
  // What comes again at once is one press that trembles; with an empty tag string, as newer senders write it, it means
  // the same.
  await page.waitForTimeout(1000);
  await new Promise<void>((resolve) => {
    ear.send(Buffer.concat([padded('/wavicle/next'), padded(',')]), free, '127.0.0.1', () => resolve());
  });
  await expect(title(page)).toHaveText('Pause');
  await expect
    .poll(
      () =>
        heard.filter(
          (text) => text.startsWith('/wavicle/stage') && text.includes('Kelp Choir') && text.includes('Pause'),
        ).length,
    )
    .toBeGreaterThan(0);
  ear.close();
});

test('a tablet is a pad and a phone is the list: paired by a code that serves once, lost ones let go', async ({
  page,
  context,
}) => {
  await offerPairing(page);
  const code = page.getByTestId('pairing-code');
  await expect(code).toHaveText(/^\w{4} \w{4}$/);
  await expect(page.getByRole('img', { name: /Code to scan/ })).toBeVisible();
  const first = (await code.textContent())!.replace(' ', '');
  const tablet = await context.newPage();
  await tablet.setViewportSize({ width: 820, height: 1100 });
  await tablet.goto(`/remote#${first}`);
  await expect(tablet.getByTestId('remote-title')).toHaveText('Slack Tide');
  await expect(code).not.toHaveText(`${first.slice(0, 4)} ${first.slice(4)}`);
  // The code that was used lets nobody else in.
  const phone = await context.newPage();
  await phone.setViewportSize({ width: 390, height: 844 });
  await phone.goto(`/remote#${first}`);
  await expect(phone.getByRole('alert')).toContainText('not the code');
  await phone.getByLabel('Code').fill((await code.textContent())!);
  await phone.getByRole('button', { name: 'Pair', exact: true }).click();
  await expect(phone.getByTestId('remote-title')).toHaveText('Slack Tide');
  await expect(page.getByRole('region', { name: 'Devices' }).getByRole('listitem')).toHaveCount(2);
  await expect(tablet.getByTestId('latency')).toHaveText(/^\d+ ms$/);
  expect(await AxeBuilder(tablet)).toEqual([]);
  // The pad is played on the tablet, and seen here.
  await tablet.getByRole('button', { name: 'Macros' }).click();
  const open = (await tablet.getByRole('slider', { name: 'Open' }).boundingBox())!;
  await tablet.bringToFront();
  await tablet.mouse.move(open.x + 50, open.y + 400);
  await tablet.mouse.down();
  await tablet.mouse.move(open.x + 50, open.y + 200, { steps: 6 });
  await page.bringToFront();
  const here = async () => Number(await page.getByRole('slider', { name: 'Open' }).getAttribute('aria-valuenow'));
  await expect.poll(here).toBeGreaterThan(70);
  // A lost tablet: what it held goes back to rest.
  await tablet.close();
  await expect.poll(here).toBe(60);
  await expect(page.getByRole('region', { name: 'Devices' }).getByRole('listitem')).toHaveCount(1);
  await phone.bringToFront();
  await phone.getByRole('button', { name: 'Setlist' }).click();
  await phone.getByRole('button', { name: /First Light/ }).click();
  await expect(phone.getByTestId('remote-title')).toHaveText('First Light');
  await phone.getByRole('button', { name: /^next/ }).click();
  await expect(phone.getByTestId('remote-title')).toHaveText('Undertow');
  // Words and chords, as they are sung, where the Stage is shown.
  await phone.getByRole('button', { name: 'Setlist' }).click();
  await phone.getByRole('button', { name: /Kelp Choir/ }).click();
  await phone.getByRole('button', { name: 'Stage' }).click();
  await expect(phone.getByTestId('remote-page')).toContainText('Under the swell');
  await expect(phone.getByTestId('remote-page').locator('b').filter({ hasText: /^Am7$/ }).first()).toBeVisible();
  await phone.getByRole('button', { name: 'Setlist' }).click();
  await phone.getByRole('button', { name: /Undertow/ }).click();
  await page.bringToFront();
  await expect(title(page)).toHaveText('Undertow');
  await page.getByRole('button', { name: 'End the pairing' }).click();
  await expect(phone.getByRole('heading', { name: 'Pair this device' })).toBeVisible();
});
