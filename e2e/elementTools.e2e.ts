/** Tools on elements in the real interface: bevelled points, marks and widths, patterns carried on, views, placements. */
import { By, Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { checkMesh } from '@urnsmith/core/mesh/checkMesh';
import { boundsOf, volume } from '@urnsmith/core/mesh/measure';
import { atBench } from './atBench';

const { browser, on, h } = await atBench();

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
    await on.act('Bevel points', 't');
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

describe('Sliding', () => {
  it('takes a point along its edge to the right as it is seen, and any other way asked for on the Card', async () => {
    await open({ ...cube, base: { ...cube.base, segments: [2, 2, 2] } as Piece['base'] });
    await on.key('1');
    await on.key('p');
    await on.key('n');
    await on.key('0');
    await on.untilCounts('0 of 26 points');
    await on.clickAt(0, 0);
    await on.untilCounts('1 of 26 points');
    await on.act('Slide', 'g');
    await h.until('the action', async () => ((await on.lastAction()).toward as number[]).join() === '1,0,0');
    await h.type('X', '0', '.lastAction');
    await h.type('Y', '-1', '.lastAction');
    await h.type('Share', '0.5', '.lastAction');
    await h.until('the way', async () => ((await on.lastAction()).toward as number[])[1] === -1);
    const mesh = await on.exported();
    const { min, max } = boundsOf(mesh);
    const unit = (max[1] - min[1]) / 20;
    const middle = Array.from({ length: 26 }, (_, v) => [
      ...mesh.positions.subarray(3 * v, 3 * v + 3),
    ]).filter(([x, y, z]) => Math.abs(x) < 1e-9 && Math.abs(z - max[2]) < 1e-9 && y > min[1] && y < max[1]);
    expect(middle.map(([, y]) => y / unit)).toEqual([expect.closeTo(-5, 5)]);
  });
});

describe('Edges', () => {
  it('get a support loop on one side, and on the other when asked', async () => {
    await open(cube);
    await on.key('1');
    await on.key('p');
    await on.key('n');
    await h.rest();
    const s = await on.scaleFrom(10);
    await on.key('9');
    await on.untilCounts('0 of 12 edges');
    await on.clickAt(10 * s, 0);
    await on.untilCounts('1 of 12 edges');
    await on.act('Support loops', Key.SHIFT, 'r');
    await h.until('both', async () => (await faces('Cube')) === 8);
    await h.type('Distance', '3', '.lastAction');
    const sides = new Set<string>();
    for (const side of ['left', 'right']) {
      await h.press(side, '.lastAction');
      await h.until(side, async () => (await on.lastAction()).sides === side);
      await h.until('one loop', async () => (await faces('Cube')) === 7);
      const mesh = await on.exported();
      expect([checkMesh(mesh).closed, mesh.positions.length]).toEqual([true, 30]);
      // Either on the face seen, or on the one round the corner.
      const { max } = boundsOf(mesh);
      const [x, , z] = [0, 1, 2].map((k) => new Set(mesh.positions.filter((_, i) => i % 3 === k)).size);
      expect(max[0]).toBeGreaterThan(0);
      sides.add(`${x}/${z}`);
      await on.reopen();
      await h.pick('Cube');
      await on.key('9');
    }
    expect([...sides].sort()).toEqual(['2/3', '3/2']);
  });

  it('take marks over an angle, any set of them, and are cleared again', async () => {
    await open(cube);
    await on.key('9');
    await on.untilCounts('0 of 12 edges');
    await on.tool('Mark all edges over an angle');
    await h.until('marks', async () => (await on.stored())[0].actions?.length === 1);
    await h.press('seam', '.lastAction');
    await h.until('both', async () => ((await on.lastAction()).marks as string[]).join() === 'hard,seam');
    await h.type('Strength', '0', '.lastAction');
    // Retuned so, the action clears what was not there before it.
    await h.until('cleared', async () => (await h.text('.lastAction')).includes('Nothing changed.'));
    expect((await on.stored())[0].actions).toHaveLength(1);
  });

  it('with half the width are rounded half as far', async () => {
    await open(cube);
    await on.key('9');
    await on.untilCounts('0 of 12 edges');
    await on.key(Key.CONTROL, 'a');
    await on.untilCounts('12 of');
    await on.tool('Mark edges to be rounded at half the width');
    await h.until('the mark', async () => (await on.stored())[0].actions?.length === 1);
    await on.act('Bevel', 't');
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
    await on.key('n');
    await h.rest();
    await on.key('8');
    await on.untilCounts('0 of 14 faces');
    await on.clickAt(20, 0);
    await on.untilCounts('1 of 14 faces');
    await on.picks();
    await check('gap as between');
    await h.type('Gap', '1', '.pickMenu');
    await on.picks();
    await h.type('Carry on by', '2', '.pickMenu');
    await on.picks();
    await h.press('Carry on 2 times');
    await on.untilCounts('3 of 14 faces');
    await on.key('w');
    await h.until('three walls raised', async () => (await faces('Can')) === 14 + 12);
  });
});

describe('Rules', () => {
  it('pick what is sharp or flat by an angle, marked, open or of many corners, and say when there is none', async () => {
    // A can whose lid was taken off; its rim is marked.
    const can: Piece = {
      id: 'a',
      name: 'Can',
      base: { primitive: 'cylinder', radius: 10, height: 10, sides: 8 },
      actions: [
        { op: 'deleteFaces', select: { rule: 'facing', direction: [0, 1, 0] } },
        { op: 'mark', select: { rule: 'open' }, marks: ['seam'] },
      ],
    };
    await open(can);
    await on.key('9');
    await on.untilCounts('0 of 24 edges');
    const picks = async (button: string, count: string): Promise<void> => {
      await on.picks();
      await h.press(button, '[aria-label="Pick by rule"]');
      await on.untilCounts(count);
    };
    await picks('Sharp edges', '16 of 24');
    await h.type('Sharp or flat by', '50', '.pickMenu');
    await picks('Sharp edges', '8 of 24');
    await picks('Open edges', '8 of 24');
    await picks('Seams', '8 of 24');
    await picks('Hard', '0 of 24');
    expect(await h.text('.notice')).toContain('The piece has none of those.');
    await picks('Non-manifold', '0 of 24');
    // The bottom is the one face of eight corners; from it the walls are a right angle away.
    await picks('N-gons', '1 of 9 faces');
    await picks('Flat up to 50°', '1 of 9 faces');
    await on.picks();
    await h.type('Sharp or flat by', '91', '.pickMenu');
    await picks('Flat up to 91°', '9 of 9 faces');
  });
});

describe('The view and the placement', () => {
  it('a size of nought is refused in words, typed or stepped to', async () => {
    await open(cube);
    await h.type('Y', '0', '.placement [aria-label="Size"]');
    expect(await h.text('.placement .fault')).toContain('A size of 0 would leave nothing');
    await h.type('Y', '2', '.placement [aria-label="Size"]');
    await h.until('the size', async () => (await on.stored())[0].transform?.size?.[1] === 2);
    expect((await on.stored())[0].transform!.size).toEqual([1, 2, 1]);
  });

  it('points are flattened onto the view', async () => {
    const tilted: Piece = { ...cube, transform: { turn: [0, 30, 0] } };
    await open(tilted);
    await on.key('1');
    await on.key('8');
    await on.untilCounts('0 of 6 faces');
    // All of it cannot be flattened: the sides would be left without area.
    await on.key(Key.CONTROL, 'a');
    await on.tool('Flatten onto the view');
    await h.until('the refusal', async () =>
      (await h.text('.notice')).includes('would leave 2 faces without area'),
    );
    await on.key(Key.ESCAPE);
    await on.clickAt(0, 0);
    await on.untilCounts('1 of 6 faces');
    await on.tool('Flatten onto the view');
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
    await on.key('n');
    await h.rest();
    const s = await on.scaleFrom(10);
    // Both in view: the wheel zooms out, over the handle in the middle too.
    await h.wheel(on.middle, 500);
    await h.rest();
    const scale = await on.scaleFrom(10);
    expect(scale).toBeLessThan(s * 0.7);
    await on.key('s');
    await on.key('m');
    await h.press('point', '.snaps');
    await h.focusStage();
    const px = (x: number, z: number) => ({
      origin: on.middle,
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
