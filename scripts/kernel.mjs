/**
 * npm run kernel: compiles the innermost loops to WebAssembly, as a module that the audio thread, workers and Node can
 * all import.
 */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { main } from 'assemblyscript/asc';
import { tsImport } from 'tsx/esm/api';

const root = fileURLToPath(new URL('..', import.meta.url));
const folder = 'src/core/dsp/kernel';
const { PAGES, STATIC } = await tsImport(`../${folder}/layout.ts`, import.meta.url);

const out = 'build/kernel.wasm';
mkdirSync(join(root, 'build'), { recursive: true });
const { error, stderr } = await main([
  `${folder}/assembly/loops.ts`,
  '-O3',
  '--converge',
  '--noAssert',
  '--runtime',
  'stub',
  '--enable',
  'simd',
  '--memoryBase',
  String(STATIC),
  '--initialMemory',
  String(PAGES),
  '--maximumMemory',
  '4096',
  '--outFile',
  out,
  '--baseDir',
  root,
]);
if (error) throw new Error(`${error.message}\n${stderr}`);
const bytes = readFileSync(join(root, out));
writeFileSync(
  join(root, folder, 'code.ts'),
  `/** Made from assembly/ by "npm run kernel". A list, and no arguments: the audio thread has a small stack. */\nexport const CODE = new Uint8Array([${[...bytes].join(',')}]);\n`,
);
