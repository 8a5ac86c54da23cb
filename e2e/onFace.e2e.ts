/** Places on faces: distances shown and typed, what was drawn keeps its sizes and its place, cutters drawn on cutters. */
import { By, Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';

const { on, h } = await atBench();

const BLOCK: Piece = {
  id: 'a',
  name: 'Block',
  base: { primitive: 'box', width: 120, height: 40, depth: 80 },
};
const to = (x: number, y: number): Promise<void> =>
  h.driver.actions({ async: true }).move({ origin: on.middle, x, y }).perform();
const named = async (name: string): Promise<Piece> => (await on.stored()).find((p) => p.name === name)!;
const cutters = async (): Promise<Piece[]> => (await on.stored()).filter((p) => p.role === 'cutter');
const focused = (): Promise<string | null> =>
  h.driver.executeScript(
    'const e = document.querySelector(":focus"); return e?.getAttribute("aria-label") ?? e?.closest("[data-field]")?.textContent',
  );

/** Tab goes on until a number on the model has the keys, then the number is typed there. */
async function typeAt(side: string, value: string): Promise<void> {
  await h.until(`the distance from the ${side}`, async () => {
    await h.driver.actions({ async: true }).sendKeys(Key.TAB).perform();
    return (await focused())?.endsWith(`from the ${side}`);
  });
  await h.driver.actions({ async: true }).sendKeys(...value, Key.ENTER).perform(); // prettier-ignore
}
const shown = (side: string): Promise<number> =>
  h.driver.executeScript(
    `return Number(document.querySelector('[aria-label$="from the ${side}"]')?.getAttribute('aria-valuenow'))`,
  );
async function framed(name: string): Promise<void> {
  await h.pick(name);
  await on.key('n');
  await h.rest();
}

describe('four holes on a plate', () => {
  it('are placed by typed distances, keep to their face, and go with it', async () => {
    await on.open('Plate', [BLOCK]);
    await framed('Block');
    await h.find('Place holes on faces');
    await h.until('the tool', async () => (await h.text('.toolline b')) === 'Holes');
    const corners = [['left', 'back'], ['right', 'back'], ['left', 'front'], ['right', 'front']]; // prettier-ignore
    for (const [k, [a, b]] of corners.entries()) {
      await to(-40 + 3 * k, -70);
      await h.until('distances', async () => (await h.driver.findElements(By.css('.handle'))).length === 4);
      if (!k) await h.type('Radius', '4');
      await to(-38 + 3 * k, -70);
      await typeAt(a, '10');
      await typeAt(b, '12');
      expect(await shown(a)).toBe(10);
      await on.key(Key.ENTER);
      await h.until('set down', async () => (await cutters()).length === k + 1);
    }
    await on.key(Key.ESCAPE);
    const places = async (): Promise<number[][]> =>
      (await cutters()).reverse().map((p) => [p.transform!.move![0], p.transform!.move![2]]);
    expect(await places()).toEqual([[-50, -28], [50, -28], [-50, 28], [50, 28]]); // prettier-ignore
    for (const p of await cutters()) expect(p).toMatchObject({ reach: 'through', anchors: [{ hold: 'distance' }, { hold: 'centre' }] }); // prettier-ignore
    // On the Card of one of them the same distances stand, and typed there they move it.
    await h.pick('Hole');
    await h.type('left', '15');
    await h.until('moved', async () => (await places())[0][0] === -45);
    // Taller, the block is still bored right through.
    await h.pick('Block');
    await h.type('Height', '60');
    await h.saved();
    await h.pick('Hole');
    await h.until('told', async () => (await h.text('.card')).includes('mm deep as the piece is now'));
    const mesh = await on.exported();
    const edges = mesh.corners.length / 2;
    expect(mesh.positions.length / 3 - edges + mesh.faceStart.length - 1).toBe(2 - 2 * 4);
  });
});

describe('a drawn cut', () => {
  it('asks for its size where the drag is too small, and takes one smaller than the drag', async () => {
    await on.open('Small', [BLOCK]);
    await framed('Block');
    await on.key(Key.ALT, 'q');
    await h.press('round', '.card');
    await h.drag(on.middle, [-30, -60], [1, 0]);
    await h.until('asked', async () => (await focused())?.startsWith('Across'));
    expect(await h.text('.card')).toContain('no area');
    expect(await h.text('.toolline b')).toBe('Draw a cut');
    await h.type('Across', '8');
    await h.press('To the depth', '.card');
    await h.until('the depth', async () => (await h.text('.card')).includes('pull the depth'));
    await h.type('Depth', '6');
    await on.key(Key.ENTER);
    await h.until('the hole', async () => (await cutters()).length === 1);
    expect(await named('Hole')).toMatchObject({ base: { primitive: 'cylinder', radius: 4 } });
    // A larger drag, and a smaller number.
    await h.drag(on.middle, [30, -60], [60, 50]);
    await h.type('Across', '5');
    await on.key(Key.ENTER);
    await h.until('the second', async () => (await cutters()).length === 2);
    expect(await named('Hole 2')).toMatchObject({ base: { radius: 2.5 } });
  }); // prettier-ignore

  it('keeps its sizes and its depth as numbers, and its place when the body gets wider', async () => {
    await on.open('Slots', [BLOCK]);
    await framed('Block');
    await on.key(Key.ALT, 'q');
    await h.press('slot', '.card');
    // On the front, which looks towards us.
    await h.drag(on.middle, [-110, 50], [90, 60]);
    await h.type('Width', '8');
    await h.type('Length', '30');
    await h.type('Depth', '5');
    await on.key(Key.ENTER);
    await h.until('the slot', async () => (await cutters()).length === 1);
    await on.key(Key.ESCAPE);
    const before = await named('Slot');
    expect(before).toMatchObject({ base: { primitive: 'slot', length: 30, width: 8 }, anchors: [{ hold: 'distance' }, { hold: 'centre' }] });
    await h.pick('Slot');
    await h.until('its depth', async () => (await h.text('.card')).includes('Under its face'));
    await h.type('Under its face', '7');
    await h.saved();
    await h.pick('Block');
    await h.type('Depth', '92');
    await h.saved();
    await h.pick('Slot');
    // The face is 6 mm further out, the slot 2 mm deeper than it was drawn.
    await h.until('the depth', async () => (await h.text('.card')).includes('Under its face'));
    const depth = await h.driver.executeScript<string>(
      'return [...document.querySelectorAll("[data-field]")].find((f) => f.textContent.includes("Under its face")).querySelector("input").value',
    );
    expect(Number(depth)).toBe(7);
    expect(await h.text('.rows [data-name="Slot"]')).toContain('cuts');
    const mesh = await on.exported();
    expect(mesh.faceStart.length - 1).toBeGreaterThan(20);
    const front = Math.max(...[...mesh.positions].filter((_, i) => i % 3 === 2));
    expect(front).toBeCloseTo(46, 4);
  }); // prettier-ignore

  it('says how many of a row run over an edge, and how many of a live one miss', async () => {
    await on.open('Row', [BLOCK]);
    await framed('Block');
    await on.key(Key.ALT, 'q');
    await h.press('round', '.card');
    await h.press('line', '.card');
    await h.type('Count', '9');
    await h.type('Gap', '10');
    await to(-30, -60);
    await h.drag(on.middle, [-30, -60], [20, 20]);
    await h.type('Across', '10');
    await h.until('told', async () => /\d of 9 run over an edge of the face/.test(await h.text('.card')));
    const over = Number(/(\d) of 9 run over/.exec(await h.text('.card'))![1]);
    expect(over).toBeGreaterThan(2);
    await on.key(Key.ENTER);
    await h.until('the row', async () => (await cutters()).length === 1);
    await on.key(Key.ESCAPE);
    await h.until('marked', async () => /\d of 9 miss/.test(await h.text('.rows [data-name="Hole"]')));
  });

  it('is measured to the sides as they are before later steps round them off', async () => {
    const rounded: Piece = {
      ...BLOCK,
      steps: [{ kind: 'bevel', scope: { rule: 'all' }, width: 6, segments: 2 }],
    };
    await on.open('Rounded', [rounded]);
    await framed('Block');
    await on.key(Key.ALT, 'q');
    await to(-30, -60);
    await h.until('distances', async () => (await h.driver.findElements(By.css('.handle'))).length === 4);
    expect((await shown('left')) + (await shown('right'))).toBeCloseTo(120, 3);
    expect((await shown('back')) + (await shown('front'))).toBeCloseTo(80, 3);
  });

  it('on the floor of another cut gets a step after that, and holds to the floor', async () => {
    await on.open('Floor', [BLOCK]);
    await framed('Block');
    await on.key(Key.ALT, 'q');
    await h.drag(on.middle, [-60, -60], [60, 40]);
    for (const [label, value] of [['Width', '80'], ['Length', '50'], ['left', '20'], ['back', '15'], ['Depth', '6']])
      await h.type(label, value);
    await on.key(Key.ENTER);
    await h.until('the pocket', async () => (await cutters()).length === 1);
    await h.drag(on.middle, [-20, -30], [40, 20]);
    await h.type('Depth', '3');
    await on.key(Key.ENTER);
    await h.until('the second', async () => (await cutters()).length === 2);
    expect((await named('Block')).steps).toMatchObject([{ kind: 'cut' }, { kind: 'cut' }]);
    const second = await named('Pocket 2');
    expect(second.anchors).toMatchObject([{ hold: 'distance', facing: [0, 1, 0], to: [{ at: [0, 14, 0] }] }, { hold: 'centre' }]);
    await on.key(Key.ESCAPE);
    // Deeper, the first takes the second with it.
    await h.pick('Pocket');
    await h.type('Under its face', '10');
    await h.saved();
    await h.pick('Pocket 2');
    await h.until('it went down', async () => {
      const [y] = await h.driver.findElements(By.css('.placement [aria-label="Move"] [data-field]:nth-of-type(2) input'));
      return Number(await y?.getAttribute('value')) === Number((second.transform!.move![1] - 4).toFixed(4));
    });
  }); // prettier-ignore

  it('is drawn on a cutter that is selected', async () => {
    await on.open('On a cutter', [
      { ...BLOCK, steps: [{ id: 's1', kind: 'cut', mode: 'subtract', cutters: ['c'] }] },
      { id: 'c', name: 'Core', role: 'cutter', parent: 'a', base: { primitive: 'box', width: 60, height: 40, depth: 50 }, transform: { move: [0, 20, 0] } },
    ]);
    await framed('Core');
    await on.key(Key.ALT, 'q');
    await h.drag(on.middle, [-30, -60], [50, 30]);
    await h.type('Depth', '6');
    await on.key(Key.ENTER);
    await h.until('the pocket', async () => (await on.stored()).length === 3);
    expect(await named('Pocket')).toMatchObject({ role: 'cutter', parent: 'c' });
    expect((await named('Core')).steps).toMatchObject([{ kind: 'cut', mode: 'subtract' }]);
    expect((await named('Block')).steps).toMatchObject([{ cutters: ['c'] }]);
  }); // prettier-ignore
});

describe('a piece', () => {
  it('is seated on a face by its lowest place, wherever its origin is, at a distance that is typed', async () => {
    await on.open('Seat', [
      BLOCK,
      { id: 'k', name: 'Knob', base: { primitive: 'sphere', radius: 9, sides: 16, rings: 8 }, transform: { move: [150, 80, 0] } },
    ]);
    await framed('Block');
    await h.pick('Knob');
    await h.find('Seat on a face');
    await h.until('the tool', async () => (await h.text('.toolline b')) === 'Seat');
    await to(-40, -70);
    await h.until('distances', async () => (await h.driver.findElements(By.css('.handle'))).length === 4);
    await typeAt('left', '20');
    await typeAt('front', '25');
    await on.key(Key.ENTER);
    await h.until('seated', async () => (await h.text('.toolline b')) === 'Select');
    const { move } = (await named('Knob')).transform!;
    [-40, 29, 15].forEach((x, k) => expect(move![k]).toBeCloseTo(x, 4));
    expect(await on.stored()).toHaveLength(2);
  }); // prettier-ignore
});
