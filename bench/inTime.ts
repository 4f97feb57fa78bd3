import { Chance } from '../src/core/dsp/chance';
import { launch } from './browser';
import { hold, newMachine, openUnlocked, pair, serve } from './twoMachines';

const MAIN = 4187,
  SECOND = 4188;
/** Steps of the demo's show that a number and Enter lead to. */
const STEPS = 9;

/** What came of two machines that play in time. */
export interface InTime {
  strikes: number;
  changes: number;
  /** How often both were asked how they stand. */
  asked: number;
  /** What was told instead of being in step since the beginning, with the second in which it was. */
  wrong: string[];
}

/**
 * Two machines, each a browser with a server of its own, play the show in time: keys and changes of patch by chance on
 * the first, while the second plays along. Asks both again and again whether they are in step.
 */
export async function inTime(seconds: number, seed: number): Promise<InTime> {
  const chance = new Chance(seed);
  const servers = [await serve(MAIN), await serve(SECOND)];
  const browser = await launch();
  const result: InTime = { strikes: 0, changes: 0, asked: 0, wrong: [] };
  try {
    const [first, second] = [await newMachine(browser), await newMachine(browser)];
    for (const page of [first, second])
      page.on('pageerror', (error) => result.wrong.push(`thrown: ${error.message.slice(0, 300)}`));
    await openUnlocked(first, MAIN);
    await openUnlocked(second, SECOND);
    await pair(first, second, MAIN, false);
    const stands = () => Promise.all([first, second].map((page) => page.getByTestId('spare').textContent()));
    const since = (await stands()).map((words) => /in step since \S+/.exec(words ?? '')?.[0] ?? '');
    const began = Date.now();
    for (let at = 0; at < seconds; at = (Date.now() - began) / 1000) {
      if (chance.share() < 0.06) {
        await first.keyboard.press(String(1 + chance.below(STEPS)));
        await first.keyboard.press('Enter');
        result.changes++;
      }
      await hold(first, 40 + chance.below(45));
      await first.waitForTimeout(50 + chance.below(1500));
      await first.mouse.up();
      result.strikes++;
      const words = await stands();
      result.asked++;
      words.forEach((said, n) => {
        if (!said?.includes(since[n]) || since[n] === '')
          result.wrong.push(`second ${at.toFixed(0)}, machine ${n + 1}: ${said}`);
      });
    }
  } finally {
    await browser.close();
    for (const server of servers) server.kill();
  }
  return result;
}
