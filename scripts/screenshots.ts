/** npm run screenshots: renews docs/screenshots from the demo rig. The server must be running (PORT, 4180). */
import { launch } from '../bench/browser';

const browser = await launch();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const shoot = (name: string) => page.screenshot({ path: `docs/screenshots/${name}.png` });
const play = async (patch: string, seconds: number) => {
  await page.goto(`http://localhost:${process.env.PORT ?? 4180}/patch/${patch}/layers`);
  await page.getByTestId('keyboard').locator('rect[data-key]').first().waitFor();
  await page.locator('header').click({ position: { x: 400, y: 5 } });
  await page.waitForFunction(() => !document.body.textContent!.includes('samples to come'));
  await page.getByRole('button', { name: 'Play the take' }).click();
  await page.waitForTimeout(seconds * 1000);
  await page.mouse.move(640, 420);
  await page.waitForTimeout(150);
};

await page.goto(`http://localhost:${process.env.PORT ?? 4180}/`);
await page.getByTestId('keyboard').waitFor();
await play('low-water', 5);
await shoot('layers-split');
await page.getByRole('button', { name: 'Stop the take' }).click();
await page.getByRole('button', { name: 'Split here' }).click();
await shoot('layers-split-here');
await play('tern-colony', 6);
await shoot('layers-crossfade');
await play('perigee', 17);
await page.getByRole('button', { name: 'Night theme' }).click();
await page.mouse.move(640, 420);
await page.waitForTimeout(200);
await shoot('layers-night');
await browser.close();
