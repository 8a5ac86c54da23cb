/** Cutters that belong to what they cut, as a person meets them. */
import { Key } from 'selenium-webdriver';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench, type AtBench } from './atBench';

let at: AtBench;
beforeAll(async () => {
  at = await atBench();
});

const named = async (name: string): Promise<Piece> =>
  (await at.on.stored()).find((p) => (p.name ?? p.id) === name)!;
const cuttersOf = async (name: string): Promise<string[]> =>
  ((await named(name)).steps![0] as { cutters: string[] }).cutters;

describe('a cutter', () => {
  it('moves with its host, is copied with it or into its step, and stays in the world on demand', async () => {
    const { on, h } = at;
    await on.open('Belongs', [
      { id: 'block', name: 'Block', base: { primitive: 'box', width: 60, height: 20, depth: 60 } },
      {
        id: 'bore',
        name: 'Bore',
        base: { primitive: 'cylinder', radius: 6, height: 60, sides: 12 },
        transform: { move: [10, 0, 10] },
      },
    ]);
    await h.pick('Bore', 'Block');
    await on.key('q');
    await h.until('nested', async () => (await named('Bore')).parent === 'block');
    const holed = async (): Promise<unknown> =>
      h.until('the hole', async () => /\b(1[89]|20) faces/.test(await h.text('.count')));
    await on.key(Key.ESCAPE);
    await h.pick('Block');
    await holed();
    await h.type('X', '50', '.placement [aria-label="Move"]');
    await h.until('moved', async () => (await named('Block')).transform?.move?.[0] === 50);
    expect((await named('Bore')).transform!.move).toEqual([10, 0, 10]);
    await holed();
    // A copy of the host has a cutter of its own.
    await on.key(Key.CONTROL, 'd');
    await h.until('the copies', async () => (await on.stored()).length === 4);
    expect(await cuttersOf('Block 2')).toEqual([(await named('Bore 2')).id]);
    // A copy of the cutter alone cuts in the same step.
    await h.pick('Bore');
    await on.key(Key.CONTROL, 'd');
    await h.until('one more', async () => (await on.stored()).length === 5);
    expect(await cuttersOf('Block')).toEqual(['bore', (await named('Bore 3')).id]);
    await h.pick('Bore');
    await h.click('.placement .check input');
    await h.until('out of its host', async () => (await named('Bore')).parent === undefined);
    expect((await named('Bore')).transform!.move).toEqual([60, 0, 10]);
    // What belongs to the host goes with it; what stays in the world does not.
    await h.pick('Block');
    await on.key(Key.DELETE);
    await h.until('gone', async () => (await on.stored()).length === 3);
    expect((await on.stored()).map((p) => p.name).sort()).toEqual(['Block 2', 'Bore', 'Bore 2']);
  });
});
