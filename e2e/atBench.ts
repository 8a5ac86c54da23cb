/** For a file of tests: a server, a browser and a person at the Bench. The console must have stayed quiet at the end. */
import { afterAll, expect } from 'vitest';
import { consoleProblems, openBrowser, type Browser } from './browser';
import type { HandsOn } from './hands';
import { OnBench } from './onBench';
import { TestServer } from './server';

export interface AtBench {
  server: TestServer;
  browser: Browser;
  on: OnBench;
  h: HandsOn;
}

interface Setting {
  /** Folder of the sources the server is run from. */
  root?: string;
  /** Width and height of the window; small ones are drawn faster. */
  window?: [number, number];
}

/** At the top of a file, not in a hook: what is set up here is taken down by a hook of its own. */
export async function atBench({ root, window }: Setting = {}): Promise<AtBench> {
  const server = new TestServer(root);
  await server.start();
  const browser = await openBrowser(...(window ?? []));
  afterAll(async () => {
    const said = await consoleProblems(browser.driver);
    await browser.close();
    await server.close();
    expect(said).toEqual([]);
  });
  const on = new OnBench(server, browser);
  return { server, browser, on, h: on.h };
}
