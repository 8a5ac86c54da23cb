/** Rounding as a person meets it: rims that stay rounded while their hole is dragged, and places where one stops. */
import { By } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import type { StepReport } from '@urnsmith/core/build/report';
import { atBench } from './atBench';

await loadKernel();
const at = await atBench();

const cylinder = (radius: number, height: number, sides: number): Piece['base'] => ({
  primitive: 'cylinder',
  radius,
  height,
  sides,
});

/** Step reports of a stored piece, built apart from the page. */
async function reports(id: string): Promise<StepReport[]> {
  const none = (): never => {
    throw new Error('no file is used');
  };
  const apart = new Evaluator({ blob: none, file: none });
  apart.setPieces(await at.on.stored());
  return apart.build(id).steps;
}
const move = async (id: string): Promise<number[]> =>
  (await at.on.stored()).find((p) => p.id === id)!.transform?.move ?? [0, 0, 0];

describe('a hole in the side of a fine cylinder', () => {
  it('stays rounded while it is dragged along the wall and turned round it', async () => {
    const { on, h } = at;
    await on.open('Mast', [
      {
        id: 'mast',
        name: 'Mast',
        base: cylinder(25, 80, 96),
        steps: [{ id: 's1', kind: 'cut', mode: 'subtract', cutters: ['eye'] }],
      },
      {
        id: 'eye',
        name: 'Eye',
        role: 'cutter',
        parent: 'mast',
        base: cylinder(8, 70, 32),
        transform: { move: [0, 0, 0], turn: [90, 0, 0] },
      },
    ]);
    await h.pick('Mast');
    await h.click('[data-lane="Edge"] .add');
    const rounded = async (): Promise<void> => {
      await h.pick('Mast');
      const bead = await h.see('[data-lane="Edge"] .bead');
      expect(await bead.getAttribute('class')).not.toMatch(/warn|broken/);
      const [, rims] = await reports('mast');
      expect(rims.groups!.map(({ asked, least, full }) => [asked, least, full])).toEqual([
        [2, 2, 1],
        [2, 2, 1],
      ]);
    };
    await h.until('the rounding', async () => (await reports('mast')).length === 2);
    await rounded();
    const faces = (): Promise<string> => h.text('.rows [data-name="Mast"] em');
    await h.until('more faces', async () => Number(await faces()) > 400);

    await on.key('1');
    await h.pick('Eye');
    await on.key('s');
    const before = await faces();
    await h.drag(on.middle, [4, 4], [34, -60], async () => {
      // Where the rounding is too slow to keep up, it comes as soon as the hand rests, still holding.
      await h.until('the mast following, rounded', async () => {
        const now = await faces();
        return now !== before && Number(now) > 400;
      });
    });
    await h.until('the move', async () => (await move('eye'))[1] > 3);
    expect(Math.abs((await move('eye'))[0])).toBeGreaterThan(1);
    await rounded();

    await h.pick('Eye');
    await h.type('Y', '37', '.placement [aria-label="Turn"]');
    await h.until('turned', async () => (await at.on.stored()).find((p) => p.id === 'eye')!.transform!.turn![1] === 37); // prettier-ignore
    await rounded();
  });
});

describe('a rim beside an edge', () => {
  it('shows where it stops, why, and brings that into view', async () => {
    const { on, h, browser } = at;
    await on.open('Bracket', [
      {
        id: 'plate',
        name: 'Plate',
        base: { primitive: 'box', width: 60, height: 14, depth: 40 },
        steps: [
          { id: 's1', kind: 'cut', mode: 'subtract', cutters: ['pin'] },
          { id: 's2', kind: 'bevel', scope: { rule: 'rims' }, width: 2, segments: 2 },
        ],
      },
      {
        id: 'pin',
        name: 'Pin',
        role: 'cutter',
        parent: 'plate',
        base: cylinder(6, 60, 32),
        transform: { move: [0, 0, 13] },
      },
    ]);
    await h.pick('Plate');
    await h.click('[data-lane="Edge"] .bead.warn');
    await h.until('how many edges', async () => (await h.text('.card')).includes('64 edges in 2 runs'));
    const told = await h.text('.card [aria-label="Warnings"]');
    expect(told.match(/Stops at (0\.99\d|1) of 2 mm along \d+ edges: it reaches an edge that stays\./g)).toHaveLength(2); // prettier-ignore
    // Both are marked where they are; pointed at, a mark says what it is of.
    const marks = await browser.driver.findElements(By.css('.warningMark button'));
    expect(marks).toHaveLength(2);
    await browser.driver.actions({ async: true }).move({ origin: marks[0] }).perform();
    await h.until('said', async () => /Stops at/.test(await h.text('.warningMark span')));
    await browser.driver.actions({ async: true }).move({ origin: on.middle, x: 300, y: 200 }).perform();
    // Brought into view, the place is in the middle: the width’s handle is elsewhere, or out of sight.
    const handle = async (): Promise<string> => {
      const found = await browser.driver.findElements(By.css('.handle[aria-label^="width"] i'));
      return Promise.all(found.map((e) => e.getRect())).then((r) => r.map(({ x, y }) => `${x},${y}`).join());
    };
    await h.click('.bead.base');
    const before = await h.until('the handle', handle);
    await h.click('[data-lane="Edge"] .bead.warn');
    await h.click('.card [aria-label="Warnings"] button');
    await h.click('.bead.base');
    await h.until('another view', async () => (await handle()) !== before);
    await h.click('[data-lane="Edge"] .bead');
    // As a ball’s radius it is the same at right angles, and the Card says so.
    await h.press('radius', '.card');
    await h.until('stored', async () => {
      const [, round] = (await on.stored())[0].steps!;
      return round.kind === 'bevel' && round.by === 'radius';
    });
    await h.until('the bead', async () => /r 2 mm/.test(await h.text('[data-lane="Edge"] .bead')));
    // A way out, one click away: the width that was reached.
    await h.click('.card [aria-label="Ways out"] button');
    await h.until(
      'no stop',
      async () => (await browser.driver.findElements(By.css('.bead.warn'))).length === 0,
    );
    const [, round] = (await on.stored())[0].steps!;
    expect(round.kind === 'bevel' && round.width).toBeCloseTo(1, 1);
  });
});
