import { chromium, type Browser, type Page } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { Chance } from '../src/core/dsp/chance';
import { readRig } from '../src/core/rig/read';
import { CHROMIUM_ARGS, CHROMIUM_PATH } from './browser';

/** A browser of its own with a profile that stays, which can be ended as if the plug were pulled. */
export async function begin(profile: string): Promise<{ browser: Browser; page: Page; kill: () => Promise<void> }> {
  const child: ChildProcess = spawn(
    CHROMIUM_PATH,
    [
      ...CHROMIUM_ARGS,
      '--headless=new',
      `--user-data-dir=${profile}`,
      '--remote-debugging-port=0',
      '--window-size=1280,800',
      'about:blank',
    ],
    { detached: true, stdio: ['ignore', 'ignore', 'pipe'] },
  );
  const address = await new Promise<string>((resolve, reject) => {
    let text = '';
    const patience = setTimeout(() => reject(new Error(`the browser did not begin: ${text.slice(-300)}`)), 30_000);
    child.stderr!.on('data', (bytes: Buffer) => {
      text += String(bytes);
      const found = /DevTools listening on (ws:\S+)/.exec(text);
      if (found) {
        clearTimeout(patience);
        resolve(found[1]);
      }
    });
  });
  const browser = await chromium.connectOverCDP(address);
  const context = browser.contexts()[0];
  const page = context.pages()[0] ?? (await context.newPage());
  return {
    browser,
    page,
    kill: () =>
      new Promise((resolve) => {
        child.once('exit', () => resolve());
        // The whole family at once, as a machine that loses its power.
        process.kill(-child.pid!, 'SIGKILL');
      }),
  };
}

/** Every rig that the browser keeps, as it is; none where it has kept nothing yet. Says what cannot be read. */
export const keptRigs = (page: Page): Promise<unknown[]> =>
  page.evaluate(
    () =>
      new Promise<unknown[]>((resolve, reject) => {
        const request = indexedDB.open('wavicle');
        request.onblocked = () => reject(new Error('the database is blocked'));
        request.onerror = () => reject(new Error('the database cannot be opened'));
        request.onsuccess = () => {
          const { result } = request;
          // It was made just now, by asking for it.
          if (!result.objectStoreNames.contains('rigs')) {
            result.close();
            indexedDB.deleteDatabase('wavicle');
            return resolve([]);
          }
          const all = result.transaction('rigs').objectStore('rigs').getAll() as IDBRequest<{ rig: string }[]>;
          all.onerror = () => reject(new Error('the rigs cannot be read'));
          all.onsuccess = () => {
            result.close();
            resolve(all.result.map(({ rig }) => JSON.parse(rig) as unknown));
          };
        };
      }),
  );

const levelIn = (rig: unknown): number => readRig(rig).patches[0].layers[0].params.level ?? 0;

/**
 * Ends the browser at a random moment while a level is edited on and on, many times over with one profile. Gives for
 * each the ms between the newest edit that was kept and the end (at most 1000 ms of edits may be
 * lost), and throws where what is kept cannot be read, or the page does not open with it.
 */
export async function killTabs(
  address: string,
  profile: string,
  count: number,
  seed: number,
  told: (n: number, lostMs: number) => void = () => undefined,
): Promise<number[]> {
  const chance = new Chance(seed);
  const lost: number[] = [];
  for (let n = 0; n < count; n++) {
    const { browser, page, kill } = await begin(profile);
    page.setDefaultTimeout(30_000);
    await page.goto(`${address}/patch/low-water/layers`);
    const strip = page.getByLabel('Layer Hull Bass in numbers').getByRole('slider', { name: 'level', exact: true });
    await page.getByRole('region', { name: 'Layer Hull Bass' }).getByRole('heading').click();
    await page.getByRole('tab', { name: 'level' }).click();
    await strip.focus();
    const edits: { at: number; level: number }[] = [
      { at: Date.now(), level: Number(await strip.getAttribute('aria-valuenow')) },
    ];
    const until = Date.now() + 300 + chance.share() * 2500;
    let way = edits[0].level > 0 ? 'ArrowDown' : 'ArrowUp';
    while (Date.now() < until) {
      await page.keyboard.press(way);
      const level = Number(await strip.getAttribute('aria-valuenow'));
      if (level === edits[edits.length - 1].level) way = way === 'ArrowUp' ? 'ArrowDown' : 'ArrowUp';
      else edits.push({ at: Date.now(), level });
    }
    const ended = Date.now();
    await kill();
    await browser.close().catch(() => undefined);
    const again = await begin(profile);
    try {
      await again.page.goto(`${address}/icon.svg`);
      const rigs = await keptRigs(again.page);
      const kept = rigs.map((rig) => levelIn(JSON.parse(JSON.stringify(rig))));
      // Where nothing is kept yet, every edit is lost.
      const newest =
        kept.length === 0
          ? edits[0]
          : edits.filter(({ level }) => kept.some((each) => Math.abs(each - level) < 0.06)).pop();
      if (!newest)
        throw new Error(
          `kill ${n}: the level that is kept, ${kept.join(' or ')}, is none that was edited (${edits.map(({ level }) => level).join(' ')})`,
        );
      // What came after the newest that was kept is lost: how long before the end did it begin?
      const next = edits[edits.indexOf(newest) + 1];
      lost.push(next ? ended - next.at : 0);
      told(n, lost[lost.length - 1]);
      await again.page.goto(address);
      await again.page.getByTestId('keyboard').locator('rect[data-key]').first().waitFor();
    } finally {
      await again.kill();
      await again.browser.close().catch(() => undefined);
    }
  }
  return lost;
}
