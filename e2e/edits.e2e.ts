/** The edits of a base as a list: any of them is opened, rested, moved or taken away, and the others stay where they were. */
import { describe, expect, it } from 'vitest';
import { By, Key } from 'selenium-webdriver';
import { boundsOf } from '@urnsmith/core/mesh/measure';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';

const { on, h } = await atBench();

const block: Piece[] = [
  {
    id: 'a',
    name: 'Block',
    base: { primitive: 'box', width: 40, height: 20, depth: 30 },
    actions: [
      { op: 'bevel', select: { rule: 'sharp', angle: 30 }, width: 2, segments: 1 },
      // The right side and the top, as they are numbered after the bevel.
      { op: 'extrude', select: { rule: 'facing', direction: [1, 0, 0] }, distance: 7 },
      { op: 'inset', select: { rule: 'last' }, thickness: 3 },
    ],
  },
];

const actions = async () => (await on.stored())[0].actions ?? [];
const none = (): never => {
  throw new Error('no file is used');
};
/** How far what is stored reaches along an axis once it is built. */
const reach = async (axis: number): Promise<number> => {
  const e = new Evaluator({ blob: none, file: none });
  e.setPieces(await on.stored());
  return boundsOf(e.build('a').mesh).max[axis];
};

describe('edits of a base', () => {
  it('are listed; an early one is opened and changed, with those after it where they were', async () => {
    await on.open('Edits', block);
    await h.pick('Block');
    expect((await h.text('.edits')).split('\n')).toEqual(['Bevel', 'Extrude', 'Inset']);
    // An edit on a face by its number comes after.
    await on.key('8');
    await on.untilCounts('of 34 faces');
    await on.clickAt(0, -70);
    await on.untilCounts('1 of 34 faces');
    await on.act('Extrude', 'w');
    await h.type('Distance', '5');
    await on.key('7');
    await h.until('four edits', async () => (await actions()).length === 4);
    expect((await actions())[3].select).toHaveProperty('faces');
    const high = await reach(1);
    expect(high).toBeCloseTo(15, 4);
    await h.press('Bevel', '.edits');
    await h.type('Segments', '3');
    await h.until('three segments', async () => (await actions())[0].segments === 3);
    // Pulled, it shows while the hand is at it, and is kept when the hand lets go.
    const field = await h.driver.findElement(
      By.xpath('//ol[@aria-label="Edits"]//*[@data-field][label[.="Width"]]//label'),
    );
    await h.drag(field, [0, 0], [-30, 0]);
    await h.until('a pulled width', async () => (await actions())[0].width !== 2);
    await on.key(Key.CONTROL, 'z');
    await h.until('taken back', async () => (await actions())[0].width === 2);
    const now = await actions();
    expect(now[3].select).toMatchObject({ rule: 'picked', of: 'faces' });
    expect([await reach(0), await reach(1)].map((x) => Math.round(x))).toEqual([27, 15]);
  });

  it('rest, come back, change places and go, each as one step of the history', async () => {
    await h.click('.edits [aria-label="Switch off Bevel"]');
    await h.until('at rest', async () => (await actions())[0].off === true);
    expect([await reach(0), await reach(1)].map((x) => Math.round(x))).toEqual([27, 15]);
    await h.click('.edits [aria-label="Switch on Bevel"]');
    await h.until('back', async () => !(await actions())[0].off);
    await h.press('Inset', '.edits');
    await h.click('.edits [aria-label="Move Inset down"]');
    await h.until('another order', async () => (await actions()).map((a) => a.op).join() === 'bevel,extrude,extrude,inset'); // prettier-ignore
    await h.click('.edits [aria-label="Remove Bevel"]');
    await h.until('three edits', async () => (await actions()).length === 3);
    expect([await reach(0), await reach(1)].map((x) => Math.round(x))).toEqual([27, 15]);
    await on.key(Key.CONTROL, 'z');
    await h.until('four again', async () => (await actions()).length === 4);
  });
});

describe('a group', () => {
  it('is subtracted as one, hangs under what it cuts, and follows its pieces', async () => {
    const bolt = (id: string, x: number): Piece => ({
      id,
      name: `Bolt ${id}`,
      parent: 'set',
      base: { primitive: 'cylinder', radius: 5, height: 30, sides: 24 },
      transform: { move: [x, 0, 0] },
    });
    await on.open('Group', [
      { id: 'plate', name: 'Plate', base: { primitive: 'box', width: 90, height: 6, depth: 60 } },
      { id: 'set', name: 'Bolt set', base: { group: true } },
      bolt('1', -30),
      bolt('2', 30),
    ]);
    await h.pick('Bolt set');
    await h.until('its faces', async () => (await h.text('.count')).includes('52 faces'));
    expect(await h.text('[role="treeitem"][data-name="Bolt set"]')).toMatch(/52$/);
    await h.press('X', '[aria-label="Mirror across"]');
    await h.until('mirrored', async () => (await on.stored())[1].transform?.size?.[0] === -1);
    await h.press('Reset', '.placement');
    await h.until('as it was', async () => !(await on.stored())[1].transform);
    await h.pick('Bolt set', 'Plate');
    await h.find('Cut: subtract');
    await h.until('a cut', async () => (await on.stored())[0].steps?.length === 1);
    const [plate, set, one] = await on.stored();
    expect(plate.steps![0]).toMatchObject({ kind: 'cut', cutters: ['set'] });
    expect([set.role, set.parent, one.role, one.parent]).toEqual(['cutter', 'plate', 'cutter', 'set']);
    await h.pick('Bolt 1');
    await h.type('Radius', '8');
    await h.until('its size', async () => JSON.stringify((await on.stored())[2].base).includes('"radius":8'));
    const across = (await on.exported()).positions.filter((_, i) => i % 3 === 0);
    expect(across.some((x) => Math.abs(x + 38) < 1e-4)).toBe(true);
    expect(across.some((x) => Math.abs(x + 35) < 1e-4)).toBe(false);
  });
});

describe('the outline of picked faces', () => {
  it('is a piece that stands on them, with their holes', async () => {
    await on.open('Outlines', [
      {
        id: 'a',
        name: 'Plate',
        base: { primitive: 'box', width: 80, height: 10, depth: 60 },
        steps: [{ id: 's1', kind: 'cut', mode: 'subtract', cutters: ['h'] }],
      },
      { id: 'h', name: 'Hole', role: 'cutter', parent: 'a', base: { primitive: 'cylinder', radius: 12, height: 40, sides: 24 } },
    ]); // prettier-ignore
    await h.pick('Plate');
    await on.key('8');
    await on.untilCounts('0 of 32 faces');
    await on.key('n');
    await h.rest();
    await on.clickAt(-130, -30);
    await on.untilCounts('2 of 32 faces');
    await h.find('Outline of the picks');
    await h.until('a piece more', async () => (await on.stored()).length === 3);
    const made = (await on.stored())[2];
    expect(made).toMatchObject({ name: 'Outline of Plate', base: { primitive: 'outline', height: 5 } });
    expect((made.base as { contours: unknown[][] }).contours.map((c) => c.length).sort()).toEqual([24, 4]);
    expect(made.transform!.move!.map((x) => Math.round(x * 1e4) / 1e4)).toEqual([0, 7.5, 0]);
  });
});
