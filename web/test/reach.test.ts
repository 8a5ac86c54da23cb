/** How far a change reaches, kept piece by piece, is what looking at all pieces anew gives. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { namedOperands } from '@urnsmith/core/document/graph';
import type { Piece } from '@urnsmith/core/document/schema';
import { Reach } from '../src/workers/Reach';

const ids = Array.from({ length: 12 }, (_, i) => `p${i}`);
const anyId = fc.constantFrom(...ids);
const anyPiece: fc.Arbitrary<Piece> = fc
  .record({
    id: anyId,
    parent: fc.option(anyId, { nil: undefined }),
    cutters: fc.subarray(ids, { maxLength: 3 }),
    about: fc.option(anyId, { nil: undefined }),
  })
  .map(({ id, parent, cutters, about }) => ({
    id,
    ...(parent !== undefined && { parent }),
    base: { primitive: 'box', width: 1, height: 1, depth: 1 },
    steps: [
      { kind: 'cut', mode: 'subtract', cutters },
      ...(about === undefined
        ? []
        : [{ kind: 'mirror' as const, axes: ['x' as const], about: { piece: about } }]),
    ],
  }));

/** By going over all pieces until nothing more is reached. */
function reached(pieces: Iterable<Piece>, from: string, leads: (p: Piece) => string[]): string[] {
  const out = new Set([from]);
  const all = [...pieces];
  for (let grew = true; grew;) {
    grew = false;
    for (const p of all)
      if (!out.has(p.id) && leads(p).some((id) => out.has(id))) {
        out.add(p.id);
        grew = true;
      }
  }
  return [...out].sort();
}
const looksTo = (p: Piece): string[] => [
  ...namedOperands(p),
  ...p.steps!.flatMap((s) =>
    'about' in s && typeof s.about === 'object' && 'piece' in s.about ? [s.about.piece] : [],
  ),
];

describe('the reach of a change', () => {
  it('is the same after any changes as for the pieces they lead to', () => {
    const change = fc.record({
      put: fc.array(anyPiece, { maxLength: 4 }),
      gone: fc.subarray(ids, { maxLength: 2 }),
    });
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 12 }), anyId, (changes, from) => {
        const reach = new Reach();
        const pieces = new Map<string, Piece>();
        for (const c of changes) {
          reach.take(c);
          for (const id of c.gone) pieces.delete(id);
          for (const p of c.put) pieces.set(p.id, p);
        }
        expect(new Set(reach.pieces.values())).toEqual(new Set(pieces.values()));
        expect([...reach.builtFrom([from])].sort()).toEqual(reached(pieces.values(), from, looksTo));
        expect([...reach.nestedIn([from])].sort()).toEqual(
          reached(pieces.values(), from, (p) => (p.parent === undefined ? [] : [p.parent])),
        );
      }),
      { numRuns: 300 },
    );
  });
});
