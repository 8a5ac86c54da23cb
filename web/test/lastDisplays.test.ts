/** A scene is seen as it last was while it is being built, and only where nothing of it has changed. @covers web/src/workers */
import 'fake-indexeddb/auto';
import { describe, expect, it, vi } from 'vitest';
import { displayOf, type Display } from '@urnsmith/core/build/display';
import type { Piece } from '@urnsmith/core/document/schema';
import { Makers } from '@urnsmith/core/births/Makers';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import type { Answer } from '../src/workers/Builder';
import { Builds, type OpenPool } from '../src/workers/builds';
import { LastDisplays } from '../src/workers/LastDisplays';

const box = (id: string, width: number): Piece => ({
  id,
  name: id,
  base: { primitive: 'box', width, height: 2, depth: 3 },
});
const shown = (p: Piece): Display =>
  displayOf({ mesh: buildPrimitive(p.base as never), steps: [], makers: new Makers(), draft: false }, 1);

describe('the last displays', () => {
  it('are those of the same scene with the same key, of the last twelve scenes', async () => {
    const last = new LastDisplays('one');
    const d = shown(box('a', 4));
    await last.keep('s0', 'k', [['a', d], ['b', d]]); // prettier-ignore
    const [[, a], [, b]] = await last.of('s0', 'k');
    expect(a).toEqual(d);
    // One shape is kept once.
    expect(b).toBe(a);
    expect(await last.of('s0', 'other')).toEqual([]);
    await last.keep('s0', 'other', [['a', d]]);
    expect(await last.of('s0', 'k')).toEqual([]);
    for (let i = 1; i <= 12; i++) await last.keep(`s${i}`, 'k', [['a', d]]);
    expect(await last.of('s0', 'other')).toEqual([]);
    expect(await last.of('s1', 'k')).toHaveLength(1);
  });
});

/** A pool that answers when it is told to. */
function answering() {
  const kept = new LastDisplays('two');
  const keeps = vi.fn(kept.keep.bind(kept));
  let answer: (piece: string, a: Answer) => void = () => {};
  const asked: string[] = [];
  const pool: OpenPool = (onAnswer) => {
    answer = onAnswer;
    return {
      request: (_, id) => void asked.push(id),
      prepare: async () => {},
      ask: async () => null,
      cancel: () => {},
      close: () => {},
      get idle() {
        return !asked.length;
      },
      aside: { keepDisplays: keeps, lastDisplays: kept.of.bind(kept) } as never,
    };
  };
  let number = 0;
  const build = (pieces: Piece[]): void => {
    for (const id of asked.splice(0)) {
      const display = shown(pieces.find((p) => p.id === id)!);
      answer(id, {
        number: ++number,
        display,
        actions: [],
        picked: null,
        cage: null,
        forTree: null,
        draft: false,
      });
    }
  };
  return { pool, asked, build, keeps };
}

describe('a scene that is opened', () => {
  it('shows what it last was until it is built, and is built all the same', async () => {
    const { pool, asked, build, keeps } = answering();
    const pieces = [box('a', 4), box('b', 5)];
    /** Long enough for what was kept to be found, if there is any. */
    const looked = (): Promise<unknown> => new Promise((next) => setTimeout(next, 100));
    const first = new Builds(pool, 's');
    first.show(pieces);
    await looked();
    expect(first.get('a')).toBeUndefined();
    build(pieces);
    await vi.waitFor(() => expect(keeps).toHaveBeenCalledOnce(), { timeout: 8000 });
    await keeps.mock.results[0].value;
    first.clear();

    const again = new Builds(pool, 's');
    again.show(pieces.map((p) => ({ ...p })));
    await vi.waitFor(() => expect(again.get('a')?.display?.bounds.max[0]).toBe(2));
    expect(again.get('b')?.display?.bounds.max[0]).toBe(2.5);
    expect(asked.sort()).toEqual(['a', 'b']);
    const before = again.get('a')!.display;
    build(pieces);
    expect(again.get('a')!.display).not.toBe(before);
    again.clear();

    const changed = new Builds(pool, 's');
    changed.show([pieces[0], box('b', 6)]);
    await looked();
    expect(changed.get('a')).toBeUndefined();
    changed.clear();
  });
});
