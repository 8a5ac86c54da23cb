/**
 * Selections by place, number and likeness, on meshes small enough to say each answer by hand.
 *
 * @covers core/src/select
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Evaluator } from '../src/build/evaluate';
import { sizeOf } from '../src/mesh/measure';
import { makeMesh, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { bornOf, findBorn, picksBorn, type BornPick } from '../src/select/born';
import { insideOutline, type Look } from '../src/select/inside';
import { pickedSize } from '../src/select/pickedSize';
import { resolveSelect } from '../src/select/rules';
import { elementCount, selectionOf, type ElementKind } from '../src/select/selection';
import { softWeights, type Soft } from '../src/select/soft';
import { alike } from '../src/select/traits';

const box = buildPrimitive({ primitive: 'box', width: 20, height: 30, depth: 40 });
const grid = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [4, 4] });
const outlinesOf = (m: PolyMesh) => {
  const t = topologyOf(m);
  return { positions: m.positions, faceStart: m.faceStart, corners: m.corners, edges: t.edges, edgeOfCorner: t.edgeOfCorner }; // prettier-ignore
};
const refused = (f: () => unknown): { message: string; lines?: Float64Array } => {
  try {
    f();
  } catch (e) {
    return e as { message: string; lines?: Float64Array };
  }
  throw new Error('it was not refused');
};

describe('an outline on the screen', () => {
  // Seen from above, ten pixels a millimetre: x to the right, z down.
  const above: Look = { toEye: [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, -100, 1], scale: 10, parallel: true, width: 800, height: 600 }; // prettier-ignore
  const drawn = (x: number, z: number): [number, number] => [400 + 10 * x, 300 + 10 * z];

  it('takes what lies within its slanting sides, and nothing beside them', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: -21, max: 21 }), fc.integer({ min: -21, max: 21 })), { minLength: 3, maxLength: 3 }), (corners) => {
        // Off all middles, so that none lies on a side.
        const [a, b, c] = corners.map(([x, z]) => [x + 0.37, z + 0.11]);
        const side = (p: number[], q: number[], r: number[]): number => Math.sign((q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])); // prettier-ignore
        const inTriangle = (p: number[]): boolean => side(a, b, c) !== 0 && [side(a, b, p), side(b, c, p), side(c, a, p)].every((s) => s === side(a, b, c)); // prettier-ignore
        const found = insideOutline(grid, 'vertex', [a, b, c].map(([x, z]) => drawn(x, z)), above, true).indices; // prettier-ignore
        const all = Array.from({ length: elementCount(grid, 'vertex') }, (_, v) => v);
        expect([...found]).toEqual(all.filter((v) => inTriangle([grid.positions[3 * v], grid.positions[3 * v + 2]]))); // prettier-ignore
      }),
      { numRuns: 100 },
    );
  }); // prettier-ignore
});

describe('a soft selection, straight', () => {
  it('reaches every point by its distance to the nearest picked one', () => {
    const near = fc.integer({ min: -12, max: 12 });
    fc.assert(
      fc.property(fc.array(fc.tuple(near, near, near), { minLength: 4, maxLength: 24 }), fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 3 }), (points, reach, picks) => {
        const mesh = makeMesh(Float64Array.from(points.flat()), Uint32Array.of(0, 3), Uint32Array.of(0, 1, 2));
        const picked = points.slice(0, picks).map((_, k) => k);
        const w = softWeights(mesh, picked, { reach, falloff: 'linear', along: 'straight' } as Soft);
        points.forEach((p, v) => {
          const far = Math.min(...picked.map((k) => Math.hypot(...p.map((x, a) => x - points[k][a]))));
          expect(w[v]).toBeCloseTo(Math.max(0, 1 - far / reach), 9);
        });
      }),
      { numRuns: 200 },
    );
  }); // prettier-ignore
});

describe('the size of what is picked', () => {
  it('at a point is its shortest edge, whichever end the point is', () => {
    for (let v = 0; v < 8; v++) expect(pickedSize(outlinesOf(box), selectionOf('vertex', [v]))).toBe(20);
  });
  it('of edges is the root of the least face at them', () => {
    const t = topologyOf(box);
    const longest = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => { const [a, b] = [0, 1].map((k) => 3 * t.edges[2 * e + k]); return Math.abs(box.positions[a + 2] - box.positions[b + 2]) > 30; }); // prettier-ignore
    // Between the faces of 20 × 40 and 30 × 40.
    expect(pickedSize(outlinesOf(box), selectionOf('edge', longest))).toBeCloseTo(Math.sqrt(800), 9);
  });
});

describe('rules', () => {
  const tilted = (degrees: number): PolyMesh => {
    const a = (degrees * Math.PI) / 180;
    return makeMesh(Float64Array.of(0, 0, 0, 0, 0, 1, Math.cos(a), Math.sin(a), 0), Uint32Array.of(0, 3), Uint32Array.of(0, 1, 2)); // prettier-ignore
  };
  it('of facing take five degrees, if nothing else is said', () => {
    const found = (degrees: number, angle?: number): number => resolveSelect(tilted(degrees), { rule: 'facing', direction: [0, 1, 0], ...(angle !== undefined && { angle }) }).indices.length; // prettier-ignore
    expect([4.9, 5.1, 9, 11].map((d) => found(d))).toEqual([1, 0, 0, 0]);
    expect([4.9, 9.9, 10.1].map((d) => found(d, 10))).toEqual([1, 1, 0]);
  });
  it('of material take faces without one as of the first', () => {
    const count = (material: number): number =>
      resolveSelect(box, { rule: 'material', material }).indices.length;
    expect([count(0), count(1)]).toEqual([6, 0]);
  });
});

describe('alike', () => {
  it('in each trait means what its name says', () => {
    // Rectangles of 4 × 1, 3 × 2, 2 × 3 and 5 × 5 in the ground, apart from each other.
    const sizes = [[4, 1], [3, 2], [2, 3], [5, 5]]; // prettier-ignore
    const mesh = makeMesh(
      Float64Array.from(sizes.flatMap(([w, d], k) => [[0, 0], [0, d], [w, d], [w, 0]].flatMap(([x, z]) => [10 * k + x, 0, z]))), // prettier-ignore
      Uint32Array.of(0, 4, 8, 12, 16),
      Uint32Array.from({ length: 16 }, (_, i) => i),
    );
    const faces = (trait: 'area' | 'perimeter' | 'facing', share = 0.01): number[] => [...alike(mesh, selectionOf('face', [1]), trait, share).indices]; // prettier-ignore
    expect([faces('area'), faces('perimeter'), faces('facing', 1)]).toEqual([[1, 2], [0, 1, 2], [0, 1, 2, 3]]); // prettier-ignore
    const t = topologyOf(mesh);
    const span = (e: number, axis: number): number => Math.abs(mesh.positions[3 * t.edges[2 * e] + axis] - mesh.positions[3 * t.edges[2 * e + 1] + axis]); // prettier-ignore
    const all = Array.from({ length: t.edgeCount }, (_, e) => e);
    const long = all.find((e) => span(e, 0) === 3)!;
    expect([...alike(mesh, selectionOf('edge', [long]), 'length', 0.01).indices]).toEqual(all.filter((e) => span(e, 0) + span(e, 2) === 3)); // prettier-ignore
    expect([...alike(mesh, selectionOf('edge', [long]), 'direction', 1).indices]).toEqual(all.filter((e) => span(e, 0) > 0)); // prettier-ignore
    expect(alike(mesh, selectionOf('edge', [long]), 'faces', 0).indices).toHaveLength(16);
    const rim = (n: number): number[] => Array.from({ length: 25 }, (_, v) => v).filter((v) => [0, 2].filter((a) => Math.abs(grid.positions[3 * v + a]) === 20).length === n); // prettier-ignore
    for (const trait of ['valence', 'faces'] as const)
      for (const n of [0, 1, 2]) expect([...alike(grid, selectionOf('vertex', rim(n).slice(0, 1)), trait, 0).indices]).toEqual(rim(n)); // prettier-ignore
  });

  it('in numbers that are counted means the same number', () => {
    const fan = makeMesh(
      Float64Array.of(0, 0, 0, 1, 0, 0, 1, 0, 1, 0, 0, 1, 2, 0, 0, 3, 0, 0, 2, 0, 1),
      Uint32Array.of(0, 4, 7),
      Uint32Array.of(0, 1, 2, 3, 4, 5, 6),
    );
    expect(alike(fan, selectionOf('face', [0]), 'corners', 0.1).indices).toEqual([0]);
    expect(alike(fan, selectionOf('face', [1]), 'corners', 0.1).indices).toEqual([1]);
  });
  it('in angle goes by the fold; an edge with one face counts as 180°', () => {
    const t = topologyOf(grid);
    const inner = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => t.edgeUse[e] === 2);
    expect(alike(grid, selectionOf('edge', [inner[0]]), 'angle', 1).indices).toEqual(inner);
    expect(alike(box, selectionOf('edge', [0]), 'angle', 1).indices).toHaveLength(12);
    expect(alike(grid, selectionOf('edge', [inner[0]]), 'angle', 181).indices).toHaveLength(t.edgeCount);
  });
});

describe('picks by birth', () => {
  // Faces have names once a piece is built.
  const built = (base: Primitive): PolyMesh => {
    const evaluator = new Evaluator({ blob: () => grid, file: () => grid });
    evaluator.setPieces([{ id: 'a', base }]);
    return evaluator.build('a').mesh;
  };
  const box = built({ primitive: 'box', width: 20, height: 30, depth: 40 });
  const lostOne = (p: BornPick): BornPick => ({ ...p, names: [1], families: [2], at: [900, 0, 0], facing: [1, 0, 0] }); // prettier-ignore
  it('that are gone are told by their number, with a cross of a fiftieth of the mesh where each was', () => {
    const picks = bornOf(box, selectionOf('face', [0, 1])).picks;
    const gone = picks.map(lostOne);
    expect(refused(() => picksBorn(box, { of: 'faces', picks: gone.slice(0, 1) })).message).toBe('The face it was picked on is not there any more.'); // prettier-ignore
    const both = refused(() => picksBorn(box, { of: 'faces', picks: gone }));
    expect(both.message).toBe('None of the 2 faces it was picked on are there any more.');
    expect(both.lines).toHaveLength(36);
    expect(Math.max(...both.lines!)).toBeCloseTo(900 + sizeOf(box) / 50, 6);
    const { selection, warnings } = picksBorn(box, { of: 'faces', picks: [picks[0], gone[1]] });
    expect([selection.indices, warnings.map((w) => w.message)]).toEqual([[0], ['1 of 2 picked faces is not there any more.']]); // prettier-ignore
  });

  it('are found by place within a hundredth of the mesh', () => {
    const [pick] = bornOf(box, selectionOf('face', [3])).picks;
    const near = (by: number): number[] => [...findBorn(box, { of: 'faces', picks: [{ ...pick, names: [1], families: [2], at: pick.at.map((x) => x + by / Math.sqrt(3)) as BornPick['at'] }] }).selection.indices]; // prettier-ignore
    expect([near(sizeOf(box) * 0.009), near(sizeOf(box) * 0.011)]).toEqual([[3], []]);
  });

  it('lead each element of a mesh back to itself, however many are like it', () => {
    const meshes = [
      box,
      built({ primitive: 'plane', width: 40, depth: 40, segments: [4, 4] }),
      built({ primitive: 'torus', radius: 16, tubeRadius: 5, sides: 9, tubeSides: 7 }),
    ];
    for (const mesh of meshes)
      for (const kind of ['face', 'edge', 'vertex'] as ElementKind[])
        for (let i = 0; i < elementCount(mesh, kind); i++) {
          const { selection, byPlace } = findBorn(mesh, bornOf(mesh, selectionOf(kind, [i])));
          expect([kind, i, [...selection.indices], byPlace]).toEqual([kind, i, [i], []]);
        }
  });
});
