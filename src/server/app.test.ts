import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makeApp } from './app';

let server: Server;
let base: string;
beforeAll((done) => {
  server = makeApp(process.cwd()).listen(0, () => {
    base = `http://localhost:${(server.address() as AddressInfo).port}`;
    done();
  });
});
afterAll((done) => {
  server.close(done);
});

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

test('the application is sent packed, the archive of the demo, which is packed already, as it is', async () => {
  const root = mkdtempSync(join(tmpdir(), 'server-'));
  for (const [path, bytes] of [
    ['build/demo/demo.wavicle', Buffer.alloc(9000)],
    ['dist/assets/app.js', Buffer.from('let x = 1;\n'.repeat(900))],
  ] as const) {
    mkdirSync(join(root, path, '..'), { recursive: true });
    writeFileSync(join(root, path), bytes);
  }
  const other = await new Promise<Server>((resolve) => {
    const made = makeApp(root).listen(0, () => resolve(made));
  });
  const at = `http://localhost:${(other.address() as AddressInfo).port}`;
  const [archive, script] = await Promise.all(
    ['/demo/demo.wavicle', '/assets/app.js'].map((path) =>
      fetch(at + path, { headers: { 'Accept-Encoding': 'gzip' } }),
    ),
  );
  expect(archive.headers.get('content-encoding')).toBeNull();
  expect(archive.headers.get('content-length')).toBe('9000');
  expect(script.headers.get('content-encoding')).toBe('gzip');
  await new Promise((resolve) => other.close(resolve));
});

test('what was packed when it was built is sent so, and a view’s scripts are named with the page', async () => {
  const root = mkdtempSync(join(tmpdir(), 'server-'));
  const view = (name: string) => `src/app/views/${name}View.tsx`;
  const manifest = {
    'index.html': { file: 'assets/start.js', imports: ['_common.js'] },
    '_common.js': { file: 'assets/common.js' },
    [view('stage/Stage')]: { file: 'assets/stage.js', imports: ['_common.js'] },
    [view('layers/Layers')]: { file: 'assets/layers.js', imports: ['index.html', '_maps.js'] },
    '_maps.js': { file: 'assets/maps.js', imports: ['_common.js', '_maps.js'] },
  };
  for (const [path, bytes] of [
    ['dist/assets/app.js', 'plain'],
    ['dist/assets/app.js.br', 'packed'],
    ['dist/index.html', '<p>the page</p>'],
    ['dist/.vite/manifest.json', JSON.stringify(manifest)],
  ] as const) {
    mkdirSync(join(root, path, '..'), { recursive: true });
    writeFileSync(join(root, path), bytes);
  }
  const other = await new Promise<Server>((resolve) => {
    const made = makeApp(root).listen(0, () => resolve(made));
  });
  const at = `http://localhost:${(other.address() as AddressInfo).port}`;
  const encoding = async (accepts: string) =>
    (await fetch(`${at}/assets/app.js`, { method: 'HEAD', headers: { 'Accept-Encoding': accepts } })).headers.get(
      'content-encoding',
    );
  expect(await encoding('br')).toBe('br');
  expect(await encoding('identity')).toBeNull();
  const link = async (path: string) =>
    (await fetch(at + path, { headers: { Accept: 'text/html' } })).headers.get('link');
  expect(await link('/stage')).toBe('</assets/stage.js>; rel=modulepreload');
  for (const path of ['/', '/patch/low-water/layers'])
    expect(await link(path)).toBe('</assets/layers.js>; rel=modulepreload, </assets/maps.js>; rel=modulepreload');
  expect((await fetch(`${at}/.vite/manifest.json`)).headers.get('content-type')).toMatch(/^text\/html/);
  await new Promise((resolve) => other.close(resolve));
});
