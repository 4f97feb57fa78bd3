/**
 * npm run wavicle: the command line, compiled once and kept in build/wavicle; anew where a source is newer than it.
 * Starting a compiler for each command would take longer than most commands do.
 */
import { existsSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const folder = join(root, 'build/wavicle');
/** Compilations of other sources than these are kept for so long: somebody may be running one. */
const KEPT_MS = 3_600_000;
const SOURCES = ['src/cli', 'src/core', 'src/workers', 'demo', 'package-lock.json'];

/** The time of the newest file below a path, in milliseconds. */
function newest(path) {
  const of = statSync(path);
  if (!of.isDirectory()) return of.mtimeMs;
  let time = of.mtimeMs;
  for (const each of readdirSync(path, { withFileTypes: true })) {
    const inside = join(path, each.name);
    time = Math.max(time, each.isDirectory() ? newest(inside) : statSync(inside).mtimeMs);
  }
  return time;
}

/**
 * Compiles the commands, each with what it alone needs, where that has not been done for these sources. Gives the file to
 * run. Whoever compiles at the same time makes the same: each in a folder of its own first.
 */
export async function compileCommands() {
  const wanted = String(Math.round(Math.max(...SOURCES.map((path) => newest(join(root, path))))));
  const main = join(folder, wanted, 'main.js');
  if (existsSync(main)) return main;
  const { build } = await import('esbuild');
  const own = join(folder, `${wanted}.${process.pid}`);
  await build({
    entryPoints: { main: join(root, 'src/cli/main.ts') },
    outdir: own,
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    minifyWhitespace: true,
    minifySyntax: true,
    logLevel: 'error',
    // What is no ES module may still ask for Node's own ones.
    banner: {
      js: "import { createRequire as requiring } from 'node:module'; const require = requiring(import.meta.url);",
    },
  });
  try {
    renameSync(own, join(folder, wanted));
  } catch (error) {
    // Somebody was faster.
    if (!existsSync(main)) throw error;
    rmSync(own, { recursive: true, force: true });
  }
  for (const each of readdirSync(folder)) {
    const path = join(folder, each);
    if (each !== wanted && Date.now() - statSync(path).mtimeMs > KEPT_MS)
      rmSync(path, { recursive: true, force: true });
  }
  return main;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await import(pathToFileURL(await compileCommands()).href);
