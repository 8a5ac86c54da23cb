/** How far a change reaches, kept piece by piece, is what looking at all pieces anew gives. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { namedOperands, workedWith } from '@urnsmith/core/document/graph';
import { GroupMembers } from '@urnsmith/core/document/groupMembers';
import { matrixBetween, worldMatrix } from '@urnsmith/core/document/placement';
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

/** A tree of pieces and groups, each after its parent, in places that nothing but the placements between can give. */
const anyTree: fc.Arbitrary<Piece[]> = fc
  .array(
    fc.record({
      parent: fc.nat(),
      group: fc.boolean(),
      cutters: fc.subarray(ids, { maxLength: 3 }),
      world: fc.boolean(),
    }),
    { minLength: 2, maxLength: 12 },
  )
  .map((list) =>
    list.map(({ parent, group, cutters, world }, i): Piece => {
      const place = { move: [i + 0.1, i * i, 3 - i], turn: [7 * i, 11 + i, 0], size: [1, 1, 1] };
      return {
        id: ids[i],
        ...(i && parent % (i + 1) < i && { parent: ids[parent % (i + 1)] }),
        transform: place as Piece['transform'],
        base: group ? { group: true } : { primitive: 'box', width: 1, height: 1, depth: 1 },
        steps: group
          ? []
          : [
              {
                kind: 'cut',
                mode: 'subtract',
                cutters: cutters.filter((c) => c !== ids[i] && ids.indexOf(c) < list.length),
              },
              ...(world ? [{ kind: 'mirror' as const, axes: ['x' as const], about: 'world' as const }] : []),
            ],
      };
    }),
  );

/** All the matrices that a piece's build takes in. */
function matricesIn(pieces: Piece[], p: Piece): string {
  const byId = new Map(pieces.map((x) => [x.id, x]));
  const members = new GroupMembers(byId);
  const others = members.expanded(workedWith(p), (id) => byId.get(id)).filter((id) => byId.has(id));
  const world = p.steps!.some((s) => 'about' in s) ? worldMatrix(byId, p.id) : [];
  return [...others.map((id) => matrixBetween(byId, id, p.id)), world].join(';');
}

describe('the reach of a change', () => {
  it('takes in every piece whose place next to what it works with changes, and where groups are out of it no other', () => {
    fc.assert(
      fc.property(anyTree, fc.nat(), (pieces, at) => {
        const { id } = pieces[at % pieces.length];
        const reach = new Reach();
        reach.take({ put: pieces, gone: [] });
        const moved = pieces.map((p) =>
          p.id === id
            ? {
                ...p,
                transform: { ...p.transform, move: [0.7, 0.3, 9], turn: [3, 5, 77] } as Piece['transform'],
              }
            : p,
        );
        const displaced = reach.displacedBy(id);
        pieces.forEach((p, i) => {
          const changes = matricesIn(pieces, p) !== matricesIn(moved, moved[i]);
          if (changes) expect(displaced).toContain(p.id);
          const group = workedWith(p).some((c) => 'group' in (pieces.find((x) => x.id === c)?.base ?? {}));
          if (!changes && !group) expect(displaced).not.toContain(p.id);
        });
      }),
      { numRuns: 400 },
    );
  });

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
