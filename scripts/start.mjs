/** npm start: everything from a fresh machine to a running server. */
import { ensureBuild, ensureDemo, ensureDependencies, ensureKernel, runPackage } from './ensure.mjs';

try {
  ensureDependencies();
  ensureKernel();
  ensureBuild();
  ensureDemo();
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
if (!runPackage('tsx/dist/cli.mjs', ['src/server/main.ts'])) process.exitCode = 1;
