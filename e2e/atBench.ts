/** For a file of tests: a server, a browser and a person at the Bench. The console must have stayed quiet at the end. */
import { afterAll, expect } from 'vitest';
import { consoleProblems, type Browser } from './browser';
import type { HandsOn } from './hands';
import { OnBench } from './onBench';
import { TestServer } from './server';
import { workerBrowser, type FileSetting } from './workerBrowser';

export interface AtBench {
  server: TestServer;
  browser: Browser;
  on: OnBench;
  h: HandsOn;
}

interface Setting extends FileSetting {
  /** Folder of the checkout the server is run from. */
  root?: string;
  /** Whether the library begins with the demo scenes. */
  demo?: boolean;
}

/** Of this worker's servers, one after the other: the browser keeps what it has compiled for an address. */
let port: number | undefined;

/**
 * At the top of a file, not in a hook: what is set up here is taken down by a hook of its own. The browser is the one
 * of the test worker; the server is the file's own.
 */
export async function atBench({ root, demo = false, ...setting }: Setting = {}): Promise<AtBench> {
  const server = new TestServer({ root, port, demo });
  await server.start();
  port = server.port;
  const browser = await workerBrowser({ ...setting, origin: server.url });
  afterAll(async () => {
    const said = await consoleProblems(browser.driver);
    await browser.driver.get('about:blank');
    await server.close();
    expect(said).toEqual([]);
  });
  const on = new OnBench(server, browser);
  return { server, browser, on, h: on.h };
}
