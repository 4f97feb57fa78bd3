import type { Page } from '@playwright/test';
import { expect, test } from './base';
import { readFileSync, writeFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { aiff, flac } from './kit/audioFiles';
import { folderOf, tone, wav } from './kit/folders';
import { readWav } from '../src/core/formats/wav';
import { BasicInstrument, BasicPreset, BasicSoundBank, EmptySample } from 'spessasynth_core';
import AxeBuilder from './axe';
import { keyPoint, level, openDemo, openSounds, samplesHere, strike, watchProblems } from './steps';

watchProblems();

const explained = (page: Page) => page.getByRole('region', { name: 'Understood as' });
const numbers = (page: Page) => page.getByLabel('Chosen zones in numbers');

test('the demo folder: read, corrected, placed in one step, played, seen to answer, taken back', async ({ page }) => {
  await openSounds(page, 'felt-keys');
  await page.getByRole('button', { name: 'Try the demo folder' }).click();
  await expect(page.getByRole('button', { name: 'Place 20 files' })).toBeEnabled();
  await expect(explained(page)).toContainText('name 5 notes, with middle C as C4: keys 36 to 56');
  await expect(explained(page)).toContainText('soft to hard in this order: soft, hard');
  // Pointing at a part and saying that it means nothing: the two takes then lie on one another, and that is said.
  await page.getByTestId('tray-files').getByRole('button', { name: 'rr1', exact: true }).first().click();
  await page.getByRole('menuitem', { name: 'nothing' }).click();
  await expect(page.getByRole('region', { name: 'To look at' })).toContainText(
    '2 files share one place and would sound at once',
  );
  await page.getByLabel('What “rr1” means').selectOption('alternate');
  await expect(page.getByRole('region', { name: 'To look at' })).toHaveCount(0);
  await page.getByLabel('velocities').fill('80, 127');
  await page.getByLabel('velocities').press('Enter');
  await expect(explained(page)).toContainText('1–80, 81–127');
  await page.getByRole('button', { name: 'Place 20 files' }).click();
  await expect(page.getByRole('button', { name: /^Fog Signal \d/ })).toHaveAttribute('aria-current', 'true');
  await samplesHere(page);
  await strike(page, 40);
  await expect(page.getByTestId('last-answer')).toContainText('fog_F2_hard_rr1.wav, alternate 1');
  await strike(page, 40);
  await expect(page.getByTestId('last-answer')).toContainText('fog_F2_hard_rr2.wav, alternate 2');
  await page.getByLabel('choose the zone that answers').check();
  await strike(page, 52);
  await expect(numbers(page).getByRole('heading').first()).toHaveText('One zone');
  await expect(numbers(page).getByLabel('root', { exact: true })).toHaveValue('D♯3');
  await page.getByRole('link', { name: 'Layers' }).click();
  await expect(page.getByRole('region', { name: 'Layer Fog Signal' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('region', { name: 'Layer Fog Signal' })).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
});

test('a folder of many kinds of files: the good ones come in, each bad one is told', async ({ page }, info) => {
  const samples = Int16Array.from(tone(220), (x) => x * 32767);
  const folder = folderOf(info.outputPath('My kit'), {
    'soft/wire C3.wav': wav(130.8, 0.1),
    'hard/wire C3.wav': wav(130.8, 0.6),
    'soft/wire A3.aif': aiff(tone(220, 0.1), 1, 16),
    'hard/wire A3.flac': flac(samples.subarray(0, 16000)),
    'hard/wire C4.wav': wav(261.6).subarray(0, 500),
    'hard/wire D4.wav': 'this is no audio',
    'soft/wire E4.wav': '',
    'notes.txt': 'nothing',
    'more.xyz': '?',
  });
  await openSounds(page, 'felt-keys');
  await page.getByLabel('Folder to bring in').setInputFiles(folder);
  await expect(page.getByRole('button', { name: 'Place 4 files' })).toBeEnabled();
  const bad = page.getByRole('region', { name: 'What did not come in' });
  await expect(bad).toContainText('hard/wire C4.wav: data chunk: is cut off');
  await expect(bad).toContainText('hard/wire D4.wav: this is no audio file that is known here');
  await expect(bad).toContainText('soft/wire E4.wav: the file is empty');
  await expect(bad).toContainText('1 file is no audio');
  await expect(explained(page)).toContainText('2 dynamics');
  await page.getByRole('button', { name: 'Place 4 files' }).click();
  await expect(page.getByRole('button', { name: /^My kit/ })).toContainText('4');
});

test('stepping through files plays each and touches nothing; a run goes where it is told', async ({ page }, info) => {
  const folder = folderOf(
    info.outputPath('Effects'),
    Object.fromEntries([10, 9, 1].map((n) => [`fx ${n}.wav`, wav(200 + n * 20, n === 1 ? 0.05 : 0.9)])),
  );
  await openSounds(page, 'felt-keys');
  await page.getByLabel('Folder to bring in').setInputFiles(folder);
  await page.getByLabel('effects on keys').check();
  await page.getByLabel('from key').fill('c2');
  await page.getByLabel('from key').press('Enter');
  await expect(explained(page)).toContainText('one file for each key from C2 (36)');
  const files = page.getByTestId('tray-files');
  await expect(files.getByRole('listitem').nth(0)).toContainText('1');
  await expect(files.getByRole('listitem').nth(2)).toContainText('10');
  await files.focus();
  const heard: number[] = [];
  for (let i = 0; i < 3; i++) {
    await page.keyboard.press(i === 0 ? 'Enter' : 'ArrowDown');
    // The greatest that the meter tells until it is over: a busy machine may miss the middle of it.
    let most = -Infinity;
    await expect
      .poll(
        async () => {
          const now = await level(page);
          most = Math.max(most, now);
          return most > -40 && now < -45;
        },
        { intervals: [30] },
      )
      .toBe(true);
    heard.push(most);
  }
  // 25 dB apart in the files, alike in the ear.
  expect(Math.max(...heard) - Math.min(...heard)).toBeLessThan(6);
  await page.keyboard.press('Alt+ArrowUp');
  await expect(files.getByRole('listitem').nth(1)).toContainText('10');
  // While the tray is open, undo is the tray's.
  await page.keyboard.press('Control+z');
  await expect(files.getByRole('listitem').nth(2)).toContainText('10');
  await page.getByRole('button', { name: 'Give up' }).click();
  await expect(page.getByTestId('zone-map')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
});

test('zones are chosen on the map and in the table, dragged, batch edited and shared out', async ({ page }) => {
  await openSounds(page, 'tin-kit');
  const map = page.getByTestId('zone-map');
  const box = (await map.boundingBox())!;
  const at = async (key: number, share: number) => ({
    x: (await keyPoint(page, key)).x,
    y: box.y + box.height * share,
  });
  const rail = await at(38, 0);
  await page.mouse.click(rail.x, box.y + box.height - 5);
  await expect(numbers(page).getByRole('heading').first()).toHaveText('24 zones');
  await expect(numbers(page).getByRole('region', { name: 'Keys' }).getByLabel('from')).toHaveValue('D2');
  await numbers(page).getByRole('button', { name: 'add', exact: true }).click();
  await numbers(page).getByLabel('gain +').fill('-2.5');
  await numbers(page).getByLabel('gain +').press('Enter');
  await numbers(page).getByRole('button', { name: 'same for all' }).click();
  await expect(numbers(page).getByLabel('gain')).toHaveValue('−2.5 dB');
  const from = await at(38, 0.5);
  const to = await at(50, 0.5);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, from.y, { steps: 4 });
  await page.mouse.move(to.x, from.y, { steps: 4 });
  await page.mouse.up();
  await expect(numbers(page).getByLabel('root', { exact: true })).toHaveValue('D3');
  await page.keyboard.press('Control+z');
  await expect(numbers(page).getByLabel('root', { exact: true })).toHaveValue('D2');
  // Everything at once on every velocity, and then eight dynamics of three alternates again.
  const low = numbers(page).getByRole('region', { name: 'Velocities' });
  await low.getByLabel('from').fill('1');
  await low.getByLabel('from').press('Enter');
  await low.getByLabel('to', { exact: true }).fill('127');
  await low.getByLabel('to', { exact: true }).press('Enter');
  await numbers(page).getByRole('button', { name: 'Share out velocities' }).click();
  const row = page.getByRole('table', { name: 'Zones' }).getByRole('row').filter({ hasText: 'Tin Kit lid_v2_rr1.wav' });
  await expect(row.getByLabel(/^velocities from/)).toHaveValue('16');
  await row.getByLabel(/^pan/).fill('40 left');
  await row.getByLabel(/^pan/).press('Enter');
  await expect(row.getByLabel(/^pan/)).toHaveValue('40 left');
  expect(await page.getByRole('table', { name: 'Zones' }).getByRole('row').count()).toBeLessThan(40);
  await page.mouse.click((await keyPoint(page, 70)).x, box.y + box.height - 5);
  const root = page.getByRole('columnheader', { name: 'root' }).getByRole('button');
  await root.click();
  await root.click();
  await expect(page.getByRole('table', { name: 'Zones' }).getByRole('row').nth(1)).toContainText('Tin Kit tin open');
});

test('the waveform: points typed and dragged, a loop found, its joint and its own tone told', async ({ page }) => {
  await openSounds(page, 'felt-keys');
  const box = (await page.getByTestId('zone-map').boundingBox())!;
  await page.mouse.click((await keyPoint(page, 57)).x, box.y + box.height * 0.08);
  await page.getByRole('tab', { name: 'Waveform' }).click();
  await expect(page.getByRole('region', { name: 'Waveform' })).toContainText('Felt Keys C4 hard.wav');
  const points = page.getByLabel('Points of the sample');
  await points.getByLabel('Loop', { exact: true }).selectOption('end');
  await points.getByLabel('loop start').fill('20000');
  await points.getByLabel('loop start').press('Enter');
  await points.getByLabel('loop end').fill('21000');
  await points.getByLabel('loop end').press('Enter');
  // Arithmetic: 1000 frames at 44.1 kHz are 44.1 Hz, near the F of 43.65 Hz.
  await expect(page.getByTestId('loop-pitch')).toContainText('44.1 Hz (F1 +18 ct)');
  // Near the round in which its partials come together again, which is the one to be found.
  await points.getByLabel('loop end').fill('60300');
  await points.getByLabel('loop end').press('Enter');
  await points.getByLabel('loop start').fill('37600');
  await points.getByLabel('loop start').press('Enter');
  const alike = async () =>
    Number(/([−\d.]+) % alike/.exec((await page.getByTestId('loop-quality').textContent())!)![1].replace('−', '-'));
  const before = await alike();
  await points.getByRole('button', { name: 'Find a loop near this one' }).click();
  await points.getByRole('listitem').first().getByRole('button').click();
  await expect.poll(alike).toBeGreaterThanOrEqual(Math.max(75, before));
  await points.getByLabel('Frames are told as').selectOption('percent');
  await points.getByLabel('start', { exact: true }).fill('10');
  await points.getByLabel('start', { exact: true }).press('Enter');
  await expect(points.getByLabel('start', { exact: true })).toHaveValue(/^(10|9\.999|10\.001) %$/);
  const wave = (await page.getByTestId('waveform').boundingBox())!;
  await page.mouse.move(wave.x + wave.width * 0.1, wave.y + 30);
  await page.mouse.down();
  await page.mouse.move(wave.x + wave.width * 0.3, wave.y + 30, { steps: 5 });
  await page.mouse.up();
  const start = Number((await points.getByLabel('start', { exact: true }).inputValue()).replace(' %', ''));
  expect(start).toBeGreaterThan(28);
  expect(start).toBeLessThan(32);
  await page.keyboard.press('Control+z');
  await expect(points.getByLabel('start', { exact: true })).toHaveValue(/^(10|9\.999|10\.001) %$/);
});

test('SFZ goes out as a zip and comes back from its files, dropped anywhere', async ({ page }) => {
  await openSounds(page, 'tin-kit');
  const send = async (what: RegExp) => {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      (async () => {
        await page.getByRole('button', { name: 'Send out …' }).click();
        await page.getByRole('menuitem', { name: what }).click();
      })(),
    ]);
    return unzipSync(readFileSync((await download.path())!));
  };
  const files = await send(/^SFZ/);
  expect(Object.keys(files)).toHaveLength(97);
  const text = new TextDecoder().decode(files['Tin Kit.sfz']);
  expect(text).toContain(
    '<region> sample=samples/Tin Kit drum_v1_rr1.wav lokey=36 hikey=36 hivel=35 pitch_keycenter=36 loop_mode=one_shot seq_length=3 seq_position=1',
  );
  const wavs = await send(/^WAV/);
  expect(readWav(wavs['Tin Kit lid_v8_rr3.wav'])).toMatchObject({
    root: 38,
    range: { keyLow: 38, keyHigh: 38, velocityLow: 115, velocityHigh: 127 },
  });
  await page.getByRole('link', { name: 'Layers' }).click();
  const some = Object.entries(files)
    .filter(([path]) => path.endsWith('.sfz') || path.includes('drum'))
    .map(([path, bytes]) => [path, Buffer.from(bytes).toString('base64')]);
  await page.evaluate((list) => {
    const transfer = new DataTransfer();
    for (const [path, base64] of list) {
      const file = new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], path.split('/').pop()!);
      Object.defineProperty(file, 'webkitRelativePath', { value: `Kit/${path}` });
      transfer.items.add(file);
      // A transfer makes files anew: their place in the folder is told again.
    }
    const event = new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: transfer });
    document.querySelector('main')!.dispatchEvent(event);
  }, some);
  await expect(page).toHaveURL(/\/sounds/);
  const came = page.getByRole('list', { name: 'Sounds that came in' });
  await expect(came).toContainText('Tin Kit');
});

test('an SFZ file with its samples in a folder becomes a sound; what it cannot carry is listed', async ({
  page,
}, info) => {
  const folder = folderOf(info.outputPath('Pipes'), {
    'pipes.sfz':
      '<group> ampeg_release=0.4 lfo01_freq=3\n<region> sample=wavs\\A.wav key=c4\n<region> sample=wavs\\B.wav key=62 sw_last=24\n<region> sample=gone.wav key=64',
    'loop.sfz': '#include "loop.sfz"',
    'wavs/a.wav': wav(261.6),
    'wavs/b.wav': wav(293.7),
  });
  await openSounds(page, 'felt-keys');
  await page.getByLabel('Folder to bring in').setInputFiles(folder);
  const came = page.getByRole('list', { name: 'Sounds that came in' });
  await expect(came).toContainText('pipes2 zones, 2 samples');
  await expect(came).toContainText('sample=gone.wav is not in the folder, the region is left out');
  await expect(came).toContainText('Not carried over: lfo01_freq × 2, sw_last');
  await expect(page.getByRole('region', { name: 'What did not come in' })).toContainText(
    'loop.sfz: loop.sfz, line 1: #include "loop.sfz" includes itself',
  );
  await page.getByRole('button', { name: 'Bring in 1 sound' }).click();
  await expect(page.getByRole('button', { name: /^pipes/ })).toContainText('2');
  await samplesHere(page);
  await strike(page, 62);
  await expect(page.getByTestId('last-answer')).toContainText('b.wav');
});

test('a SoundFont brings its presets, of which some are taken', async ({ page }, info) => {
  const bank = new BasicSoundBank();
  const sample = new EmptySample();
  sample.name = 'pipe';
  sample.setAudioData(tone(440), 44100);
  Object.assign(sample, { originalKey: 69, loopStart: 4410, loopEnd: 8820 });
  for (const [n, name] of ['Low Pipe', 'High Pipe'].entries()) {
    const instrument = new BasicInstrument();
    instrument.name = name;
    instrument.createZone(sample).keyRange = { min: n * 64, max: n * 64 + 63 };
    const preset = new BasicPreset(bank);
    Object.assign(preset, { name, program: n });
    preset.createZone(instrument);
    bank.addInstruments(instrument);
    bank.addPresets(preset);
  }
  bank.addSamples(sample);
  writeFileSync(info.outputPath('pipes.sf2'), new Uint8Array(await bank.writeSF2()));
  await openSounds(page, 'felt-keys');
  await page.getByLabel('Files to bring in').setInputFiles(info.outputPath('pipes.sf2'));
  const came = page.getByRole('list', { name: 'Sounds that came in' });
  await expect(came.getByRole('listitem')).toHaveCount(2);
  // Heard before it is taken, beside what plays.
  await page.getByRole('button', { name: 'Hear Low Pipe' }).click();
  await expect.poll(() => level(page)).toBeGreaterThan(-40);
  await page.getByRole('button', { name: 'choose none' }).click();
  await expect(page.getByRole('button', { name: 'Bring in 0 sounds' })).toBeDisabled();
  await came.getByRole('checkbox', { name: /^High Pipe/ }).check();
  await page.getByRole('button', { name: 'Bring in 1 sound' }).click();
  await expect(page.getByRole('button', { name: /^High Pipe/ })).toHaveAttribute('aria-current', 'true');
  await samplesHere(page);
  await strike(page, 69);
  await expect(page.getByTestId('last-answer')).toContainText('pipe.wav');
});

test('a pad is copied to another key and gets other files by dropping them', async ({ page }) => {
  await openSounds(page, 'tin-kit');
  const box = (await page.getByTestId('zone-map').boundingBox())!;
  await page.mouse.click((await keyPoint(page, 38)).x, box.y + box.height - 5);
  await numbers(page).getByLabel('copy the pad to keys').fill('40');
  await numbers(page).getByLabel('copy the pad to keys').press('Enter');
  await expect(numbers(page)).toContainText('of 120 in Tin Kit');
  await expect(numbers(page).getByLabel('root', { exact: true })).toHaveValue('E2');
  const files = Array.from({ length: 24 }, (_, i) => [
    `tap ${i + 1}.wav`,
    Buffer.from(wav(300 + 10 * i)).toString('base64'),
  ]);
  await page.evaluate((list) => {
    const transfer = new DataTransfer();
    for (const [name, base64] of list)
      transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name));
    document
      .querySelector('[data-testid="zone-map"]')!
      .dispatchEvent(new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: transfer }));
  }, files);
  await expect(page.getByText('24 of 24 zones have new samples')).toBeVisible();
  await expect(page.getByRole('table', { name: 'Zones' })).toContainText('tap 1.wav');
  await samplesHere(page);
  await strike(page, 40);
  await expect(page.getByTestId('last-answer')).toContainText('tap');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /^Tin Kit/ })).toContainText('96');
});

test('sounds are made, named, duplicated and deleted; an empty one says what to do', async ({ page }) => {
  await openSounds(page, 'felt-keys');
  await page.getByRole('button', { name: '+ new' }).click();
  await page.getByRole('menuitem', { name: 'samples: an empty map' }).click();
  await expect(page.getByText('“New sound” has no zone yet.')).toBeVisible();
  await page.getByRole('button', { name: 'More for New sound' }).click();
  await page.getByRole('menuitem', { name: 'Rename …' }).click();
  await page.getByLabel('Name of the sound').fill('Far Choir');
  await page.getByLabel('Name of the sound').press('Enter');
  await page.getByRole('button', { name: 'More for Far Choir' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(page.getByRole('button', { name: /^Far Choir/ })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /^Far Choir/ })).toBeVisible();
});

test('the accessibility check finds nothing in the Sounds view, its waveform and its tray', async ({ page }) => {
  await openSounds(page, 'felt-keys');
  const box = (await page.getByTestId('zone-map').boundingBox())!;
  await page.mouse.click((await keyPoint(page, 57)).x, box.y + box.height * 0.2);
  expect(await AxeBuilder(page)).toEqual([]);
  await page.getByRole('tab', { name: 'Waveform' }).click();
  await page.getByLabel('Loop', { exact: true }).selectOption('end');
  await page.getByRole('button', { name: 'Night theme' }).click();
  expect(await AxeBuilder(page)).toEqual([]);
  await page.getByRole('button', { name: 'Chart theme' }).click();
  await page.getByRole('button', { name: 'Try the demo folder' }).click();
  await expect(page.getByRole('button', { name: 'Place 20 files' })).toBeEnabled();
  expect(await AxeBuilder(page)).toEqual([]);
  expect(
    await page.evaluate(() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight]),
  ).toEqual([1280, 800]);
});

test('a given-up import leaves nothing behind after the next start', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'Sounds' }).click();
  const kept = () =>
    page.evaluate(
      () =>
        new Promise<number>((resolve) => {
          const request = indexedDB.open('wavicle');
          request.onsuccess = () => {
            const count = request.result.transaction('samples').objectStore('samples').count();
            count.onsuccess = () => {
              request.result.close();
              resolve(count.result);
            };
          };
        }),
    );
  // What was left by others has gone, and the demo has come.
  let before = -1;
  await expect.poll(async () => before === (before = await kept()), { intervals: [2000], timeout: 90_000 }).toBe(true);
  await page.getByRole('button', { name: 'Try the demo folder' }).click();
  await expect(page.getByRole('button', { name: 'Place 20 files' })).toBeEnabled();
  expect(await kept()).toBe(before + 20);
  await page.getByRole('button', { name: 'Give up' }).click();
  await page.reload();
  await expect(page.getByTestId('zone-map')).toBeVisible();
  await expect.poll(kept).toBeLessThanOrEqual(before);
});
