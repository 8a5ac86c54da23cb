/** A group as an operand cuts as the pieces in it do, however they are nested. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { idleCutters, withCutters, withCuttersNested } from '../src/document/belonging';
import type { Piece } from '../src/document/schema';
import { pieceListFaults } from '../src/document/validate';
import { checkMesh } from '../src/mesh/checkMesh';
import { volume } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import './seed';
import { runs } from './effort';

beforeAll(() => loadKernel());

const none = (): never => {
  throw new Error('no file is used');
};
function built(pieces: Piece[], id: string): PolyMesh {
  const e = new Evaluator({ blob: none, file: none });
  e.setPieces(pieces);
  return e.build(id).mesh;
}

const plate = (cutters: string[], over: Partial<Piece> = {}): Piece => ({
  id: 'plate',
  base: { primitive: 'box', width: 120, height: 10, depth: 80 },
  steps: [
    { id: 's1', kind: 'cut', mode: 'subtract', cutters },
    { id: 's2', kind: 'bevel', scope: { rule: 'rims', cutters }, width: 0.5, segments: 1 },
  ],
  ...over,
});
const bore = (id: string, x: number, z: number, over: Partial<Piece> = {}): Piece => ({
  id,
  base: { primitive: 'cylinder', radius: 6, height: 30, sides: 16 },
  transform: { move: [x, 0, z] },
  ...over,
});
const group = (id: string, over: Partial<Piece> = {}): Piece => ({ id, base: { group: true }, ...over });

describe('a group as a cutter', () => {
  it('cuts as its pieces would one by one, in whatever groups they are', () => {
    const place = fc.record({
      move: fc.tuple(fc.integer({ min: -9, max: 9 }), fc.constant(0), fc.integer({ min: -9, max: 9 })),
      turn: fc.tuple(fc.constant(0), fc.integer({ min: -20, max: 20 }), fc.constant(0)),
    }) as fc.Arbitrary<NonNullable<Piece['transform']>>;
    fc.assert(
      fc.property(place, place, (outer, inner) => {
        const bores = [bore('a', -30, -15), bore('b', 30, -15, { parent: 'inner' }), bore('c', 0, 20)];
        const nested = bores.map((p) => ({ ...p, parent: p.parent ?? 'outer' }));
        const groups = [
          group('outer', { transform: outer }),
          group('inner', { parent: 'outer', transform: inner }),
        ];
        const asGroup = [plate(['outer']), ...groups, ...nested];
        const oneByOne = [plate(['a', 'b', 'c']), ...groups, ...nested];
        expect(pieceListFaults(asGroup)).toEqual([]);
        const [g, o] = [built(asGroup, 'plate'), built(oneByOne, 'plate')];
        expect(checkMesh(g).findings).toEqual([]);
        expect(volume(g)).toBeLessThan(95_000);
        expect(volume(g)).toBeCloseTo(volume(o), 6);
        expect(g.faceStart.length).toBe(o.faceStart.length);
      }),
      { numRuns: runs(8, 20) },
    );
  });

  it('leaves out guides and what its own pieces work with', () => {
    const pieces = [
      plate(['set']),
      group('set'),
      bore('pipe', 0, 0, { parent: 'set', steps: [{ kind: 'cut', mode: 'subtract', cutters: ['core'] }] }),
      bore('core', 0, 0, {
        parent: 'pipe',
        base: { primitive: 'cylinder', radius: 3, height: 40, sides: 16 },
      }),
      bore('line', 30, 0, { parent: 'set', role: 'guide' }),
    ];
    const area = (r: number): number => 8 * r * r * Math.sin(Math.PI / 8);
    // The pipe takes a ring, its core stays standing in the hole.
    const plain = pieces.map((p) => (p.id === 'plate' ? { ...p, steps: p.steps!.slice(0, 1) } : p));
    expect(volume(built(plain, 'plate'))).toBeCloseTo(96_000 - 10 * (area(6) - area(3)), 3);
  });

  it('follows a piece that joins it, one that leaves, and one that moves', () => {
    const e = new Evaluator({ blob: none, file: none });
    const volumeOf = (pieces: Piece[]): number => {
      e.setPieces(pieces);
      return volume(e.build('plate').mesh);
    };
    const one = [plate(['set']), group('set'), bore('a', -30, 0, { parent: 'set' })];
    const two = [...one, bore('b', 30, 0, { parent: 'set' })];
    const [v1, v2] = [volumeOf(one), volumeOf(two)];
    expect(96_000 - v2).toBeCloseTo(2 * (96_000 - v1), 6);
    expect(volumeOf(one)).toBe(v1);
    expect(volumeOf(two.map((p) => (p.id === 'set' ? { ...p, transform: { move: [30, 0, 0] } } : p)))).not.toBe(v2); // prettier-ignore
  });

  it('is refused where the piece it cuts is in it', () => {
    const faults = pieceListFaults([plate(['set'], { parent: 'set' }), group('set'), bore('a', 0, 0, { parent: 'set' })]); // prettier-ignore
    expect(faults.map((f) => f.message).join()).toMatch(/circle/);
  });

  it('makes its pieces cutters with it, nested in the host, and idle with it when it is let go', () => {
    const before = [plate(['set']), group('set'), bore('a', 5, 0, { parent: 'set' }), bore('b', 9, 0)];
    const after = withCuttersNested(withCutters(before, ['set']), new Set(['set']));
    const roles = (list: Piece[]) => Object.fromEntries(list.map((p) => [p.id, [p.role, p.parent]]));
    expect(roles(after)).toMatchObject({
      set: ['cutter', 'plate'],
      a: ['cutter', 'set'],
      b: [undefined, undefined],
    });
    const freed = after.map((p) => (p.id === 'plate' ? { ...p, steps: [] } : p));
    expect(idleCutters(after)).toEqual([]);
    expect(idleCutters(freed).map((p) => p.id)).toEqual(['set', 'a']);
  });
});
