/** Questions that no hand waits for: each is worked out once for a result, and ends when that is not wanted any more. */
import { afterEach, describe, expect, it, vi } from 'vitest';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { AskedAside } from '../src/workers/AskedAside';
import { replyAside, type AsideReply } from '../src/workers/questions/aside';
import { STOPPED } from '../src/workers/stopping';

const mesh = buildPrimitive({ primitive: 'cylinder', radius: 5, height: 9, sides: 12 });
const of = { mesh, formed: mesh, lane: { bare: mesh, madeIn: null, marks: [], steps: [] } };
const REPAIR = { kind: 'repair' } as const;
const FAULTS = { kind: 'shading' } as const;

/** A worker that answers when it is told to, or says that it was stopped. */
function worker() {
  const asked: Array<{ kind: string; stop: Int32Array; answer: () => void }> = [];
  const reply = (question: { kind: string }, _: unknown, stop: Int32Array): Promise<AsideReply> =>
    new Promise((resolve) =>
      asked.push({
        kind: question.kind,
        stop,
        answer: () => resolve(stop[0] ? { fault: STOPPED } : { repair: null, helps: 'marks' }),
      }),
    );
  return { asked, aside: new AskedAside({ reply } as never) };
}

afterEach(() => vi.unstubAllGlobals());

describe('a question that no hand waits for', () => {
  it('is worked out once for a result, and once more for another', async () => {
    vi.stubGlobal('crossOriginIsolated', true);
    const { asked, aside } = worker();
    const first = aside.ask('a', 1, REPAIR, of);
    expect(aside.ask('a', 1, REPAIR, of)).toBe(first);
    void aside.ask('a', 1, FAULTS, of);
    void aside.ask('b', 1, REPAIR, of);
    expect(asked.map((q) => q.kind)).toEqual(['repair', 'shading', 'repair']);
    asked[0].answer();
    expect(await first).toEqual({ repair: null, helps: 'marks' });
    expect(aside.ask('a', 1, REPAIR, of)).toBe(first);
    void aside.ask('a', 2, REPAIR, of);
    expect(asked).toHaveLength(4);
    expect(asked.map((q) => q.stop[0])).toEqual([0, 0, 0, 0]);
  });

  it('is stopped by the next result, and by a hand that is at the piece; what was stopped is not remembered', async () => {
    vi.stubGlobal('crossOriginIsolated', true);
    const { asked, aside } = worker();
    const first = aside.ask('a', 1, REPAIR, of);
    void aside.ask('a', 2, REPAIR, of);
    expect(asked.map((q) => q.stop[0])).toEqual([1, 0]);
    asked[0].answer();
    expect(await first).toEqual({ fault: STOPPED });
    void aside.ask('b', 1, REPAIR, of);
    aside.stop('a');
    expect(asked.map((q) => q.stop[0])).toEqual([1, 1, 0]);
    void aside.ask('a', 1, REPAIR, of);
    expect(asked).toHaveLength(4);
  });

  it('ends at its next look at the flag', () => {
    const stop = new Int32Array(1);
    expect(replyAside(REPAIR, of, stop)).toEqual({
      repair: null,
      helps: expect.toSatisfy(() => true) as unknown,
    });
    stop[0] = 1;
    expect(replyAside(REPAIR, of, stop)).toEqual({ fault: STOPPED });
    expect(replyAside(FAULTS, of, stop)).toEqual({ fault: STOPPED });
  });
});

describe('what is wrong with a mesh', () => {
  it('is told by kind with a count, open edges apart', () => {
    const soundness = (m: typeof mesh): AsideReply => replyAside({ kind: 'soundness' }, { ...of, mesh: m, formed: m }, null); // prettier-ignore
    expect(soundness(mesh)).toEqual({ unsound: [] });
    expect(soundness(buildPrimitive({ primitive: 'plane', width: 5, depth: 5 }))).toEqual({ unsound: [] });
    const positions = mesh.positions.map((x, i) => (i < 3 ? -3 * x : x));
    expect(soundness({ ...mesh, positions })).toEqual({
      unsound: [
        { code: 'crossing', message: 'an edge passes through a face', count: expect.any(Number) as number },
      ],
    });
  });
});
