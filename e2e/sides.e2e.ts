/** Panels around the stage: lists reordered by hand and by keys, sides that can be resized. */
import { By, Key, type WebElement } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';

const at = await atBench();

const box = (id: string, name: string, x: number): Piece => ({
  id,
  name,
  base: { primitive: 'box', width: 20, height: 20, depth: 20 },
  transform: { move: [x, 0, 0] },
});

const row = (name: string): Promise<WebElement> => at.h.see(`.rows [data-name="${name}"]`);
const parents = async (): Promise<Array<string | undefined>> => (await at.on.stored()).map((p) => p.parent);

/** Presses on one thing and lets go on another, with a stop on the way. */
async function dragOnto(from: WebElement, to: WebElement, x = 0, y = 0): Promise<void> {
  const a = at.browser.driver.actions({ async: true });
  await a.move({ origin: from, x: -30, y: 0 }).press().move({ origin: from, x: -20, y: 8 }).pause(100)
    .move({ origin: to, x, y }).pause(150).release().perform(); // prettier-ignore
}

async function focus(e: WebElement): Promise<void> {
  await at.browser.driver.executeScript('arguments[0].focus()', e);
}

describe('the Ledger', () => {
  it('nests what is dragged onto a row, and takes it out again, by hand', async () => {
    const { on, h } = at;
    await on.open('Nesting', [box('a', 'Anchor', 0), box('b', 'Buoy', 40)]);
    await dragOnto(await row('Buoy'), await row('Anchor'));
    await h.until('nested', async () => (await parents()).join() === ',a');
    await dragOnto(await row('Buoy'), await h.see('.rows'), 0, 200);
    await h.until('taken out', async () => (await parents()).join() === ',');
  });

  it('does the same by keys, and says so', async () => {
    const { h } = at;
    await focus(await row('Buoy'));
    await h.chord(Key.SHIFT, Key.SPACE);
    await h.until('held', async () => (await h.text('.held')) === 'Buoy');
    await h.keys(Key.ARROW_UP);
    const said = async (): Promise<string> =>
      (await Promise.all((await at.browser.driver.findElements(By.css('[aria-live="assertive"]'))).map((e) => e.getAttribute('textContent')))).join(); // prettier-ignore
    await h.until('said', async () => (await said()).includes('Into Anchor.'));
    await h.keys(Key.SPACE);
    await h.until('nested', async () => (await parents()).join() === ',a');
    await at.on.key(Key.CONTROL, 'z');
    await h.until('undone', async () => (await parents()).join() === ',');
    // Let go of with Escape, nothing changes.
    await focus(await row('Buoy'));
    await h.chord(Key.SHIFT, Key.SPACE);
    await h.until('held', async () => (await h.text('.held')) === 'Buoy');
    await h.keys(Key.ARROW_UP);
    await h.until('said again', async () => (await said()).includes('Into Anchor.'));
    await h.keys(Key.ESCAPE);
    await h.until('let go', async () => (await at.browser.driver.findElements(By.css('.held'))).length === 0);
    expect(await parents()).toEqual([undefined, undefined]);
    // Space alone means what it means everywhere.
    await focus(await row('Buoy'));
    await h.keys(Key.SPACE);
    await h.see('.finderBox input');
    await h.keys(Key.ESCAPE);
  });
});

describe('the Build strip', () => {
  it('has its beads put in another order, by hand and by keys', async () => {
    const { on, h, browser } = at;
    const steps: Piece['steps'] = [
      { kind: 'bevel', id: 's1', name: 'First', scope: { rule: 'sharp', angle: 60 }, width: 2, segments: 1 },
      {
        kind: 'bevel',
        id: 's2',
        name: 'Second',
        scope: { rule: 'sharp', angle: 30 },
        width: 0.5,
        segments: 1,
      },
    ];
    await on.open('Beads', [{ ...box('a', 'Block', 0), steps }]);
    await h.pick('Block');
    const order = async (): Promise<string> => (await on.stored())[0].steps!.map((s) => s.id).join(' ');
    const beads = () => browser.driver.findElements(By.css('[data-lane="Edge"] .bead'));
    const [first, second] = await beads();
    const a = browser.driver.actions({ async: true });
    await a.move({ origin: first }).press().move({ origin: first, x: 12, y: 0 }).pause(100)
      .move({ origin: second, x: 10, y: 0 }).pause(150).release().perform(); // prettier-ignore
    await h.until('put behind', async () => (await order()) === 's2 s1');
    await focus((await beads())[1]);
    await h.chord(Key.SHIFT, Key.SPACE);
    await h.rest();
    await h.keys(Key.ARROW_LEFT);
    await h.rest();
    await h.keys(Key.SPACE);
    await h.until('put back', async () => (await order()) === 's1 s2');
    await focus((await beads())[0]);
    await h.keys(Key.ENTER);
    await h.until('chosen', async () => (await h.text('.card')).includes('Segments'));
    // Into a lane that holds nothing, and back to its own.
    const over = async (bead: WebElement, lane: string): Promise<void> => {
      const to = await h.see(`[data-lane="${lane}"]`);
      const hand = browser.driver.actions({ async: true });
      await hand.move({ origin: bead }).press().move({ origin: bead, x: 12, y: 0 }).pause(100)
        .move({ origin: to }).pause(150).move({ origin: to, x: 2, y: 2 }).pause(150).release().perform(); // prettier-ignore
    };
    await over((await beads())[0], 'Repeat');
    await h.until('in the other lane', async () =>
      (await on.stored())[0].steps!.some((s) => s.pin === 'Repeat'),
    );
    await over((await browser.driver.findElements(By.css('[data-lane="Repeat"] .bead')))[0], 'Edge');
    await h.until('in its own', async () => (await on.stored())[0].steps!.every((s) => s.pin === undefined));
  });
});

describe('a side', () => {
  it('is dragged wider, closed by its button or dragged shut, and is the same after a reload', async () => {
    const { on, h, browser } = at;
    const width = async (css: string): Promise<number> => (await (await h.see(css)).getRect()).width;
    const lines = () => browser.driver.findElements(By.css('.sideLine'));
    const drag = async (line: WebElement, x: number): Promise<void> =>
      browser.driver.actions({ async: true }).move({ origin: line }).press().move({ origin: 'pointer' as never, x, y: 0 }).release().perform(); // prettier-ignore
    const [narrow, stage] = [await width('.ledger'), await width('.view')];
    await drag((await lines())[0], 60);
    await h.until('wider', async () => Math.abs((await width('.ledger')) - narrow - 60) < 4);
    expect(Math.abs((await width('.view')) - stage + 60)).toBeLessThan(4);
    // By the keyboard too.
    await focus((await lines())[1]);
    const card = await width('.card');
    await h.keys(Key.ARROW_LEFT);
    await h.until('the Card wider', async () => (await width('.card')) > card);
    await on.reopen();
    expect(Math.abs((await width('.ledger')) - narrow - 60)).toBeLessThan(4);
    await h.click('[aria-label="Close the Ledger"]');
    await h.see('[aria-label="Open the Ledger"]');
    await h.click('[aria-label="Open the Ledger"]');
    await h.until('as wide as before', async () => Math.abs((await width('.ledger')) - narrow - 60) < 4);
    await drag((await lines())[0], -260);
    await h.click('[aria-label="Open the Ledger"]');
  });
});

describe('the ring', () => {
  it('goes round by the arrows and by first letters', async () => {
    const { on, h, browser } = at;
    await on.open('Ring', [box('a', 'Block', 0)]);
    await h.pick('Block');
    await h.focusStage();
    await browser.driver.actions({ async: true }).move({ origin: on.middle, x: 0, y: 40 }).contextClick().perform(); // prettier-ignore
    const here = (): Promise<string> =>
      browser.driver.executeScript('return document.querySelector(":focus")?.textContent ?? ""');
    await h.until('the first has the focus', async () => (await here()) === 'Cut');
    await h.keys(Key.ARROW_RIGHT);
    await h.until('the next', async () => (await here()) === 'Round');
    await h.keys(Key.ARROW_LEFT);
    await h.until('the first again', async () => (await here()) === 'Cut');
    await h.keys(Key.ARROW_LEFT);
    await h.until('the last', async () => (await here()) === 'Into view');
    await h.keys('i');
    await h.until('by its letter', async () => (await here()) === 'Isolate');
    await h.keys(Key.ENTER);
    await h.until('done', async () => (await browser.driver.findElements(By.css('.ring'))).length === 0);
  });
});
