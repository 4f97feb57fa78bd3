import { expect, test as base, type BrowserContext } from '@playwright/test';

/** Where the application is served while it is tested. */
export const ORIGIN = `http://localhost:${process.env.TEST_PORT ?? 4190}`;

/**
 * Tests with pages of one browser context: what the browser has loaded and compiled once, and the samples it keeps,
 * serve all of them. Rigs, settings and takes are cleared before each
 * (see `openDemo`), and the pages of a test are closed after it.
 */
export const test = base.extend<object, { shared: BrowserContext }>({
  shared: [
    async ({ browser }, use) => {
      const context = await browser.newContext({ baseURL: ORIGIN, viewport: { width: 1280, height: 800 } });
      // What is kept for when the network is off would answer in place of the server: offline.spec.ts looks at that.
      await context.addInitScript(() => {
        delete (Navigator.prototype as { serviceWorker?: unknown }).serviceWorker;
      });
      await use(context);
      await context.close();
    },
    { scope: 'worker' },
  ],
  context: async ({ shared }, use) => {
    await use(shared);
    await Promise.all(shared.pages().map((page) => page.close()));
  },
});
export { expect };
