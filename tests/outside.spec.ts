import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { unlock } from './kit/stage';
import { addLayer, keyPoint, openDemo, watchProblems } from './steps';

/** Instruments outside: what they are told, what they play, what is seen of it. */

watchProblems();

interface Outside {
  sent: { port: string; bytes: number[] }[];
  plug(...names: string[]): void;
}
declare global {
  interface Window {
    outside: Outside;
  }
}

/** A browser with MIDI outputs that keep what they are sent; which are there can change at any time. */
const withOutputs = (page: Page, ...names: string[]) =>
  page.addInitScript((first) => {
    const sent: Outside['sent'] = [];
    const outputs = new Map<string, unknown>();
    const access = { inputs: new Map(), outputs, onstatechange: null as (() => void) | null, sysexEnabled: false };
    const plug = (...there: string[]) => {
      outputs.clear();
      for (const name of there)
        outputs.set(name, {
          name,
          state: 'connected',
          send: (bytes: number[]) => sent.push({ port: name, bytes: [...bytes] }),
        });
      access.onstatechange?.();
    };
    plug(...first);
    window.outside = { sent, plug };
    Object.assign(navigator, { requestMIDIAccess: () => Promise.resolve(access) });
  }, names);
/** What went out since the last time, without the ticks of a clock. */
const sent = (page: Page) =>
  page.evaluate(() =>
    window.outside.sent.splice(0).flatMap(({ bytes }) => (bytes[0] === 0xf8 ? [] : [bytes.join(' ')])),
  );

test('a rack is built in by hand: played, told its program, its filter on a macro; heard of when it goes and comes', async ({
  page,
}) => {
  await withOutputs(page, 'Loft Rack');
  await openDemo(page);
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: 'New patch', exact: true }).click();
  await addLayer(page, 'Felt Keys');
  // The layer plays something outside from now on.
  await page.getByRole('tab', { name: 'notes' }).click();
  await page.getByLabel('Where its notes go').selectOption({ label: '+ instrument outside …' });
  const sheet = page.getByRole('dialog', { name: 'Instruments outside' });
  await expect(sheet.getByRole('textbox', { name: 'Name of the instrument' })).toBeVisible();
  await expect(sheet.getByLabel('MIDI output')).toHaveValue('Loft Rack');
  const name = sheet.getByRole('textbox', { name: 'Name of the instrument' });
  await name.fill('Loft');
  await name.press('Enter');
  await expect(sheet.getByRole('navigation').getByRole('button', { name: /^Loft/ })).toBeVisible();
  // Two messages on entering, in order; a bank is told before its program.
  const entering = sheet.getByRole('region', { name: /^On entering/ });
  await entering.getByLabel(/^Add a message/).selectOption('program');
  await entering.getByLabel('number').fill('12');
  await entering.getByLabel('number').press('Enter');
  await entering.getByLabel('with a bank').check();
  await entering.getByLabel(/^Add a message/).selectOption('bytes');
  const typed = entering.getByRole('textbox', { name: /^Bytes/ });
  await typed.fill('B2 07');
  await expect(entering).toContainText('the message B2 is cut off');
  await typed.fill('B2 07 50');
  await typed.press('Enter');
  await entering.getByRole('button', { name: 'Message 2 earlier' }).click();
  await sent(page);
  await sheet.getByRole('button', { name: 'Tell it now' }).click();
  expect(await sent(page)).toEqual(['178 7 80', '176 0 0', '176 32 0', '192 11']);
  // A value of it, which a macro moves through its whole way.
  await sheet.getByRole('button', { name: '+ value' }).click();
  const strip = sheet.getByRole('slider', { name: 'slide (CC 74)' });
  await expect(strip).toBeVisible();
  await expect.poll(() => sent(page)).toContain('176 74 64');
  await sheet.getByRole('button', { name: /^What moves slide/ }).click();
  await page.getByLabel('Add what moves slide (CC 74)').selectOption({ label: '+ macro' });
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Control' }).click();
  const macro = page.getByRole('slider', { name: 'slide (CC 74)' }).first();
  await macro.focus();
  await macro.press('End');
  await expect.poll(() => sent(page)).toContainEqual(expect.stringMatching(/^176 74 (9\d|1[012]\d)$/));
  // A key plays there, and the pedal goes along; what goes out is in the monitor.
  const key = await keyPoint(page, 60);
  await page.mouse.move(key.x, key.y);
  await page.mouse.down();
  await expect.poll(() => sent(page)).toContainEqual(expect.stringMatching(/^144 60 \d+$/));
  await page.mouse.up();
  await expect.poll(() => sent(page)).toContain('128 60 64');
  await page.getByRole('button', { name: 'sustain', exact: true }).click();
  await expect.poll(() => sent(page)).toContain('176 64 127');
  await page.getByRole('button', { name: 'Monitor' }).click();
  const monitor = page.getByRole('dialog', { name: 'Monitor' });
  await monitor.getByLabel('Way').selectOption('out');
  await expect(monitor.getByRole('row', { name: /note off C4 .* to Loft Rack/ })).toBeVisible();
  await page.keyboard.press('Escape');
  // Another patch: the pedal is lifted there.
  await sent(page);
  await page.keyboard.press('Control+k');
  await page.getByLabel('What to look for').fill('Low Water');
  await page.keyboard.press('Enter');
  await expect.poll(() => sent(page)).toContain('176 64 0');
});

test('Stage says when an output is not there, and the instrument is told everything once it comes; rehearsal tells of each', async ({
  page,
}) => {
  await withOutputs(page);
  await openDemo(page);
  await page.goto('/patch/marsh-bells/layers');
  await page.getByRole('link', { name: 'Control' }).click();
  await page.getByRole('button', { name: 'Outside', exact: true }).click();
  const sheet = page.getByRole('dialog', { name: 'Instruments outside' });
  await expect(sheet.getByRole('region', { name: 'Stand-in instrument' })).toContainText(
    'channel 5: program 15, CC 74 = 40, CC 91 = 60',
  );
  await page.evaluate(() => window.outside.plug('Tower'));
  await sheet.getByLabel('MIDI output').selectOption('Tower');
  await page.evaluate(() => window.outside.plug());
  await expect(sheet.getByRole('navigation')).toContainText('Tower, channel 5: not there');
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Stage' }).click();
  await expect(page.getByText(/“Bell Tower” is not there: what this patch plays outside is silent/)).toBeVisible();
  await sent(page);
  await page.evaluate(() => window.outside.plug('Tower'));
  await expect.poll(() => sent(page)).toContain('196 14');
  await expect(page.getByText(/“Bell Tower” is not there/)).toHaveCount(0);
  await page.evaluate(() => window.outside.plug());
  await unlock(page);
  await page.getByRole('button', { name: 'Rehearsal' }).click();
  await expect(page.getByRole('row', { name: /Marsh Bells/ })).toContainText(
    'Bell Tower: “Tower” is not there · program 15, CC 91 = 60',
  );
});
