/** Elements of several pieces at once: picked, dragged, worked on and taken back as one. */
import { By, Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Action } from '@urnsmith/core/actions/actions';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';

const { browser, on, h } = await atBench();
const { driver } = browser;

const pieces: Piece[] = [
  { id: 'a', name: 'Block', base: { primitive: 'box', width: 30, height: 20, depth: 60 } },
  {
    id: 'b',
    name: 'Post',
    base: { primitive: 'box', width: 12, height: 20, depth: 12 },
    transform: { move: [25, 0, 0], turn: [0, 90, 0] },
  },
];
let s = 1;

const actions = async (): Promise<Action[][]> => (await on.stored()).map((p) => p.actions ?? []);
const lasts = async (): Promise<Array<Action | undefined>> => (await actions()).map((l) => l.at(-1));
const counts = async (): Promise<string> => (await actions()).map((l) => l.length).join();
const leads = (): Promise<string> => h.text('.rows .row[aria-selected="true"]');

describe('Elements of several pieces', () => {
  it('a click on another piece goes over to it, at the same level', async () => {
    await on.open('Several', pieces);
    await h.pick('Block');
    await on.key('5');
    await on.key('p');
    await on.key('n');
    s = await on.scaleFrom(15);
    await on.key('8');
    await on.clickAt(0, 0);
    await on.untilCounts('1 of 6 faces');
    await on.clickAt(25 * s, 0);
    await h.until('the other piece', async () => (await leads()).includes('Post'));
    await on.untilCounts('1 of 6 faces');
    await on.key('w');
    await h.until('its face extruded', async () => (await counts()) === '0,1');
    await on.key(Key.CONTROL, 'z');
    await h.until('and back', async () => (await counts()) === '0,0');
  });

  it('Shift takes both in hand; a tool acts on both, and is one step', async () => {
    await on.clickAt(25 * s, 0);
    await on.untilCounts('1 of 6 faces');
    await on.clickAt(-8 * s, 0, Key.SHIFT);
    await on.untilCounts('1 of 6 faces here, 1 on 1 other piece');
    await on.key('w');
    await h.until('both extruded', async () => (await counts()) === '1,1');
    await h.until('it says so', async () => (await h.text('.notice')).includes('2 faces'));
    // Its number is one number.
    await h.type('Distance', '7');
    await h.until('both 7 mm', async () => (await lasts()).every((a) => a?.distance === 7));
    expect(await counts()).toBe('1,1');
    await on.key(Key.CONTROL, 'z');
    await h.until('both back', async () => (await counts()) === '0,0');
    await on.untilCounts('1 of 6 faces here, 1 on 1 other piece');
    // A reader is told what the history did.
    const said = async (): Promise<string> =>
      (await h.driver.findElement(By.css('[data-spoken]'))).getAttribute('textContent') as Promise<string>;
    await h.until('it is said', async () => (await said()) === 'Undone: Extrude: 2 pieces');
  });

  it('a drag moves both by the same way in the world', async () => {
    await on.key('s');
    await driver
      .actions()
      .move({ origin: on.middle, x: Math.round(-8 * s), y: 0 })
      .press()
      .move({ origin: on.middle, x: Math.round(-8 * s) + 20, y: 0 })
      .move({ origin: on.middle, x: Math.round(-8 * s) + 40, y: 0 })
      .release()
      .perform();
    await h.until('both moved', async () => (await counts()) === '1,1');
    const [a, b] = (await lasts()).map((x) => x!.move as number[]);
    expect(a[0]).toBeCloseTo(40 / s, 0);
    // The post is turned a quarter: the world's X is its own Z.
    expect(Math.abs(b[2])).toBeCloseTo(a[0], 4);
    expect(b[0]).toBeCloseTo(0, 4);
    await on.key(Key.CONTROL, 'z');
    await h.until('both back', async () => (await counts()) === '0,0');
  });

  it('a box picks on both, and Escape lets go of both', async () => {
    await on.key('a');
    await on.key('0');
    const corner = (x: number, y: number) => ({
      origin: on.middle,
      x: Math.round(x * s),
      y: Math.round(y * s),
    });
    await driver
      .actions()
      .move(corner(-26, -37))
      .press()
      .move(corner(0, 0))
      .move(corner(52, 37))
      .release()
      .perform();
    await on.untilCounts('4 of 8 points here, 4 on 1 other piece');
    await on.key(Key.ESCAPE);
    await on.untilCounts('0 of 8 points here, 0 on 1 other piece');
  });
});

describe('A screen reader', () => {
  it('is told that a step cannot act, and why', async () => {
    const steps: Piece['steps'] = [{ kind: 'bevel', scope: { rule: 'kept', name: 'rim' }, width: 1 }];
    await on.open('Faulty', [{ ...pieces[0], steps }]);
    await h.pick('Block');
    const said = (): Promise<string> =>
      driver.executeScript("return document.querySelector('[data-spoken]').textContent");
    await h.until('the fault', async () =>
      (await said()).includes('A step cannot act: The piece has no kept selection “rim”.'),
    );
    await (await h.see('.strip .bead.broken')).click();
    await h.press('Remove step');
    await h.until('gone', async () => !(await said()).includes('cannot act'));
  });
});
