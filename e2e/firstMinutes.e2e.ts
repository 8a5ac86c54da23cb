/** A newcomer: from the list of scenes to a file, with only what the screen says. */
import { readFileSync } from 'node:fs';
import { By, Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';
import { downloadBy } from './downloads';
import { glbMeasures } from './readGlb';

const at = await atBench({ demo: true });
const { on, h, browser } = at;
const { driver } = browser;

const box = (id: string, name: string, x: number): Piece => ({
  id,
  name,
  base: { primitive: 'box', width: 60, height: 20, depth: 40 },
  transform: { move: [x, 0, 0] },
});

const nextMove = (text: string): Promise<unknown> =>
  h.until(text, async () => {
    for (const b of await driver.findElements(By.css('[aria-label="Next moves"] button')))
      if ((await b.getText()).startsWith(text)) return b.click().then(() => true);
    return null;
  });

describe('a plate with four rounded holes', () => {
  it('is in a file after at most 20 actions', async () => {
    let actions = 0;
    const act = <T>(what: Promise<T>): Promise<T> => {
      actions++;
      return what;
    };
    await driver.get(`${at.server.url}/`);
    await act(h.press('New scene'));
    await on.untilDrawn();
    await act(h.press('Start with a box'));
    await act(h.type('Width', '120'));
    await act(h.type('Height', '8'));
    await act(h.type('Depth', '80'));
    await act(on.key('5'));
    await act(on.key(Key.SHIFT, 'n'));
    const mm = await on.scaleFrom(60);
    await act(h.press('Put holes in it'));
    await h.until('in hand', async () => (await h.text('.toolline b')) === 'Holes');
    await act(h.type('Radius', '6'));
    for (const [x, z] of [[-45, -25], [45, -25], [45, 25], [-45, 25]]) {
      await driver.actions({ async: true }).move({ origin: on.middle, x: Math.round(x * mm), y: Math.round(z * mm) }).perform(); // prettier-ignore
      await h.rest();
      await act(on.clickAt(x * mm, z * mm));
    } // prettier-ignore
    await h.until('four holes', async () => (await h.text('.card')).includes('4 set down'));
    await act(h.press('Done'));
    await act(nextMove('Round the rims'));
    await h.until('rounded', async () => /Rims/.test(await h.text('[data-lane="Edge"] .bead')));
    await act(h.click('a[href$="/crate"]'));
    await h.until('nothing left', async () => (await h.text('.card')).includes('Left to mend\n✓ nothing'));
    const file = await act(downloadBy(h, browser, 'Export GLB', '.glb'));
    expect(actions).toBeLessThanOrEqual(20);
    const { volume, size } = glbMeasures(readFileSync(file));
    // Metres. Holes of 6 mm whose rims, above and below, are rounded by 2 mm.
    expect(size.map((s) => Math.round(1000 * s))).toEqual([120, 8, 80]);
    // Of a fillet: its section is (1 − π/4) r², and the middle of that 0.223 r off the edge.
    const rims = 8 * 2 * Math.PI * (6 + 0.223 * 2) * (1 - Math.PI / 4) * 4;
    const gone = 120 * 8 * 80 - volume * 1e9;
    expect(gone / (4 * 8 * Math.PI * 36 + rims)).toBeGreaterThan(0.97);
    expect(gone / (4 * 8 * Math.PI * 36 + rims)).toBeLessThan(1.03);
  });
});

describe('the first moves', () => {
  it('are ticked off as they are made, and stay away once they were put away', async () => {
    await on.open('First moves', [box('a', 'Block', 0)]);
    await driver.executeScript('localStorage.removeItem("urnsmith-first-moves")');
    await on.reopen();
    const done = async (): Promise<number> =>
      (await driver.findElements(By.css('.firstMoves [aria-label="done"]'))).length;
    await h.see('.firstMoves');
    const before = await done();
    await h.pick('Block');
    await h.until('picked', async () => (await done()) > before);
    await driver.actions({ async: true }).move({ origin: on.middle, x: 250, y: 120 }).press(2 as never)
      .move({ origin: on.middle, x: 300, y: 120 }).release(2 as never).perform(); // prettier-ignore
    await h.until('turned', async () => (await done()) > before + 1);
    await h.pull(await h.see('.handle[aria-label^="width"] i'), [30, 0]);
    await h.until('pulled', async () => (await done()) === 3);
    await h.click('[aria-label="Put the first moves away"]');
    await on.reopen();
    expect(await driver.findElements(By.css('.firstMoves'))).toEqual([]);
  });
});

describe('a cutter that cuts nothing', () => {
  it('is asked what it shall cut, what it touches first', async () => {
    await on.open('Hosts', [
      box('b', 'Other', 90),
      box('a', 'Block', 0),
      { id: 'c', name: 'Rod', base: { primitive: 'cylinder', radius: 8, height: 60 } },
    ]);
    await h.pick('Rod');
    await h.press('cutter', '[aria-label="Role"]');
    await h.see('[aria-label="Cut"] button');
    const offered = await Promise.all((await driver.findElements(By.css('[aria-label="Cut"] button'))).map((b) => b.getText())); // prettier-ignore
    expect(offered).toEqual(['Block', 'Other (apart)']);
    await h.press('Block', '[aria-label="Cut"]');
    await h.until('cut', async () => (await on.stored()).find((p) => p.id === 'a')?.steps?.length === 1);
    // Outer edges without the rims, and what each scope means is said.
    await nextMove('Round outer edges');
    await h.until('its edges', async () => /Outer edges/.test(await h.text('[data-lane="Edge"] .bead')));
    await h.until('twelve', async () => (await h.text('.card')).includes('12 edges'));
    expect(await h.text('.card')).toContain('Edges there were before any cut');
  });
});

describe('the Crate', () => {
  it('tells what is left to mend, and mends it', async () => {
    await on.open('Left', [
      {
        ...box('a', 'Block', 0),
        steps: [
          { kind: 'bevel', id: 's1', scope: { rule: 'sharp', angle: 30 }, width: 2, segments: 2 },
          { kind: 'normals', id: 's2', weight: 'area', hardAngle: 40 },
        ],
      },
      { ...box('b', 'Open', 90), actions: [{ op: 'deleteFaces', select: { faces: [0] } }] },
    ]);
    await h.click('a[href$="/crate"]');
    const left = async (): Promise<string> =>
      (await Promise.all((await driver.findElements(By.css('[data-left]'))).map((e) => e.getText()))).join(
        '\n',
      );
    await h.until('told', async () => /faces lean/.test(await left()) && /open edges/.test(await left()));
    await h.press('Repair', '[data-left="a/shading"]');
    await h.until('mended', async () => !/faces lean/.test(await left()));
    expect((await on.stored())[0].steps!.map((s) => [s.kind, s.kind === 'normals' && s.weight])).toEqual([
      ['bevel', false],
      ['normals', 'built'],
    ]);
    await h.click('[aria-label="Open Open on the Bench"]');
    await h.see('.rows [data-name="Open"][aria-selected="true"]');
  });
});
