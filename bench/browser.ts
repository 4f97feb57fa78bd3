import { chromium, type Browser, type Page } from '@playwright/test';
import { build } from 'esbuild';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';

export const CHROMIUM_ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--autoplay-policy=no-user-gesture-required',
];
export const CHROMIUM_PATH = '/usr/bin/chromium';
const root = fileURLToPath(new URL('..', import.meta.url));

/** TypeScript as one script that a browser can run. */
export async function bundle(entry: string, globalName?: string): Promise<string> {
  const result = await build({
    entryPoints: [`${root}${entry}`],
    bundle: true,
    write: false,
    format: globalName ? 'iife' : 'esm',
    globalName,
    target: 'es2022',
    minify: true,
    logLevel: 'error',
  });
  return result.outputFiles[0].text;
}

/**
 * Serves a bare page with the lab (as `lab`) and the engine's worklet from an address of its own, so that nothing of
 * the application is in the way, and opens it.
 * Gives a function that ends the serving.
 */
export async function openLab(page: Page): Promise<() => void> {
  const [lab, worklet] = await Promise.all([bundle('bench/lab.ts', 'lab'), bundle('src/host/engineProcessor.ts')]);
  const answers: Record<string, [type: string, body: string]> = {
    '/': ['text/html', '<!doctype html><title>lab</title><script src="/lab.js"></script>'],
    '/lab.js': ['text/javascript', lab],
    '/worklet.js': ['text/javascript', worklet],
  };
  const server = createServer((request, response) => {
    const [type, body] = answers[request.url ?? ''] ?? ['text/plain', ''];
    response
      .writeHead(200, {
        'Content-Type': type,
        'Cross-Origin-Opener-Policy': 'same-origin',
        'Cross-Origin-Embedder-Policy': 'require-corp',
      })
      .end(body);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
  return () => server.close();
}

export const launch = (): Promise<Browser> => chromium.launch({ executablePath: CHROMIUM_PATH, args: CHROMIUM_ARGS });
