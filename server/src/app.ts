/** The whole HTTP application: API routes, the built interface, and what guards both. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { serveStatic } from '@hono/node-server/serve-static';
import { Hono, type Context } from 'hono';
import { HTTPException } from 'hono/http-exception';
import { secureHeaders } from 'hono/secure-headers';
import { OperationError } from '@urnsmith/core/mesh/errors';
import { Jobs } from './jobs/Jobs';
import { blobRoutes } from './routes/blobs';
import { sceneRoutes } from './routes/scenes';
import { transferRoutes } from './routes/transfer';
import { BlobStore } from './store/blobs';
import type { Db } from './store/database';
import { SceneStore, StoreError } from './store/scenes';

export interface AppOptions {
  db: Db;
  /** Folder of the built interface; left out in tests of the API alone. */
  webRoot?: string;
}

export function createApp({ db, webRoot }: AppOptions) {
  const scenes = new SceneStore(db);
  const blobs = new BlobStore(db);
  const jobs = new Jobs();
  const app = new Hono();
  app.use(
    secureHeaders({
      contentSecurityPolicy: {
        defaultSrc: ["'none'"],
        // The boolean kernel is WebAssembly.
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        workerSrc: ["'self'"],
        // Element styles are set by the interface's positioning library.
        styleSrc: ["'self'", "'unsafe-inline'"],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        connectSrc: ["'self'"],
        manifestSrc: ["'self'"],
        baseUri: ["'none'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
      crossOriginEmbedderPolicy: false,
      // Plain HTTP on loopback.
      strictTransportSecurity: false,
    }),
  );
  app.use('/api/*', async (c, next) => (isForeign(c) ? refuseForeign(c) : next()));
  app.route('/api/scenes', transferRoutes(scenes, blobs, jobs));
  app.route('/api/scenes', sceneRoutes(scenes));
  app.route('/api/blobs', blobRoutes(blobs));
  app.get('/api/health', (c) => c.json({ ok: true }));
  app.all('/api/*', (c) => c.json({ code: 'no-route', message: 'There is no such address.' }, 404));
  if (webRoot) serveInterface(app, webRoot);
  app.onError(answerError);
  return { app, scenes, blobs, jobs };
}

/** Writes must come from the interface's own origin, and every call must name a loopback host. */
function isForeign(c: Context): boolean {
  const host = c.req.header('host') ?? '';
  if (!/^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/.test(host)) return true;
  if (c.req.method === 'GET' || c.req.method === 'HEAD') return false;
  const origin = c.req.header('origin');
  return origin !== undefined && origin !== `http://${host}`;
}

const refuseForeign = (c: Context) =>
  c.json({ code: 'foreign-origin', message: 'This address only takes calls from its own interface.' }, 403);

function answerError(e: Error, c: Context) {
  if (e instanceof StoreError)
    return c.json({ code: e.code, message: e.message, detail: e.detail }, e.status);
  if (e instanceof OperationError) return c.json({ code: e.code, message: e.message, fix: e.fix }, 422);
  if (e instanceof HTTPException)
    return c.json({ code: 'too-large', message: 'The request is larger than this address takes.' }, e.status);
  console.error(e);
  return c.json(
    { code: 'internal', message: 'Something went wrong on the server; nothing was changed.' },
    500,
  );
}

function serveInterface(app: Hono, root: string): void {
  app.use('/assets/*', serveStatic({ root }));
  app.get('/favicon.svg', serveStatic({ root }));
  app.get('*', (c) => {
    const page = join(root, 'index.html');
    if (!existsSync(page)) return c.text('The interface is not built yet: run npm run demo.', 503);
    return c.html(readFileSync(page, 'utf8'));
  });
}
