import { fileURLToPath } from 'node:url';
import { makeApp } from './app';
import { Pairing } from './pairing';

const root = fileURLToPath(new URL('../..', import.meta.url));
const port = Number(process.env.PORT ?? 4180);
// DEMO: another folder of a rig and its takes, as the tests have.
const server = makeApp(root, process.env.DEMO).listen(port, (error?: Error) => {
  if (error) {
    console.error(
      (error as NodeJS.ErrnoException).code === 'EADDRINUSE'
        ? `Port ${port} is in use. Choose another: PORT=4181 npm start`
        : error.message,
    );
    process.exit(1);
  }
  new Pairing(server);
  console.log(`Wavicle is ready: http://localhost:${port}/`);
});
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    server.close();
    process.exit(0);
  });
