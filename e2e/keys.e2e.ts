/** The picture of the keyboard, and keys a person changes. */
import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { atBench } from './atBench';

const at = await atBench();

describe('the keys', () => {
  it('are shown by level, changed with a clash told, and kept over a reload', async () => {
    const { on, h, browser } = at;
    const { driver } = browser;
    await on.open('Keys', [
      { id: 'a', name: 'Block', base: { primitive: 'box', width: 20, height: 20, depth: 20 } },
    ]);
    await on.key('?');
    await h.see('.keyboard [title="Q: Cut: subtract the others from the last selected"]');
    await h.press('Faces, edges, points', '.keysBox');
    await h.see('.keyboard [title="Q: Knife"]');
    await h.press('Pieces', '.keysBox');
    await (await h.see('.keysFind input')).sendKeys('hide or show');
    await h.press('Change the key of Hide or show');
    await driver.actions().sendKeys('q').perform();
    expect(await h.text('[data-command="hide"] p')).toMatch(/^Q is “Cut: subtract .*” already/);
    await h.press('Leave it');
    await h.press('Change the key of Hide or show');
    await driver.actions().sendKeys('q').perform();
    await h.press('Take it from there');
    await h.see('.keyboard [title="Q: Hide or show"]');
    await h.press('Close');
    const hidden = async (): Promise<boolean> => (await on.stored())[0].hidden ?? false;
    await h.until('the keys stored', async () => {
      const r = await fetch(`${at.server.url}/api/settings/keys`);
      return ((await r.json()) as Record<string, string>).hide === 'q';
    });
    await on.reopen();
    await h.pick('Block');
    await on.key('q');
    await h.until('hidden by the new key', hidden);
    // The old key does nothing now.
    await on.key('k');
    await on.key('q');
    await h.until('shown again', async () => !(await hidden()));
    await on.key('?');
    await h.press('Reset all keys');
    await h.see('.keyboard [title="K: Hide or show"]');
    // The other hand's keys, and back.
    await h.press('Swap the hands');
    await h.see('.keyboard [title="P: Cut: subtract the others from the last selected"]');
    await h.see('.keyboard [title="D: Hide or show"]');
    await h.press('Swap the hands');
    await h.see('.keyboard [title="K: Hide or show"]');
    await driver.actions().sendKeys(Key.ESCAPE).perform();
    await on.key('k');
    await h.until('hidden by the old key', hidden);
  });
});

describe('a command that cannot act', () => {
  it('stays in the search with its reason, and Enter does nothing in its place', async () => {
    const { on, h } = at;
    await on.open('Reasons', [{ id: 'a', name: 'Block', base: { primitive: 'box', width: 40, height: 20, depth: 30 } }]);
    await on.key(Key.SPACE);
    await h.until('the search', async () => (await h.text('.finderBox')) !== '');
    await h.keys('hide');
    await h.until('the reason', async () => (await h.text('.finderBox')).includes('select a piece first'));
    await h.keys(Key.ENTER);
    expect(await h.text('.finderBox')).toContain('select a piece first');
    expect((await on.stored())[0].hidden).toBeUndefined();
    await h.keys(Key.ESCAPE);
    // With a piece selected it acts.
    await h.pick('Block');
    await h.find('Hide or show');
    await h.until('hidden', async () => (await on.stored())[0].hidden === true);
  }); // prettier-ignore
});
