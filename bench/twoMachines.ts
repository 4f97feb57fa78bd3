import type { Browser, Page } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';

/**
 * Two machines on this one: each has a server and a browser of its own, and neither knows of the other but what goes over
 * the line.
 */

/** A server at a port; ends with {@link ChildProcess.kill}. */
export async function serve(port: number): Promise<ChildProcess> {
  const server = spawn(process.execPath, ['node_modules/tsx/dist/cli.mjs', 'src/server/main.ts'], {
    env: { ...process.env, PORT: String(port), DEMO: 'build/demo-small' },
    stdio: 'ignore',
  });
  for (let tries = 0; tries < 150; tries++) {
    const { ok } = await fetch(`http://localhost:${port}/demo/takes.json`).catch(() => ({ ok: false }));
    if (ok) return server;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  server.kill();
  throw new Error(`no server at port ${port}`);
}

declare global {
  interface Window {
    /** Mean square of what went to the loudspeaker, by 10 ms, with the page's clock. */
    heardPower: () => { at: number; power: number }[];
  }
}

/** Listens to what a page sends to the loudspeaker, from before it loads. */
export const tap = async (page: Page): Promise<void> => {
  await page.addInitScript(() => {
    const heard: { at: number; power: number }[] = [];
    window.heardPower = () => heard;
    const { connect } = AudioNode.prototype;
    const taps = new WeakMap<BaseAudioContext, AnalyserNode>();
    AudioNode.prototype.connect = function (this: AudioNode, ...to: unknown[]) {
      const { context } = this;
      if (to[0] === context.destination) {
        let analyser = taps.get(context);
        if (!analyser) {
          taps.set(context, (analyser = context.createAnalyser()));
          analyser.fftSize = 512;
          const wave = new Float32Array(512);
          setInterval(() => {
            analyser!.getFloatTimeDomainData(wave);
            heard.push({ at: Date.now(), power: wave.reduce((sum, x) => sum + x * x, 0) / wave.length });
            if (heard.length > 3000) heard.shift();
          }, 10);
        }
        (connect as (this: AudioNode, node: AudioNode) => void).call(this, analyser);
      }
      return (connect as (...all: unknown[]) => AudioNode).call(this, ...to);
    } as typeof connect;
  });
};

/** Opens the Stage, with sound, unlocked. */
export async function openUnlocked(page: Page, port: number): Promise<void> {
  await page.goto(`http://localhost:${port}/stage`);
  await page.getByTestId('stage').waitFor({ timeout: 30_000 });
  await page.mouse.click(300, 20);
  await page.getByTestId('stage-ready').getByText('ready').waitFor({ timeout: 60_000 });
  await page.getByRole('button', { name: /hold for a second/ }).hover();
  await page.mouse.down();
  await page.getByRole('button', { name: /^unlocked/ }).waitFor();
  await page.mouse.up();
}

const devices = async (page: Page): Promise<void> => {
  await page.getByRole('button', { name: 'Setlist' }).click();
  await page.getByRole('button', { name: 'Devices' }).click();
};

/** Lets a second machine play along, whose own server is another; waits until both are in step. */
export async function pair(main: Page, second: Page, mainPort: number, byItself: boolean): Promise<void> {
  await devices(main);
  const offer = main.getByRole('button', { name: 'Offer pairing' });
  await offer.click();
  const shown = main.getByTestId('pairing-code').getByText(/^\w{4} \w{4}$/);
  await shown.waitFor();
  await devices(second);
  const part = second.getByRole('region', { name: 'A second machine' });
  const put = async (name: string, value: string) => {
    const field = part.getByRole('textbox', { name });
    await field.fill(value);
    await field.press('Enter');
  };
  await put('address', '127.0.0.1');
  await put('port', String(mainPort));
  await part.getByRole('textbox', { name: 'code' }).fill((await shown.textContent())!);
  await part.getByRole('checkbox', { name: /takes over by itself/ }).setChecked(byItself);
  await part.getByRole('button', { name: 'Play along', exact: true }).click();
  await main.getByRole('region', { name: 'How both stand' }).getByRole('button', { name: 'let it play along' }).click();
  for (const page of [main, second]) {
    await page.getByTestId('spare').getByText('in step since').waitFor({ timeout: 60_000 });
    await page.getByRole('button', { name: 'Close' }).click();
  }
}

/** Holds a key of the keyboard on screen with the mouse. */
export async function hold(page: Page, key: number): Promise<void> {
  const box = (await page.getByTestId('keyboard').locator(`rect[data-key="${key}"]`).boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height * 0.8);
  await page.mouse.down();
}

/** What was heard between two moments of the page's clock, in dB (of full scale, mean square). */
export const heardDb = (page: Page, from: number, to: number): Promise<number> =>
  page.evaluate(
    ([begin, end]) => {
      const within = window.heardPower().filter(({ at }) => at >= begin && at < end);
      const mean = within.reduce((sum, { power }) => sum + power, 0) / Math.max(1, within.length);
      return 10 * Math.log10(mean + 1e-12);
    },
    [from, to],
  );

/** When a page was heard first after a moment, by its own clock, in ms; Infinity: it was not. */
export const heardSince = (page: Page, from: number, db: number): Promise<number> =>
  page.evaluate(
    ([begin, least]) =>
      window.heardPower().find(({ at, power }) => at >= begin && 10 * Math.log10(power + 1e-12) > least)?.at ??
      Infinity,
    [from, db],
  );

export const newMachine = async (browser: Browser): Promise<Page> => {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await tap(page);
  return page;
};
