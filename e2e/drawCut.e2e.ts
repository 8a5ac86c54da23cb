/** Cuts drawn on faces: by the hand, by numbers, in stages that lead back, on what is curved, one after another. */
import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import type { CutStep } from '@urnsmith/core/steps/steps';
import { atBench } from './atBench';

const { on, h } = await atBench();

const to = (x: number, y: number): Promise<void> =>
  h.driver.actions({ async: true }).move({ origin: on.canvas, x, y }).perform();
const named = async (name: string): Promise<Piece> => (await on.stored()).find((p) => p.name === name)!;
const cuts = async (name: string): Promise<CutStep[]> => (await named(name)).steps as CutStep[];

describe('a cut drawn on a face', () => {
  it('is pulled open and deep, has the numbers that are typed, and is a live cutter of its host', async () => {
    await on.open('Drawn', [
      { id: 'a', name: 'Block', base: { primitive: 'box', width: 120, height: 40, depth: 80 } },
    ]);
    await h.pick('Block');
    await on.key('n');
    await h.driver.sleep(600);
    await on.key(Key.ALT, 'q');
    await h.until('the tool', async () => (await h.text('.toolline b')) === 'Draw a cut');
    await h.drag(on.canvas, [-60, -90], [110, 50]);
    await h.until('the depth', async () => (await h.text('.card')).includes('pull the depth'));
    // The cut shows before it is made: the Block's own count grows, and nothing is stored.
    await to(0, 20);
    await h.until('the cut shown', async () => Number(await h.text('.rows [data-name="Block"] em')) > 6);
    expect(await on.stored()).toHaveLength(1);
    await h.type('Width', '30');
    await h.type('Length', '20');
    await h.type('Depth', '12');
    await on.key(Key.ENTER);
    await h.until('the cutter', async () => (await on.stored()).length === 2);
    const pocket = await named('Pocket');
    expect(pocket).toMatchObject({ role: 'cutter', parent: 'a', base: { primitive: 'box', width: 30, depth: 20 } });
    const { height } = pocket.base as { height: number };
    // Its foot lies 12 mm under the face.
    expect(pocket.transform!.move![1] - height / 2).toBeCloseTo(20 - 12, 6);
    expect(await cuts('Block')).toMatchObject([{ kind: 'cut', mode: 'subtract', cutters: [pocket.id] }]);
  }); // prettier-ignore

  it('goes back by one stage with Escape, and then away', async () => {
    await h.press('round', '.card');
    await h.drag(on.canvas, [-120, -60], [30, 10]);
    await h.until('the depth', async () => (await h.text('.card')).includes('pull the depth'));
    await on.key(Key.ESCAPE);
    await h.until('aiming', async () => (await h.text('.card')).includes('Press on a face'));
    expect(await on.stored()).toHaveLength(2);
    await h.press('through', '.card');
    await h.drag(on.canvas, [-120, -60], [30, 10]);
    await on.key(Key.ENTER);
    await h.until('the hole', async () => (await on.stored()).length === 3);
    // It joined the cut that was there, and goes through: the block is pierced.
    const hole = await named('Hole');
    expect((await cuts('Block'))[0].cutters).toHaveLength(2);
    expect((hole.base as { height: number }).height).toBeGreaterThan(100);
    await h.press('free', '.card');
    for (const [x, y] of [[60, -60], [110, -40], [80, -10]]) await on.clickAt(x, y);
    await on.key(Key.ENTER);
    await h.until('the depth', async () => (await h.text('.card')).includes('pull the depth'));
    await h.press('recess', '.card');
    await on.key(Key.ENTER);
    await h.until('the cutout', async () => (await on.stored()).length === 4);
    expect(await named('Cutout')).toMatchObject({ base: { primitive: 'outline', contours: [{ length: 3 }] } });
    expect(await cuts('Block')).toMatchObject([{ mode: 'subtract' }, { mode: 'recess', thickness: 2 }]);
    await on.key(Key.ESCAPE);
    await h.until('put away', async () => (await h.text('.toolline b')) === 'Select');
    // One undo takes a cut back with its cutter.
    await on.key(Key.CONTROL, 'z');
    await h.until('undone', async () => (await on.stored()).length === 3);
    expect(await cuts('Block')).toHaveLength(1);
  }); // prettier-ignore

  it('works in the plane that touches a curved face', async () => {
    await on.open('Drum', [
      { id: 'd', name: 'Drum', base: { primitive: 'cylinder', radius: 40, height: 100, sides: 64 } },
    ]);
    await h.pick('Drum');
    await on.key('n');
    await h.driver.sleep(600);
    await on.key(Key.ALT, 'q');
    await h.press('round', '.card');
    await h.press('through', '.card');
    await h.drag(on.canvas, [0, 60], [40, 40]);
    await on.key(Key.ENTER);
    await h.until('the hole', async () => (await on.stored()).length === 2);
    const { move, turn } = (await named('Hole')).transform!;
    // Its axis lies level, square to the wall.
    expect(Math.abs(turn![0])).toBeCloseTo(90, 0);
    expect(Math.hypot(move![0], move![2])).toBeGreaterThan(10);
    const mesh = await on.exported();
    const edges = mesh.corners.length / 2;
    expect(mesh.positions.length / 3 - edges + mesh.faceStart.length - 1).toBe(0);
  });
});
