/** Starts the demo: database with the demo scenes, server, interface. */
import { join } from 'node:path';
import { ROOT } from '../server/src/root';
import { start } from '../server/src/start';
import { OpenError } from '../server/src/store/errors';
import { seed } from './seed';

const port = Number(process.env.URNSMITH_PORT ?? 4870);
const running = await start({
  database: process.env.URNSMITH_DATA ?? join(ROOT, '.data/urnsmith.sqlite'),
  webRoot: join(ROOT, 'web/dist'),
  port,
  backup: true,
}).catch((e: NodeJS.ErrnoException) => {
  if (e.code !== 'EADDRINUSE' && !(e instanceof OpenError)) throw e;
  console.error(
    e instanceof OpenError ? e.message : `Port ${port} is taken. Set URNSMITH_PORT to another one.`,
  );
  process.exit(1);
});
const { URNSMITH_DEMO: demo } = process.env;
if (demo !== 'no') seed(running.app.scenes, demo !== 'without pictures');
console.log(`Urnsmith is open at ${running.url}`);
if (process.stdout.isTTY && hasScreen()) void openInBrowser(running.url);

const stop = (): void => {
  void running.stop().then(() => process.exit(0));
};
process.once('SIGINT', stop);
process.once('SIGTERM', stop);

/** Whether there is a screen that a browser could open on. */
function hasScreen(): boolean {
  const { CI, SSH_CONNECTION, DISPLAY, WAYLAND_DISPLAY } = process.env;
  if (CI || SSH_CONNECTION) return false;
  return process.platform !== 'linux' || Boolean(DISPLAY || WAYLAND_DISPLAY);
}

/** The address is printed in any case, so a browser that does not open is no failure. */
async function openInBrowser(url: string): Promise<void> {
  const { default: open } = await import('open');
  await open(url).catch(() => {});
}
