import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import type { Plugin } from 'vite';

/** What shrinks when it is packed. */
const SHRINKS = /\.(js|css|svg|wasm)$/;

/** Packs what the page loads once, when it is built: packing it for each visitor would keep the first one waiting. */
export function packs(): Plugin {
  let folder = '';
  return {
    name: 'packs',
    apply: 'build',
    configResolved(config) {
      folder = join(config.root, config.build.outDir, config.build.assetsDir);
    },
    closeBundle() {
      for (const name of readdirSync(folder)) {
        if (!SHRINKS.test(name)) continue;
        const path = join(folder, name);
        const bytes = readFileSync(path);
        if (bytes.length < 1024) continue;
        const params = { [constants.BROTLI_PARAM_QUALITY]: 9, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length };
        writeFileSync(`${path}.br`, brotliCompressSync(bytes, { params }));
        writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
      }
    },
  };
}
