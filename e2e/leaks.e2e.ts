/** A scene that is left leaves nothing behind: no listeners, no stage, no worker, no store. */
import type { Driver } from 'selenium-webdriver/chrome.js';
import { expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';

const at = await atBench();

const ROUNDS = 5;

/** A plate with a hole, some of one shape that are drawn together, and a ghost. */
const PIECES: Piece[] = [
  {
    id: 'plate',
    name: 'Plate',
    base: { primitive: 'box', width: 60, height: 8, depth: 40 },
    steps: [{ kind: 'cut', mode: 'subtract', cutters: ['hole'] }],
  },
  {
    id: 'hole',
    name: 'Hole',
    role: 'cutter',
    parent: 'plate',
    base: { primitive: 'cylinder', radius: 6, height: 30, sides: 16 },
  },
  ...[0, 1, 2, 3, 4].map((i): Piece => ({
    id: `foot${i}`,
    name: `Foot ${i}`,
    base: i ? { twin: 'foot0' } : { primitive: 'cylinder', radius: 3, height: 9, sides: 12 },
    transform: { move: [12 * i - 24, -8, 0] },
  })),
];

interface Left {
  listeners: number;
  stages: number;
  workers: number;
}

async function ask<T>(command: string, params: object = {}): Promise<T> {
  return (await (at.browser.driver as Driver).sendAndGetDevToolsCommand(command, params)) as unknown as T;
}

/** How many objects of a kind are there that something holds. */
async function held(kind: string): Promise<number> {
  const { result } = await ask<{ result: { objectId: string } }>('Runtime.evaluate', {
    expression: `${kind}.prototype`,
  });
  const { objects } = await ask<{ objects: { objectId: string } }>('Runtime.queryObjects', {
    prototypeObjectId: result.objectId,
  });
  const counted = await ask<{ result: { value: number } }>('Runtime.callFunctionOn', {
    functionDeclaration: 'function () { return this.length; }',
    objectId: objects.objectId,
    returnByValue: true,
  });
  await ask('Runtime.releaseObject', { objectId: objects.objectId });
  return counted.result.value;
}

async function left(): Promise<Left> {
  for (let k = 0; k < 3; k++) await ask('HeapProfiler.collectGarbage');
  const { metrics } = await ask<{ metrics: Array<{ name: string; value: number }> }>(
    'Performance.getMetrics',
  );
  return {
    listeners: metrics.find((m) => m.name === 'JSEventListeners')!.value,
    stages: await held('WebGL2RenderingContext'),
    workers: await held('Worker'),
  };
}

it('after rounds of opening and leaving there is what there was after the second', async () => {
  const { h, on } = at;
  const { driver } = at.browser;
  await on.open('Round and round', PIECES);
  await h.saved();
  const bench = new URL(await driver.getCurrentUrl()).pathname;
  // Elements that the driver has found are held by the driver, so nothing is found in these rounds.
  await driver.navigate().refresh();
  const goTo = (path: string): Promise<unknown> =>
    driver.executeAsyncScript(
      `const [path, css, done] = arguments;
       history.pushState(null, '', path);
       dispatchEvent(new PopStateEvent('popstate'));
       const look = () => (document.querySelector(css) ? setTimeout(done, 300) : setTimeout(look, 30));
       look();`,
      path,
      path === '/' ? '[data-scene], .scene, main' : '#stage[aria-busy="false"]',
    );
  await ask('Performance.enable');
  await ask('HeapProfiler.enable');
  const round = async (): Promise<void> => {
    await goTo(bench);
    await goTo('/');
  };
  await round();
  await round();
  const second = await left();
  for (let k = 2; k < ROUNDS; k++) await round();
  const last = await left();
  // The browser may hold the stage that was left last a while longer, or not; never one of those before.
  expect(last.stages).toBeLessThanOrEqual(1);
  expect(last.workers).toBe(second.workers);
  // A listener or two come and go with what the browser itself is at.
  expect(Math.abs(last.listeners - second.listeners)).toBeLessThanOrEqual(4);
});
