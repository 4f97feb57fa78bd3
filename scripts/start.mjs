/** npm start: everything from a fresh machine to a running server. */
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuild, ensureDemo, ensureDependencies, ensureKernel, root, runPackage } from './ensure.mjs';

try {
  ensureDependencies();
  ensureKernel();
  ensureBuild();
  ensureDemo();
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
// The store is generated while one plays already; a minute later it is there.
const store = spawn(process.execPath, [join(root, 'scripts/ensure.mjs'), 'store'], { cwd: root, stdio: 'inherit' });
if (!runPackage('tsx/dist/cli.mjs', ['src/server/main.ts'])) process.exitCode = 1;
store.kill();
