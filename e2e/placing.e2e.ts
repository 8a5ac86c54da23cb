/** Placing and drawing by hand: snapping, welding, attraction, the peg, strokes and lines, parts made into pieces. */
import { By, Key, type WebElement } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { faceKinds } from '@urnsmith/core/mesh/measure';
import { checkMesh } from '@urnsmith/core/mesh/checkMesh';
import { atBench } from './atBench';

const { browser, on, h } = await atBench({ sharp: true });
/** Pixels per millimetre from above, and where the world's origin is drawn, from the middle of the stage. */
let s = 1;
let middle: [number, number] = [0, 0];

const box = (id: string, name: string, size: number[], more: Partial<Piece> = {}): Piece => ({
  id,
  name,
  base: { primitive: 'box', width: size[0], height: size[1], depth: size[2], segments: [2, 1, 2] },
  ...more,
});

/** Opens the pieces seen square-on from above, without perspective, with the first one in the middle. */
async function fromAbove(pieces: Piece[], width: number): Promise<void> {
  await on.open('Placing', pieces);
  // Once everything is built, the view frames it by itself.
  for (const p of pieces)
    await h.until(p.name!, async () => /\d/.test(await h.text(`.rows [data-name="${p.name}"] em`)));
  await h.pick(pieces[0].name!);
  await on.key('5');
  await on.key('p');
  await on.key('n');
  await on.h.rest();
  s = await on.scaleFrom(width / 2);
  middle = [0, 0];
}
/** A place seen from above, mm, as pixels from the middle of the stage. */
const px = (x: number, z: number): { origin: WebElement; x: number; y: number } => ({
  origin: on.middle,
  x: Math.round(middle[0] + x * s),
  y: Math.round(middle[1] + z * s),
});
const click = (x: number, z: number, ...held: string[]) =>
  on.clickAt(middle[0] + x * s, middle[1] + z * s, ...held);

async function dragTo(from: [number, number], ...way: Array<[number, number]>): Promise<void> {
  const a = browser.driver
    .actions()
    .move(px(...from))
    .press();
  for (const w of way) a.move(px(...w));
  await a.perform();
}
const letGo = (): Promise<void> => browser.driver.actions().release().perform();
const choose = async (label: string, option: string): Promise<void> => {
  const select = await h.see(`select[aria-label="${label}"]`);
  for (const o of await select.findElements(By.css('option')))
    if ((await o.getText()) === option) return o.click();
  throw new Error(`no option ${option}`);
};

describe('A drag of points', () => {
  it('snaps onto a corner of another piece, to the micrometre', async () => {
    await fromAbove([box('a', 'Plate', [40, 10, 40]), box('b', 'Block', [7, 10, 9], { transform: { move: [28.3, 0, 2.2] } })], 40); // prettier-ignore
    await on.key('0');
    await on.untilCounts('0 of');
    await on.key('m');
    await on.key('s');
    await h.press('point', '.snaps');
    await h.press('grid', '.snaps');
    await click(20, 20);
    await on.untilCounts('1 of');
    // Near the block's corner at (24.8, 6.7): the held point, at the upper corner of the plate, lands on it.
    await dragTo([20, 20], [22, 12], [24.4, 7.1]);
    await h.until('the word for it', async () => (await h.text('.toolline')).includes('onto a point'));
    await letGo();
    await h.until('the move', async () => (await on.stored())[0].actions?.length === 1);
    const { move } = (await on.lastAction()) as { move: number[] };
    expect(move[0]).toBeCloseTo(4.8, 4);
    expect(move[1]).toBeCloseTo(0, 4);
    expect(move[2]).toBeCloseTo(-13.3, 4);
  });

  it('welds a point dropped onto its neighbour', async () => {
    await fromAbove([box('a', 'Plate', [40, 10, 40])], 40);
    await on.key('0');
    await on.untilCounts('0 of 18 points');
    await on.key('m');
    await on.key('s');
    await h.press('point', '.snaps');
    await browser.driver.findElement(By.xpath("//label[contains(., 'weld points')]/input")).click();
    await click(0, -20);
    await on.untilCounts('1 of 18 points');
    await dragTo([0, -20], [8, -20], [19.8, -19.7]);
    await letGo();
    await on.untilCounts('1 of 17 points');
    await h.until('the move', async () => (await on.stored())[0].actions?.length === 1);
    expect(await on.lastAction()).toMatchObject({ op: 'transform', weld: 0.01 });
    expect(await h.text('.lastAction')).toContain('Moved 1 point, welded 1.');
  });

  it('goes softly, with a reach the wheel changes on the way', async () => {
    await fromAbove([box('a', 'Plate', [40, 10, 40])], 40);
    await on.key('0');
    await on.key(Key.SHIFT, 'a');
    await on.key('s');
    await click(0, 0);
    await on.untilCounts('1 of 18 points');
    await dragTo([0, 0], [3, 2], [5, 4]);
    await h.wheel(on.middle, -400);
    await letGo();
    await h.until('the move', async () => (await on.stored())[0].actions?.length === 1);
    const { reach } = (await on.lastAction()) as { reach: number };
    expect(reach).toBeGreaterThan(25);
  });

  it('lies on the piece that attracts it: a box sized onto a ball becomes one, of quads only', async () => {
    const ball: Piece = { id: 'b', name: 'Ball', base: { primitive: 'sphere', radius: 25, sides: 64, rings: 32 }, faint: true }; // prettier-ignore
    const cube: Piece = { id: 'a', name: 'Cube', base: { primitive: 'box', width: 30, height: 30, depth: 30, segments: [6, 6, 6] } }; // prettier-ignore
    await fromAbove([cube, ball], 30);
    await on.key('8');
    await on.untilCounts('0 of 216 faces');
    await on.key(Key.CONTROL, 'a');
    await on.untilCounts('216 of');
    await on.key('f');
    await choose('Draw onto', 'Ball');
    await choose('They go', 'toward its middle');
    await dragTo([0, 0], [2, 0], [4, 0]);
    await letGo();
    await h.until('the ball', async () => (await on.stored())[0].actions?.length === 1);
    const mesh = await on.exported();
    expect(faceKinds(mesh)).toMatchObject({ quads: 216, triangles: 0, ngons: 0 });
    expect(checkMesh(mesh).closed).toBe(true);
    for (let v = 0; v < mesh.positions.length; v += 3) {
      const r = Math.hypot(mesh.positions[v], mesh.positions[v + 1], mesh.positions[v + 2]);
      expect(r).toBeLessThan(25.0001);
      expect(r).toBeGreaterThan(24.8);
    }
  });
});

describe('The peg', () => {
  it('is set on picked faces; new pieces stand on it, pivots go there, faces are drawn out along it', async () => {
    await fromAbove([box('a', 'Plate', [40, 10, 40])], 40);
    await on.key('8');
    await on.untilCounts('0 of 16 faces');
    await click(10, -10);
    await on.untilCounts('1 of 16 faces');
    await on.key(Key.SHIFT, 'p');
    await on.tool('Extrude along the peg');
    await h.until('the wall', async () => (await on.stored())[0].actions?.length === 1);
    expect(await on.lastAction()).toMatchObject({ op: 'extrude', along: 'axis', axis: [0, 1, 0] });
    await on.key('7');
    await h.focusStage();
    await browser.driver.actions().sendKeys(' ').perform();
    await (await h.see('[cmdk-input]')).sendKeys('Add cone', Key.ENTER);
    await h.until('a second piece', async () => (await on.stored()).length === 2);
    const cone = (await on.stored())[1];
    expect(cone.transform!.move).toEqual([10, 5, -10]);
    await h.pick('Plate');
    await h.press('peg', '[aria-label="Pivot to"]');
    await h.until('the pivot', async () => (await on.stored())[0].transform?.move?.[0] === 10);
    const [plate] = await on.stored();
    expect(plate.transform!.move).toEqual([10, 5, -10]);
    expect(plate.actions!.at(-1)).toMatchObject({ op: 'transform', move: [-10, -5, 10] });
  });

  it('is what elements turn about when that is chosen', async () => {
    await fromAbove([box('a', 'Plate', [40, 10, 40])], 40);
    await on.key('8');
    await on.untilCounts('0 of 16 faces');
    await click(10, 10);
    await on.untilCounts('1 of');
    await on.key(Key.SHIFT, 'p');
    await click(-10, 10);
    await on.key('d');
    await h.press('peg', '[aria-label="About"]');
    await on.key('m');
    // The handles stand at the peg: an eighth of the ring about the upright axis, where no other ring is.
    const ring = (84 * 0.92) / s;
    await dragTo(
      [10 + ring * 0.707, 10 + ring * 0.707],
      [10 + ring * 0.38, 10 + ring * 0.92],
      [10, 10 + ring],
    );
    await letGo();
    await h.until('the turn', async () => (await on.stored())[0].actions?.length === 1);
    const turned = (await on.lastAction()) as { about: string; point: number[]; turn: number[] };
    expect([turned.about, turned.turn]).toEqual(['point', [0, -45, 0]]);
    turned.point.forEach((x, k) => expect(x).toBeCloseTo([10, 5, 10][k], 4));
  });

  it('and the grid are seated on three points', async () => {
    await fromAbove([box('a', 'Plate', [40, 10, 40])], 40);
    await on.key('0');
    await on.untilCounts('0 of 18 points');
    await click(0, 0);
    await click(0, 20, Key.SHIFT);
    await click(20, 0, Key.SHIFT);
    await on.untilCounts('3 of 18 points');
    await on.key(Key.SHIFT, 'i');
    await on.key('7');
    await h.focusStage();
    await browser.driver.actions().sendKeys(' ').perform();
    await (await h.see('[cmdk-input]')).sendKeys('Add cone', Key.ENTER);
    await h.until('a second piece', async () => (await on.stored()).length === 2);
    const { move } = (await on.stored())[1].transform!;
    // On the plane of the three, at the first of them.
    expect(move![1]).toBeCloseTo(5, 6);
    // Typed numbers count in the seated grid: up from its plane, and along it from its middle.
    const first = move!;
    await h.type('Y', '12', '.placement');
    await h.type('X', '-3.5', '.placement');
    await h.until('both numbers', async () => {
      const [x, y, z] = (await on.stored())[1].transform!.move!;
      return Math.abs(y - 17) < 1e-6 && Math.abs(Math.hypot(x - first[0], z - first[2]) - 3.5) < 1e-6;
    });
    await h.press('world', '.placement');
    await h.type('Y', '2', '.placement');
    await h.until('the number of the world', async () => (await on.stored())[1].transform!.move![1] === 2);
  });
});

describe('Drawn on the stage', () => {
  it('a ring cut shows where it will run, and is slid to the pointer with Shift', async () => {
    await fromAbove([box('a', 'Plate', [40, 10, 40])], 40);
    await on.key('9');
    await on.untilCounts('0 of 32 edges');
    await on.key('r');
    await browser.driver.actions().move(px(-9, -20)).perform();
    await browser.driver.actions().move(px(-10, -20)).perform();
    await h.until('the loop in amber', () => amberOnStage());
    await click(-10, -20);
    await h.until('the cut', async () => (await on.stored())[0].actions?.length === 1);
    // The message lies where the next one is cut.
    await h.press('✕', '.notice');
    await browser.driver.actions().move(px(14, 19)).perform();
    await click(15, 20, Key.SHIFT);
    await h.until('the second cut', async () => (await on.stored())[0].actions?.length === 2);
    const [even, slid] = (await on.stored())[0].actions!;
    expect([even.op, even.slide, slid.op]).toEqual(['ringCut', undefined, 'ringCut']);
    expect(Math.abs(slid.slide as number)).toBeCloseTo(0.5, 1);
    // Three at once, counted by the wheel before they are cut.
    await h.press('✕', '.notice');
    await browser.driver.actions().move(px(-14, -19)).perform();
    for (let k = 0; k < 2; k++) await h.wheel(on.canvas, -100);
    await h.until('their number', async () => (await h.text('.beside')).includes('3 rings'));
    await click(-15, -20);
    await h.until('the third cut', async () => (await on.stored())[0].actions?.length === 3);
    expect((await on.lastAction()).count).toBe(3);
    await on.key(Key.ESCAPE);
    expect(await h.text('.toolline b')).toBe('Select');
  });

  it('a stroke slices by a plane, and another moves that plane', async () => {
    await fromAbove([box('a', 'Plate', [40, 10, 40])], 40);
    await on.key('8');
    await on.untilCounts('0 of 16 faces');
    await on.key(Key.SHIFT, 'q');
    await dragTo([6, -22], [6, 0], [6, 22]);
    await letGo();
    await h.until('the slice', async () => (await on.stored())[0].actions?.length === 1);
    expect(((await on.lastAction()).point as number[])[0]).toBeCloseTo(6, 0);
    await dragTo([2, -22], [2, 0], [2, 22]);
    await letGo();
    await h.until(
      'the plane moved',
      async () => Math.abs(((await on.lastAction()).point as number[])[0] - 2) < 0.5,
    );
    expect((await on.stored())[0].actions).toHaveLength(1);
    expect(((await on.lastAction()).normal as number[]).map(Math.abs)).toEqual([1, 0, 0]);
    // Put away and taken again, it makes a slice of its own, through the whole piece.
    await on.key(Key.ESCAPE);
    await on.key(Key.SHIFT, 'q');
    await dragTo([4, -21], [4, 0], [4, 21]);
    await letGo();
    await h.until('a second slice', async () => (await on.stored())[0].actions?.length === 2);
    expect((await on.lastAction()).select).toEqual({ rule: 'all', of: 'faces' });
  });

  it('the knife cuts several lines in one go, at steps of the angle with Ctrl, and takes points back', async () => {
    await fromAbove([{ ...box('a', 'Plate', [40, 10, 40]), base: { primitive: 'box', width: 40, height: 10, depth: 40 } }], 40); // prettier-ignore
    await on.key('8');
    await on.untilCounts('0 of 6 faces');
    await on.key('q');
    await click(-20, -7);
    await click(20, -6.6);
    await h.until('its Card', async () => /2 points[^]*Angle step/.test(await h.text('.card')));
    await click(3, 20, Key.SHIFT);
    await click(-9, 3);
    await on.key(Key.DELETE);
    await click(3.6, -20, Key.CONTROL);
    await on.key(Key.ENTER);
    await h.until('the cuts', async () => (await on.stored())[0].actions?.length === 1);
    const { lines } = (await on.lastAction()) as { lines: number[][][] };
    expect(lines.map((l) => l.length)).toEqual([2, 2]);
    // The second line was held to the square of the face: it runs straight along z.
    expect(lines[1][1][0]).toBeCloseTo(lines[1][0][0], 4);
    await h.until('four fields', async () => (await h.text('.rows [data-name="Plate"] em')) === '9');
  });

  it('a face drawn on the grid is a piece; one drawn beside a rim joins it', async () => {
    const sheet: Piece = {
      id: 'a',
      name: 'Floor',
      base: { primitive: 'plane', width: 40, depth: 40, segments: [1, 4] },
    };
    await fromAbove([sheet], 40);
    await on.key(Key.ESCAPE);
    await on.key('m');
    await on.key(Key.ALT, 'c');
    for (const [x, z] of [[-27, -10], [-23, -10], [-23, 5], [-27, 5]]) await click(x + 0.7, z - 0.6); // prettier-ignore
    await on.key(Key.ENTER);
    await h.until('the sheet', async () => (await on.stored()).length === 2);
    expect((await on.stored())[1]).toMatchObject({ name: 'Sheet', base: { blob: expect.any(String) } });
    await h.until('its face', async () => (await h.text('.rows [data-name="Sheet"] em')) === '1');
    await h.pick('Floor');
    await on.key('9');
    await on.untilCounts('0 of 13 edges');
    await on.key(Key.ALT, 'c');
    for (const [x, z] of [[20, -10], [20, 0], [26, -4]]) await click(x, z); // prettier-ignore
    // The first corner again ends it.
    await click(20, -10);
    await h.until('the wing', async () => (await on.stored())[0].actions?.length === 1);
    await on.untilCounts('1 of 5 faces');
    expect((await on.lastAction()).op).toBe('drawFace');
  });
});

describe('Parts and wholes', () => {
  it('pieces are joined with their shells as they are, and separated again', async () => {
    const round: Piece['steps'] = [{ kind: 'bevel', scope: { rule: 'all' }, width: 1, segments: 1, profile: 0, clamp: true }]; // prettier-ignore
    const apart = [
      box('a', 'Left', [10, 10, 10]),
      box('b', 'Right', [10, 10, 10], { transform: { move: [30, 0, 0], turn: [0, 0, 45] }, steps: round }),
    ];
    await on.open('Parts', apart);
    await h.pick('Right', 'Left');
    await h.press('Join');
    await h.until('one piece', async () => (await on.stored()).length === 1);
    await h.until('all its faces', async () => Number(await h.text('.rows [data-name="Left"] em')) > 30);
    await on.key('b');
    await h.until('two pieces', async () => (await on.stored()).length === 2);
    expect((await on.stored()).map((p) => p.actions!.at(-1)!.op)).toEqual(['keepFaces', 'keepFaces']);
    await h.pick('Left');
    await on.key('b');
    await h.until('a word', async () => (await h.text('.notice')).includes('one body'));
  });

  it('a piece that steps have made several bodies of becomes as many pieces, hollows and all', async () => {
    const row: Piece['steps'] = [{ kind: 'repeat', pattern: 'linear', count: 3, offset: [30, 0, 0] }];
    await on.open('Row', [box('a', 'Post', [10, 20, 10], { steps: row })]);
    await h.pick('Post');
    await on.key('b');
    await h.until('three pieces', async () => (await on.stored()).length === 3);
    expect((await on.stored()).map((p) => [p.name, p.steps, 'blob' in p.base])).toEqual([
      ['Post', undefined, true],
      ['Post part', undefined, true],
      ['Post part 2', undefined, true],
    ]);
    await h.until('their faces', async () => (await h.text('.rows [data-name="Post part 2"] em')) === '16');
  });
});

/** Some pixel of the stage is drawn in the colour of what is being drawn. */
async function amberOnStage(): Promise<boolean> {
  const { PNG } = await import('pngjs');
  const png = PNG.sync.read(Buffer.from(await on.h.picture(on.canvas), 'base64'));
  let found = 0;
  for (let i = 0; i < png.data.length; i += 4) {
    const [r, g, b] = png.data.subarray(i, i + 3);
    if (r > 215 && g > 150 && g < 215 && b < 140) found++;
  }
  return found > 40;
}
