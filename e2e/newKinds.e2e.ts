/** One more of everything that has a list, each of one file, in the real interface: found, pressed, dragged, stored. */
import { execFileSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { By, Key } from 'selenium-webdriver';
import { afterAll, describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { scratchCopy } from '../web/test/scratch';
import { atBench } from './atBench';
import { downloadBy } from './downloads';

const scratch = scratchCopy();
const vite = join(scratch, 'node_modules/vite/bin/vite.js');
execFileSync(process.execPath, [vite, 'build', 'web', '--logLevel', 'error'], { cwd: scratch, stdio: ['ignore', 'ignore', 'pipe'], env: { ...process.env, NODE_ENV: 'production' } }); // prettier-ignore
const at = await atBench({ root: scratch, sharp: true });
afterAll(() => rmSync(scratch, { recursive: true, force: true }));

/** Runs the command that a typed word finds first. */
async function find(word: string): Promise<void> {
  await at.on.key(' ');
  await (await at.h.see('.finderBox input')).sendKeys(word);
  await at.h.until('an answer', async () => (await at.h.text('.finderBox [cmdk-item] span')) !== '');
  await at.h.keys(Key.ENTER);
}

describe('new kinds', () => {
  it('a primitive is found, added, and dragged on the model', async () => {
    const { on, h } = at;
    await on.open('New', []);
    await find('ingot');
    await h.until('the bar', async () => (await on.stored()).length === 1);
    expect((await on.stored())[0]).toMatchObject({ name: 'Bar', base: { primitive: 'bar', reach: 80 } });
    await h.see('.handle[aria-label^="reach"]');
    await h.type('Reach', '60');
    await h.until('stored', async () => ((await on.stored())[0].base as { reach?: number }).reach === 60);
    expect(await h.text('.bead.base i')).toBe('60');
  });

  it('an operation has its tool in the tray and in the ring, acts, and is told of', async () => {
    const { on, h, browser } = at;
    await on.key('0');
    await on.untilCounts('0 of 8 points');
    await on.key(Key.CONTROL, 'a');
    await on.tool('Sink');
    await h.until('sunk', async () => (await h.text('.lastAction .head b')) === 'Sink');
    expect(await h.text('.lastAction')).toContain('Sunk 8.');
    await h.type('Depth', '3', '.lastAction');
    await h.until('retuned', async () => (await on.lastAction()).depth === 3);
    await h.focusStage();
    await browser.driver.actions({ async: true }).move({ origin: on.middle, x: 0, y: 150 }).contextClick().perform(); // prettier-ignore
    await h.press('Sink', '.ring');
    await h.until('again', async () => (await on.stored())[0].actions?.length === 2);
    await on.key(Key.CONTROL, 'z');
    await h.until('undone', async () => (await on.stored())[0].actions?.length === 1);
  });

  it('a step that works with another piece has its bead, field and handle, and follows that piece', async () => {
    const { on, h, browser } = at;
    const pieces: Piece[] = [
      { id: 'a', name: 'One', base: { primitive: 'box', width: 20, height: 20, depth: 20 } },
      { id: 'b', name: 'Two', base: { primitive: 'box', width: 10, height: 10, depth: 10 } },
    ];
    await on.open('Beside', pieces);
    await h.pick('Two', 'One');
    await find('companion');
    await h.until('added', async () => (await on.stored())[0].steps?.length === 1);
    expect((await on.stored())[0].steps![0]).toMatchObject({ kind: 'beside', other: 'b', gap: 5 });
    await h.until('built', async () => (await h.text('[data-lane="Repeat"] .bead i')).startsWith('5 mm'));
    const faces = async (): Promise<string> => h.text('.rows [data-name="One"] em');
    expect(await faces()).toBe('12');
    await h.type('Gap', '9');
    await h.until('retuned', async () => (await h.text('[data-lane="Repeat"] .bead i')).startsWith('9 mm'));
    await h.pick('One');
    await h.click('[data-lane="Repeat"] .bead');
    await h.see('.handle[aria-label^="gap"]');
    // The piece it works with is rounded: so is its copy here.
    await h.pick('Two');
    await on.key('t');
    await h.until('follows', async () => Number((await faces()).replace(/\D/g, '')) > 12);
    expect((await browser.driver.findElements(By.css('.bead.broken'))).length).toBe(0);
  });

  it('a look is chosen on the bar, and drawn', async () => {
    const { on, h } = at;
    await on.open('Looks', [
      { id: 'a', name: 'One', base: { primitive: 'box', width: 20, height: 20, depth: 20 } },
    ]);
    await h.press('Chalk', '.tr');
    expect(await h.text('.legend')).toMatch(/dust\s*1\s*g/);
    await h.rest();
    const { data, width, height } = PNG.sync.read(
      Buffer.from(await h.picture(await h.see('#stage')), 'base64'),
    );
    const [x, y] = [width >> 1, height >> 1];
    expect([...data.subarray(4 * (y * width + x), 4 * (y * width + x) + 3)].map((c) => c > 128)).toEqual([true, false, true]); // prettier-ignore
  });

  it('a mode has its sentence, its Card, its clicks and its keys', async () => {
    const { on, h } = at;
    await find('abacus');
    await h.until('its line', async () => (await h.text('.toolline')).includes('Tally'));
    await on.clickAt(0, 0);
    await on.clickAt(5, 5);
    expect(await h.text('.card .tally')).toBe('2 so far');
    await on.key(Key.ESCAPE);
    await h.until('ended', async () => (await h.count('.card .tally')) === 0);
  });

  it('a dialog is found, opened and closed', async () => {
    const { h } = at;
    await find('carton');
    expect(await h.text('[role="dialog"]')).toContain('Nothing but a box.');
    await h.keys(Key.ESCAPE);
    await h.until('closed', async () => (await h.count('[role="dialog"]')) === 0);
  });

  it('a format is offered in the Crate, written, and read again', async () => {
    const { h, browser, server } = at;
    await h.click('a[href$="/crate"]');
    await h.press('PTS', '.card');
    expect(await h.text('.card')).toContain('Corners of triangles, one to a line.');
    const file = await downloadBy(h, browser, 'Export PTS', '.pts');
    const text = readFileSync(file, 'utf8');
    // A box of 20 mm, in centimetres.
    expect(text.split(/\s+/).map((x) => Math.abs(Number(x)))).toEqual(Array(24).fill(1));
    const answer = await fetch(`${server.url}/api/scenes/import?name=Again`, {
      method: 'POST',
      headers: { 'content-type': 'model/points' },
      body: '0 0 0 1 0 0 0 1 0',
    });
    expect(answer.status).toBe(201);
  });

  it('a setting has its address, its first value and its limits', async () => {
    const address = `${at.server.url}/api/settings/motto`;
    const put = (body: unknown) =>
      fetch(address, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
    expect(await (await fetch(address)).json()).toBe('Measure twice.');
    expect((await put('Cut once.')).status).toBe(200);
    expect([(await put('Now!')).status, (await put('x'.repeat(30))).status]).toEqual([400, 400]);
    expect(await (await fetch(address)).json()).toBe('Cut once.');
  });
});
