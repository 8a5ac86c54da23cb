/**
 * Work that is never lost: answers dropped, cut and doubled on their way, the page left, closed and opened again, the
 * server killed, two windows. Counts are short here; `npm run soak` runs them long (URNSMITH_SOAK).
 */
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { SceneState } from '@urnsmith/core/document/scene';
import type { Piece } from '@urnsmith/core/document/schema';
import { piecesOf } from '@urnsmith/core/document/sections';
import type { Browser } from './browser';
import { HandsOn } from './hands';
import { Proxy, type Break } from './proxy';
import { TestServer } from './server';
import { workerBrowser } from './workerBrowser';

const LONG = process.env.URNSMITH_SOAK !== undefined;
const times = (short: number, long: number): number => (LONG ? long : short);

const server = new TestServer({ demo: false });
const proxy = new Proxy(() => server.url);
let browser: Browser;
let h: HandsOn;

beforeAll(async () => {
  await server.start();
  await proxy.start();
  browser = await workerBrowser({ origin: proxy.url });
  h = new HandsOn(browser.driver);
});
afterAll(async () => {
  await browser?.driver.get('about:blank');
  await proxy.close();
  await server.close();
});

const box = (id: string, name: string, x = 0): Piece => ({
  id,
  name,
  base: { primitive: 'box', width: 20, height: 20, depth: 20 },
  transform: { move: [x, 0, 0] },
});

async function create(name: string, pieces: Piece[]): Promise<string> {
  const made = await fetch(`${server.url}/api/scenes`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name, document: { pieces } }),
  });
  return ((await made.json()) as { id: string }).id;
}

async function stored(id: string): Promise<SceneState & { pieces: Piece[] }> {
  const state = (await (await fetch(`${server.url}/api/scenes/${id}`)).json()) as SceneState;
  return { ...state, pieces: piecesOf(state.document) };
}

async function openAt(id: string): Promise<void> {
  await browser.driver.get(`${proxy.url}/scene/${id}/bench`);
  await h.see('#stage');
  await h.see('.rows .row');
}

/** Presses a key as the stage hears it, at once, and whatever else in the same moment. */
const press = (key: string, then = ''): Promise<unknown> =>
  browser.driver.executeScript(
    `document.body.dispatchEvent(new KeyboardEvent('keydown', { key: ${JSON.stringify(key)}, bubbles: true, cancelable: true })); ${then}`,
  );

const topBar = (): Promise<string> => h.text('.saved');
const notes = async (): Promise<number> => (await browser.driver.findElements(By.css('.saveNote'))).length;

describe('writes', () => {
  it('are there once each, whatever is dropped, cut, doubled or delayed on the way', async () => {
    const count = times(40, 200);
    const id = await create('Dropped', [box('a', 'A')]);
    await openAt(id);
    await h.pick('A');
    const kinds: Break[] = ['drop answer', 'cut answer', 'double', 'drop request', 'delay', 'drop answer'];
    let broken = 0;
    // Every action's first try is broken, its second may be too.
    proxy.breaks = (n) => (n % 3 === 0 ? 'pass' : kinds[broken++ % kinds.length]);
    for (let k = 0; k < count; k++) {
      await press('l');
      if (k % 8 === 3) {
        await browser.driver.executeScript(
          "document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, bubbles: true }))",
        );
      }
    }
    await h.until('saving', async () => (await topBar()).startsWith('saved'), 120_000);
    proxy.breaks = () => 'pass';
    const s = await stored(id);
    const undone = Array.from({ length: count }, (_, k) => k % 8 === 3).filter(Boolean).length;
    expect([s.undo.length, s.seq, await notes()]).toEqual([Math.min(200, count - undone), count + undone, 0]);
    expect(broken).toBeGreaterThan(count / 2);
    // The page shows what is stored.
    await openAt(id);
    expect((await stored(id)).seq).toBe(s.seq);
  });

  it('are kept when the page is left in the moment of the action', async () => {
    const count = times(12, 50);
    const id = await create('Left', [box('a', 'A')]);
    for (let k = 1; k <= count; k++) {
      await openAt(id);
      await h.pick('A');
      await press('l', "location.replace('about:blank')");
      if (k % 4 === 0) {
        // Not even the scene is opened again: any page of the application sends what was left.
        await browser.driver.get(proxy.url);
      } else await openAt(id);
      await h.until(`action ${k}`, async () => (await stored(id)).seq === k, 15_000);
    }
    expect((await stored(id)).undo).toHaveLength(count);
  });

  it('wait in the browser while the server is gone, however many, and the page says so', async () => {
    const count = times(60, 1000);
    const id = await create('Offline', [box('a', 'A')]);
    await openAt(id);
    await h.pick('A');
    await server.kill();
    for (let k = 0; k < count; k++) await press('l');
    await h.until('the truth', async () => (await topBar()) === `server away; ${count} actions kept here`);
    // Closed meanwhile, and another window opened when the server is back.
    await browser.driver.executeScript("location.replace('about:blank')");
    await server.start();
    await browser.driver.get(`${proxy.url}/scene/${id}/bench`);
    // Actions left behind are sent before the scene is shown.
    await h.see('#stage', 100_000);
    await h.until('all of them', async () => (await stored(id)).seq === count, 120_000);
    expect(await notes()).toBe(0);
  });
});

describe('two windows', () => {
  let first = '';
  let second = '';
  let id = '';

  it('learn of each other when it happens, and both hold', async () => {
    id = await create('Shared', [box('a', 'A'), box('b', 'B', 60)]);
    await openAt(id);
    first = await browser.driver.getWindowHandle();
    await browser.driver.switchTo().newWindow('tab');
    second = await browser.driver.getWindowHandle();
    await openAt(id);
    await h.pick('B');
    await press('k');
    await browser.driver.switchTo().window(first);
    await h.until(
      'the other window’s change showing here',
      async () => (await (await h.see('[aria-label^="Undo"]')).getAttribute('aria-label')) === 'Undo Hide B',
    );
    // This window acts on another piece, without having been touched since.
    await h.pick('A');
    await press('l');
    await h.until('both', async () => {
      const s = await stored(id);
      return s.seq === 2 && s.pieces[0].locked === true && s.pieces[1].hidden === true;
    });
    expect(await notes()).toBe(0);
  });

  it('that change the same piece lose nothing: the later one’s work becomes a scene, one click away', async () => {
    // The first window’s connection is slow to come back: the second is there before it.
    let hold = true;
    proxy.breaks = () => (hold ? 'drop request' : 'pass');
    await press('l');
    const other = await fetch(`${server.url}/api/scenes/${id}`);
    const state = (await other.json()) as SceneState;
    const theirs = await fetch(`${server.url}/api/scenes/${id}/actions`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        id: 'theirs-1',
        window: 'elsewhere',
        base: state.seq,
        kind: 'revision',
        label: 'Rename A',
        forward: [{ op: 'replace', path: ['pieces', 'a', 'name'], value: 'Theirs' }],
        inverse: [{ op: 'replace', path: ['pieces', 'a', 'name'], value: 'A' }],
      }),
    });
    expect(theirs.status).toBe(200);
    hold = false;
    const link = await h.see('.saveNote a', 20_000);
    expect(await link.getText()).toMatch(/^Shared \(recovered /);
    await h.see('.rows [data-name="Theirs"]');
    await link.click();
    await h.see('.rows [data-name="A"]');
    const copy = (await browser.driver.getCurrentUrl()).split('/').at(-2)!;
    expect(copy).not.toBe(id);
    expect((await stored(copy)).pieces[0]).toMatchObject({ name: 'A', locked: false });
    expect((await stored(id)).pieces[0]).toMatchObject({ name: 'Theirs', locked: true });
    await browser.driver.switchTo().window(second);
    await browser.driver.close();
    await browser.driver.switchTo().window(first);
  });
});

describe('a geometry worker', () => {
  it('that cannot be loaded says so, and is tried again by itself', async () => {
    const id = await create('Worker', [box('a', 'A')]);
    // At an address of its own, so that nothing of it comes from the browser's store.
    const other = new Proxy(() => server.url);
    other.blocked = /build\.worker/;
    await other.start();
    await browser.driver.get(`${other.url}/scene/${id}/bench`);
    await h.see('.rows .row');
    await h.pick('A');
    await h.until('the truth', async () =>
      (await h.text('.faultBox')).includes('geometry worker could not be loaded'),
    );
    other.blocked = null;
    await h.until('the shape', async () => (await h.text('.rows [data-name="A"] em')) === '6');
    await h.until(
      'no fault',
      async () => (await browser.driver.findElements(By.css('.faultBox'))).length === 0,
    );
    await other.close();
  });
});

describe('the history', () => {
  it('is searched, gone to with a click, and has milestones that are compared and gone back to', async () => {
    const id = await create('History', [box('a', 'A'), box('b', 'B', 60)]);
    await openAt(id);
    for (const key of ['l', 'k', 'j']) {
      await h.pick('A');
      await press(key);
    }
    await h.press('History');
    await h.press('Milestones');
    await (await h.see('[aria-label="Name of a new milestone"]')).sendKeys('Blocked out', Key.ENTER);
    await h.see('.milestones li');
    await h.press('Close');
    await h.pick('B');
    await press('Delete');
    await h.press('History');
    await (await h.see('[aria-label="Find an action"]')).sendKeys('lock');
    await h.until(
      'one',
      async () => (await browser.driver.findElements(By.css('.actionList li'))).length === 1,
    );
    await h.click('.actionList button');
    await h.until('that state', async () => {
      const s = await stored(id);
      return s.pieces.length === 2 && s.pieces[0].locked === true && s.pieces[0].hidden === undefined;
    });
    await h.see('.rows [data-name="B"]');
    await h.press('Milestones');
    await h.press('Compare');
    expect(await h.text('.milestones dl')).toContain('hidden, faint');
    await h.press('Go back to it');
    await h.until('the milestone', async () => (await stored(id)).pieces[0].faint === true);
    expect((await stored(id)).undo.at(-1)!.label).toBe('Back to “Blocked out”');
  });
});
