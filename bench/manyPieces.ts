/**
 * Scenes of many pieces: how long until all are drawn, and how long the page is held while one of them is dragged, let
 * go and taken back. `npx tsx bench/manyPieces.ts 2000` measures that many.
 */
import { Key } from 'selenium-webdriver';
import type { Piece } from '@urnsmith/core/document/schema';
import { openBrowser } from '../e2e/browser';
import { OnBench } from '../e2e/onBench';
import { TestServer } from '../e2e/server';
import { PageTasks } from './pageTasks';
import { ms, row } from './report';

/** Boxes in a square on the ground, in a few colours; the first under the middle of the view. */
function boxes(n: number): Piece[] {
  const side = Math.ceil(Math.sqrt(n));
  return Array.from({ length: n }, (_, i) => ({
    id: `b${i}`,
    name: `Box ${i + 1}`,
    base: { primitive: 'box' as const, width: 8, height: 8, depth: 8 },
    color: ['#8f9c8c', '#9c8f7a', '#7a8f9c'][i % 3],
    transform: {
      move: [((i % side) - (side >> 1)) * 10, 4, (Math.floor(i / side) - (side >> 1)) * 10] as [
        number,
        number,
        number,
      ],
    },
  }));
}

const sizes = process.argv.slice(2).map(Number).filter(Boolean);
const server = new TestServer();
await server.start();
const browser = await openBrowser();
try {
  const { driver } = browser;
  const tasks = await PageTasks.of(driver);
  const figures = (): Promise<{ pieces: number; calls: number }> =>
    driver.executeScript('return window.urnsmithMeasure?.drawn() ?? { pieces: 0, calls: 0 }');
  console.log('\nMany pieces: until all are drawn, and processor time of the page’s tasks');
  row('boxes', ['drawn after', 'longest then', 'a move (8)', 'let go (50)', 'undo (50)', 'draw calls']);
  for (const n of sizes.length ? sizes : [100, 500, 2000]) {
    const on = new OnBench(server, browser);
    const started = Date.now();
    let drawn = 0;
    const opening = await tasks.during(async () => {
      await on.open(`${n} boxes`, boxes(n), '?measure');
      await on.h.until('all drawn', async () => (await figures()).pieces === n, 180_000);
      drawn = Date.now() - started;
    });
    // The one in the middle of the view, found by name.
    const side = Math.ceil(Math.sqrt(n));
    const middle = `Box ${(side >> 1) * side + (side >> 1) + 1}`;
    await (await on.h.see('[aria-label="Find a piece"]')).sendKeys(middle);
    await on.h.pick(middle);
    await on.h.focusStage();
    await on.key('s');
    await driver.sleep(800);
    const to = (x: number): Promise<void> =>
      driver.actions({ async: true }).move({ origin: on.canvas, x, y: 0, duration: 20 }).perform();
    await to(0);
    await driver.actions({ async: true }).press().perform();
    await to(10);
    await driver.sleep(300);
    const MOVES = 10;
    const moved = await tasks.during(async () => {
      for (let k = 1; k <= MOVES; k++) {
        await to(10 + 5 * k);
        await driver.sleep(60);
      }
    });
    const released = await tasks.during(async () => {
      await driver.actions({ async: true }).release().perform();
      await driver.sleep(500);
    });
    const placed = (await on.stored()).find((p) => p.name === middle)!.transform!.move!;
    if (placed[0] === 0 && placed[2] === 0) throw new Error('The drag moved nothing.');
    await on.h.focusStage();
    const undone = await tasks.during(async () => {
      await on.key(Key.CONTROL, 'z');
      await driver.sleep(500);
    });
    const { calls } = await figures();
    row(String(n), [ms(drawn), ms(opening.longest), ms(moved.sum / MOVES), ms(released.longest), ms(undone.longest), String(calls)]); // prettier-ignore
  }
} finally {
  await browser.close();
  await server.close();
}
