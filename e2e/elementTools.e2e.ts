/** Tools on elements in the real interface: bevelled points, marks and widths, patterns carried on, views, placements. */
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { checkMesh } from '@urnsmith/core/mesh/checkMesh';
import { boundsOf, volume } from '@urnsmith/core/mesh/measure';
import { consoleProblems, openBrowser, type Browser } from './browser';
import type { HandsOn } from './hands';
import { OnBench } from './onBench';
import { TestServer } from './server';

let server: TestServer;
let browser: Browser;
let h: HandsOn;
let on: OnBench;

beforeAll(async () => {
  server = new TestServer();
  await server.start();
  browser = await openBrowser();
  on = new OnBench(server, browser);
  h = on.h;
});
afterAll(async () => {
  expect(await consoleProblems(browser.driver)).toEqual([]);
  await browser?.close();
  await server?.close();
});

const cube: Piece = { id: 'a', name: 'Cube', base: { primitive: 'box', width: 20, height: 20, depth: 20 } };
const faces = async (name: string): Promise<number> =>
  Number((await h.text(`.rows [data-name="${name}"] em`)).replace(/\s/g, ''));

async function open(...pieces: Piece[]): Promise<void> {
  await on.open('Tools', pieces);
  for (const p of pieces) await h.until(p.name!, async () => (await faces(p.name!)) > 0);
  await h.pick(pieces[0].name!);
}
const check = async (label: string): Promise<void> =>
  browser.driver.findElement(By.xpath(`//label[contains(., '${label}')]/input`)).click();

describe('Points', () => {
  it('are bevelled: all corners of a cube, retuned on the Card, exported exactly', async () => {
    await open(cube);
    await on.key('0');
    await on.key(Key.CONTROL, 'a');
    await on.untilCounts('8 of 8 points');
    await on.act('Bevel points', 'o');
    await h.type('Segments', '1', '.lastAction');
    await h.type('Width', '3', '.lastAction');
    await h.until('the width', async () => (await on.lastAction()).width === 3);
    await h.until('all corners', async () => (await faces('Cube')) === 14);
    expect((await on.stored())[0].actions).toHaveLength(1);
    const mesh = await on.exported();
    const { min, max } = boundsOf(mesh);
    expect(volume(mesh) / ((max[0] - min[0]) / 20) ** 3).toBeCloseTo(8000 - 36, 3);
    expect(checkMesh(mesh).closed).toBe(true);
  });
});

describe('Edges', () => {
  it('take marks over an angle, any set of them, and are cleared again', async () => {
    await open(cube);
    await on.key('9');
    await on.untilCounts('0 of 12 edges');
    await h.press('All over an angle', '.card');
    await h.until('marks', async () => (await on.stored())[0].actions?.length === 1);
    await h.press('seam', '.lastAction');
    await h.until('both', async () => ((await on.lastAction()).marks as string[]).join() === 'hard,seam');
    await h.type('Strength', '0', '.lastAction');
    await h.until('cleared', async () =>
      (await h.text('.lastAction')).includes('Cleared hard, seam from 12 edges'),
    );
    expect((await on.stored())[0].actions).toHaveLength(1);
  });

  it('with half the width are rounded half as far', async () => {
    await open(cube);
    await on.key('9');
    await on.untilCounts('0 of 12 edges');
    await on.key(Key.CONTROL, 'a');
    await on.untilCounts('12 of');
    await h.press('Half width', '.card');
    await h.until('the mark', async () => (await on.stored())[0].actions?.length === 1);
    await on.act('Bevel', 'o');
    await h.type('Width', '4', '.lastAction');
    await h.type('Segments', '1', '.lastAction');
    await h.until('the bevel', async () => (await on.lastAction()).segments === 1);
    const mesh = await on.exported();
    const { min, max } = boundsOf(mesh);
    const unit = (max[0] - min[0]) / 20;
    // Chamfers of 2: prisms of half of 2 × 2 over what is between the corners, and a corner piece at each end.
    expect(volume(mesh) / unit ** 3).toBeCloseTo(8000 - 12 * 2 * 16 - 8 * (8 - 8 / 6), 3);
  });
});

describe('A pattern', () => {
  it('is carried on round a can with a gap, as often as told', async () => {
    const can: Piece = {
      id: 'a',
      name: 'Can',
      base: { primitive: 'cylinder', radius: 10, height: 10, sides: 12 },
    };
    await open(can);
    await on.key('1');
    await on.key('p');
    await on.key('f');
    await browser.driver.sleep(300);
    await on.key('8');
    await on.untilCounts('0 of 14 faces');
    await on.clickAt(20, 0);
    await on.untilCounts('1 of 14 faces');
    await check('gap as between');
    await h.type('Gap', '1');
    await h.type('Carry on by', '2');
    await h.press('Carry on 2 times');
    await on.untilCounts('3 of 14 faces');
    await on.key('e');
    await h.until('three walls raised', async () => (await faces('Can')) === 14 + 12);
  });
});

describe('The view and the placement', () => {
  it('points are flattened onto the view', async () => {
    const tilted: Piece = { ...cube, transform: { turn: [0, 30, 0] } };
    await open(tilted);
    await on.key('1');
    await on.key('8');
    await on.untilCounts('0 of 6 faces');
    await on.key(Key.CONTROL, 'a');
    await h.press('Flatten to view', '.card');
    await h.until('flat', async () => (await on.stored())[0].actions?.length === 1);
    const { direction } = (await on.lastAction()) as { direction: number[] };
    // The world's z in the frame of a piece turned by 30° about y.
    expect(direction[0]).toBeCloseTo(-0.5, 6);
    expect(direction[2]).toBeCloseTo(Math.sqrt(3) / 2, 6);
  });

  it('a piece dragged by its corner lands with it on another piece’s, and a reset placement comes back', async () => {
    const other: Piece = { ...cube, id: 'b', name: 'Other', transform: { move: [34, 0, 7] } };
    await open(cube, other);
    await on.key('5');
    await on.key('p');
    await on.key('f');
    await browser.driver.sleep(300);
    const s = await on.scaleFrom(10);
    // Both in view: the wheel zooms out, over the handle in the middle too.
    await h.wheel(on.canvas, 500);
    await browser.driver.sleep(400);
    const scale = await on.scaleFrom(10);
    expect(scale).toBeLessThan(s * 0.7);
    await on.key('m');
    await on.key('s');
    await h.press('point', '.snaps');
    await h.focusStage();
    const px = (x: number, z: number) => ({
      origin: on.canvas,
      x: Math.round(x * scale),
      y: Math.round(z * scale),
    });
    await browser.driver.actions().move(px(9.6, 9.5)).press().move(px(15, 12)).move(px(24.3, -3.1)).perform();
    await browser.driver.actions().release().perform();
    await h.until('the move', async () => (await on.stored())[0].transform?.move !== undefined);
    const moved = (await on.stored())[0].transform!;
    // The upper corner at (10, 10) came onto the other's at (24, −3).
    moved.move!.forEach((x, k) => expect(x).toBeCloseTo([14, 0, -13][k], 4));
    await h.press('Reset', '.placement');
    await h.until('no placement', async () => (await on.stored())[0].transform === undefined);
    await h.press('Restore placement');
    await h.until('the placement', async () => (await on.stored())[0].transform !== undefined);
    expect((await on.stored())[0].transform).toEqual(moved);
  });
});
