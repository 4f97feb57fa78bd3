import { chromium } from 'playwright-core';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--autoplay-policy=no-user-gesture-required'] });
const context = await b.newContext({ viewport: { width: 1280, height: 800 } });
const page = await context.newPage();
page.on('pageerror', e => console.log('ERR', e.message));
await page.goto('http://localhost:4180/patch/breakers/control');
await page.waitForSelector("[data-plays]", { timeout: 30000 });
await page.waitForTimeout(1000);
await page.getByRole('button', { name: 'Spread over a pad' }).click();
await page.waitForTimeout(300);
for (const c of await page.locator('[role=dialog] input[type=checkbox]').all()) if (!(await c.isChecked())) await c.check().catch(()=>{});
await page.screenshot({ path: '/tmp/d.png' });
await page.getByRole('button', { name: 'Apply' }).click();
for (const [w,h,n] of [[1280,800,'a'],[820,640,'b'],[2560,1440,'c']]) { await page.setViewportSize({ width: w, height: h }); await page.waitForTimeout(500); await page.screenshot({ path: `/tmp/${n}.png` }); }
await b.close();
