/** Steps and faces: a bead lights up what it made, a face tells the beads that led to it, a kept selection follows. */
import { PNG } from 'pngjs';
import { Key, Origin } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Action } from '@urnsmith/core/actions/actions';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';

const at = await atBench({ sharp: true });

const bored: Piece[] = [
  {
    id: 'a',
    name: 'Block',
    base: { primitive: 'box', width: 100, height: 20, depth: 100 },
    steps: [
      { id: 's1', kind: 'cut', mode: 'subtract', cutters: ['pocket'] },
      { id: 's2', kind: 'bevel', scope: { rule: 'sharp', angle: 60 }, width: 6, segments: 1 },
    ],
  },
  {
    id: 'pocket',
    name: 'Pocket',
    role: 'cutter',
    parent: 'a',
    base: { primitive: 'box', width: 40, height: 20, depth: 40 },
    transform: { move: [0, 10, 0] },
  },
];

/** Colour at pixels from the middle of the stage. */
async function colourAt(x: number, y: number): Promise<number[]> {
  const r = await at.on.middle.getRect();
  const png = PNG.sync.read(Buffer.from(await at.on.h.picture(), 'base64'));
  const i = 4 * (Math.round(r.y + r.height / 2 + y) * png.width + Math.round(r.x + r.width / 2 + x));
  return [...png.data.subarray(i, i + 3)];
}
const pointAt = (x: number, y: number): Promise<void> =>
  at.browser.driver.actions({ async: true }).move({ origin: at.on.middle, x: Math.round(x), y: Math.round(y) }).perform(); // prettier-ignore
const told = (): Promise<string[]> =>
  at.browser.driver.executeScript(
    'return [...document.querySelectorAll(".bead.told b")].map((b) => b.textContent)',
  );

describe('what a step made', () => {
  it('lights up while its bead is pointed at, and a face tells its beads', async () => {
    const { on, h, browser } = at;
    await on.open('Making', bored);
    await h.pick('Block');
    await on.key('5');
    const mm = await on.scaleFrom(50);
    // Seen from above: the pocket's floor left of the middle, the top beside it, the rounded edge at the right.
    const floor: [number, number] = [-10 * mm, 8 * mm];
    const top: [number, number] = [-30 * mm, 8 * mm];
    // Nearer to the eye than the handle the scale was read off, it is seen from −46.5 to −51.
    const edge: [number, number] = [-48.8 * mm, 8 * mm];
    await browser.driver.actions({ async: true }).move({ origin: Origin.VIEWPORT, x: 5, y: 5 }).perform();
    const [plainFloor, plainTop] = [await colourAt(...floor), await colourAt(...top)];
    const blue = (c: number[]): number => c[2] - c[0];

    const beads = await browser.driver.findElements({ css: '[data-lane="Cut"] .bead' });
    await browser.driver.actions({ async: true }).move({ origin: beads[0] }).perform();
    await h.until('the floor lit', async () => blue(await colourAt(...floor)) > blue(plainFloor) + 30);
    expect(blue(await colourAt(...top))).toBeLessThan(blue(plainTop) + 10);

    await pointAt(...floor);
    await h.until('the cut told', async () => (await told()).join() === 'Pocket');
    expect(Math.abs(blue(await colourAt(...floor)) - blue(plainFloor))).toBeLessThan(10);
    await pointAt(...top);
    await h.until('the base told', async () => (await told()).join() === 'Box');
    await pointAt(...edge);
    await h.until('the rounding and the base told', async () => (await told()).join() === 'Box,Sharp edges');

    // Two clicks on a face put the step that made it on the Card.
    const a = browser.driver.actions({ async: true });
    await a.move({ origin: on.middle, x: Math.round(edge[0]), y: Math.round(edge[1]) }).doubleClick().perform(); // prettier-ignore
    await h.until('the rounding on the Card', async () => (await h.text('.card')).includes('Segments'));
  });
});

describe('a kept selection', () => {
  it('is what it was after actions that give all faces other numbers', async () => {
    const { on, h } = at;
    const base = { primitive: 'box', width: 60, height: 20, depth: 60, segments: [3, 1, 3] };
    await on.open('Kept', [{ id: 'a', name: 'Plate', base } as Piece]);
    await h.pick('Plate');
    await on.key('5');
    const mm = await on.scaleFrom(30);
    await on.key('8');
    await on.untilCounts('0 of 30 faces');
    await on.clickAt(-20 * mm, -20 * mm);
    await on.untilCounts('1 of 30 faces');
    await on.picks();
    await (await h.see('[aria-label="Name for the selection"]')).sendKeys('corner', Key.ENTER);
    await h.until('the name', async () => (await on.stored())[0].selections?.corner !== undefined);
    const kept = (await on.stored())[0].selections!.corner as { faces: number[] };
    expect(kept).toMatchObject({ after: 0 });

    // A face before it goes, so that it has another number; then what is recalled goes too.
    await h.focusStage();
    await on.clickAt(20 * mm, 20 * mm);
    await on.untilCounts('1 of 30 faces');
    await on.key(Key.DELETE);
    await on.untilCounts('of 29 faces');
    await on.picks();
    await h.press('corner', '.kept');
    await on.untilCounts('1 of 29 faces');
    await h.focusStage();
    await on.key(Key.DELETE);
    await on.untilCounts('of 28 faces');
    const [first, second] = (await on.stored())[0].actions as Array<Action & { select: { faces: number[] } }>;
    expect(first.select.faces[0]).toBeLessThan(kept.faces[0]);
    expect(second.select.faces).toEqual([kept.faces[0] - 1]);
  });
});

describe('a step', () => {
  it('acts on a kept selection chosen on the Card, and on what is kept under its name later', async () => {
    const { on, h } = at;
    const steps: Piece['steps'] = [{ kind: 'bevel', id: 's', scope: { rule: 'sharp', angle: 30 }, width: 2, segments: 1 }]; // prettier-ignore
    await on.open('Scope', [
      { ...bored[1], role: undefined, parent: undefined, selections: { lid: { faces: [4] } }, steps },
    ]);
    await h.pick('Pocket');
    await h.click('[data-lane="Edge"] .bead');
    const faces = (): Promise<string> => h.text('.rows [data-name="Pocket"] em');
    await h.until('all edges', async () => (await faces()) === '26');
    await h.press('named', '.card');
    // Four edges round one face: four strips, and no patch where two of them meet.
    await h.until('the edges of one face', async () => (await faces()) === '10');
    expect((await on.stored())[0].steps![0]).toMatchObject({ scope: { rule: 'kept', name: 'lid' } });
    // Another face under the same name.
    await on.key('5');
    await on.key('8');
    await h.press('at the base', '.ov');
    await on.untilCounts('0 of 6 faces');
    await on.key(Key.CONTROL, 'a');
    await on.untilCounts('6 of 6 faces');
    await on.picks();
    await (await h.see('[aria-label="Name for the selection"]')).sendKeys('lid', Key.ENTER);
    await h.until('rounded all over', async () => (await faces()) === '26');
  });
});

describe('many pieces of one shape', () => {
  it('are drawn together and still picked, moved and undone one by one', async () => {
    const { on, h, browser } = at;
    const boxes = Array.from({ length: 81 }, (_, i): Piece => ({
      id: `b${i}`,
      name: `Box ${i}`,
      base: { primitive: 'box', width: 8, height: 8, depth: 8 },
      color: i % 2 ? '#8f9c8c' : '#9c8f7a',
      transform: { move: [((i % 9) - 4) * 10, 4, (Math.floor(i / 9) - 4) * 10] },
    }));
    await on.open('Crowd', boxes, '?measure');
    const drawn = (): Promise<{ pieces: number; calls: number }> =>
      browser.driver.executeScript('return window.urnsmithMeasure.drawn()');
    await h.until('all drawn', async () => (await drawn()).pieces === 81);
    await h.until('few calls', async () => (await drawn()).calls < 20);
    await on.key('5');
    await h.rest();
    await on.clickAt(0, 0);
    await h.until('the one in the middle', async () => (await h.text('.strip .who b')) === 'Box 40');
    await on.key('s');
    await h.type('X', '200', '.placement [aria-label="Move"]');
    await h.until(
      'moved',
      async () => (await on.stored()).find((p) => p.id === 'b40')!.transform!.move![0] === 200,
    );
    await h.focusStage();
    await on.key(Key.CONTROL, 'z');
    await h.until(
      'back',
      async () => (await on.stored()).find((p) => p.id === 'b40')!.transform!.move![0] === 0,
    );
    expect((await drawn()).calls).toBeLessThan(40);
  });
});

describe('marks, chamfers and support loops', () => {
  it('are added by commands of their own, and retuned on the Card', async () => {
    const { on, h } = at;
    await on.open('Marks', [{ id: 'a', name: 'Block', base: { primitive: 'box', width: 40, height: 20, depth: 40 } }]); // prettier-ignore
    await h.pick('Block');
    const run = async (words: string): Promise<void> => {
      await h.focusStage();
      await on.key(' ');
      await (await h.see('.finderBox input')).sendKeys(words);
      await h.until(words, async () => (await h.text('.finderBox [cmdk-item] span')) === words);
      await h.keys(Key.ENTER);
    };
    const steps = async (): Promise<Array<Record<string, unknown>>> =>
      ((await on.stored())[0].steps ?? []) as unknown as Array<Record<string, unknown>>;
    const faces = (n: number): Promise<unknown> =>
      h.until(`${n} faces`, async () => (await h.text('.rows [data-name="Block"] em')) === String(n));
    await run('Marks, live');
    await h.until('the bead', async () => (await h.text('[data-lane="Edge"] .bead')).startsWith('Hard'));
    await h.until('its edges', async () => (await h.text('[data-lane="Edge"] .bead')).includes('12 edges'));
    await h.press('seam', '.card');
    await h.until('two marks', async () => String((await steps())[0].marks) === 'hard,seam');
    await on.key(Key.CONTROL, 'z');
    await on.key(Key.CONTROL, 'z');
    await h.until('no step', async () => !(await steps()).length);
    await run('Chamfer, live');
    await faces(6 + 12 + 8);
    expect((await steps())[0]).toMatchObject({ kind: 'bevel', segments: 1, profile: 0 });
    await on.key(Key.CONTROL, 'z');
    await faces(6);
    await run('Support loops, live');
    await h.until('the bead', async () => (await h.text('[data-lane="Edge"] .bead')).startsWith('Loops'));
    await faces(6 + 24 + 8 * 3);
  });
});
