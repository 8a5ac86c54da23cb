/** Twins show what their original is, wherever base and build are kept; what a cut took out fits what it left. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { takenOver, twinned, twinsOf, withTwinsKept } from '../src/document/twins';
import type { Piece } from '../src/document/schema';
import { pieceListFaults } from '../src/document/validate';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, volume } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { transformMesh } from '../src/mesh/transform';
import { distance, pointOf, type Vec3 } from '../src/mesh/vec3';
import { worldMatrix } from '../src/document/placement';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import './seed';
import { runs } from './effort';

beforeAll(() => loadKernel());

const none = (): never => {
  throw new Error('no file is used');
};
function evaluator(pieces: Piece[]): Evaluator {
  const e = new Evaluator({ blob: none, file: none });
  e.setPieces(pieces);
  return e;
}
const built = (pieces: Piece[], id: string): PolyMesh => evaluator(pieces).build(id).mesh;
function inWorld(pieces: Piece[], id: string): PolyMesh {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  return transformMesh(built(pieces, id), worldMatrix(byId, id));
}

/** The furthest any point is from the nearest of another mesh with as many points and faces of the same sizes. */
function apart(a: PolyMesh, b: PolyMesh): number {
  const sizes = (m: PolyMesh): number[] =>
    [...m.faceStart.slice(1)].map((end, f) => end - m.faceStart[f]).sort();
  expect(sizes(a)).toEqual(sizes(b));
  const points = (m: PolyMesh): Vec3[] =>
    Array.from({ length: m.positions.length / 3 }, (_, v) => pointOf(m.positions, v));
  const others = points(b);
  return Math.max(...points(a).map((p) => Math.min(...others.map((q) => distance(p, q)))));
}

const size = fc.integer({ min: 4, max: 40 });
const place = fc.record({
  move: fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -90, max: 90 }))),
  turn: fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -180, max: 180 }))),
}) as fc.Arbitrary<NonNullable<Piece['transform']>>;

/** A plate with a bore that is nested in it, rounded at its rims, and three twins of it, one of them a twin of a twin. */
const families = fc
  .record({
    width: size,
    depth: size,
    height: size,
    at: fc.tuple(fc.nat(1), fc.nat(1)),
    places: fc.array(place, { minLength: 4, maxLength: 4 }),
  })
  .map(({ width, depth, height, at, places }): Piece[] => [
    {
      id: 'a',
      base: { primitive: 'box', width, height, depth },
      transform: places[0],
      actions: [
        {
          op: 'transform',
          select: { rule: 'all', of: 'points' },
          about: 'point',
          point: [0, 0, 0],
          size: [1, 1, 2],
        },
      ],
      steps: [
        { id: 'c', kind: 'cut', mode: 'subtract', cutters: ['bore'] },
        { id: 'r', kind: 'bevel', scope: { rule: 'rims' }, width: 0.4, segments: 2 },
      ],
    },
    {
      id: 'bore',
      role: 'cutter',
      parent: 'a',
      base: { primitive: 'cylinder', radius: 1, height: 200, sides: 12 },
      transform: { move: [at[0], 0, at[1]] },
    },
    { id: 't1', base: { twin: 'a' }, transform: places[1] },
    { id: 't2', base: { twin: 't1' }, transform: places[2] },
    { id: 't3', base: { twin: 'a' }, transform: places[3] },
  ]);

describe('twins', () => {
  it('are what their original is, and stay where they are when one of them takes base and build over', () => {
    fc.assert(
      fc.property(families, fc.constantFrom('t1', 't2', 't3', 'a'), (pieces, id) => {
        expect(pieceListFaults(pieces)).toEqual([]);
        const before = ['a', 't1', 't2', 't3'].map((p) => inWorld(pieces, p));
        expect(built(pieces, 't2').positions).toEqual(built(pieces, 'a').positions);
        const after = takenOver(pieces, id)!;
        expect(pieceListFaults(after)).toEqual([]);
        const owner = after.find((p) => p.id === id)!;
        expect([owner.base, owner.steps?.length, owner.actions?.length]).toEqual([pieces[0].base, 2, 1]);
        expect(
          twinsOf(after, owner)
            .map((p) => p.id)
            .sort(),
        ).toEqual(['a', 't1', 't2', 't3'].filter((x) => x !== id));
        ['a', 't1', 't2', 't3'].forEach((p, i) => {
          expect(apart(inWorld(after, p), before[i])).toBeLessThan(1e-9);
        });
      }),
      { numRuns: runs(10, 25) },
    );
  });

  it('follow a change of the original to the point', () => {
    const [pieces] = fc.sample(families, 1);
    const wider = pieces.map((p): Piece =>
      p.id === 'a' ? { ...p, base: { primitive: 'box', width: 60, height: 5, depth: 60 } } : p,
    );
    const e = evaluator(pieces);
    const before = e.build('t2').mesh;
    e.setPieces(wider);
    expect(volume(e.build('t2').mesh)).not.toBeCloseTo(volume(before), 3);
    expect(e.build('t2').mesh).toBe(e.build('a').mesh);
  });

  it('do not take over where the build looks to pieces that stay behind', () => {
    const [pieces] = fc.sample(families, 1);
    const loose = pieces.map((p): Piece => (p.id === 'bore' ? { ...p, parent: undefined } : p));
    expect(takenOver(loose, 't1')).toBeNull();
    const about = pieces.map((p): Piece =>
      p.id === 'a'
        ? { ...p, steps: [...p.steps!, { id: 'm', kind: 'mirror', axes: ['x'], about: 'world' } as never] }
        : p,
    );
    expect(takenOver(about, 't1')).toBeNull();
  });

  it('keep base and build when their original goes, and go with it only when they cannot', () => {
    const [pieces] = fc.sample(families, 1);
    const kept = withTwinsKept(pieces, new Set(['a', 'bore']));
    expect(kept.along).toEqual([]);
    const left = kept.pieces.filter((p) => p.id !== 'a');
    expect(pieceListFaults(left)).toEqual([]);
    expect(apart(built(left, 't3'), built(pieces, 'a'))).toBeLessThan(1e-9);
    const loose = pieces.map((p): Piece => (p.id === 'bore' ? { ...p, parent: undefined } : p));
    expect(withTwinsKept(loose, new Set(['a'])).along.sort()).toEqual(['t1', 't2', 't3']);
  });

  it('are made of groups too, without the cutters that are in their results', () => {
    const [pieces] = fc.sample(families, 1);
    const group: Piece[] = [
      { id: 'g', base: { group: true } },
      ...pieces.map((p) => (p.id === 'a' ? { ...p, parent: 'g' } : p)),
    ];
    const { made, of } = twinned(group, ['g'], (p) => ({ id: `${p.id}x`, name: `${p.id} twin` }));
    expect(made.map((p) => [p.id, p.parent, p.base])).toEqual([
      ['gx', undefined, { group: true }],
      ['ax', 'gx', { twin: 'a' }],
    ]);
    expect(of.get('a')).toBe('ax');
    expect(pieceListFaults([...group, ...made])).toEqual([]);
    const own = twinned(pieces, ['bore'], (p) => ({ id: `${p.id}x`, name: 'x' }));
    expect(own.made.map((p) => [p.id, p.parent, p.role])).toEqual([['borex', 'a', 'cutter']]);
  });

  it('are refused steps of their own, and circles', () => {
    const [pieces] = fc.sample(families, 1);
    const withStep = pieces.map((p): Piece =>
      p.id === 't1' ? { ...p, steps: [{ kind: 'normals' } as never] } : p,
    );
    expect(pieceListFaults(withStep)[0]).toMatchObject({
      path: 'pieces/2/steps',
      message: expect.stringContaining('no steps of its own'),
    });
    const round = pieces.map((p): Piece => (p.id === 'a' ? { id: 'a', base: { twin: 't2' } } : p));
    expect(pieceListFaults(round)[0].message).toMatch(/circle/);
    expect(pieceListFaults([{ id: 'x', base: { twin: 'gone' } }])[0].message).toMatch(/no piece “gone”/);
  });
});

describe('what a cut took out', () => {
  const lid = (clearance: number, mode = 'subtract', extra: object = {}): Piece[] => [
    {
      id: 'box',
      base: { primitive: 'box', width: 60, height: 30, depth: 40 },
      steps: [
        { id: 'hollow', kind: 'cut', mode: 'subtract', cutters: ['inner'] },
        { id: 'lid', kind: 'cut', mode, cutters: ['slice', 'pin'], ...extra } as never,
      ],
    },
    {
      id: 'inner',
      role: 'cutter',
      parent: 'box',
      base: { primitive: 'box', width: 52, height: 22, depth: 32 },
      transform: { move: [0, 0, 0] },
    },
    {
      id: 'slice',
      role: 'cutter',
      parent: 'box',
      base: { primitive: 'box', width: 80, height: 10, depth: 80 },
      transform: { move: [0, 16, 0] },
    },
    {
      id: 'pin',
      role: 'cutter',
      parent: 'box',
      base: { primitive: 'box', width: 4, height: 60, depth: 4 },
      transform: { move: [-28, 0, 0] },
    },
    { id: 'taken', parent: 'box', base: { taken: 'box', step: 'lid', clearance } },
    { id: 'one', parent: 'box', base: { taken: 'box', step: 'lid', cutter: 'slice', clearance } },
  ];

  it('and what it left add up, without clearance', () => {
    const pieces = lid(0);
    const before = volume(
      built([{ ...pieces[0], steps: pieces[0].steps!.slice(0, 1) }, ...pieces.slice(1, 4)], 'box'),
    );
    expect(volume(built(pieces, 'taken')) + volume(built(pieces, 'box'))).toBeCloseTo(before, 6);
    expect(checkMesh(built(pieces, 'taken')).findings).toEqual([]);
    expect(volume(built(pieces, 'one'))).toBeLessThan(volume(built(pieces, 'taken')));
    // The halves of a split too.
    const halves = lid(0, 'split', { keep: 'outside' });
    expect(volume(built(halves, 'taken')) + volume(built(halves, 'box'))).toBeCloseTo(before, 6);
  });

  it('stays off the walls by the clearance, and follows host and cutter', () => {
    const pieces = lid(0.5);
    expect(boundsOf(built(pieces, 'one')).min[1]).toBeCloseTo(11.5, 9);
    const lower = pieces.map((p): Piece =>
      p.id === 'slice' ? { ...p, transform: { move: [0, 12, 0] } } : p,
    );
    const e = evaluator(pieces);
    e.build('one');
    e.setPieces(lower);
    expect(boundsOf(e.build('one').mesh).min[1]).toBeCloseTo(7.5, 9);
    const wider = lower.map((p): Piece =>
      p.id === 'box' ? { ...p, base: { primitive: 'box', width: 70, height: 30, depth: 40 } } : p,
    );
    e.setPieces(wider);
    expect(boundsOf(e.build('one').mesh).max[0]).toBeCloseTo(35, 9);
  });

  it('takes steps of its own, on rims of its own', () => {
    const rounded: Piece[] = lid(0.2).map((p) =>
      p.id === 'taken'
        ? { ...p, steps: [{ kind: 'bevel', scope: { rule: 'rims' }, width: 0.3, segments: 2 }] }
        : p,
    );
    const { steps, mesh } = evaluator(rounded).build('taken');
    expect(steps[0].counts.edges).toBeGreaterThan(8);
    expect(checkMesh(mesh).findings).toEqual([]);
  });

  it('is told where nothing is taken, where the cut is gone or off, and where the clearance has no room', () => {
    const fault = (pieces: Piece[]): string => {
      try {
        built(pieces, 'one');
      } catch (e) {
        return (e as { code: string }).code;
      }
      return 'none';
    };
    expect(fault(lid(0, 'union'))).toBe('takes-nothing');
    expect(fault(lid(0, 'subtract', { off: true }))).toBe('not-cut');
    expect(fault(lid(0).map((p): Piece => (p.id === 'box' ? { ...p, steps: [] } : p)))).toBe('not-cut');
    expect(fault(lid(7))).toBe('too-thick');
    expect(
      fault(lid(0).map((p): Piece => (p.id === 'slice' ? { ...p, transform: { move: [0, 90, 0] } } : p))),
    ).toBe('takes-nothing');
  });
});
