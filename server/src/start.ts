/** Starts the server on loopback and stops it gracefully. */
import type { AddressInfo } from 'node:net';
import { serve } from '@hono/node-server';
import { createApp } from './app';
import { openDatabase } from './store/database';

export interface StartOptions {
  database: string;
  webRoot?: string;
  /** 0 takes a free port. */
  port?: number;
}

export interface Running {
  url: string;
  app: ReturnType<typeof createApp>;
  stop(): Promise<void>;
}

const DAY = 24 * 60 * 60 * 1000;

export async function start({ database, webRoot, port = 0 }: StartOptions): Promise<Running> {
  const db = openDatabase(database);
  const made = createApp({ db, webRoot });
  made.scenes.purge(Date.now() - 30 * DAY);
  made.blobs.collect(Date.now() - DAY);
  const server = serve({ fetch: made.app.fetch, port, hostname: '127.0.0.1' });
  await new Promise<void>((resolve, reject) => {
    server.once('listening', resolve);
    server.once('error', reject);
  });
  const { port: taken } = server.address() as AddressInfo;
  return {
    url: `http://127.0.0.1:${taken}`,
    app: made,
    stop: async () => {
      await new Promise<void>((resolve) => server.close(() => resolve()));
      await made.jobs.stop();
      db.close();
    },
  };
}
