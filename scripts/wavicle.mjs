/**
 * npm run wavicle: the command line, compiled once and kept in build/wavicle; anew where a source is newer than it.
 * Starting a compiler for each command would take longer than most commands do.
 */
import { existsSync, readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const out = join(root, 'build/wavicle');
const main = join(out, 'main.js');
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

/** Compiles the commands, each with what it alone needs, where that has not been done for these sources. */
export async function compileCommands() {
  const wanted = Math.max(...SOURCES.map((path) => newest(join(root, path))));
  if (existsSync(main) && statSync(main).mtimeMs >= wanted) return;
  const { build } = await import('esbuild');
  rmSync(out, { recursive: true, force: true });
  await build({
    entryPoints: { main: join(root, 'src/cli/main.ts') },
    outdir: out,
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
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  await compileCommands();
  await import(pathToFileURL(main).href);
}
