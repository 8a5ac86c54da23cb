/** The whole HTTP application: API routes, the built interface, and what guards both. */
import { setMaxListeners } from 'node:events';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { serveStatic } from '@hono/node-server/serve-static';
import { Hono, type Context } from 'hono';
import { HTTPException } from 'hono/http-exception';
import { secureHeaders } from 'hono/secure-headers';
import { VersionError } from '@urnsmith/core/document/migrations';
import { OperationError } from '@urnsmith/core/mesh/errors';
import { Jobs, type JobLimits } from './jobs/Jobs';
import { BodyError } from './routes/bodies';
import { eventRoutes } from './routes/events';
import { meshRoutes } from './routes/meshes';
import { sceneRoutes } from './routes/scenes';
import { settingRoutes } from './routes/settings';
import { transferRoutes } from './routes/transfer';
import type { Db } from './store/db';
import { StoreError, troubleOf } from './store/errors';
import { Journal } from './store/journal';
import { MeshStore } from './store/meshes';
import { SceneStore } from './store/scenes';
import { SettingStore } from './store/settings';

export interface AppOptions {
  db: Db;
  /** Folder of the built interface; left out in tests of the API alone. */
  webRoot?: string;
  limits?: JobLimits;
}

export function createApp({ db, webRoot, limits }: AppOptions) {
  const journal = new Journal(db);
  const scenes = new SceneStore(db, journal);
  const meshes = new MeshStore(db);
  const jobs = new Jobs(limits);
  const closing = new AbortController();
  // One listener for every open window.
  setMaxListeners(0, closing.signal);
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
      // With it the page may share memory with its workers, and so stop what they are at.
      crossOriginEmbedderPolicy: 'require-corp',
      // Plain HTTP on loopback.
      strictTransportSecurity: false,
    }),
  );
  app.use('/api/*', async (c, next) => (isForeign(c) ? refuseForeign(c) : next()));
  app.route('/api/scenes', transferRoutes(scenes, journal, meshes, jobs));
  app.route('/api/scenes', sceneRoutes(scenes, journal));
  app.route('/api/meshes', meshRoutes(meshes, jobs));
  app.route('/api/settings', settingRoutes(new SettingStore(db)));
  app.route('/api/events', eventRoutes(journal, closing.signal));
  app.get('/api/health', (c) =>
    c.json({
      ok: true,
      memory: {
        process: process.memoryUsage.rss(),
        documents: journal.documents.memory(),
        jobs: jobs.memory(),
      },
    }),
  );
  app.all('/api/*', (c) => c.json({ code: 'no-route', message: 'There is no such address.' }, 404));
  if (webRoot) serveInterface(app, webRoot);
  app.onError(answerError);
  return { app, db, journal, scenes, meshes, jobs, close: () => closing.abort() };
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
  if (e instanceof BodyError) return c.json({ code: e.code, message: e.message }, e.status);
  if (e instanceof OperationError) return c.json({ code: e.code, message: e.message, fix: e.fix }, 422);
  if (e instanceof VersionError) return c.json({ code: 'newer', message: e.message }, 422);
  if (e instanceof HTTPException)
    return c.json({ code: 'bad-request', message: 'The request cannot be read.' }, e.status);
  const trouble = troubleOf(e);
  if (trouble) {
    console.error(trouble.message);
    return c.json(trouble, 507);
  }
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
