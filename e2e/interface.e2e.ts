/** Light and dark, large and small, few colours, fingers and trackpads. */
import { By, Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { barriers } from './accessible';
import { atBench } from './atBench';
import { preferring, tell } from './browser';

const at = await atBench({ demo: true, sharp: true });
const { driver } = at.browser;

const block: Piece = {
  id: 'a',
  name: 'Block',
  base: { primitive: 'box', width: 40, height: 20, depth: 30 },
  steps: [{ kind: 'bevel', id: 's1', scope: { rule: 'sharp', angle: 30 }, width: 2, segments: 2 }],
};

/** How light what lies behind something is, 0 to 255. */
const light = (css: string): Promise<number> =>
  driver.executeScript(
    `const canvas = document.createElement('canvas'); canvas.width = canvas.height = 1;
     const c = canvas.getContext('2d'); c.fillStyle = getComputedStyle(document.querySelector(arguments[0])).backgroundColor;
     c.fillRect(0, 0, 1, 1); const [r, g, b] = c.getImageData(0, 0, 1, 1).data; return (r + g + b) / 3;`,
    css,
  );

describe('the theme', () => {
  it('goes by the system until one is chosen, which is kept; the stage stays dark', async () => {
    const { on, h } = at;
    await on.open('Themes', [block]);
    expect(await light('.ledger')).toBeLessThan(60);
    await preferring(driver, { 'prefers-color-scheme': 'light' });
    expect(await light('.ledger')).toBeGreaterThan(200);
    expect(await light('.view .seg')).toBeLessThan(60);
    await h.find('theme');
    await h.press('Dark');
    await h.until('dark', async () => (await light('.ledger')) < 60);
    await h.keys(Key.ESCAPE);
    await on.reopen();
    expect(await light('.ledger')).toBeLessThan(60);
    await h.find('theme');
    await h.press('Light');
    await h.keys(Key.ESCAPE);
    await preferring(driver, { 'prefers-color-scheme': 'dark' });
    expect(await light('.ledger')).toBeGreaterThan(200);
  });

  it('can be read when it is light: at every level, with a step, in search and boxes', async () => {
    const { on, h } = at;
    await h.pick('Block');
    expect(await barriers(driver)).toEqual([]);
    await h.click('[data-lane="Edge"] .bead');
    expect(await barriers(driver)).toEqual([]);
    for (const [level, of] of [
      ['8', 'faces'],
      ['9', 'edges'],
      ['0', 'points'],
    ]) {
      await on.key(level);
      await on.untilCounts(of);
      expect(await barriers(driver)).toEqual([]);
    }
    await on.key('7');
    await on.key(' ');
    await h.see('.finderBox input');
    expect(await barriers(driver)).toEqual([]);
    await h.keys(Key.ESCAPE);
    await on.key('?');
    await h.see('.keysBox');
    expect(await barriers(driver)).toEqual([]);
    await h.keys(Key.ESCAPE);
    await driver.get(`${at.server.url}/`);
    await h.see('.sceneCard');
    expect(await barriers(driver)).toEqual([]);
    await on.reopen();
  });
});

describe('with few colours', () => {
  it('what is chosen, selected and pressed is seen', async () => {
    const { on, h } = at;
    await on.open('Colours', [block]);
    await h.pick('Block');
    await preferring(driver, { 'forced-colors': 'active' });
    const back = (css: string): Promise<string> =>
      driver.executeScript(
        'return getComputedStyle(document.querySelector(arguments[0])).backgroundColor',
        css,
      );
    // Colours that change have come to rest.
    await h.rest();
    const chosen = await back('[aria-label="Level"] [aria-checked="true"]');
    expect(chosen).not.toBe(await back('[aria-label="Level"] [aria-checked="false"]'));
    expect(await back('.rows [aria-selected="true"]')).toBe(chosen);
    expect(await back('.strip .bead.on')).toBe(chosen);
    const outline = (pressed: boolean): Promise<string> =>
      driver.executeScript(
        `return getComputedStyle([...document.querySelectorAll('.view [aria-pressed="${pressed}"]')].at(-1)).outlineStyle`,
      );
    expect(await outline(true)).toBe('solid');
    expect(await outline(false)).toBe('none');
    await on.key('8');
    await on.untilCounts('faces');
    const tool = await h.see('.tray [role="group"] [aria-pressed="true"]');
    expect(await tool.getCssValue('outline-style')).toBe('solid');
    await on.key('7');
    await preferring(driver, { 'prefers-color-scheme': 'dark' });
  });
});

describe('the size', () => {
  it('makes everything but the stage larger, and covers nothing', async () => {
    const { on, h } = at;
    await on.open('Sizes', [block]);
    await h.pick('Block');
    const sizes = (): Promise<number[]> =>
      driver.executeScript(
        `return ['.ledger .row', '.card .head', '.strip .bead', 'header', '.view .count'].map((css) => document.querySelector(css).getBoundingClientRect().height)`,
      );
    const before = await sizes();
    await h.find('interface');
    await h.press('130%');
    await h.keys(Key.ESCAPE);
    const after = await sizes();
    for (const [k, s] of after.entries()) expect(s / before[k]).toBeGreaterThan(1.2);
    for (const key of ['7', '8']) {
      await on.key(key);
      await h.rest();
      const bars = await driver.executeScript<number[][]>(
        `return [...document.querySelectorAll('.view .seg, .view .count, .view select, .view .tray')].map((e) => e.getBoundingClientRect()).filter((r) => r.width && r.height).map((r) => [r.left, r.top, r.right, r.bottom])`,
      );
      for (const [i, a] of bars.entries())
        for (const b of bars.slice(i + 1))
          expect([key, i, a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3]]).toEqual([key, i, false]);
    }
    await on.key('7');
    // Rows are where they are clicked.
    await h.pick('Block');
    expect((await driver.findElements(By.css('.rows [aria-selected="true"]'))).length).toBe(1);
    await h.find('interface');
    await h.press('100%');
    await h.press('As the system');
    await h.keys(Key.ESCAPE);
  });
});

describe('other hands', () => {
  /** Where the compass's letters are, which tells how the view is turned; and how many pixels a handle is off the middle. */
  const view = async (): Promise<{ turn: string; reach: number }> => {
    await at.h.rest();
    return driver.executeScript(
      `const texts = [...document.querySelectorAll('.view svg text')].map((t) => [t.getAttribute('x'), t.getAttribute('y')].map((x) => Number(x).toFixed(2)).join());
       const s = document.querySelector('.turnsAbout').getBoundingClientRect();
       const b = document.querySelector('.handle[aria-label^="width"] i').getBoundingClientRect();
       return { turn: texts.join(' '), reach: Math.hypot(b.x + b.width / 2 - s.x - s.width / 2, b.y + b.height / 2 - s.y - s.height / 2) };`,
    );
  };
  const touch = (type: string, points: Array<[number, number]>): Promise<void> =>
    tell(driver, 'Input.dispatchTouchEvent', {
      type,
      touchPoints: points.map(([x, y], id) => ({ x, y, id })),
    });

  it('turn by two fingers, and zoom by pinching', async () => {
    const { on, h } = at;
    await on.open('Fingers', [block]);
    await h.pick('Block');
    const { x, y, width, height } = await on.middle.getRect();
    const [mx, my] = [x + width / 2, y + height / 2];
    const first = await view();
    await touch('touchStart', [[mx - 60, my]]);
    await touch('touchStart', [[mx - 60, my], [mx + 60, my]]); // prettier-ignore
    for (let k = 1; k <= 4; k++) await touch('touchMove', [[mx - 60 + 15 * k, my], [mx + 60 + 15 * k, my]]); // prettier-ignore
    await touch('touchEnd', []);
    const turned = await view();
    expect(turned.turn).not.toBe(first.turn);
    await touch('touchStart', [[mx - 60, my], [mx + 60, my]]); // prettier-ignore
    for (let k = 1; k <= 4; k++) await touch('touchMove', [[mx - 60 - 10 * k, my], [mx + 60 + 10 * k, my]]); // prettier-ignore
    await touch('touchEnd', []);
    const near = await view();
    expect(near.turn).toBe(turned.turn);
    expect(near.reach).toBeGreaterThan(turned.reach * 1.3);
    // Nothing was taken for a click.
    expect((await driver.findElements(By.css('.rows [aria-selected="true"]'))).length).toBe(1);
    await on.key(Key.SHIFT, 'n');
    // One finger is the hand: beside the piece it lets go of it.
    await touch('touchStart', [[mx - 380, my - 130]]);
    await touch('touchEnd', []);
    await h.until(
      'let go',
      async () => !(await driver.findElements(By.css('.rows [aria-selected="true"]'))).length,
    );
  });

  it('turn by scrolling where that was chosen', async () => {
    const { on, h } = at;
    await h.pick('Block');
    const scroll = (deltaX: number, deltaY: number, modifiers = 0): Promise<void> =>
      on.middle.getRect().then(({ x, y, width, height }) =>
        tell(driver, 'Input.dispatchMouseEvent', {
          type: 'mouseWheel',
          x: x + width / 2,
          y: y + height / 2,
          deltaX,
          deltaY,
          modifiers,
        }),
      );
    const first = await view();
    await scroll(0, -120);
    const zoomed = await view();
    expect(zoomed.turn).toBe(first.turn);
    expect(zoomed.reach).toBeGreaterThan(first.reach * 1.05);
    await h.find('interface');
    await h.press('Turns the view');
    await h.keys(Key.ESCAPE);
    await scroll(40, 10);
    const turned = await view();
    expect(turned.turn).not.toBe(zoomed.turn);
    // Control, as of a pinch.
    await scroll(0, -20, 2);
    const pinched = await view();
    expect(pinched.turn).toBe(turned.turn);
    expect(pinched.reach).toBeGreaterThan(turned.reach * 1.05);
  });
});
