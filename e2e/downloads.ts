/** Files the page hands to the browser. */
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Browser } from './browser';
import type { HandsOn } from './hands';

/** Time for a download to come, ms. */
const PATIENCE_MS = 60_000;

/**
 * Presses a button, and gives the path of the file with that ending that is then downloaded. The browser first
 * reserves the name with an empty file, and moves the whole download over it at the end.
 */
export async function downloadBy(
  h: HandsOn,
  browser: Browser,
  button: string,
  ending: string,
): Promise<string> {
  const whole = (): string[] =>
    (existsSync(browser.downloads) ? readdirSync(browser.downloads) : [])
      .map((name) => join(browser.downloads, name))
      .filter((path) => path.endsWith(ending) && (statSync(path, { throwIfNoEntry: false })?.size ?? 0) > 0);
  const before = new Set(whole());
  await h.press(button);
  return h.until(
    `the download of a ${ending} file`,
    () => Promise.resolve(whole().find((path) => !before.has(path)) ?? null),
    PATIENCE_MS,
  );
}
