import compression from 'compression';
import express, { type Express } from 'express';
import packed from 'express-static-gzip';
import helmet from 'helmet';
import type { IncomingMessage } from 'node:http';
import { join } from 'node:path';
import { earlyScripts } from './early';

/** Sockets of this server: not every browser takes them for its own. */
const socketsOf = (request: IncomingMessage): string =>
  /^[a-z0-9.:[\]-]+$/i.test(request.headers.host ?? '')
    ? `ws://${request.headers.host} wss://${request.headers.host}`
    : "'self'";

/** The application, the rigs that come along and their takes, with the headers that shared memory and safety ask for. */
export function makeApp(root: string, demo = 'build/demo'): Express {
  const app = express();
  const links = earlyScripts(root);
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          workerSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'", socketsOf],
          imgSrc: ["'self'", 'data:', 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          fontSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      crossOriginResourcePolicy: { policy: 'same-origin' },
      strictTransportSecurity: false,
    }),
  );
  app.use((_request, response, next) => {
    response.setHeader('Permissions-Policy', 'midi=(self), camera=(), microphone=(self), geolocation=()');
    next();
  });
  // The demo's archive and samples are packed already: packing them again would take many times as long as sending
  // them.
  for (const [at, folder, name] of [
    ['/demo', demo, 'demo'],
    ['/store', 'build/store', 'store'],
  ]) {
    app.use(at, express.static(join(root, folder), { etag: true }));
    app.use(
      at,
      (_request, response) => void response.status(404).type('text').send(`there is no such file in the ${name}`),
    );
  }
  app.use(compression());
  // What is built is packed already, once for all visitors.
  app.use(
    '/assets',
    packed(join(root, 'dist/assets'), {
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      serveStatic: { immutable: true, maxAge: '1y' },
    }),
  );
  app.use(express.static(join(root, 'dist'), { maxAge: 0, index: false }));
  // What paired devices open.
  app.get('/remote', (_request, response, next) => {
    response.sendFile(join(root, 'dist/remote.html'), (error) => {
      if (error && !response.headersSent) next();
    });
  });
  // Every other address is a view of the application, which finds its own way.
  app.use((request, response, next) => {
    if (request.method !== 'GET' || !request.accepts('html')) return next();
    const early = links(request.path);
    if (early) response.setHeader('Link', early);
    return response.sendFile(join(root, 'dist/index.html'), (error) => {
      if (error && !response.headersSent)
        response.status(503).type('text').send('the application is not built yet: “npm start” builds it');
    });
  });
  // Answers of our own to the end, so that every one keeps the headers above and tells nothing of the machine.
  app.use((_request, response) => void response.status(404).type('text').send('there is nothing at this address'));
  app.use((_error: unknown, _request: express.Request, response: express.Response, next: express.NextFunction) => {
    if (response.headersSent) next();
    else response.status(400).type('text').send('this request cannot be answered');
  });
  return app;
}
