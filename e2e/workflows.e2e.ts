/** Three pieces of work with the hands on the model alone: not one number is typed, and the Card stays closed. */
import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { buildPrimitive, type Primitive } from '@urnsmith/core/primitives/index';
import { boundsOf, volume } from '@urnsmith/core/mesh/measure';
import { faceCount } from '@urnsmith/core/mesh/PolyMesh';
import { atBench } from './atBench';

const { browser, on, h } = await atBench();
const { driver } = browser;

const actionsOf = async (k = 0): Promise<Array<Record<string, unknown>>> =>
  (await on.stored())[k].actions ?? [];
const untilAction = (op: string, k = 0): Promise<unknown> =>
  h.until(op, async () => (await actionsOf(k)).at(-1)?.op === op);
const base = async (k: number): Promise<Record<string, number>> =>
  (await on.stored())[k].base as unknown as Record<string, number>;

/** Pulls a diamond by pixels; a pull goes in six steps. */
async function pull(title: string, x: number, y: number): Promise<void> {
  const six = (v: number): number => Math.round(v / 6) * 6;
  await h.pull(await h.see(`.handle[aria-label^="${title}"] i`), [six(x), six(y)]);
  await h.rest();
}

async function to(x: number, y: number): Promise<void> {
  await driver.actions({ async: true }).move({ origin: on.middle, x: Math.round(x), y: Math.round(y) }).perform(); // prettier-ignore
  await h.rest();
}

describe('a turned pillar', () => {
  it('is pulled out of a disc, banded, flared and rounded', async () => {
    await on.open('Pillar');
    await h.press('Close the Card');
    await h.find('disc');
    await h.until('the disc', async () => (await on.stored()).length === 1);
    for (const key of ['1', 'p']) await on.key(key);
    await on.frameWhole();
    await on.key('8');
    await on.untilCounts('0 of 1 faces');
    await on.key(Key.CONTROL, 'a');
    await on.untilCounts('1 of 1');
    await on.key('w');
    await untilAction('extrude');
    await pull('distance of Extrude', 0, -210);
    await on.frameWhole(Key.SHIFT);
    // The rim is picked still; the ring cut in hand goes by the pointer.
    await on.key('9');
    await on.untilCounts('32 of');
    await on.key('r');
    await to(3, -20);
    await on.clickAt(2, -20);
    await untilAction('ringCut');
    await on.key(Key.ESCAPE);
    for (let k = 2; k <= 5; k++) {
      await h.wheel(await h.see('.handle[aria-label^="loops"]'), -100);
      await h.until(`${k} loops`, async () => (await actionsOf()).at(-1)!.count === k);
    }
    await on.untilCounts('160 of');
    // Two bands of the six flare out, along their own normals.
    await on.key('8');
    await h.rest();
    // The upright edge beside the pointer is what a band goes across.
    for (const y of [-74, 73]) {
      await to(-231, y);
      const a = driver.actions();
      if (y > 0) a.keyDown(Key.SHIFT);
      a.move({ origin: on.middle, x: -230, y }).doubleClick();
      if (y > 0) a.keyUp(Key.SHIFT);
      await a.perform();
      await on.untilCounts(y > 0 ? '64 of 193' : '32 of 193');
    }
    await on.key('w');
    await untilAction('extrude');
    await pull('distance of Extrude', 30, 0);
    const out = (await actionsOf()).at(-1)!.distance as number;
    await on.key('9');
    await h.press('sharp', '.count');
    await h.until('the rims', async () => /^(?!0 of)/.test(await on.counts()));
    const rims = Number((await on.counts()).split(' ')[0]);
    // Two loops round each flare's outside, two round its inside, and the cap's.
    expect(rims).toBe(9 * 32);
    await on.key('t');
    await untilAction('bevel');
    await pull('width of Bevel', 0, -6);
    await h.wheel(await h.see('.handle[aria-label^="segments"]'), -100);
    await h.until('three segments', async () => (await actionsOf()).at(-1)!.segments === 3);
    // Out along the faces: the points between them go a little further.
    const wide = 50 + out / Math.cos(Math.PI / 32);
    const tall = (await actionsOf())[0].distance as number;
    const mesh = await on.exported();
    const { min, max } = boundsOf(mesh);
    expect(max[1] - min[1]).toBeCloseTo(tall, 4);
    expect(max[0]).toBeCloseTo(wide, 4);
    // The cap, six bands, two walls at each flare, and three strips for each of the nine rims.
    expect(faceCount(mesh)).toBe(1 + 32 * (6 + 4 + 9 * 3));
  });
});

describe('a studded brick', () => {
  it('is a box and a cylinder, pulled to size, set down eight times and united', async () => {
    await on.open('Brick');
    await h.press('Close the Card');
    await h.press('Start with a box');
    for (const key of ['5', 'p', 'n', 'm']) await on.key(key);
    await h.rest();
    let mm = await on.scaleFrom(50);
    await pull('depth', 0, -30 * mm);
    await h.until('the depth', async () => (await base(0)).depth === 40);
    await on.key('1');
    await h.rest();
    // The foot stays: only the top comes down.
    await pull('height', 0, 80 * mm);
    await h.until('the height', async () => (await base(0)).height === 20);
    await on.key('5');
    await h.find('cylinder');
    await h.until('the cylinder', async () => (await on.stored()).length === 2);
    await h.rest();
    mm = await on.scaleFrom((await base(1)).radius, 'radius');
    await pull('radius', (10 - (await base(1)).radius) * mm, 0);
    await on.key('1');
    await h.rest();
    // Its first size suits what is seen.
    await pull('height', 0, ((await base(1)).height - 10) * mm);
    const stud = await base(1);
    expect([stud.radius, stud.height]).toEqual([10, 10]);
    // On the grid while it is set down.
    await on.key('5');
    await h.rest();
    await on.key(Key.ALT, 'e');
    await h.until('in hand', async () => (await h.text('.toolline b')) === 'Place again');
    const places = [-35, -12, 12, 35].flatMap((x) => [-10, 10].map((z) => [x, z]));
    for (const [x, z] of places) {
      await to(x * mm + 2, z * mm - 1);
      await on.clickAt(x * mm, z * mm);
    }
    await on.key(Key.ESCAPE);
    await h.until('set down', async () => (await on.stored()).length === 10);
    const at = (await on.stored()).slice(2).map((p) => p.transform!.move!);
    expect(at.every(([x, y, z]) => x % 5 === 0 && y === 20 && Math.abs(z) === 10)).toBe(true);
    await on.key(Key.CONTROL, 'a');
    await on.key('w');
    await h.until('united', async () => (await on.stored()).some((p) => p.steps?.[0]?.kind === 'cut'));
    const mesh = await on.exported();
    const circle = 16 * 100 * Math.sin(Math.PI / 16);
    // Each stud stands on it.
    expect(volume(mesh)).toBeCloseTo(100 * 20 * 40 + 8 * circle * 10, 0);
    expect(boundsOf(mesh).max[1] - boundsOf(mesh).min[1]).toBeCloseTo(30, 6);
  });
});

describe('a plate over a template', () => {
  it('is traced corner by corner and pulled up', async () => {
    const template = { primitive: 'disc', radius: 30, sides: 6 } as Primitive;
    await on.open('Traced', [{ id: 'g', name: 'Template', role: 'guide', base: template }]);
    await h.pick('Template');
    for (const key of ['5', 'p', 'n']) await on.key(key);
    const mm = await on.scaleFrom(30, 'radius');
    await on.key('s');
    await h.press('point', '.snaps');
    await h.press('grid', '.snaps');
    for (const key of ['m', 'a', Key.ESCAPE]) await on.key(key);
    await h.press('Close the Card');
    await on.key(Key.ALT, 'c');
    const { positions } = buildPrimitive(template);
    const corners = Array.from({ length: 6 }, (_, k) => [positions[3 * k], positions[3 * k + 2]]);
    // A pixel or three beside each: it is the corner that is meant.
    for (const [k, [x, z]] of corners.entries()) {
      await to(x * mm + 3, z * mm - 2);
      await on.clickAt(x * mm + (k % 3), z * mm - 2);
    }
    await on.key(Key.ENTER);
    await h.until('the sheet', async () => (await on.stored()).length === 2);
    await on.key('8');
    await on.untilCounts('0 of 1 faces');
    await on.clickAt(0, 0);
    await on.untilCounts('1 of 1');
    await on.key('w');
    await untilAction('extrude', 1);
    await on.key('1');
    await h.rest();
    await pull('distance of Extrude', 0, -42);
    const tall = (await actionsOf(1))[0].distance as number;
    const mesh = await on.exported();
    const { min, max } = boundsOf(mesh);
    expect(max[0] - min[0]).toBeCloseTo(60, 6);
    expect(max[2] - min[2]).toBeCloseTo(30 * Math.sqrt(3), 5);
    expect(max[1] - min[1]).toBeCloseTo(tall, 5);
    expect(faceCount(mesh)).toBe(7);
  });
});
