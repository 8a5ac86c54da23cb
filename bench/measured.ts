/** Sets up a server, a browser and a Bench for a benchmark, and takes them down after it. */
import type { WebDriver } from 'selenium-webdriver';
import { openBrowser } from '../e2e/browser';
import { OnBench } from '../e2e/onBench';
import { TestServer } from '../e2e/server';
import { PageTasks } from './pageTasks';

export interface Measured {
  driver: WebDriver;
  tasks: PageTasks;
  on: OnBench;
}

export async function measured(what: (m: Measured) => Promise<void>): Promise<void> {
  const server = new TestServer();
  await server.start();
  const browser = await openBrowser();
  const { driver } = browser;
  try {
    // All moves are one script, and a slow machine takes its time.
    await driver.manage().setTimeouts({ script: 180_000 });
    await what({ driver, tasks: await PageTasks.of(driver), on: new OnBench(server, browser) });
  } finally {
    await browser.close();
    await server.close();
  }
}
