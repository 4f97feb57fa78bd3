/** npm run dev: the server for the demo rig, and Vite with hot reload in front of it. */
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuild, ensureDemo, ensureDependencies, ensureKernel, root } from './ensure.mjs';

ensureDependencies();
ensureKernel();
ensureBuild();
ensureDemo();
const children = [['tsx/dist/cli.mjs', 'src/server/main.ts'], ['vite/bin/vite.js']].map(([name, ...args]) =>
  spawn(process.execPath, [join(root, 'node_modules', name), ...args], { cwd: root, stdio: 'inherit' }),
);
const stop = () => children.forEach((child) => child.kill());
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
children.forEach((child) => child.on('exit', stop));
