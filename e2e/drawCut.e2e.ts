/** Cuts drawn on faces: by the hand, by numbers, in stages that lead back, on what is curved, one after another. */
import { rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key, until } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import type { CutStep } from '@urnsmith/core/steps/index';
import { atBench } from './atBench';

const { on, h } = await atBench();

const to = (x: number, y: number): Promise<void> =>
  h.driver.actions({ async: true }).move({ origin: on.middle, x, y }).perform();
const named = async (name: string): Promise<Piece> => (await on.stored()).find((p) => p.name === name)!;
const cuts = async (name: string): Promise<CutStep[]> => (await named(name)).steps as CutStep[];

describe('a cut drawn on a face', () => {
  it('is pulled open and deep, has the numbers that are typed, and is a live cutter of its host', async () => {
    await on.open('Drawn', [
      { id: 'a', name: 'Block', base: { primitive: 'box', width: 120, height: 40, depth: 80 } },
    ]);
    await h.pick('Block');
    await on.key('n');
    await h.rest();
    await on.key(Key.ALT, 'q');
    await h.until('the tool', async () => (await h.text('.toolline b')) === 'Draw a cut');
    await h.drag(on.middle, [-60, -90], [110, 50]);
    await h.until('the depth', async () => (await h.text('.card')).includes('pull the depth'));
    // The pulled number shows beside the pointer.
    await h.until('the depth told', async () => /mm deep/.test(await h.text('.beside')));
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
    await h.drag(on.middle, [-120, -60], [30, 10]);
    await h.until('the depth', async () => (await h.text('.card')).includes('pull the depth'));
    await on.key(Key.ESCAPE);
    await h.until('aiming', async () => (await h.text('.card')).includes('Press on a face'));
    expect(await on.stored()).toHaveLength(2);
    await h.press('through', '.card');
    await h.drag(on.middle, [-120, -60], [30, 10]);
    await on.key(Key.ENTER);
    await h.until('the hole', async () => (await on.stored()).length === 3);
    // The cutter joined the existing cut and goes through the block.
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
    expect((await cuts('Block')).map((c) => [c.mode, c.thickness])).toEqual([['subtract', undefined], ['recess', 2]]); // prettier-ignore
    // A row of three, as live steps of the one cutter; the next one is once again.
    await h.press('subtract', '.card');
    await h.press('round', '.card');
    await h.press('line', '.card');
    await h.type('Count', '3');
    await h.drag(on.middle, [-150, -20], [8, 6]);
    await h.type('Across', '3');
    await on.key(Key.ENTER);
    await h.until('the row', async () => (await on.stored()).length === 5);
    expect((await named('Hole 2')).steps).toMatchObject([{ kind: 'repeat', pattern: 'linear', count: 3, offset: [5, 0, 0], spacing: 'gap' }]);
    await h.press('once', '.card');
    await on.key(Key.CONTROL, 'z');
    await h.until('the row undone', async () => (await on.stored()).length === 4);
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
    await h.rest();
    await on.key(Key.ALT, 'q');
    await h.press('round', '.card');
    await h.press('through', '.card');
    await h.drag(on.middle, [0, 60], [40, 40]);
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

describe('a cutter placed again', () => {
  it('hangs on the pointer, seated on each face as the first one is, and all of them go with one undo', async () => {
    await on.open('Vents', [
      { id: 'a', name: 'Block', base: { primitive: 'box', width: 120, height: 40, depth: 80 }, transform: { move: [7, 30, -4] }, steps: [{ id: 's1', kind: 'cut', mode: 'subtract', cutters: ['v'] }] },
      { id: 'v', name: 'Vent', role: 'cutter', parent: 'a', base: { primitive: 'box', width: 16, height: 20, depth: 6 }, transform: { move: [-40, 18, -20] } },
    ]);
    await h.pick('Vent');
    await on.key('n');
    await h.rest();
    await h.pick('Block');
    await on.key('n');
    await h.rest();
    await h.pick('Vent');
    await on.key(Key.ALT, 'e');
    await h.until('the tool', async () => (await h.text('.toolline b')) === 'Place again');
    // On the top, turned by six steps of the angle, then on the front.
    await to(0, -90);
    for (let k = 0; k < 6; k++) await on.key('r');
    await on.clickAt(0, -90);
    await h.until('one', async () => (await on.stored()).length === 3);
    await to(-60, 70);
    await on.clickAt(-60, 70);
    await h.until('two', async () => (await on.stored()).length === 4);
    await on.key(Key.ESCAPE);
    const [top, front] = (await on.stored()).filter((p) => /^Vent \d/.test(p.name!)).sort((p, q) => p.name!.localeCompare(q.name!)); // prettier-ignore
    // As deep as the first: its origin 2 mm under the face.
    expect(top.transform!.move![1]).toBeCloseTo(18, 4);
    expect(Math.abs(top.transform!.turn![1])).toBeCloseTo(90, 4);
    expect(front.transform!.move![2]).toBeCloseTo(38, 4);
    expect((await cuts('Block'))[0].cutters).toHaveLength(3);
    expect(await h.text('.top [aria-label^="Undo"], [aria-label^="Undo"]')).toContain('2 times');
    await on.key(Key.CONTROL, 'z');
    await h.until('all undone', async () => (await on.stored()).length === 2);
  }); // prettier-ignore
});

describe('an outline from an SVG file', () => {
  it('is read with its size and what is left out, and becomes a piece with handles', async () => {
    await on.open('Outline');
    await h.find('Outline from an SVG');
    const file = join(tmpdir(), `badge-${process.pid}.svg`);
    const input = await h.driver.wait(until.elementLocated(By.css('[aria-label="SVG file"]')), 20_000);
    writeFileSync(file, '<svg width="50mm" viewBox="0 0 50 50"><path d="M0 0H40H10Z"/></svg>');
    await input.sendKeys(file);
    await h.until('the fault told', async () => (await h.text('[role="dialog"] [role="alert"]')).includes('encloses no area')); // prettier-ignore
    writeFileSync(file, '<svg width="50mm" viewBox="0 0 50 50"><text>A</text><rect width="40" height="30"/><circle cx="20" cy="15" r="8"/></svg>');
    await input.sendKeys(file);
    await h.until('the outlines told', async () => /2 outlines.*Left out: 1 text/.test(await h.text('[role="dialog"] [role="status"]'))); // prettier-ignore
    const [side] = await h.driver.findElements(By.css('[role="dialog"] .card input'));
    await side.click();
    await side.sendKeys(Key.chord(Key.CONTROL, 'a'), '80', Key.ENTER);
    await h.until('the size', async () => (await side.getAttribute('value')) === '80');
    await h.press('Add the outline');
    await h.until('the piece', async () => (await on.stored()).length === 1);
    const [piece] = await on.stored();
    const { contours, height } = piece.base as { contours: number[][][]; height: number };
    expect([piece.name, height, contours.length]).toEqual([expect.stringMatching(/^badge-/), 5, 2]);
    expect(contours[0]).toEqual([[-40, 30], [40, 30], [40, -30], [-40, -30]]);
    await h.until('its faces', async () => (await h.text('.count')).includes('faces'));
    rmSync(file);
  }); // prettier-ignore
});

describe('the plus of the cut lane', () => {
  it('gives a hole in hand, sized by the face it is over, set down by clicks as one step of the history', async () => {
    await on.open('Holes', [
      { id: 'a', name: 'Plate', base: { primitive: 'box', width: 120, height: 10, depth: 80 } },
    ]);
    await h.pick('Plate');
    await on.key('5');
    const mm = await on.scaleFrom(60);
    await h.click('[data-lane="Cut"] .add');
    await h.until('in hand', async () => (await h.text('.toolline b')) === 'Holes');
    for (const [x, z] of [[-40, -20], [40, -20], [40, 20]]) {
      await to(Math.round(x * mm), Math.round(z * mm));
      await on.clickAt(x * mm, z * mm);
    }
    // The next is smaller, by the Card.
    await h.type('Radius', '4');
    await to(0, 0);
    await on.clickAt(-40 * mm, 20 * mm);
    await h.until('four holes', async () => (await h.text('.card')).includes('4 set down'));
    await on.key(Key.ESCAPE);
    const holes = (await on.stored()).filter((p) => p.role === 'cutter');
    // A third of 80 mm, on a round number.
    expect(holes.map((p) => (p.base as { radius: number }).radius).sort((a, b) => a - b)).toEqual([4, 10, 10, 10]);
    expect(holes.every((p) => p.parent === 'a' && p.reach === 'through')).toBe(true);
    expect((await cuts('Plate'))[0].cutters).toHaveLength(4);
    const places = holes.map((p) => p.transform!.move!.filter((_, k) => k !== 1).map((v) => Math.round(v / 10) * 10 + 0));
    expect(places.map(String).sort()).toEqual(['-40,-20', '-40,20', '40,-20', '40,20']);
    await on.key(Key.CONTROL, 'z');
    await h.until('none', async () => (await on.stored()).length === 1);
  }); // prettier-ignore
});
