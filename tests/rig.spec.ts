import AxeBuilder from './axe';
import { expect, test } from './base';
import { writeFileSync } from 'node:fs';
import { addLayer, fade, keyPoint, level, openDemo, readout, samplesHere, watchProblems } from './steps';

watchProblems();

test('a key played on screen raises the meter, and panic takes it down', async ({ page }) => {
  await openDemo(page);
  await page.locator('header').click({ position: { x: 400, y: 5 } });
  await expect(page.getByTestId('voices')).toBeVisible();
  const { x, y } = await keyPoint(page, 64);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await expect.poll(() => level(page)).toBeGreaterThan(-40);
  await expect(page.getByTestId('voices')).toContainText('1 voice');
  await page.getByRole('button', { name: 'Silence' }).press('Enter');
  await expect.poll(() => level(page)).toBeLessThan(-45);
  await expect(page.getByTestId('voices')).toContainText('0 voices');
  await page.mouse.up();
});

test('the computer keyboard plays, holds with the pedal, and lets go', async ({ page }) => {
  await openDemo(page);
  // Where a looped wire sounds as long as it is held, however slow the machine.
  await page.keyboard.press('PageDown');
  await expect(page).toHaveURL(/tern-colony/);
  await page.keyboard.press('p');
  await expect(page.getByRole('button', { name: 'type to play' })).toHaveAttribute('aria-pressed', 'true');
  await samplesHere(page);
  await page.keyboard.down('q');
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await expect(page.getByTestId('readout')).toContainText('last strike: C4 (60), velocity 96');
  await page.getByLabel('Stand-in controllers').getByRole('button', { name: 'sustain' }).click();
  await page.keyboard.up('q');
  await page.waitForTimeout(700);
  await expect(page.getByTestId('voices')).toContainText(/[1-9]\d* voice/);
  await page.getByLabel('Stand-in controllers').getByRole('button', { name: 'sustain' }).click();
  await expect(page.getByTestId('voices')).toContainText('0 voices');
});

test('dragging a fade changes the readout to the formula’s number, in one step of undo', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
  const keys = page.getByLabel('Layer Felt Keys in numbers').getByRole('region', { name: 'Keys' });
  await expect(keys.getByLabel('fade in')).toHaveValue('0');
  await fade(page, 'Felt Keys: fade in over keys', 66);
  await expect(keys.getByLabel('fade in')).toHaveValue('12');
  const { x, y } = await keyPoint(page, 58);
  await page.mouse.move(x, y);
  // gain = sin(π/2 · (58 − 54) / 12), worked out here and not by the application.
  const db = 20 * Math.log10(Math.sin((Math.PI / 2) * (4 / 12)));
  await expect.poll(() => readout(page, 'Felt Keys')).toBe(`${db.toFixed(1).replace('-', '−')} dB`);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(keys.getByLabel('fade in')).toHaveValue('0');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
});

test('split here, crossfade by velocity and bring in with the wheel are single steps', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'Split here' }).click();
  await page.getByLabel('first key of the upper one').fill('c4');
  await page.getByLabel('keys that sound both').fill('5');
  await page.getByLabel('keys that sound both').press('Enter');
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('comes in from A3');
  const { x, y } = await keyPoint(page, 60);
  await page.mouse.move(x, y);
  await expect.poll(() => readout(page, 'Felt Keys')).toBe('−3.0 dB');
  await expect.poll(() => readout(page, 'Hull Bass')).toBe('−3.0 dB');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('F♯3 and up');
  await page.getByRole('button', { name: 'Crossfade by velocity' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('hard playing');
  await page.getByRole('button', { name: 'Bring in with …' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('with wheel');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('hard playing');
});

test('a macro moved in one patch leaves another patch’s macro of that number where it rests', async ({ page }) => {
  await openDemo(page);
  const go = async (patch: string) => {
    await page.getByRole('button', { name: /^Patch / }).click();
    await page.getByRole('option', { name: patch, exact: true }).click();
  };
  await page.getByRole('button', { name: 'Bring in with …' }).click();
  await page.getByRole('combobox', { name: 'with' }).selectOption('macro.1');
  await page.getByRole('button', { name: 'Apply' }).click();
  await go('Perigee');
  await page.getByRole('slider', { name: '1 Swell' }).focus();
  for (let i = 0; i < 10; i++) await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('slider', { name: '1 Swell' })).toHaveAttribute('aria-valuenow', '0.2');
  await go('Low Water');
  const { x, y } = await keyPoint(page, 60);
  await page.mouse.move(x, y);
  await expect.poll(() => readout(page, 'Felt Keys')).toBe('silent');
  await page.mouse.down();
  await page.waitForTimeout(400);
  expect(await level(page)).toBe(-48);
  await page.mouse.up();
});

test('layers are added, renamed, typed, muted, moved and deleted; a wrong number is told and kept', async ({
  page,
}) => {
  await openDemo(page);
  await addLayer(page, 'Harbour Bells');
  const bells = page.getByRole('region', { name: 'Layer Harbour Bells' });
  await expect(bells).toContainText('all keys');
  const keys = page.getByLabel('Layer Harbour Bells in numbers').getByRole('region', { name: 'Keys' });
  await keys.getByLabel('from').fill('C9999');
  await keys.getByLabel('from').press('Enter');
  await expect(keys.getByRole('alert')).toContainText('a key such as E3, or a number from 0 to 127');
  await expect(keys.getByLabel('from')).toHaveValue('C9999');
  await keys.getByLabel('from').fill('72');
  await keys.getByLabel('from').press('Enter');
  await expect(keys.getByLabel('from')).toHaveValue('C5');
  await bells.getByRole('heading').dblclick();
  await bells.getByLabel('Name of the layer').fill('Far bells');
  await bells.getByLabel('Name of the layer').press('Enter');
  const far = page.getByRole('region', { name: 'Layer Far bells', exact: true });
  await far.getByRole('button', { name: 'Mute Far bells' }).click();
  const { x, y } = await keyPoint(page, 77);
  await page.mouse.move(x, y);
  await expect.poll(() => readout(page, 'Far bells')).toBe('silent');
  const handle = far.getByRole('button', { name: 'Move Far bells up or down' });
  await handle.focus();
  await page.keyboard.press('Space');
  await page.waitForTimeout(300);
  await page.keyboard.press('ArrowUp');
  await page.waitForTimeout(300);
  await page.keyboard.press('Space');
  await expect(page.locator('section[aria-label^="Layer "]').nth(1)).toHaveAttribute('aria-label', 'Layer Far bells');
  await page.getByRole('button', { name: 'More for Far bells' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(far).toHaveCount(0);
});

test('the accessibility check finds nothing, in either theme, with sheets and menus open', async ({ page }) => {
  await openDemo(page);
  expect(await AxeBuilder(page)).toEqual([]);
  await page.getByRole('button', { name: 'Night theme' }).click();
  await page.getByRole('button', { name: 'Shortcuts' }).click();
  expect(await AxeBuilder(page)).toEqual([]);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: /Rigs in this browser/ }).click();
  await expect(page.getByRole('list', { name: 'Rigs' })).toContainText('in view');
  expect(await AxeBuilder(page)).toEqual([]);
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.getByRole('button', { name: 'Split here' }).click();
  expect(await AxeBuilder(page)).toEqual([]);
});

test('nothing scrolls the page at 1280 × 800, and middle C can have another name', async ({ page }) => {
  await openDemo(page);
  expect(
    await page.evaluate(() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight]),
  ).toEqual([1280, 800]);
  await page.getByRole('button', { name: 'Settings' }).click();
  await page.getByLabel('Middle C (key 60) is called').selectOption('C3');
  await expect(page.getByRole('region', { name: 'Layer Felt Keys' })).toContainText('F♯2 and up');
});

test('the first click after a reload starts sound and still does what it was for', async ({ page }) => {
  await openDemo(page);
  await page.reload();
  await expect(page.getByText('click or press a key to start sound')).toBeVisible();
  await page.getByRole('button', { name: 'Night theme' }).click();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'night');
  await samplesHere(page);
  await page.reload();
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await expect(page.getByRole('menuitem', { name: 'New patch' })).toBeVisible();
});

// The lowest of the struck strings rings longest; a higher one has ended by itself before a slow machine has looked.
test('a MIDI controller plugged in late plays, and its pedal and wheel are followed', async ({ page }) => {
  await page.addInitScript(() => {
    const input: {
      id: string;
      name: string;
      state: string;
      onmidimessage: ((message: { data: Uint8Array }) => void) | null;
    } = { id: 'stand-in', name: 'Stand-in 61', state: 'connected', onmidimessage: null };
    const access: { inputs: Map<string, typeof input>; onstatechange: (() => void) | null } = {
      inputs: new Map(),
      onstatechange: null,
    };
    Object.assign(navigator, { requestMIDIAccess: () => Promise.resolve(access) });
    Object.assign(window, {
      plugIn: () => {
        access.inputs.set(input.id, input);
        access.onstatechange?.();
      },
      pullOut: () => {
        input.state = 'disconnected';
        access.onstatechange?.();
      },
      sendMidi: (...bytes: number[]) => input.onmidimessage?.({ data: Uint8Array.from(bytes) }),
    });
  });
  const send = (...bytes: number[]) =>
    page.evaluate((data) => (window as unknown as { sendMidi: (...bytes: number[]) => void }).sendMidi(...data), bytes);
  await openDemo(page);
  await expect(page.getByTestId('readout')).toContainText('no controller is connected: plug one in at any time');
  await page.evaluate(() => (window as unknown as { plugIn: () => void }).plugIn());
  await expect(page.getByTestId('readout')).toContainText('controller: Stand-in 61');
  await send(0xb0, 1, 99, 64, 127);
  await expect(page.getByRole('slider', { name: 'wheel' })).toHaveAttribute('aria-valuenow', '99');
  await send(0x90, 54, 110);
  await expect(page.getByTestId('readout')).toContainText('last strike: F♯3 (54), velocity 110');
  await expect.poll(() => level(page)).toBeGreaterThan(-45);
  await send(54, 0);
  await page.waitForTimeout(250);
  await expect(page.getByTestId('voices')).toContainText('1 voice');
  await send(0xb0, 64, 0);
  await expect(page.getByTestId('voices')).toContainText('0 voices');
  // Its cable is pulled while a key is held: the note ends, nothing hangs.
  await send(0x90, 54, 110);
  await expect(page.getByTestId('voices')).toContainText('1 voice');
  await page.evaluate(() => (window as unknown as { pullOut: () => void }).pullOut());
  await expect(page.getByTestId('voices')).toContainText('0 voices');
  await expect(page.getByTestId('readout')).toContainText('no controller is connected');
});

test('windows on further sources come and go by hand, and a velocity edge is dragged', async ({ page }) => {
  await openDemo(page);
  const numbers = page.getByLabel('Layer Hull Bass in numbers');
  await numbers.getByRole('button', { name: '+ window on …' }).click();
  await page.getByRole('menuitem', { name: 'bend', exact: true }).click();
  await expect(numbers.getByRole('region', { name: 'bend' }).getByLabel('from')).toHaveValue('-1');
  await numbers.getByLabel('or CC').fill('74');
  await numbers.getByLabel('or CC').press('Enter');
  await expect(numbers.getByRole('region', { name: 'slide (CC 74)' }).getByLabel('to', { exact: true })).toHaveValue(
    '127',
  );
  await numbers.getByRole('button', { name: 'Remove the window on bend' }).click();
  await expect(numbers.getByRole('region', { name: 'bend', exact: true })).toHaveCount(0);
  const handle = (await page
    .getByRole('slider', { name: 'Hull Bass: highest velocity' })
    .locator('circle')
    .last()
    .boundingBox())!;
  await page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height / 2);
  await page.mouse.down();
  await page.mouse.move(handle.x + handle.width / 2, handle.y + 36, { steps: 5 });
  await page.mouse.up();
  const highest = Number(
    await numbers.getByRole('region', { name: 'Velocities' }).getByLabel('to', { exact: true }).inputValue(),
  );
  expect(highest).toBeGreaterThan(55);
  expect(highest).toBeLessThan(90);
  await expect(page.getByRole('region', { name: 'Layer Hull Bass' })).toContainText('soft playing');
});

test('a MIDI file of one’s own becomes the take; a broken one is refused', async ({ page }, info) => {
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
  await expect(page.locator('footer select option:checked')).toHaveText('my tune.mid');
  await page.getByRole('button', { name: 'Play the take' }).click();
  await expect(page.getByTestId('readout')).toContainText('last strike: A♯4 (70), velocity 100');
  await page.getByRole('button', { name: 'Stop the take' }).click();
  writeFileSync(own, 'nothing');
  await page.getByLabel('MIDI file', { exact: true }).setInputFiles(own);
  await expect(page.getByRole('alert')).toContainText('my tune.mid: this is not a readable MIDI file');
  await expect(page.locator('footer select option:checked')).toHaveText('my tune.mid');
});

test('an audio engine that stops is replaced at once: program, samples and wheel are there again', async ({ page }) => {
  await page.addInitScript(() => {
    const Real = window.AudioWorkletNode;
    const nodes: AudioWorkletNode[] = [];
    Object.assign(window, {
      nodes,
      AudioWorkletNode: class extends Real {
        constructor(...rest: ConstructorParameters<typeof Real>) {
          super(...rest);
          nodes.push(this);
        }
      },
    });
  });
  await openDemo(page);
  await page.goto('/patch/perigee/layers');
  await expect(page.getByTestId('keyboard').locator('rect[data-key]').first()).toBeVisible();
  await page.locator('header').click({ position: { x: 400, y: 5 } });
  await samplesHere(page);
  await page.getByRole('slider', { name: 'wheel' }).focus();
  await page.keyboard.press('End');
  await expect(page.getByRole('slider', { name: 'wheel' })).toHaveAttribute('aria-valuenow', '127');
  const voices = async () => {
    const { x, y } = await keyPoint(page, 60);
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.waitForTimeout(400);
    const text = await page.getByTestId('voices').textContent();
    await page.mouse.up();
    return Number(text!.split(' ')[0]);
  };
  const before = await voices();
  expect(before).toBeGreaterThan(1);
  await page.keyboard.press('Escape');
  // A program that no rig can make: the engine takes it, and falls over it in the middle of its work.
  const broken = {
    patchId: 'x',
    name: '',
    tempo: 120,
    sources: [],
    movers: [],
    pads: [],
    shared: [],
    follows: false,
    layers: [],
    mix: {
      places: [{ id: 'main', layer: -1, on: true, effects: [], bases: [0, 0, 0], rests: [0, 0, 100], moved: [] }],
      connections: [],
      plain: true,
    },
    table: { places: 0 },
    releaseTable: null,
    zones: {},
    sampleKeys: [],
    sounds: [],
    specs: [],
    waveKeys: [],
  };
  await page.evaluate(
    (program) =>
      (window as unknown as { nodes: AudioWorkletNode[] }).nodes[0].port.postMessage({
        type: 'program',
        serial: 9,
        program,
      }),
    broken,
  );
  await expect(page.getByText('another took its place')).toBeVisible();
  expect(await page.evaluate(() => (window as unknown as { nodes: unknown[] }).nodes.length)).toBe(2);
  expect(await voices()).toBe(before);
  expect(await level(page)).toBeGreaterThan(-48);
});
