/** What the commands need on a fresh machine. Node's own modules only: nothing else may be installed yet. */
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));
const say = (text) => console.log(`– ${text}`);

/** Runs a command with its output shown; gives whether it succeeded. */
export const run = (command, args, options = {}) =>
  spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options }).status === 0;
/** Runs a command of an installed package. */
export const runPackage = (name, args, options) =>
  run(process.execPath, [join(root, 'node_modules', name), ...args], options);

const hashOfText = (...texts) => createHash('sha256').update(texts.join('\n')).digest('hex');

/** Installs the packages when they are missing or the lock file has changed. */
export function ensureDependencies() {
  const stamp = join(root, 'node_modules/.installed');
  const wanted = hashOfText(readFileSync(join(root, 'package-lock.json'), 'utf8'));
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('installing packages');
  // Not "npm ci": it refuses lock files that leave out the optional binaries of other platforms.
  if (!run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error']))
    throw new Error('npm install failed');
  writeFileSync(stamp, wanted);
}

/** Installs Debian's Chromium when it is missing. */
export function ensureChromium() {
  if (existsSync('/usr/bin/chromium')) return;
  say('installing Chromium');
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  execFileSync('apt-get', ['update', '-qq'], { stdio: 'inherit', env: environment });
  execFileSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: environment,
  });
}

function* filesBelow(path) {
  const full = join(root, path);
  if (!existsSync(full)) return;
  if (statSync(full).isFile()) yield path;
  else for (const name of readdirSync(full).sort()) yield* filesBelow(join(path, name));
}

/** Does the work unless it was done for the same files; `produces` must be there as well. */
function unlessDone(name, inputs, produces, work) {
  const stamp = join(root, 'build', `${name}.stamp`);
  const wanted = hashOfText(
    ...inputs
      .flatMap((path) => [...filesBelow(path)])
      .map((path) => `${path} ${hashOfText(readFileSync(join(root, path), 'utf8'))}`),
  );
  if (existsSync(join(root, produces)) && existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  work();
  mkdirSync(join(root, 'build'), { recursive: true });
  writeFileSync(stamp, wanted);
}

/** The audio thread's innermost loops as WebAssembly, compiled anew only when their source changed. */
export const ensureKernel = () =>
  unlessDone(
    'kernel',
    [
      'src/core/dsp/kernel/assembly',
      'src/core/dsp/kernel/layout.ts',
      'src/core/dsp/kernel/synthLayout.ts',
      'src/core/dsp/kernel/effectLayout.ts',
      'scripts/kernel.mjs',
    ],
    'src/core/dsp/kernel/code.ts',
    () => {
      say('compiling the audio kernel');
      if (!run(process.execPath, [join(root, 'scripts/kernel.mjs')]))
        throw new Error('the audio kernel could not be compiled');
    },
  );

/** The application in dist/, built anew only when its source changed. */
export const ensureBuild = () =>
  unlessDone(
    'application',
    ['src', 'public', 'index.html', 'remote.html', 'vite.config.ts', 'package-lock.json'],
    'dist/index.html',
    () => {
      say('building the application');
      if (!runPackage('vite/bin/vite.js', ['build', '--logLevel', 'warn'])) throw new Error('the build failed');
    },
  );

/** The same with a third of the samples, for browser tests. */
export const ensureSmallDemo = () =>
  unlessDone('demo-small', ['demo', 'src/core'], 'build/demo-small/perigee-tide.wavicle', () => {
    say('generating the small rig for tests');
    if (!runPackage('tsx/dist/cli.mjs', ['demo/build.ts', 'build/demo-small', '--small']))
      throw new Error('the small rig could not be generated');
  });

/** The demo rig in build/demo/, generated anew only when its generator changed. */
export const ensureDemo = () =>
  unlessDone('demo', ['demo', 'src/core'], 'build/demo/perigee-tide.wavicle', () => {
    say('generating the demo rig');
    if (!runPackage('tsx/dist/cli.mjs', ['demo/build.ts', 'build/demo']))
      throw new Error('the demo rig could not be generated');
  });

/** The store, the other rig that comes along, in build/store/, generated anew only when its generator changed. */
export const ensureStore = () =>
  unlessDone('store', ['demo', 'src/core'], 'build/store/harbour-store.wavicle', () => {
    say('generating the store');
    if (!runPackage('tsx/dist/cli.mjs', ['demo/build.ts', 'build/store', '--store']))
      throw new Error('the store could not be generated');
  });

// By itself, beside a server that runs already.
if (process.argv[1] === fileURLToPath(import.meta.url) && process.argv[2] === 'store') ensureStore();
