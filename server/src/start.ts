/** Starts the server on loopback and stops it gracefully. */
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { serve } from '@hono/node-server';
import { createApp } from './app';
import { JOB_LIMITS, type JobLimits } from './jobs/Jobs';
import { backUpDaily } from './store/backups';
import { openDatabase } from './store/database';

export interface StartOptions {
  database: string;
  webRoot?: string;
  /** 0 takes a free port. */
  port?: number;
  limits?: JobLimits;
  /** A dated backup beside the database at the first start of a day. */
  backup?: boolean;
}

export interface Running {
  url: string;
  app: ReturnType<typeof createApp>;
  stop(): Promise<void>;
}

const DAY = 24 * 60 * 60 * 1000;
/** A line is kept for this long after an answer; one closed sooner can meet the next request on its way. */
const KEEP_ALIVE_MS = 65_000;

/** Limits of jobs as the environment sets them: URNSMITH_JOB_SECONDS, URNSMITH_JOB_MB. */
export function limitsFrom(env: NodeJS.ProcessEnv): JobLimits {
  const number = (text: string | undefined, usual: number): number => {
    const n = Number(text);
    return text && Number.isFinite(n) && n >= 1 ? n : usual;
  };
  return {
    ...JOB_LIMITS,
    seconds: number(env.URNSMITH_JOB_SECONDS, JOB_LIMITS.seconds),
    megabytes: number(env.URNSMITH_JOB_MB, JOB_LIMITS.megabytes),
  };
}

/** @throws OpenError when the database cannot be used */
export async function start({
  database,
  webRoot,
  port = 0,
  limits = limitsFrom(process.env),
  backup = false,
}: StartOptions): Promise<Running> {
  const db = openDatabase(database, { check: true });
  try {
    if (backup) backUpDaily(db, database);
    const made = createApp({ db, webRoot, limits });
    made.scenes.purge(Date.now() - 30 * DAY);
    made.meshes.collect(Date.now() - DAY);
    const server = serve({ fetch: made.app.fetch, port, hostname: '127.0.0.1' }) as Server;
    server.keepAliveTimeout = KEEP_ALIVE_MS;
    await new Promise<void>((resolve, reject) => {
      server.once('listening', resolve);
      server.once('error', reject);
    });
    server.on('clientError', answerBroken);
    const { port: taken } = server.address() as AddressInfo;
    return {
      url: `http://127.0.0.1:${taken}`,
      app: made,
      stop: async () => {
        made.close();
        server.keepAliveTimeout = 1;
        const closed = new Promise<void>((resolve) => server.close(() => resolve()));
        server.closeIdleConnections();
        await made.jobs.stop();
        await closed;
        db.close();
      },
    };
  } catch (e) {
    db.close();
    throw e;
  }
}

/** A request that is not HTTP still gets an answer with a code and a message. */
function answerBroken(_: Error, socket: import('node:stream').Duplex): void {
  if (!socket.writable) return void socket.destroy();
  const body = JSON.stringify({ code: 'bad-request', message: 'The request cannot be read.' });
  socket.end(
    `HTTP/1.1 400 Bad Request\r\ncontent-type: application/json\r\ncontent-length: ${body.length}\r\nconnection: close\r\n\r\n${body}`,
  );
}
