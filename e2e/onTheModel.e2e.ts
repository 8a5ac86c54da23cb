/** Working on the model alone: numbers pulled and typed there, tools found by their keys, picks taken back. */
import { By, Key, Origin, type WebElement } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { boundsOf } from '@urnsmith/core/mesh/measure';
import { barriers } from './accessible';
import { atBench } from './atBench';

const { browser, on, h } = await atBench();
const { driver } = browser;

const block: Piece = { id: 'a', name: 'Block', base: { primitive: 'box', width: 60, height: 20, depth: 40 } };
let s = 1;

/** Seen square-on from above, at a level. */
async function fromAbove(pieces: Piece[], key: string): Promise<void> {
  await on.open('On the model', pieces);
  await h.pick(pieces[0].name!);
  await on.key('5');
  await on.key('p');
  await on.key('n');
  await h.rest();
  s = await on.scaleFrom(30);
  await on.key(key);
  await on.untilCounts('0 of');
}

const handle = (title: string): Promise<WebElement> => h.see(`.handle[aria-label="${title}"]`);
const number = async (key: string): Promise<number> => (await on.lastAction())[key] as number;
async function typeOn(title: string, text: string): Promise<void> {
  const at = await handle(title);
  await at.click();
  await at.sendKeys(text[0]);
  const field = await h.see('.handle input');
  await field.sendKeys(text.slice(1), Key.ENTER);
}

describe('Numbers of an action', () => {
  it('are pulled, typed and counted on the model, with the Card closed', async () => {
    await fromAbove([block], '8');
    await h.press('Close the Card');
    await on.clickAt(0, 0);
    await on.untilCounts('1 of 6 faces');
    await on.key('e');
    await h.until('the inset', async () => (await on.stored())[0].actions?.length === 1);
    const first = await number('thickness');
    // A tenth of the face's size, as a round number.
    expect([2, 5]).toContain(first);
    // The long side is nearer the viewer; its handle goes up into the face.
    const by = Math.round((4 * s) / 6) * 6;
    await h.pull(await (await handle('thickness of Inset')).findElement(By.css('i')), [0, -by]);
    await h.until('the pull', async () => (await number('thickness')) !== first);
    expect(Math.abs((await number('thickness')) - first)).toBeCloseTo(by / s, 0);
    await typeOn('thickness of Inset', '3.5');
    await h.until('the number', async () => (await number('thickness')) === 3.5);
    // Typed in the middle of a pull, the number counts; let go of, it is as it was.
    const grip = await handle('thickness of Inset');
    await driver
      .actions({ async: true })
      .move({ origin: await grip.findElement(By.css('i')) })
      .press()
      .perform();
    await driver
      .actions({ async: true })
      .move({ origin: Origin.POINTER, x: 0, y: -20, duration: 60 })
      .perform();
    await h.until('shown', async () => (await grip.getText()) !== 'thickness 3.5');
    await driver.actions({ async: true }).sendKeys('9').perform();
    await (await h.see('.handle input')).sendKeys(Key.ESCAPE);
    await driver.actions({ async: true }).release().perform();
    await h.until('as it was', async () => (await grip.getText()) === 'thickness 3.5');
    expect(await number('thickness')).toBe(3.5);
    // An impossible value is refused in words, and changes nothing.
    await typeOn('depth of Inset', '4mmm');
    await h.see('.notice.problem');
    await driver.actions().sendKeys(Key.ESCAPE).perform();
    expect(await number('depth')).toBeUndefined();
    await on.key('w');
    await h.until('the extrusion', async () => (await on.stored())[0].actions?.length === 2);
    await typeOn('distance of Extrude', '12');
    await h.until('the depth', async () => (await number('distance')) === 12);
    await on.key(Key.ALT, 'h');
    await on.untilCounts('4 of');
    await on.key('t');
    await h.until('the bevel', async () => (await on.stored())[0].actions?.length === 3);
    await h.wheel(await handle('segments of Bevel'), -100);
    await h.until('a segment more', async () => (await number('segments')) === 3);
    expect((await on.stored())[0].actions).toHaveLength(3);
    await h.press('Open the Card');
    const { max } = boundsOf(await on.exported());
    expect(max[1]).toBeCloseTo(22, 4);
  });

  it('are those of a rounding too, and one that was scrubbed is taken back by the key', async () => {
    const rounded: Piece = {
      ...block,
      steps: [{ kind: 'bevel', scope: { rule: 'sharp', angle: 30 }, width: 2, segments: 3 }],
    };
    const step = async (key: string): Promise<unknown> =>
      ((await on.stored())[0].steps![0] as Record<string, unknown>)[key];
    await on.open('Rounded', [rounded]);
    await h.pick('Block');
    await on.key('n');
    await h.rest();
    await h.click('[data-lane="Edge"] .bead');
    await h.wheel(await handle('segments of Block'), -100);
    await h.until('a segment more', async () => (await step('segments')) === 4);
    const width = await handle('width of Block');
    const before = await width.getText();
    await h.pull(await width.findElement(By.css('i')), [0, -40]);
    await h.until('another width', async () => (await step('width')) !== 2);
    expect(await width.getText()).not.toBe(before);
    await typeOn('width of Block', '3');
    await h.until('the width typed', async () => (await step('width')) === 3);
    const label = await driver.findElement(By.xpath('//*[contains(@class,"card")]//label[text()="Width"]'));
    await driver
      .actions({ async: true })
      .move({ origin: label })
      .press()
      .move({ origin: label, x: 24, y: 0 })
      .release()
      .perform();
    await h.until('a scrubbed width', async () => Number(await step('width')) > 3);
    await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await h.until('the width before', async () => (await step('width')) === 3);
    // In a field in which nothing was typed it is the same.
    await (await driver.findElement(By.xpath('//*[contains(@class,"card")]//label[text()="Width"]'))).click();
    await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await h.until('the width before that', async () => (await step('width')) !== 3);
  });

  it('follow what is picked in their first values', async () => {
    const fine: Piece = {
      ...block,
      base: { primitive: 'box', width: 60, height: 20, depth: 40, segments: [36, 12, 24] },
    };
    await fromAbove([fine], '8');
    await on.clickAt(0.8 * s, 0.8 * s);
    await on.untilCounts('1 of');
    await on.key('w');
    await h.until('the extrusion', async () => (await on.stored())[0].actions?.length === 1);
    // The face is 1.67 mm wide.
    expect(await number('distance')).toBeLessThan(1);
    expect(await number('distance')).toBeGreaterThan(0.1);
  });

  it('come back with an edit that is opened again', async () => {
    const top = { rule: 'facing' as const, direction: [0, 1, 0] as [number, number, number] };
    await on.open('Opened again', [
      {
        ...block,
        actions: [
          { op: 'extrude', select: top, distance: 5 },
          { op: 'inset', select: top, thickness: 4 },
        ],
      },
    ]);
    await h.pick('Block');
    await h.press('Extrude', '.edits');
    await typeOn('distance of Extrude', '9');
    await h.until('the depth', async () => (await on.stored())[0].actions![0].distance === 9);
    expect((await on.stored())[0].actions).toHaveLength(2);
    await h.pull(await (await handle('distance of Extrude')).findElement(By.css('i')), [0, -60]);
    await h.until('pulled', async () => ((await on.stored())[0].actions![0].distance as number) > 10);
    const [, inset] = (await on.stored())[0].actions!;
    expect([inset.op, inset.select, inset.thickness]).toEqual(['inset', top, 4]);
  });

  it('snap to the corner of another piece: up to it, and no further', async () => {
    const post: Piece = { id: 'b', name: 'Post', base: { primitive: 'box', width: 4, height: 31, depth: 10 }, transform: { move: [38, 0, 0] } }; // prettier-ignore
    await fromAbove([block, post], '8');
    await on.key('m');
    await on.key('s');
    await h.press('point', '.snaps');
    await h.press('grid', '.snaps');
    await on.key('a');
    await on.clickAt(0, 0);
    await on.untilCounts('1 of 6 faces');
    await on.key('w');
    await typeOn('distance of Extrude', '2');
    await h.until('the depth', async () => (await number('distance')) === 2);
    await on.key('1');
    await h.rest();
    const to = async (x: number, y: number): Promise<void> =>
      driver
        .actions({ async: true })
        .move({ origin: on.middle, x: Math.round(x * s), y: Math.round(-y * s), duration: 60 })
        .perform();
    const grip = await (await handle('distance of Extrude')).findElement(By.css('i'));
    await driver.actions({ async: true }).move({ origin: grip }).press().perform();
    await to(20, 14);
    await to(36.3, 15.3);
    await driver.actions({ async: true }).release().perform();
    // The post is 15.5 mm high there, the top face of the block was at 10.
    await h.until('up to the corner', async () => Math.abs((await number('distance')) - 5.5) < 1e-3);
  });
});

describe('The tray of tools', () => {
  it('shows what the keys do with Shift held, says why a tool cannot act, and keeps those without a key', async () => {
    await fromAbove([block], '9');
    const names = async (): Promise<string> => h.text('.tray [role="group"]');
    expect(await names()).toContain('Bevel');
    expect(await names()).not.toContain('Support');
    await h.focusStage();
    await driver.actions().keyDown(Key.SHIFT).perform();
    await h.until('the relatives', async () => (await names()).includes('Support'));
    await driver.actions().keyUp(Key.SHIFT).perform();
    await h.until('the keys', async () => (await names()).includes('Bevel'));
    await on.tool('Bevel');
    expect(await h.text('.notice.problem')).toContain('Bevel: pick edges first.');
    expect((await on.stored())[0].actions).toBeUndefined();
    await on.clickAt(0, 20 * s);
    await on.untilCounts('1 of 12 edges');
    await on.tool('Bevel');
    await h.until('the bevel', async () => (await on.stored())[0].actions?.length === 1);
    await on.key('8');
    await on.key(Key.CONTROL, 'a');
    await on.untilCounts('8 of 8');
    await h.press('More', '.tray');
    const cut = `return [...document.querySelectorAll('.tray [role="group"] button span:last-child')]
      .filter((e) => e.scrollWidth > e.clientWidth || e.scrollHeight > e.clientHeight + 1).map((e) => e.textContent)`;
    await h.until('the other tools', async () => (await names()).includes('Mirror once'));
    expect(await driver.executeScript(cut)).toEqual([]);
    await on.tool('Mirror once');
    await h.until('mirrored', async () => (await on.stored())[0].actions?.length === 2);
    await h.press('Fold the tools');
    expect(await driver.findElements(By.css('.tray [role="group"]'))).toEqual([]);
    await on.reopen();
    await h.pick('Block');
    await on.key('8');
    await h.press('Show the tools');
    await h.until('the tools', async () => (await names()).includes('Extrude'));
  });
});

describe('Picks', () => {
  const slab: Piece = {
    ...block,
    name: 'Slab',
    base: { primitive: 'box', width: 60, height: 10, depth: 60, segments: [3, 1, 3] },
  };

  it('are taken back one by one and brought again, and come back with the mesh they were of', async () => {
    await fromAbove([slab], '8');
    await on.clickAt(0, 0);
    await on.clickAt(20 * s, 0, Key.SHIFT);
    await on.clickAt(20 * s, 20 * s, Key.SHIFT);
    await on.untilCounts('3 of 30');
    await on.key(Key.ALT, ',');
    await on.untilCounts('2 of 30');
    await on.key(Key.ALT, ',');
    await on.untilCounts('1 of 30');
    await on.key(Key.ALT, '.');
    await on.untilCounts('2 of 30');
    await on.act('Extrude', 'w');
    await on.untilCounts('2 of 36');
    await on.clickAt(-20 * s, -20 * s);
    await on.untilCounts('1 of 36');
    // Only picks of this mesh are on the way back.
    await on.key(Key.ALT, ',');
    await on.untilCounts('2 of 36');
    await on.key(Key.CONTROL, 'z');
    await on.untilCounts('2 of 30');
    await on.key(Key.CONTROL, Key.SHIFT, 'z');
    await on.untilCounts('2 of 36');
  });

  it('let go by a click beside the model are picked again from the message', async () => {
    await fromAbove([slab], '8');
    await on.key(Key.CONTROL, 'a');
    await on.untilCounts('30 of 30');
    await on.clickAt(36 * s, 0);
    await on.untilCounts('0 of 30');
    expect(await h.text('.notice')).toContain('30 picks were let go.');
    await h.press('Pick them again');
    await on.untilCounts('30 of 30');
  });
});

it('Switches that change what the hand does are told on the stage, and ended there', async () => {
  await fromAbove([block], '8');
  await on.key(Key.SHIFT, 'a');
  await on.key('m');
  await on.key(Key.SHIFT, 'u');
  const told = async (): Promise<string> => (await driver.findElements(By.css('.switched'))).length + '';
  await h.until('three', async () => (await told()) === '3');
  await h.press('snapping');
  await h.press('picks through');
  await h.until('one', async () => (await told()) === '1');
  expect(await h.text('[aria-label="Switched on"]')).toMatch(/^soft, \d/);
  await h.click('.switched');
  await h.until('none', async () => (await told()) === '0');
});

it('Nothing is in the way of a screen reader at any level, in the menus and boxes', async () => {
  const found: Record<string, string[]> = {};
  const look = async (where: string): Promise<void> => {
    const all = await barriers(driver);
    if (all.length) found[where] = all;
  };
  await on.open('Accessible', [{ ...block, steps: [{ kind: 'bevel', scope: { rule: 'sharp', angle: 30 }, width: 2, segments: 2 }] }]); // prettier-ignore
  await look('nothing selected');
  await h.pick('Block');
  await look('a piece');
  await h.click('[data-lane="Edge"] .bead');
  await look('a step');
  for (const [key, of] of Object.entries({ 8: 'faces', 9: 'edges', 0: 'points' })) {
    await on.key(key);
    await on.untilCounts(of);
    await look(`level ${key}`);
  }
  await on.key('s');
  await look('the handles');
  await on.picks();
  await look('ways to pick');
  await driver.actions().sendKeys(Key.ESCAPE).perform();
  await on.key('7');
  await on.key('?');
  await look('keys');
  await driver.actions().sendKeys(Key.ESCAPE).perform();
  await on.key(' ');
  await look('search');
  expect(found).toEqual({});
});

it('In small windows no bar lies over another, and the stage keeps half of it', async () => {
  await fromAbove([block], '8');
  const window_ = driver.manage().window();
  const before = await window_.getRect();
  for (const [width, height] of [
    [1024, 700],
    [640, 400],
  ]) {
    await window_.setRect({ width, height });
    await h.rest();
    const { bars, share } = await driver.executeScript<{ bars: number[][]; share: number }>(
      `const stage = document.querySelector('#stage').getBoundingClientRect();
       const bars = [...document.querySelectorAll('.view .seg, .view .count, .view select, .view .tray')].map((e) => e.getBoundingClientRect()).filter((r) => r.width && r.height).map((r) => [r.left, r.top, r.right, r.bottom]);
       return { bars, share: stage.width * stage.height / (innerWidth * innerHeight) };`,
    );
    expect(bars.length).toBeGreaterThan(3);
    expect([width, share >= 0.5]).toEqual([width, true]);
    for (const [i, a] of bars.entries())
      for (const b of bars.slice(i + 1))
        expect([width, i, a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3]]).toEqual([
          width,
          i,
          false,
        ]);
  }
  await window_.setRect(before);
});
