import { ORIGIN } from './base';
import { expect, test } from '@playwright/test';
import { CHROMIUM_ARGS, CHROMIUM_PATH } from '../bench/browser';

// An address of another machine without https: browsers give such a page no sound, no MIDI and no locks.
test.use({
  baseURL: ORIGIN.replace('localhost', 'stage.test'),
  launchOptions: {
    executablePath: CHROMIUM_PATH,
    args: [...CHROMIUM_ARGS, '--host-resolver-rules=MAP stage.test 127.0.0.1'],
  },
});

test('an address that browsers do not trust is told, instead of an application that half works', async ({ page }) => {
  // The browser itself complains of headers here; the application throws nothing.
  const thrown: string[] = [];
  page.on('pageerror', (error) => thrown.push(error.message));
  await page.goto('/');
  await expect(page.getByRole('alert')).toContainText(`${ORIGIN.replace('localhost', 'stage.test')} is neither`);
  await expect(page.getByRole('heading', { name: 'Wavicle cannot run here' })).toBeVisible();
  expect(thrown).toEqual([]);
});
