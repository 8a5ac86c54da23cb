/** Headless Chromium through selenium-webdriver, with a profile and download folder of its own. */
import { mkdtempSync, rmSync } from 'node:fs';
import { Agent } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { logging, type Actions, type WebDriver } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';
import { Executor, HttpClient } from 'selenium-webdriver/http/index.js';

export interface Browser {
  driver: WebDriver;
  downloads: string;
  /** Of its profile and its downloads. */
  folder: string;
  /** Address of its ChromeDriver. */
  url: string;
  close(): Promise<void>;
}

const FLAGS = [
  '--headless',
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--hide-scrollbars',
];

/**
 * Drawn in software, smooth edges take a quarter of the time of all tests; and a page that is put together by the
 * software of the stage takes three times as much as one that is not.
 */
const QUICK = ['--webgl-antialiasing-mode=none', '--disable-gpu-compositing', '--disable-gpu-rasterization'];

/** @param smooth edges are drawn smoothly, for pictures that people look at */
export async function openBrowser(width = 1280, height = 800, smooth = false): Promise<Browser> {
  const folder = mkdtempSync(join(tmpdir(), 'urnsmith-browser-'));
  const downloads = join(folder, 'downloads');
  const options = new chrome.Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(
    ...FLAGS,
    ...(smooth ? [] : QUICK),
    `--user-data-dir=${join(folder, 'profile')}`,
    `--window-size=${width},${height}`,
  );
  options.setUserPreferences({
    'download.default_directory': downloads,
    'download.prompt_for_download': false,
  });
  const prefs = new logging.Preferences();
  prefs.setLevel(logging.Type.BROWSER, logging.Level.WARNING);
  options.setLoggingPrefs(prefs);
  const service = new chrome.ServiceBuilder('/usr/bin/chromedriver').build();
  const url = await service.start();
  // Opening a connection for each command would add a fifth to the time of most commands.
  const commands = new HttpClient(url, new Agent({ keepAlive: true }));
  const driver = chrome.Driver.createSession(options, new Executor(commands));
  // The window's frame takes part of its size: ask for the page to be exactly this large.
  await tell(driver, 'Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false,
  });
  await driver.manage().setTimeouts({ script: 120_000 });
  seeingFirst(driver);
  // On a machine of that many times less speed, to find what depends on it.
  const slower = Number(process.env.URNSMITH_TESTS_SLOWER ?? 1);
  if (slower > 1) await tell(driver, 'Emulation.setCPUThrottlingRate', { rate: slower });
  // Without a person's own choice a browser without a window is light.
  await preferring(driver, { 'prefers-color-scheme': 'dark' });
  return {
    driver,
    downloads,
    folder,
    url,
    close: async () => {
      await driver.quit();
      rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
    },
  };
}

interface GestureOptions {
  async?: boolean;
  /** Script that the page runs before the gesture. */
  first?: string;
}

/**
 * Every gesture waits until what was asked for before is drawn: a person acts on what is seen. Its moves are jumps,
 * unless they say how long they take.
 */
function seeingFirst(driver: WebDriver): void {
  const actions = driver.actions.bind(driver);
  driver.actions = ({ async = false, first }: GestureOptions = {}) => {
    const gesture = actions({ async });
    const perform = gesture.perform.bind(gesture);
    const move = gesture.move.bind(gesture);
    gesture.move = (to) => move({ duration: 0, ...to });
    gesture.perform = async () => {
      await drawn(driver, first);
      return perform();
    };
    return gesture;
  };
}

/** A gesture with a script that the page runs before it, in the same round trip. */
export const gestureAfter = (driver: WebDriver, first: string): Actions =>
  driver.actions({ first } as GestureOptions);

/**
 * Waits until what was asked for so far is drawn. A frame asked for in a frame comes with the next.
 * @param first script that the page runs before
 */
export const drawn = (driver: WebDriver, first = ''): Promise<void> =>
  driver.executeAsyncScript(
    `const done = arguments[0]; ${first};
     requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done)));`,
  );

/** The driver has it, its types do not. */
export const tell = (driver: WebDriver, command: string, params: object): Promise<void> =>
  (driver as unknown as { sendDevToolsCommand(c: string, p: object): Promise<void> }).sendDevToolsCommand(
    command,
    params,
  );

/** Media features of the system, as style sheets query them. */
export const preferring = (driver: WebDriver, set: Record<string, string>): Promise<void> =>
  tell(driver, 'Emulation.setEmulatedMedia', {
    features: Object.entries(set).map(([name, value]) => ({ name, value })),
  });

/** Severe messages of the page's console so far, apart from refused requests a test provokes. */
export async function consoleProblems(driver: WebDriver): Promise<string[]> {
  const entries = await driver.manage().logs().get(logging.Type.BROWSER);
  return entries.filter((e) => e.level.value >= logging.Level.SEVERE.value).map((e) => e.message);
}
