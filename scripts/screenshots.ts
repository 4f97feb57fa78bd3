/** npm run screenshots: renews docs/screenshots from the demo rig. The server must be running (PORT, 4180). */
import { launch } from '../bench/browser';
import { openUnlocked, pair } from '../bench/twoMachines';
import { samplesHere } from '../tests/steps';

const browser = await launch();
const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, permissions: ['midi'] });
// The browser here knows no MIDI: a keyboard that only stands there has its place in the pictures.
// As text, for what runs in the page must not have been compiled for Node.
await context.addInitScript({
  content: `
    const keys = { id: '1', name: 'Keys 61', state: 'connected', onmidimessage: null };
    const access = { inputs: new Map([['1', keys]]), outputs: new Map(), onstatechange: null };
    Object.defineProperty(navigator, 'requestMIDIAccess', { value: () => Promise.resolve(access) });
  `,
});
const page = await context.newPage();
const shoot = (name: string) => page.screenshot({ path: `docs/screenshots/${name}.png` });
const play = async (patch: string, seconds: number) => {
  await page.goto(`http://localhost:${process.env.PORT ?? 4180}/patch/${patch}/layers`);
  await page.getByTestId('keyboard').locator('rect[data-key]').first().waitFor();
  await page.locator('header').click({ position: { x: 400, y: 5 } });
  await samplesHere(page);
  await page.getByRole('button', { name: 'Play the take' }).click();
  await page.waitForTimeout(seconds * 1000);
  await page.mouse.move(640, 420);
  await page.waitForTimeout(150);
};

const menu = async (item: RegExp) => {
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await page.getByRole('menuitem', { name: item }).click();
};

await page.goto(`http://localhost:${process.env.PORT ?? 4180}/`);
await page.getByTestId('keyboard').waitFor();
// The first visit: the wheel is up, a chord is held, and the line over the keys has answered twice.
await play('perigee', 9);
await page.getByRole('button', { name: 'Stop the take' }).click();
const keyboard = (await page.getByTestId('keyboard').locator('rect[data-key="60"]').boundingBox())!;
const wheel = (await page.getByRole('slider', { name: 'wheel' }).boundingBox())!;
await page.mouse.click(wheel.x + 10, wheel.y + 14);
for (const share of [0.1, 0.97]) await page.mouse.click(keyboard.x + 4, keyboard.y + keyboard.height * share);
await page.mouse.move(640, 420);
await page.waitForTimeout(300);
await shoot('layers-first');
await play('perigee', 17);
await page.getByRole('button', { name: 'Night theme' }).click();
await page.mouse.move(640, 420);
await page.waitForTimeout(200);
await shoot('layers-night');
await page.getByRole('button', { name: 'Chart theme' }).click();

// The Sounds view: the map of the tins with their table, a waveform with its loop, and a folder waiting to be placed.
const sounds = async (patch: string, sound: string) => {
  await page.goto(`http://localhost:${process.env.PORT ?? 4180}/patch/${patch}/sounds/${sound}`);
  await page.getByTestId('zone-map').waitFor();
  await page.locator('header').click({ position: { x: 560, y: 5 } });
  await samplesHere(page);
};
const point = async (key: number, share: number) => {
  const at = (await page.getByTestId('keyboard').locator(`rect[data-key="${key}"]`).boundingBox())!;
  const map = (await page.getByTestId('zone-map').boundingBox())!;
  return { x: at.x + at.width / 2, y: map.y + map.height * share };
};
const click = async (key: number, share: number) => {
  const { x, y } = await point(key, share);
  await page.mouse.click(x, y);
};
await sounds('tern-colony', 'felt-keys');
await page.getByRole('button', { name: 'Play the take' }).click();
await page.waitForTimeout(4000);
await click(63, 0.2);
await page.waitForTimeout(200);
await shoot('sounds-map');
await page.getByRole('button', { name: 'Stop the take' }).click();
await sounds('tern-colony', 'bowed-wire');
await click(60, 0.4);
await page.getByRole('tab', { name: 'Waveform' }).click();
await page.waitForTimeout(800);
await shoot('sounds-waveform');
await page.getByRole('button', { name: 'Try the demo folder' }).click();
await page.getByRole('button', { name: 'Place 20 files' }).waitFor();
await page.waitForTimeout(500);
await shoot('sounds-bring-in');
await page.getByRole('button', { name: 'Give up' }).click();

// Control: macros and a pad, movers and routes, the field on other sources, and the monitor with a stand-in.
const control = async (patch: string, seconds: number) => {
  await play(patch, 0);
  await page.getByRole('link', { name: 'Control' }).click();
  await page.waitForTimeout(seconds * 1000);
};
await control('slack-tide', 6);
await page.getByRole('slider', { name: 'Drift', exact: true }).focus();
await page.mouse.move(640, 620);
await page.waitForTimeout(300);
await shoot('control-macros');
await page.getByRole('button', { name: 'Stop the take' }).click();
await control('undertow', 5);
await page.getByRole('button', { name: /^Stones steps/ }).click();
await page.waitForTimeout(300);
await shoot('control-movers');
await page.getByRole('button', { name: 'Stop the take' }).click();
await page.getByRole('button', { name: 'more …' }).click();
await page.getByRole('button', { name: 'expressive surface' }).click();
const surface = (await page.getByTestId('surface').boundingBox())!;
await page.mouse.move(surface.x + 300, surface.y + 70);
await page.mouse.down();
await page.mouse.move(surface.x + 360, surface.y + 30, { steps: 8 });
await page.getByRole('button', { name: 'Monitor' }).focus();
await page.keyboard.press('Enter');
await page.waitForTimeout(300);
await page.mouse.up();
await page.keyboard.press('Escape');
await page.getByRole('button', { name: 'Close the stand-ins' }).click();

// The mix: the river of Kelp Choir with an effect open, the same as strips, and its take with what plays along.
await play('kelp-choir', 0);
await page.getByRole('link', { name: 'Mix' }).click();
await page.getByTestId('bands').locator('rect').first().waitFor({ timeout: 60_000 });
await page.waitForTimeout(1500);
await page.getByRole('button', { name: 'Layer Choir' }).click();
await page.waitForTimeout(1500);
await shoot('mix-river');
await page.getByRole('button', { name: 'compressor on Kelp', exact: true }).click();
await page.waitForTimeout(1200);
await shoot('mix-effect');
await page.getByRole('button', { name: 'strips', exact: true }).click();
await page.waitForTimeout(1200);
await page.getByRole('button', { name: 'take and backing' }).click();
await page.waitForTimeout(1200);
await shoot('mix-take');
await page.getByRole('button', { name: 'Back to the river' }).click();
await page.getByRole('button', { name: 'Stop the take' }).click();

// Several rigs side by side, one of them with a state that was kept.
await play('low-water', 1);
await page.getByRole('button', { name: 'Stop the take' }).click();
await menu(/Rigs in this browser/);
await page.getByLabel('Keep this state as').fill('before the dress rehearsal');
await page.getByLabel('Keep this state as').press('Enter');
await page.getByRole('button', { name: 'duplicate' }).first().click();
await page.getByText('Perigee Tide copy').waitFor();
await page.waitForTimeout(300);
await page.getByRole('button', { name: 'Close', exact: true }).click();

// Other sources of sound while they play, and draws of chance with their history.
const playsSound = async (patch: string, sound: RegExp, seconds: number) => {
  await play(patch, 0);
  await page.getByRole('link', { name: 'Sounds' }).click();
  await page.getByRole('button', { name: sound }).click();
  await page.waitForTimeout(seconds * 1000);
};
await playsSound('neap-bass', /^Neap synth/, 4);
await shoot('synth');
await page.getByRole('button', { name: 'Stop the take' }).click();
await playsSound('spindrift', /^Fog Signal grains/, 5);
await shoot('grains');
await page.getByRole('button', { name: 'Stop the take' }).click();
// The Stage: at a desk with the show going, upright on a tablet, its setlist, and a device being paired.
const onStage = async (number: string) => {
  await page.goto(`http://localhost:${process.env.PORT ?? 4180}/stage`);
  await page.getByTestId('stage').waitFor();
  await page.mouse.click(300, 20);
  for (const digit of number) await page.keyboard.press(digit);
  await page.keyboard.press('Enter');
  await page.getByTestId('stage-ready').getByText('ready', { exact: true }).waitFor({ timeout: 90_000 });
};
const unlockStage = async () => {
  await page.getByRole('button', { name: /hold for a second/ }).hover();
  await page.mouse.down();
  await page.waitForTimeout(1000);
  await page.mouse.up();
};
const chord = async (down: boolean) => {
  for (const key of ['z', 'x', 'b', 'q', 'e']) await (down ? page.keyboard.down(key) : page.keyboard.up(key));
};
await onStage('4');
await page.keyboard.press('p');
await chord(true);
await page.waitForTimeout(1800);
await shoot('stage');
await chord(false);
await page.setViewportSize({ width: 820, height: 1100 });
await page.keyboard.press('F8');
for (const key of ['5', 'Enter']) await page.keyboard.press(key);
await page.waitForTimeout(1500);
await shoot('stage-portrait');
await page.setViewportSize({ width: 1280, height: 800 });
for (const key of ['4', 'Enter']) await page.keyboard.press(key);
await unlockStage();
await page.getByRole('button', { name: 'Setlist' }).click();
await page.waitForTimeout(500);
await shoot('stage-setlist');
await page.getByRole('button', { name: 'Devices' }).click();
await page.getByRole('button', { name: 'Offer pairing' }).click();
const code = page.getByTestId('pairing-code');
await code.waitFor();
await page.waitForTimeout(600);
const tablet = await page.context().newPage();
await tablet.goto(
  `http://localhost:${process.env.PORT ?? 4180}/remote#${(await code.textContent())!.replace(' ', '')}`,
);
await tablet.getByTestId('remote').waitFor();
await page.bringToFront();
await page.waitForTimeout(1500);
await shoot('pairing');
await tablet.close();
// A second machine plays along: it is looked at while the first one plays.
await page.getByRole('button', { name: 'End the pairing' }).click();
const second = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
await page.getByRole('button', { name: 'Close' }).click();
const port = Number(process.env.PORT ?? 4180);
await openUnlocked(second, port);
await pair(page, second, port, false);
await chord(true);
await page.waitForTimeout(2500);
await second.getByRole('button', { name: /^unlocked/ }).click();
await second.screenshot({ path: 'docs/screenshots/spare.png' });
await chord(false);
await second.context().close();

// A gap and a loud patch are planted in Tern Colony: Check finds them, and all is taken back.
await play('tern-colony', 0);
await page.getByRole('button', { name: 'Stop the take' }).click();
await page.getByRole('region', { name: 'Layer Felt Keys' }).getByRole('heading').click();
await page.getByRole('textbox', { name: 'from' }).first().fill('G3');
await page.keyboard.press('Enter');
await page.getByRole('link', { name: 'Mix' }).click();
await page.getByRole('button', { name: 'Main', exact: true }).click();
await page.getByRole('slider', { name: 'level' }).first().focus();
for (let n = 0; n < 5; n++) await page.keyboard.press('ArrowDown');
await page.getByRole('link', { name: /^Check/ }).click();
await page.getByText('softer than the middle of the show').waitFor({ timeout: 180_000 });
await page.getByText('Louder or softer than the show').first().click();
await page.waitForTimeout(400);
await shoot('check');
await page.keyboard.press('Control+z');
await page.keyboard.press('Control+z');
await play('low-water', 0);
await page.getByRole('button', { name: 'Stop the take' }).click();
await menu(/^Bounce to samples/);
await page.waitForTimeout(300);
await shoot('bounce');
await page.keyboard.press('Escape');
await browser.close();
