/** Two props modelled by hand in the real interface, from an empty scene to the exported file. */
import { Key, type WebElement } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { checkMesh } from '@urnsmith/core/mesh/checkMesh';
import { boundsOf, eulerCharacteristic, faceKinds, volume } from '@urnsmith/core/mesh/measure';
import { faceCount } from '@urnsmith/core/mesh/PolyMesh';
import { atBench } from './atBench';

const { browser, on, h } = await atBench();
let middle: WebElement;
let s = 1;

async function openScene(name: string): Promise<void> {
  await on.open(name);
  middle = on.middle;
}
const stored = () => on.stored();
const lastAction = () => on.lastAction();
const untilCounts = (text: string) => on.untilCounts(text);
const clickAt = (x: number, y: number, ...held: string[]) => on.clickAt(x, y, ...held);
const scaleFrom = (halfWidth: number, dimension?: string) => on.scaleFrom(halfWidth, dimension);
const key = (...keys: string[]) => on.key(...keys);
const act = (title: string, ...keys: string[]) => on.act(title, ...keys);
const exported = () => on.exported();

describe('A studded cover plate', () => {
  it('begins as a box, viewed from above', async () => {
    await openScene('Cover plate');
    await h.press('Start with a box');
    await h.pick('Box');
    for (const [label, value] of [['Width', '120'], ['Height', '8'], ['Depth', '80']] as const) await h.type(label, value); // prettier-ignore
    await key('5');
    await key('p');
    await key('n');
    await h.rest();
    s = await scaleFrom(60);
    await key('8');
    await untilCounts('0 of 6 faces');
  });

  it('is divided by ring cuts, retuned on the Card', async () => {
    await key('9');
    // The long edge nearest to the viewer's bottom: its ring divides the length.
    await clickAt(0, 40 * s);
    await untilCounts('1 of 12 edges');
    // In hand it says what it would take; again, it takes that.
    await key('r');
    expect(await h.text('.toolline')).toContain('cuts the 1 picked');
    await key('r');
    await untilCounts('of 20 edges');
    await h.type('Loops', '3', '.lastAction');
    await h.until('three loops', async () => (await lastAction()).count === 3);
    expect((await stored())[0].actions).toHaveLength(1);
    // One undo takes the cut back as a whole.
    await clickAt(60 * s, 0);
    await untilCounts('1 of');
    await key('r');
    await key(Key.ENTER);
    await h.until('the second cut', async () => (await stored())[0].actions?.length === 2);
  });

  it('gets studs: faces picked, inset each, made round, extruded, their rims bevelled', async () => {
    await key('8');
    // A box over the upper face from above picks what is seen: its eight faces.
    await h.drag(middle, [68 * s, -44 * s], [-136 * s, 87 * s]);
    await untilCounts('8 of');
    await act('Inset', Key.SHIFT, 'e');
    await h.type('Thickness', '6', '.lastAction');
    await h.until('the insets', async () => (await lastAction()).thickness === 6);
    await untilCounts('8 of');
    await act('Make round', Key.SHIFT, 't');
    await h.type('Radius', '7', '.lastAction');
    await untilCounts('8 of');
    await act('Extrude', 'w');
    await h.type('Distance', '5', '.lastAction');
    await h.until('the studs', async () => (await lastAction()).distance === 5);
    await key(Key.ALT, 'h');
    await untilCounts('32 of');
    await act('Bevel', 't');
    await h.type('Width', '1', '.lastAction');
    await h.until('the bevels', async () => (await lastAction()).width === 1);
    expect((await stored())[0].actions!.map((a) => a.op)).toEqual(['ringCut', 'ringCut', 'inset', 'makeRound', 'extrude', 'bevel']); // prettier-ignore
  });

  it('is smoothed live behind its cage, and switched back', async () => {
    const faces = async (): Promise<number> =>
      Number((await h.text('.rows [data-name="Box"] em')).replace(/\s/g, ''));
    const before = await faces();
    await key(Key.SHIFT, 'y');
    await h.until('the smooth surface', async () => (await faces()) > 8 * before);
    await key(Key.SHIFT, 'y');
    await h.until('the cage again', async () => (await faces()) === before);
  });

  it('comes out closed, with the studs on it', async () => {
    const mesh = await exported();
    expect(checkMesh(mesh).closed).toBe(true);
    expect(eulerCharacteristic(mesh)).toBe(2);
    const { min, max } = boundsOf(mesh);
    const unit = (max[0] - min[0]) / 120;
    expect((max[1] - min[1]) / unit).toBeCloseTo(13, 4);
    // Eight round studs of radius 7 as octagons or squares, less their bevels, on the plate.
    const body = volume(mesh) / unit ** 3;
    expect(body).toBeGreaterThan(120 * 8 * 80 + 8 * 5 * 2 * 49 * 0.8);
    expect(body).toBeLessThan(120 * 8 * 80 + 8 * 5 * Math.PI * 49);
    expect(faceCount(mesh)).toBeGreaterThan(100);
    expect(faceKinds(mesh).ngons).toBeLessThan(faceCount(mesh) / 3);
  });
});

describe('A slice of a toothed drum', () => {
  it('begins as a disc, viewed from above', async () => {
    await openScene('Drum slice');
    await h.focusStage();
    await browser.driver.actions().sendKeys(' ').perform();
    const search = await h.see('[cmdk-input]');
    await search.sendKeys('Add disc', Key.ENTER);
    await h.type('Radius', '50');
    await h.type('Sides', '24');
    await key('5');
    await key('p');
    await key('n');
    await h.rest();
    s = await scaleFrom(50, 'radius');
    await key('8');
    await untilCounts('0 of 1 faces');
  });

  it('is cut across with the knife, bending inside the face, and loses all but one wedge', async () => {
    const at = (degrees: number, r: number): [number, number] => [
      r * s * Math.cos((degrees * Math.PI) / 180),
      -r * s * Math.sin((degrees * Math.PI) / 180),
    ];
    await key('q');
    // From one corner of the rim to the middle and out to another, snapping to the corners.
    await clickAt(...at(0, 50));
    await clickAt(0, 0);
    await clickAt(...at(60, 50));
    await key(Key.ENTER);
    await untilCounts('of 26 edges');
    await key('8');
    await clickAt(...at(200, 20));
    await untilCounts('1 of 2 faces');
    await key(Key.DELETE);
    await untilCounts('of 1 faces');
    expect((await stored())[0].actions!.map((a) => a.op)).toEqual(['knife', 'deleteFaces']);
  });

  it('gets a body by extruding, with its underside filled', async () => {
    await clickAt(25 * s * Math.cos(Math.PI / 6), -25 * s * Math.sin(Math.PI / 6));
    await untilCounts('1 of 1 faces');
    await act('Extrude', 'w');
    await h.type('Distance', '10', '.lastAction');
    await untilCounts('1 of 7 faces');
    await key('9');
    await h.press('6 open');
    await untilCounts('6 of');
    await act('Fill', 'x');
    await untilCounts('1 of 8 faces');
  });

  it('gets a tooth, and loses the wall it will be mirrored at', async () => {
    await key('2');
    // From the right, the second facet of the rim lies between 15° and 30°.
    await clickAt(50 * s * Math.sin((22.5 * Math.PI) / 180), -5 * s);
    await untilCounts('1 of 8 faces');
    await act('Extrude', 'w');
    await h.type('Distance', '6', '.lastAction');
    await untilCounts('1 of 12 faces');
    await key('1');
    await clickAt(25 * s, -5 * s);
    await untilCounts('1 of 12 faces');
    await act('Delete faces', Key.DELETE);
    await untilCounts('0 of 11 faces');
  });

  it('is mirrored once and welded, with the count told', async () => {
    await key(Key.CONTROL, 'a');
    await untilCounts('11 of 11 faces');
    await on.tool('Mirror once');
    await h.until('the mirrored half', async () => (await h.text('.lastAction .head b')) === 'Mirror once');
    await h.type('Z', '1', '[aria-label="Facing"]');
    await h.type('X', '0', '[aria-label="Facing"]');
    await h.tick('Weld on the plane', '.lastAction');
    await h.until('no welding', async () => (await lastAction()).weld === false);
    await key('0');
    await key(Key.CONTROL, 'a');
    await act('Weld', 'z');
    expect(await h.text('.lastAction [role=status]')).toBe('Welded 8 points into 4.');
  });

  it('comes out closed, with the volume a drawing gives', async () => {
    const mesh = await exported();
    expect(checkMesh(mesh).closed).toBe(true);
    expect(eulerCharacteristic(mesh)).toBe(2);
    const { min, max } = boundsOf(mesh);
    const unit = (max[1] - min[1]) / 10;
    const wedge = 4 * 0.5 * 50 * 50 * Math.sin(Math.PI / 12) * 10;
    const tooth = 2 * 50 * Math.sin(Math.PI / 24) * 10 * 6;
    expect(volume(mesh) / unit ** 3).toBeCloseTo(2 * (wedge + tooth), 1);
    expect(faceCount(mesh)).toBe(22);
  });
});

describe('Picking, moving and placing on a gridded slab', () => {
  const mm = (x: number, z: number): [number, number] => [x * s, z * s];

  it('begins seen from above, at Point level', async () => {
    await openScene('Slab');
    await h.press('Start with a box');
    await h.pick('Box');
    for (const [label, value] of [['Width', '60'], ['Height', '10'], ['Depth', '40']] as const) await h.type(label, value); // prettier-ignore
    for (const [axis, value] of [
      ['X', '6'],
      ['Z', '4'],
    ] as const)
      await h.type(axis, value, '[aria-label="Segments"]');
    await key('5');
    await key('p');
    await key('n');
    await h.rest();
    s = await scaleFrom(30);
    await key('0');
    await untilCounts('0 of 70 points');
  });

  it('boxes what is seen, or through the whole depth', async () => {
    await h.drag(middle, mm(5, -25), mm(10, 50));
    await untilCounts('5 of');
    await key(Key.SHIFT, 'u');
    await h.drag(middle, mm(5, -25), mm(10, 50));
    await untilCounts('10 of');
    await key(Key.SHIFT, 'u');
  });

  it('lassoes with Alt, paints with Ctrl, adds and takes away with Shift', async () => {
    await key('8');
    await untilCounts('of 68 faces');
    const gesture = async (modifier: string, way: Array<[number, number]>): Promise<void> => {
      const a = browser.driver.actions().keyDown(modifier);
      way.forEach(([x, y], k) => {
        a.move({ origin: middle, x: Math.round(x), y: Math.round(y), duration: 30 });
        if (k === 0) a.press();
      });
      await a.release().keyUp(modifier).perform();
    };
    await clickAt(...mm(0, -24));
    await untilCounts('0 of 68');
    // A triangle round the middles of three faces.
    await gesture(Key.ALT, [mm(-28, -18), mm(-2, -18), mm(-28, -1), mm(-28, -10)]);
    await untilCounts('3 of 68');
    await gesture(Key.CONTROL, [mm(5, 15), mm(15, 15), mm(25, 15)]);
    await untilCounts('6 of 68');
    await clickAt(...mm(15, 15), Key.SHIFT);
    await untilCounts('5 of 68');
  });

  it('keeps a selection under a name, and recalls it after others', async () => {
    await on.picks();
    const field = await h.see('[aria-label="Name for the selection"]');
    await field.sendKeys('five', Key.ENTER);
    await h.until('the name', async () => (await stored())[0].selections?.five !== undefined);
    await key(Key.CONTROL, 'a');
    await untilCounts('68 of 68');
    await on.picks();
    await h.press('five', '.kept');
    await untilCounts('5 of 68');
  });

  it('picks by loop, ring, growth, likeness and count', async () => {
    await key('9');
    await clickAt(...mm(5, 0));
    await untilCounts('1 of 136 edges');
    await key('h');
    await untilCounts('14 of 136');
    await clickAt(...mm(5, 0));
    await key(Key.SHIFT, 'h');
    await untilCounts('10 of 136');
    await key('8');
    await untilCounts('0 of 68');
    await clickAt(...mm(5, 5));
    await untilCounts('1 of 68');
    await key('.');
    await untilCounts('9 of 68');
    await key(',');
    await untilCounts('1 of 68');
    await key('j');
    await untilCounts('24 of 68');
    await h.press('68 quad');
    await untilCounts('68 of 68');
  });

  it('moves softly while a tool is in hand, typed numbers retune it, undo takes it back whole', async () => {
    await key('0');
    await key(Key.SHIFT, 'a');
    await clickAt(...mm(0, 0));
    await untilCounts('1 of 70');
    await key('s');
    await h.drag(middle, mm(0, 0), mm(8, 0));
    await h.until('the move', async () => (await lastAction()).op === 'transform');
    const moved = await lastAction();
    expect(moved.reach).toBe(20);
    expect((moved.move as number[])[0]).toBeCloseTo(8, 0);
    await h.type('Y', '4', '.lastAction [aria-label="Move"]');
    await h.until('the retuned move', async () => ((await lastAction()).move as number[])[1] === 4);
    expect((await stored())[0].actions).toHaveLength(1);
    await key(Key.CONTROL, 'z');
    await h.until('the slab as it was', async () => (await stored())[0].actions === undefined);
    await key(Key.SHIFT, 'a');
  });

  it('borrows a tool while its key is held', async () => {
    const tool = (): Promise<string> => h.text('.toolline b');
    await key('a');
    expect(await tool()).toBe('Select');
    await browser.driver.actions().keyDown('d').perform();
    expect(await tool()).toBe('Turn');
    // Longer than a key is down that is only pressed.
    await browser.driver.sleep(400);
    // A gesture with it, beside the piece, and it is given back.
    await clickAt(250, 150);
    await browser.driver.actions().keyUp('d').perform();
    await h.until('the tool given back', async () => (await tool()) === 'Select');
    await key('d');
    expect(await tool()).toBe('Turn');
    await key('a');
  });

  it('says why a tool cannot act, and changes nothing', async () => {
    await key('9');
    await clickAt(...mm(5, 0));
    await untilCounts('1 of 136');
    await key('x');
    await h.until('the reason', async () => (await h.text('.notice')).includes('there is no hole to fill'));
    expect((await stored())[0].actions).toBeUndefined();
  });

  it('seats the grid on a face, puts a new piece there, looks square-on and levels it again', async () => {
    await key('8');
    await key('1');
    // From the front, the middle of the slab's front side.
    await clickAt(...mm(5, 0));
    await untilCounts('1 of 68');
    await key(Key.SHIFT, 'i');
    await key('7');
    await h.focusStage();
    await browser.driver.actions().sendKeys(' ').perform();
    await (await h.see('[cmdk-input]')).sendKeys('Add cylinder', Key.ENTER);
    await h.until('the cylinder', async () => (await stored()).length === 2);
    const t = (await stored())[1].transform!;
    expect(t.move).toEqual([5, 5, 20].map((x) => expect.closeTo(x, 6)));
    // Its axis stands out of the side.
    expect(Math.abs(t.turn![0])).toBeCloseTo(90, 6);
    await key(Key.ALT, 'i');
    await h.until('levelled', async () => (await h.text('.toolline b')) === 'Select');
  });

  it('places another like the last duplicate, aligns and settles', async () => {
    await h.pick('Cylinder');
    await h.focusStage();
    await key(Key.CONTROL, 'd');
    await h.until('the copy', async () => (await stored()).length === 3);
    await h.type('X', '17', '.placement [aria-label="Move"]');
    await h.focusStage();
    await h.chord(Key.ALT, 'r');
    await h.until('the next', async () => (await stored()).length === 4);
    await h.until('its place', async () => Math.abs((await stored())[3].transform!.move![0] - 29) < 1e-6);
    await h.type('Y', '2', '.placement [aria-label="Size"]');
    await h.press('Apply all', '.placement');
    await h.until('the settled piece', async () =>
      (await stored())[3].transform!.move!.every((x) => x === 0),
    );
    expect((await stored())[3].actions!.map((a) => a.op)).toEqual(['transform']);
  });
});

it('stores the mesh instead of actions that have grown long, and undo leads back over it', async () => {
  const faces = Array.from({ length: 45000 }, (_, f) => f % 20000);
  const base = { primitive: 'plane' as const, width: 100, depth: 100, segments: [200, 100] };
  const actions = [{ op: 'push', select: { faces }, distance: 1 }];
  await on.open('Long', [{ id: 'p', name: 'A field of many faces', base, actions }]);
  await h.pick('A field of many faces');
  await key('8');
  await untilCounts('0 of 20 000 faces');
  await key(Key.CONTROL, 'a');
  await untilCounts('20 000 of 20 000');
  await on.tool('Turn over');
  await h.until('the stored mesh', async () => 'blob' in (await stored())[0].base);
  expect((await stored())[0].actions!.map((a) => a.op)).toEqual(['turnOver']);
  await untilCounts('20 000 of 20 000');
  await key(Key.CONTROL, 'z');
  await h.until('the actions again', async () => (await stored())[0].actions?.[0].op === 'push');
  expect((await stored())[0].base).toEqual(base);
});
