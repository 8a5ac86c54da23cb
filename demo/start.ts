/** Starts the demo: database with the demo scenes, server, interface. */
import { join } from 'node:path';
import { start } from '../server/src/start';
import { OpenError } from '../server/src/store/errors';
import { seed } from './seed';

const root = join(import.meta.dirname, '..');
const port = Number(process.env.URNSMITH_PORT ?? 4870);
const running = await start({
  database: process.env.URNSMITH_DATA ?? join(root, '.data/urnsmith.sqlite'),
  webRoot: join(root, 'web/dist'),
  port,
  backup: true,
}).catch((e: NodeJS.ErrnoException) => {
  if (e.code !== 'EADDRINUSE' && !(e instanceof OpenError)) throw e;
  console.error(
    e instanceof OpenError ? e.message : `Port ${port} is taken. Set URNSMITH_PORT to another one.`,
  );
  process.exit(1);
});
seed(running.app.scenes);
console.log(`Urnsmith is open at ${running.url}`);

const stop = (): void => {
  void running.stop().then(() => process.exit(0));
};
process.once('SIGINT', stop);
process.once('SIGTERM', stop);
