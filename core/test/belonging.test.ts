/** Cutters nested in what they cut: nothing moves in the world, whatever the frames, and nothing goes round in a circle. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { idleCutters, survivors, withCuttersNested } from '../src/document/belonging';
import { nestedIn, parentCycle } from '../src/document/graph';
import { worldMatrix } from '../src/document/placement';
import type { Piece } from '../src/document/schema';
import { pieceListFaults } from '../src/document/validate';
import './seed';

const number = (most: number) => fc.integer({ min: -most, max: most });
const transform = fc.record({
  move: fc.tuple(number(100), number(100), number(100)),
  turn: fc.tuple(number(180), number(180), number(180)),
  size: fc.constantFrom<[number, number, number]>([1, 1, 1], [2, 2, 2], [1, 3, 0.5], [-1, 1, 1]),
});
/** Pieces of which later ones may cut earlier ones, nested at random among those before. */
const scenes = fc
  .array(
    fc.record({
      transform,
      parent: fc.nat(),
      cuts: fc.array(fc.nat(), { maxLength: 2 }),
      stays: fc.boolean(),
    }),
    {
      minLength: 2,
      maxLength: 8,
    },
  )
  .map((list): Piece[] => {
    const pieces = list.map((d, i): Piece => ({
      id: `p${i}`,
      base: { primitive: 'box', width: 1, height: 1, depth: 1 },
      transform: d.transform,
      ...(i && d.parent % 3 === 0 && { parent: `p${d.parent % i}` }),
      ...(d.stays && d.parent % 5 === 0 && { staysInWorld: true }),
    }));
    list.forEach((d, i) => {
      for (const c of d.cuts) {
        if (!i) continue;
        const host = pieces[c % i];
        host.steps = [...(host.steps ?? []), { kind: 'cut', mode: 'subtract', cutters: [`p${i}`] }];
        pieces[i].role = 'cutter';
      }
    });
    return pieces;
  });

const worlds = (pieces: ReadonlyArray<Piece>): number[][] => {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  return pieces.map((p) => [...worldMatrix(byId, p.id)]);
};
const furthest = (a: number[][], b: number[][]): number =>
  Math.max(0, ...a.flatMap((m, i) => m.map((x, k) => Math.abs(x - b[i][k]))));

describe('cutters that belong', () => {
  it('stand where they stood, in frames that do not go in a circle, and are left alone when they belong', () => {
    let nested = 0;
    fc.assert(
      fc.property(scenes, (pieces) => {
        const after = withCuttersNested(pieces);
        expect(furthest(worlds(after), worlds(pieces))).toBeLessThan(1e-5);
        expect(
          parentCycle(
            new Map(after.map((p) => [p.id, p])),
            after.map((p) => p.id),
          ),
        ).toBeNull();
        expect(pieceListFaults(after).filter((f) => /nested/.test(f.message))).toEqual([]);
        const moved = new Set(after.filter((p, i) => p !== pieces[i]).map((p) => p.id));
        expect(withCuttersNested(after, moved)).toEqual(after);
        for (const [i, p] of after.entries()) if (p.staysInWorld) expect(p).toBe(pieces[i]);
        nested += moved.size;
      }),
      { numRuns: 300 },
    );
    expect(nested).toBeGreaterThan(100);
  });

  const host = (id: string, cutters: string[], more: Partial<Piece> = {}): Piece => ({
    id,
    base: { primitive: 'box', width: 1, height: 1, depth: 1 },
    steps: [{ kind: 'cut', mode: 'subtract', cutters }],
    ...more,
  });
  const tool = (id: string, more: Partial<Piece> = {}): Piece => ({
    id,
    role: 'cutter',
    base: { primitive: 'box', width: 1, height: 1, depth: 1 },
    ...more,
  });

  it('are left where a frame would shear them, where they were nested on purpose, and where their host is in them', () => {
    const uneven = host('h', ['t'], { transform: { size: [1, 3, 1] } });
    expect(
      withCuttersNested([uneven, tool('t', { transform: { turn: [0, 0, 45] } })])[1].parent,
    ).toBeUndefined();
    expect(withCuttersNested([uneven, tool('t', { transform: { turn: [0, 45, 0] } })])[1].parent).toBe('h');
    expect(withCuttersNested([uneven, tool('t', { transform: { turn: [0, 0, 90] } })])[1].parent).toBe('h');
    const shelf = tool('shelf', { role: 'solid' });
    const on = tool('t', { parent: 'shelf' });
    expect(withCuttersNested([host('h', ['t']), shelf, on])[2]).toBe(on);
    // A cut made now says where it belongs.
    expect(withCuttersNested([host('h', ['t']), shelf, on], new Set(['t']))[2].parent).toBe('h');
    const inside = [host('h', ['t'], { parent: 't' }), tool('t')];
    expect(withCuttersNested(inside)).toEqual(inside);
  });

  it('go with their last host, move over to another that needs them, and are told when none does', () => {
    const pieces = withCuttersNested([
      host('a', ['t', 'u'], { transform: { move: [10, 0, 0] } }),
      host('b', ['u'], { transform: { move: [0, 20, 0] } }),
      tool('t'),
      tool('u', { transform: { move: [1, 2, 3] } }),
    ]);
    const gone = nestedIn(pieces, ['a']);
    expect([...gone].sort()).toEqual(['a', 't', 'u']);
    const kept = survivors(pieces, gone, new Set(['a']));
    expect([...kept]).toMatchObject([['u', { parent: 'b', transform: { move: [1, -18, 3] } }]]);
    expect(survivors(pieces, gone, new Set(['a', 'u'])).size).toBe(0);
    const bare = pieces.map((p) => (p.id === 'a' ? { ...p, steps: [] } : p));
    expect(idleCutters(bare).map((p) => p.id)).toEqual(['t']);
    expect(idleCutters(bare, new Set(['u']))).toEqual([]);
    expect(idleCutters(pieces)).toEqual([]);
  });
});
