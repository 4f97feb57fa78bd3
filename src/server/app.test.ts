import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { makeApp } from './app';

let server: Server;
let base: string;
beforeAll((done) => {
  server = makeApp(process.cwd()).listen(0, () => { base = `http://localhost:${(server.address() as AddressInfo).port}`; done(); });
});
afterAll((done) => { server.close(done); });

test('every answer carries the headers for shared memory and safety', async () => {
  for (const path of ['/patch/low-water/layers', '/demo/nothing', '/assets/nothing.js']) {
    const { headers } = await fetch(base + path, { headers: { Accept: 'text/html' } });
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
    expect(headers.get('content-security-policy')).toMatch(/script-src 'self' 'wasm-unsafe-eval';/);
    expect(headers.get('x-content-type-options')).toBe('nosniff');
    expect(headers.get('x-powered-by')).toBeNull();
  }
});

test('what is not in the demo is 404, and nobody climbs out of it', async () => {
  expect((await fetch(`${base}/demo/nothing.mid`)).status).toBe(404);
  expect((await fetch(`${base}/demo/..%2f..%2fpackage.json`)).status).toBeGreaterThanOrEqual(400);
});
