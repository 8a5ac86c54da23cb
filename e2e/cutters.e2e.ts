/** Cutters that belong to what they cut, as a person meets them. */
import { By, Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';

const at = await atBench();

const named = async (name: string): Promise<Piece> =>
  (await at.on.stored()).find((p) => (p.name ?? p.id) === name)!;
const cuttersOf = async (name: string): Promise<string[]> =>
  ((await named(name)).steps![0] as { cutters: string[] }).cutters;

describe('a cutter', () => {
  it('moves with its host, is copied with it or into its step, and stays in the world on demand', async () => {
    const { on, h } = at;
    await on.open('Belongs', [
      { id: 'block', name: 'Block', base: { primitive: 'box', width: 60, height: 20, depth: 60 } },
      {
        id: 'bore',
        name: 'Bore',
        base: { primitive: 'cylinder', radius: 6, height: 60, sides: 12 },
        transform: { move: [10, 0, 10] },
      },
    ]);
    await h.pick('Bore', 'Block');
    await on.key('q');
    await h.until('nested', async () => (await named('Bore')).parent === 'block');
    const holed = async (): Promise<unknown> =>
      h.until('the hole', async () => /\b(1[89]|20) faces/.test(await h.text('.count')));
    await on.key(Key.ESCAPE);
    await h.pick('Block');
    await holed();
    await h.type('X', '50', '.placement [aria-label="Move"]');
    await h.until('moved', async () => (await named('Block')).transform?.move?.[0] === 50);
    expect((await named('Bore')).transform!.move).toEqual([10, 0, 10]);
    await holed();
    // A copy of the host has a cutter of its own.
    await on.key(Key.CONTROL, 'd');
    await h.until('the copies', async () => (await on.stored()).length === 4);
    expect(await cuttersOf('Block 2')).toEqual([(await named('Bore 2')).id]);
    // A copy of the cutter alone cuts in the same step.
    await h.pick('Bore');
    await on.key(Key.CONTROL, 'd');
    await h.until('one more', async () => (await on.stored()).length === 5);
    expect(await cuttersOf('Block')).toEqual(['bore', (await named('Bore 3')).id]);
    await h.pick('Bore');
    await h.click('.placement .check input');
    await h.until('out of its host', async () => (await named('Bore')).parent === undefined);
    expect((await named('Bore')).transform!.move).toEqual([60, 0, 10]);
    // Pieces that belong to the host move with it; those kept in the world do not.
    await h.pick('Block');
    await on.key(Key.DELETE);
    await h.until('gone', async () => (await on.stored()).length === 3);
    expect((await on.stored()).map((p) => p.name).sort()).toEqual(['Block 2', 'Bore', 'Bore 2']);
  });
});

describe('the mode of a cut', () => {
  it('is changed on the Card, what follows stays, and undo leads back', async () => {
    const { on, h } = at;
    await on.open('Modes', [
      {
        id: 'block',
        name: 'Block',
        base: { primitive: 'box', width: 60, height: 20, depth: 60 },
        steps: [
          { id: 's1', kind: 'cut', mode: 'subtract', cutters: ['bore'] },
          { id: 's2', kind: 'bevel', width: 1, segments: 2, scope: { rule: 'rims' } },
        ],
      },
      {
        id: 'bore',
        name: 'Bore',
        role: 'cutter',
        parent: 'block',
        base: { primitive: 'cylinder', radius: 8, height: 60, sides: 12 },
      },
    ]);
    await h.pick('Block');
    const counts = (faces: number): Promise<unknown> =>
      h.until(`${faces} faces`, async () => new RegExp(`\\b${faces} faces`).test(await h.text('.count')));
    const step = async (): Promise<Record<string, unknown>> =>
      (await named('Block')).steps![0] as unknown as Record<string, unknown>;
    // Sides 4, top and bottom in two each, the wall 12, two rims of two strips.
    await counts(4 + 4 + 12 + 2 * 24);
    await h.click('[data-lane="Cut"] .bead');
    await h.press('recess', '.seg');
    await h.until('recess', async () => (await step()).mode === 'recess');
    // Two floors more, and walls on either side.
    await counts(4 + 4 + 2 * 12 + 2 + 2 * 24);
    await h.see('[aria-label="Warnings"]');
    await h.press('split', '.seg');
    await h.type('Gap', '2');
    await h.until('the gap', async () => (await step()).gap === 2);
    await counts(4 + 4 + 12 + 2 * 24 + (12 + 2 + 2 * 24));
    await h.press('outside', '.seg');
    await h.until('one half', async () => (await step()).keep === 'outside');
    await counts(4 + 4 + 12 + 2 * 24);
    for (let k = 0; k < 4; k++) await on.key(Key.CONTROL, 'z');
    await h.until('as it was', async () => (await step()).mode === 'subtract' && (await step()).keep === undefined); // prettier-ignore
    await counts(4 + 4 + 12 + 2 * 24);
  });
});

describe('one of many cutters', () => {
  it('is dragged with the others kept, and cut whole when the hand lets go', async () => {
    const { on, h, browser } = at;
    const bores = Array.from({ length: 9 }, (_, i): Piece => ({
      id: `c${i}`,
      name: `Bore ${i + 1}`,
      role: 'cutter',
      parent: 'plate',
      base: { primitive: 'cylinder', radius: 6, height: 40, sides: 12 },
      transform: { move: [((i % 3) - 1) * 30, 0, (Math.floor(i / 3) - 1) * 30] },
    }));
    const plate: Piece = {
      id: 'plate',
      name: 'Plate',
      base: { primitive: 'box', width: 120, height: 10, depth: 120 },
      steps: [{ id: 's1', kind: 'cut', mode: 'subtract', cutters: bores.map((b) => b.id) }],
    };
    await on.open('Bores', [plate, ...bores]);
    await h.pick('Plate');
    await on.key('5');
    const mm = await on.scaleFrom(60);
    const faces = (): Promise<string> => h.text('.rows [data-name="Plate"] em');
    await h.until('the holes', async () => Number(await faces()) > 100);
    const whole = await faces();
    await h.pick('Bore 5');
    await on.key('s');
    // A draft gives way to the whole cut as soon as the hand rests: all that was shown is kept.
    await browser.driver.executeScript(`
      const shown = (window.facesShown = new Set());
      const look = () => shown.add(document.querySelector('.rows [data-name="Plate"] em')?.textContent);
      new MutationObserver(look).observe(document.body, { subtree: true, childList: true, characterData: true });
    `);
    await h.drag(on.middle, [3 * mm, 3 * mm], [6 * mm, 0]);
    await h.until('the move', async () => (await named('Bore 5')).transform!.move![0] > 3);
    // The walls are as many as ever, and the top is divided as seldom as can be again.
    await h.until('the whole cut', async () => (await faces()) === whole);
    const shown = await browser.driver.executeScript<string[]>('return [...window.facesShown]');
    expect(Math.max(...shown.map(Number).filter((n) => n > 0))).toBeGreaterThan(Number(whole));
    await h.rest();
    expect(await faces()).toBe(whole);
  });
});

describe('a recess', () => {
  it('has its thickness as a number on the model, which is typed there', async () => {
    const { on, h } = at;
    const disc: Piece = { id: 'c', name: 'Disc', role: 'cutter', parent: 'a', base: { primitive: 'cylinder', radius: 9, height: 10, sides: 12 }, transform: { move: [0, 6, 0] } }; // prettier-ignore
    await on.open('Layer', [
      {
        id: 'a',
        name: 'Plate',
        base: { primitive: 'box', width: 60, height: 12, depth: 40 },
        steps: [{ id: 's1', kind: 'cut', mode: 'recess', thickness: 3, cutters: ['c'] }],
      },
      disc,
    ]);
    await h.pick('Plate');
    await h.click('[data-lane="Cut"] .bead');
    await h.see('.handle[aria-label="thickness of Plate"]');
    await h.click('.handle[aria-label="thickness of Plate"]');
    await h.driver.actions().sendKeys('4.5', Key.ENTER).perform();
    const thickness = async (): Promise<unknown> => (await on.stored())[0].steps![0];
    await h.until(
      'the thickness',
      async () => ((await thickness()) as { thickness: number }).thickness === 4.5,
    );
  });
});

describe('many cutters', () => {
  it('are told when they do nothing, are taken out, and are found from the walls they made', async () => {
    const { on, h } = at;
    const bore = (id: string, name: string, x: number, z = 0): Piece => ({ id, name, role: 'cutter', parent: 'plate', base: { primitive: 'cylinder', radius: 6, height: 60, sides: 12 }, transform: { move: [x, 0, z] } });
    const bores = [bore('b1', 'Bore 1', -30), bore('b2', 'Bore 2', 0), bore('b3', 'Bore 3', 30), bore('b4', 'Stray', 0, 90)];
    await on.open('Many', [
      { id: 'plate', name: 'Plate', base: { primitive: 'box', width: 100, height: 20, depth: 60 }, steps: [{ id: 's1', kind: 'cut', mode: 'subtract', cutters: bores.map((b) => b.id) }] },
      ...bores,
    ]);
    await h.pick('Plate');
    await h.click('[data-lane="Cut"] .bead');
    await h.until('the stray marked', async () => /Stray\s*misses/.test(await h.text('.cutters')));
    expect(await h.text('[role="treeitem"][data-name="Stray"]')).toContain('misses');
    await h.press('Take them out', '.card');
    await h.until('taken out', async () => (await cuttersOf('Plate')).length === 3);
    expect((await named('Stray')).role).toBe('cutter');
    await h.until('marked as idle', async () => (await h.text('[role="treeitem"][data-name="Stray"]')).includes('cuts nothing')); // prettier-ignore
    // The wall of the middle hole, seen from above.
    await h.pick('Plate');
    await on.key('n');
    await h.rest();
    await h.driver.actions({ async: true }).move({ origin: on.middle, x: 0, y: -45 }).perform();
    await on.key(Key.SHIFT, 'e');
    await h.until('its cutter', async () => (await h.text('.card .head b')) === 'Bore 2');
    await on.key(Key.SHIFT, 'w');
    await h.until('its host', async () => (await h.text('.card .head b')) === 'Plate');
    // From cutter to cutter, and round again.
    for (const name of ['Bore 1', 'Bore 2', 'Bore 3', 'Bore 1']) {
      await on.key('.');
      await h.until(name, async () => (await h.text('.card .head b')) === name);
    }
    await on.key(',');
    await h.until('back again', async () => (await h.text('.card .head b')) === 'Bore 3');
    await h.pick('Plate');
    // A rounding of the rims of some of them, chosen by clicks from above.
    await on.key('t');
    const scope = async () => ((await named('Plate')).steps!.find((x) => x.kind === 'bevel') as { scope?: unknown } | undefined)?.scope;
    await h.until('all rims', async () => JSON.stringify(await scope()) === '{"rule":"rims"}');
    await on.key('5');
    await h.click('[data-lane="Form"] .bead');
    const mm = await on.scaleFrom(50);
    await h.click('[data-lane="Edge"] .bead');
    await h.press('Choose on the model', '.card');
    for (const x of [0, -30]) await on.clickAt((x + 6.4) * mm, 0);
    await h.until('two of them', async () => JSON.stringify(await scope()) === '{"rule":"rims","cutters":["b2","b1"]}');
    await on.clickAt(6.4 * mm, 0);
    await h.until('one of them', async () => JSON.stringify(await scope()) === '{"rule":"rims","cutters":["b1"]}');
    await on.key(Key.ESCAPE);
    await h.press('Leave out the rims of Bore 1', '.card');
    await h.until('all again', async () => JSON.stringify(await scope()) === '{"rule":"rims"}');
  }); // prettier-ignore
});

describe('the list of many cutters', () => {
  it('is narrowed to those near the pointer, and several are chosen, rested and taken out', async () => {
    const { on, h } = at;
    const ids = Array.from({ length: 20 }, (_, i) => i);
    const bores = ids.map((i): Piece => ({ id: `b${i}`, name: `Bore ${i + 1}`, role: 'cutter', parent: 'plate', base: { primitive: 'cylinder', radius: 2, height: 60, sides: 8 }, transform: { move: [8 * i - 76, 0, 0] } }));
    await on.open('Row', [
      { id: 'plate', name: 'Plate', base: { primitive: 'box', width: 170, height: 6, depth: 30 }, steps: [{ id: 's1', kind: 'cut', mode: 'subtract', cutters: bores.map((b) => b.id) }] },
      ...bores,
    ]);
    await h.pick('Plate');
    await h.focusStage();
    await on.key('5');
    const mm = await on.scaleFrom(85);
    await h.click('[data-lane="Cut"] .bead');
    await h.driver.actions({ async: true }).move({ origin: on.middle, x: Math.round(66 * mm), y: Math.round(9 * mm) }).perform();
    await h.press('near the pointer', '.card');
    const rows = async (): Promise<string[]> =>
      Promise.all((await h.driver.findElements(By.css('.cutters li > button:first-child'))).map((x) => x.getText()));
    await h.until('the nearest', async () => (await rows()).length === 8);
    expect((await rows()).slice().sort()).toEqual([13, 14, 15, 16, 17, 18, 19, 20].map((n) => `Bore ${n}`));
    const row = async (k: number, ...held: string[]): Promise<void> => {
      const list = await h.driver.findElements(By.css('.cutters li > button:first-child'));
      const a = h.driver.actions();
      for (const key of held) a.keyDown(key);
      a.click(list[k]);
      for (const key of held) a.keyUp(key);
      await a.perform();
    };
    const named3 = (await rows()).slice(1, 4);
    await row(1, Key.CONTROL);
    await row(3, Key.SHIFT);
    await h.until('three chosen', async () => (await h.text('.card')).includes('Select 3'));
    const step = async () => (await named('Plate')).steps![0] as { cutters: string[]; resting?: string[] };
    await h.press('Switch off', '[aria-label="Chosen cutters"]');
    await h.until('rested', async () => (await step()).resting?.length === 3);
    expect((await step()).resting!.map((id) => `Bore ${Number(id.slice(1)) + 1}`).sort()).toEqual(named3.sort());
    await h.press('Take out', '[aria-label="Chosen cutters"]');
    await h.until('out', async () => (await step()).cutters.length === 17 && !(await step()).resting?.length);
    await h.press('near the pointer', '.card');
    await h.until('all', async () => (await rows()).length === 17);
  }); // prettier-ignore
});

describe('a cutter on a host that changes', () => {
  const plate = (steps: Piece['steps']): Piece[] => [
    { id: 'block', name: 'Block', base: { primitive: 'box', width: 60, height: 6, depth: 60 }, steps },
    {
      id: 'bore',
      name: 'Bore',
      role: 'cutter',
      parent: 'block',
      base: { primitive: 'cylinder', radius: 6, height: 40, sides: 12 },
      transform: { move: [10, 0, 10] },
    },
  ];
  const cut = { id: 'c', kind: 'cut' as const, mode: 'subtract' as const, cutters: ['bore'] };

  it('holds its distance from an edge or a corner that is clicked', async () => {
    const { on, h } = at;
    await on.open('Held', plate([cut]));
    await h.pick('Block');
    await h.focusStage();
    await on.key('5');
    const scale = await on.scaleFrom(30);
    await h.pick('Bore');
    const hold = async (x: number, z: number): Promise<void> => {
      const before = (await named('Bore')).anchors?.length ?? 0;
      await h.press('Hold a distance', '.card');
      await on.clickAt(Math.round(x * scale), Math.round(z * scale));
      await h.until('held', async () => ((await named('Bore')).anchors?.length ?? 0) === before + 1);
    };
    // The top is nearer than the handles the scale was read from.
    await hold(30.2, -12);
    expect((await named('Bore')).anchors!.map((a) => a.to[0].of)).toEqual(['edges']);
    expect(await h.text('.card')).toContain('From the edge, right');
    await hold(30.2, 30.2);
    expect((await named('Bore')).anchors![1].to[0].of).toBe('points');
    await h.pick('Block');
    await h.type('Width', '80');
    await h.type('Depth', '70');
    await h.pick('Bore');
    await h.until('follows', async () => {
      const fields = await h.driver.findElements(By.css('.placement [aria-label="Move"] input'));
      const [x, , z] = await Promise.all(fields.map((f) => f.getAttribute('value')));
      return x === '20' && z === '15';
    });
  });

  it('leaves rims that a further rounding finds by what made them', async () => {
    const { on, h } = at;
    await on.open('Made', plate([
      cut,
      { id: 'f', kind: 'bevel', scope: { rule: 'rims' }, width: 2, segments: 1, profile: 0 },
      { id: 'r', kind: 'bevel', scope: { rule: 'sharp', angle: 30 }, width: 0.4, segments: 2 },
    ])); // prettier-ignore
    await h.pick('Block');
    const beads = await h.driver.findElements(By.css('[data-lane="Edge"] .bead'));
    await beads[1].click();
    const scope = async (): Promise<unknown> =>
      ((await named('Block')).steps![2] as { scope: unknown }).scope;
    await h.press('of a step', '.card');
    await h.until(
      'by the chamfer',
      async () => JSON.stringify(await scope()) === '{"rule":"made","step":"f"}',
    );
    await h.until('told', async () => (await h.text('.card')).includes('48 edges'));
    const list = await h.see('.card select[aria-label="Step"]');
    expect((await list.getText()).split('\n').map((x) => x.trim())).toEqual(['Bore', 'Chamfer, rims']);
  });
});
