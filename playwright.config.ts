import { defineConfig } from '@playwright/test';
import { CHROMIUM_ARGS, CHROMIUM_PATH } from './bench/browser';

const port = Number(process.env.TEST_PORT ?? 4190);

export default defineConfig({
  testDir: 'tests',
  // Both cores where somebody waits; where nobody does, one after another, for on a machine that is busy with others
  // two browsers starve each other.
  workers: process.env.CI ? 1 : 2,
  retries: 1,
  timeout: 240_000,
  expect: { timeout: 20_000 },
  forbidOnly: !!process.env.CI,
  reporter: [['list'], ['json', { outputFile: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ?? 'build/playwright.json' }]],
  use: {
    baseURL: `http://localhost:${port}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: CHROMIUM_PATH, args: CHROMIUM_ARGS },
  },
  webServer: {
    command: 'node node_modules/tsx/dist/cli.mjs src/server/main.ts',
    url: `http://localhost:${port}/demo/takes.json`,
    env: { PORT: String(port), DEMO: 'build/demo-small' },
    reuseExistingServer: false,
  },
});
