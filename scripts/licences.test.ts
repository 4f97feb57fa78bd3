import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chunkByLicence, licenceText, packageOf } from './licences';

const folder = mkdtempSync(join(tmpdir(), 'licences-'));
const made = (name: string, license?: string, text?: string): string => {
  const at = join(folder, 'node_modules', name);
  mkdirSync(at, { recursive: true });
  writeFileSync(
    join(at, 'package.json'),
    JSON.stringify({ name, version: '1.2.3', license, author: { name: 'Somebody' } }),
  );
  if (text) writeFileSync(join(at, 'LICENSE.md'), text);
  return at;
};

test('the package that a module belongs to, in a scope or within another one', () => {
  expect(packageOf('/a/node_modules/one/lib/x.js?worker')).toBe('/a/node_modules/one');
  expect(packageOf('/a/node_modules/@two/three/x.js')).toBe('/a/node_modules/@two/three');
  expect(packageOf('/a/node_modules/one/node_modules/four/x.js')).toBe('/a/node_modules/one/node_modules/four');
  expect(packageOf('/a/src/x.ts')).toBeUndefined();
});
test('every package is named with its licence, its text, and whether it can be exchanged', () => {
  const text = licenceText([made('zed', 'MIT', 'Permission is granted'), made('alpha', 'LGPL-3.0-or-later')]);
  expect(text.indexOf('alpha 1.2.3')).toBeLessThan(text.indexOf('zed 1.2.3'));
  expect(text).toContain('Permission is granted');
  expect(text).toContain('“exchangeable-alpha”');
  expect(text).toContain('By: Somebody');
});
test('a licence that nobody has looked at stops the build', () => {
  for (const licence of ['GPL-3.0', 'AGPL-3.0', 'UNLICENSED', undefined, 'SEE LICENSE IN x'])
    expect(() => licenceText([made(`bad-${licence}`.replace(/[^a-z0-9-]/gi, ''), licence)])).toThrow(
      'nobody has looked',
    );
});
test('what must be exchangeable has a chunk of its own; everything else lies where it falls', () => {
  expect(chunkByLicence(join(made('@scope/part', 'LGPL-2.1'), 'x.js'))).toBe('exchangeable--scope-part');
  expect(chunkByLicence(join(made('free', 'MIT'), 'x.js'))).toBeUndefined();
  expect(chunkByLicence('/src/x.ts')).toBeUndefined();
});
