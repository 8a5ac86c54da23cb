/** One browser for all files a test worker runs: starting one takes longer than many tests. */
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { consoleProblems, openBrowser, preferring, tell, type Browser } from './browser';

export interface FileSetting {
  /** Width and height of the window, CSS pixels. */
  window?: [number, number];
  /** Address of the server; nothing that other files left there is kept. */
  origin?: string;
  /** Pixels are looked at: the page is drawn at its full size, not at a quarter of it each way. */
  sharp?: boolean;
}

let opened: Promise<Browser> | null = null;

/** The worker's browser, as new: of its first window, empty, with nothing pressed and nothing downloaded. */
export async function workerBrowser({
  window = [1280, 800],
  sharp = false,
  origin,
}: FileSetting = {}): Promise<Browser> {
  const first = !opened;
  opened ??= openBrowser();
  const browser = await opened;
  const { driver } = browser;
  if (first) leave(browser);
  const [main, ...others] = await driver.getAllWindowHandles();
  for (const other of others) {
    await driver.switchTo().window(other);
    await driver.close();
  }
  await driver.switchTo().window(main);
  await driver.get('about:blank');
  if (origin) await tell(driver, 'Storage.clearDataForOrigin', { origin, storageTypes: 'all' });
  await driver.actions().clear();
  await tell(driver, 'Emulation.setDeviceMetricsOverride', {
    width: window[0],
    height: window[1],
    deviceScaleFactor: sharp ? 1 : 0.25,
    mobile: false,
  });
  await preferring(driver, { 'prefers-color-scheme': 'dark' });
  rmSync(browser.downloads, { recursive: true, force: true });
  await consoleProblems(driver);
  return browser;
}

/** Tells the run's end which browser and folder to take away: a worker is ended without notice. */
function leave({ url, folder }: Browser): void {
  const { URNSMITH_E2E_LEFT: left } = process.env;
  if (left) writeFileSync(join(left, String(process.pid)), JSON.stringify({ url, folder }));
}
