/** Mirror and repeat, live, through the interface: found by search, changed on the Card, seen in the counts and the store. */
import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';

const at = await atBench();

const block: Piece = {
  id: 'a',
  name: 'Block',
  base: { primitive: 'box', width: 40, height: 20, depth: 20 },
  actions: [{ op: 'transform', select: { rule: 'all', of: 'faces' }, move: [10, 0, 0] } as never],
};

async function search(text: string): Promise<void> {
  await at.on.key(' ');
  await (await at.h.see('.finderBox input')).sendKeys(text);
  await at.h.keys(Key.ENTER);
}
const faces = (n: number): Promise<unknown> =>
  at.h.until(`${n} faces`, async () => new RegExp(`\\b${n} faces`).test(await at.h.text('.count')));
const bead = (): Promise<string> => at.h.text('[data-lane="Repeat"] .bead');

describe('a live mirror', () => {
  it('is added by search, takes axes on the Card, and goes with one undo', async () => {
    const { on, h } = at;
    await on.open('Mirror', [block]);
    await h.pick('Block');
    await search('mirror live');
    await h.until('the bead', async () => (await bead()).includes('Mirror X'));
    // Six faces cut at the plane: five kept on each side.
    await faces(10);
    await h.press('y', '[aria-label="Across"]');
    await h.until('both axes', async () => (await bead()).includes('Mirror X, Y'));
    expect((await on.stored())[0].steps).toMatchObject([{ kind: 'mirror', axes: ['x', 'y'] }]);
    await h.press('negative');
    expect((await on.stored())[0].steps).toMatchObject([{ keep: 'negative' }]);
    await h.focusStage();
    for (let k = 0; k < 3; k++) await h.chord(Key.CONTROL, 'z');
    await h.until(
      'no bead',
      async () => !(await at.browser.driver.findElements({ css: '[data-lane="Repeat"] .bead' })).length,
    );
    await faces(6);
    expect((await on.stored())[0].steps ?? []).toEqual([]);
  });
});

describe('live copies', () => {
  it('turn one cutter into a ring of holes', async () => {
    const { on, h } = at;
    const plate: Piece = {
      id: 'plate',
      name: 'Plate',
      base: { primitive: 'box', width: 160, height: 10, depth: 160 },
      steps: [{ kind: 'cut', id: 's1', mode: 'subtract', cutters: ['bore'] }],
    };
    const bore: Piece = {
      id: 'bore',
      name: 'Bore',
      role: 'cutter',
      base: { primitive: 'cylinder', radius: 5, height: 40, sides: 8 },
    };
    await on.open('Ring', [plate, bore]);
    await h.pick('Bore');
    await search('circular');
    await h.press('radial', '[aria-label="Pattern"]');
    await h.type('Count', '6');
    await h.type('Radius', '50');
    await h.until('the bead', async () => (await bead()).includes('6 around'));
    // The count by the wheel over its handle, the radius by pulling.
    await h.wheel(await h.see('.handle[aria-label="count of Bore"]'), -100);
    await h.until('one more', async () => (await bead()).includes('7 around'));
    await h.wheel(await h.see('.handle[aria-label="count of Bore"]'), 100);
    await h.until('one less', async () => (await bead()).includes('6 around'));
    const radius = async (): Promise<number> =>
      ((await on.stored()).find((p) => p.id === 'bore')!.steps![0] as { radius: number }).radius;
    await h.pull(await h.see('.handle[aria-label="radius of Bore"]'), [-30, 20]);
    await h.until('pulled', async () => (await radius()) !== 50);
    await at.browser.driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await h.until('and back', async () => (await radius()) === 50);
    await h.pick('Plate');
    // Four sides and six holes of eight walls; top and bottom are divided by bridges.
    await h.until('six holes', async () => {
      const m = /(\d+) faces/.exec(await h.text('.count'));
      return m !== null && Number(m[1]) >= 4 + 48 + 2;
    });
    expect((await on.stored()).find((p) => p.id === 'bore')!.steps).toMatchObject([
      { kind: 'repeat', pattern: 'radial', count: 6, radius: 50 },
    ]);
  });
});
