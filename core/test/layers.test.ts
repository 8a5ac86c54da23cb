/** Every layer rides along through direct operations by the shared rules, unknown ones included. */
import { beforeAll, describe, expect, it } from 'vitest';
import { between, MeshDraft, withPoints } from '../src/mesh/MeshDraft';
import { evenly } from '../src/mesh/layers';
import { keepManifold } from '../src/mesh/makeManifold';
import { displacement, eigen } from '../src/mesh/offset';
import { faceCount, makeMesh, meshFromLoops, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { checkMesh } from '../src/mesh/checkMesh';
import { faceNormal } from '../src/mesh/measure';
import { applyMatrix, transformMatrix } from '../src/mesh/transform';
import { dot, pointOf, type Vec3 } from '../src/mesh/vec3';
import { edgeBetween, topologyOf } from '../src/mesh/Topology';
import { OPERATIONS } from '../src/ops';
import { openRuns } from '../src/ops/openRuns';
import { runOperation } from '../src/ops/operation';
import { buildPrimitive } from '../src/primitives';
import { resolveSelect, type Select } from '../src/select/rules';
import { loadKernel } from '../src/solid/kernel';

beforeAll(async () => {
  await loadKernel();
});

/** A plane whose UVs, colours and weights say where each element is. */
function marked(): PolyMesh {
  const m = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [2, 2] });
  const t = topologyOf(m);
  const uv = new Float32Array(2 * m.corners.length);
  m.corners.forEach((v, c) =>
    uv.set([m.positions[3 * v] / 40 + 0.5, m.positions[3 * v + 2] / 40 + 0.5], 2 * c),
  );
  return {
    ...m,
    layers: {
      vertex: {
        warmth: {
          size: 1,
          data: Float32Array.from({ length: vertexCount(m) }, (_, v) => m.positions[3 * v]),
        },
      },
      edge: {
        seam: {
          size: 1,
          data: Uint8Array.from({ length: t.edgeCount }, (_, e) => Number(t.edgeUse[e] === 2)),
        },
      },
      corner: { uv: { size: 2, data: uv } },
      face: {
        material: { size: 1, data: Uint32Array.of(1, 2, 3, 4) },
        mossiness: { size: 2, data: Float64Array.from({ length: 8 }, (_, i) => i) },
      },
    },
  };
}
const act = (m: PolyMesh, op: string, select: Select, params: Record<string, unknown> = {}) =>
  runOperation(OPERATIONS[op], m, resolveSelect(m, select), params);

/** UVs that still say where their corner is. */
function expectPlacedUvs(m: PolyMesh): void {
  const uv = m.layers.corner.uv.data;
  m.corners.forEach((v, c) => {
    expect(uv[2 * c]).toBeCloseTo(m.positions[3 * v] / 40 + 0.5, 5);
    expect(uv[2 * c + 1]).toBeCloseTo(m.positions[3 * v + 2] / 40 + 0.5, 5);
  });
}

describe('operations that stay in the surface', () => {
  const all: Select = { rule: 'all', of: 'faces' };
  const cases: Array<[string, Select, Record<string, unknown>]> = [
    ['inset', all, { thickness: 2, by: 'each' }],
    ['inset', { faces: [0, 1] }, { thickness: 3 }],
    ['ringCut', { edges: [0] }, { count: 3, slide: 0.3 }],
    ['knife', all, { lines: [[[-25, 0, -7], [25, 0, 9]]], view: [0, -1, 0] }],
    ['knife', all, { lines: [[[-25, 0, 5], [-8, 0, 11], [-3, 0, 25]]], view: [0, -1, 0] }],
    ['planeSlice', all, { point: [3, 0, 5], normal: [1, 0, 0.4] }],
    ['connect', { points: [marked().corners[0], marked().corners[2]] }, {}],
    ['fan', { faces: [2] }, {}],
    ['triangulate', all, {}],
    ['dissolve', { rule: 'valence', count: 4 }, {}],
    ['splitApart', { faces: [1] }, {}],
  ]; // prettier-ignore
  it('keep UVs where their points are, on every corner old and new', () => {
    for (const [op, select, params] of cases) expectPlacedUvs(act(marked(), op, select, params).mesh);
  });

  it('give each new face the layers of the face it came from', () => {
    const before = marked();
    const { mesh } = act(before, 'planeSlice', all, { point: [3, 0, 5], normal: [1, 0, 0.4] });
    for (let f = 0; f < faceCount(mesh); f++) {
      const corner = mesh.corners[mesh.faceStart[f]];
      expect(mesh.layers.face.mossiness.data[2 * f]).toBe(2 * (mesh.layers.face.material.data[f] - 1));
      expect(corner).toBeLessThan(vertexCount(mesh));
    }
    expect(new Set(mesh.layers.face.material.data)).toEqual(new Set([1, 2, 3, 4]));
  });

  it('mix layers of new points from the ends of their edge', () => {
    const { mesh } = act(marked(), 'ringCut', { edges: [0] }, { count: 2 });
    for (let v = 0; v < vertexCount(mesh); v++)
      expect(mesh.layers.vertex.warmth.data[v]).toBeCloseTo(mesh.positions[3 * v], 4);
  });

  it('keep edge marks on both parts of a divided edge, and off new edges', () => {
    const { mesh } = act(marked(), 'knife', all, { lines: [[[-25, 0, -7], [25, 0, -7]]], view: [0, -1, 0] }); // prettier-ignore
    const t = topologyOf(mesh);
    const seams = Array.from(mesh.layers.edge.seam.data).reduce((a, b) => a + b, 0);
    // Four inner edges were seams; the line divides one of them.
    expect(seams).toBe(5);
    for (let e = 0; e < t.edgeCount; e++)
      if (mesh.layers.edge.seam.data[e]) {
        const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
        const straight = [0, 2].some(
          (k) => mesh.positions[3 * a + k] === 0 && mesh.positions[3 * b + k] === 0,
        );
        expect(straight).toBe(true);
      }
  });

  it('copy untouched faces bit for bit', () => {
    const before = marked();
    const { mesh } = act(before, 'inset', { faces: [3] }, { thickness: 1 });
    for (let f = 0; f < 3; f++) {
      const [s, e] = [before.faceStart[f], before.faceStart[f + 1]];
      const at = (m: PolyMesh) =>
        Array.from(m.corners.subarray(s, e), (v) => Array.from(m.positions.subarray(3 * v, 3 * v + 3)));
      expect(at(mesh)).toEqual(at(before));
      expect(Array.from(mesh.layers.corner.uv.data.subarray(2 * s, 2 * e))).toEqual(
        Array.from(before.layers.corner.uv.data.subarray(2 * s, 2 * e)),
      );
    }
  });
});

describe('held normals', () => {
  const held = (m: PolyMesh): PolyMesh => ({
    ...m,
    layers: {
      ...m.layers,
      corner: {
        normal: {
          size: 3,
          data: Float32Array.from({ length: 3 * m.corners.length }, (_, i) => Number(i % 3 === 1)),
        },
      },
    },
  });
  const count = (m: PolyMesh): number =>
    Array.from(m.layers.corner.normal.data).filter((x) => x !== 0).length;

  it('turn with faces whose points move, and stay as they are elsewhere', () => {
    // Leaning 20° off the faces, the same way everywhere.
    const lean: Vec3 = [Math.sin(0.35), Math.cos(0.35), 0];
    const flat = held(buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [4, 4] }));
    const data = Float32Array.from({ length: flat.layers.corner.normal.data.length }, (_, i) => lean[i % 3]);
    const m = { ...flat, layers: { ...flat.layers, corner: { normal: { size: 3, data } } } };
    const at = (mesh: PolyMesh, c: number): Vec3 => pointOf(mesh.layers.corner.normal.data, c);
    // As a whole they turn as the sheet does, about any axis.
    const all: Select = { rule: 'all', of: 'points' };
    const turned = act(m, 'transform', all, { turn: [30, 50, -70], move: [5, 6, 7] }).mesh;
    const frame = transformMatrix({ move: [0, 0, 0], turn: [30, 50, -70], size: [1, 1, 1] });
    const expected = applyMatrix(frame, lean);
    for (const c of m.corners.keys())
      for (const k of [0, 1, 2]) expect(at(turned, c)[k]).toBeCloseTo(expected[k], 6);
    // With one point drawn up, its face alone leans, and its normals as far off it as before.
    const bent = act(m, 'transform', { points: [0] }, { move: [0, 3, 0] }).mesh;
    const positions = m.positions.slice();
    positions[1] += 3;
    expect(withPoints(m, positions).layers.corner.normal.data).toEqual(bent.layers.corner.normal.data);
    let changed = 0;
    for (let f = 0; f < faceCount(m); f++)
      for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++) {
        const off = dot(at(bent, c), faceNormal(bent, f));
        expect(off).toBeCloseTo(dot(lean, faceNormal(m, f)), 5);
        if (at(bent, c).some((x, k) => Math.abs(x - at(m, c)[k]) > 1e-4)) changed++;
      }
    expect(changed).toBe(4);
  });

  it('that cannot be kept are counted, and said', () => {
    const m = held(buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10 }));
    const out = runOperation(OPERATIONS.extrude as never, m, { kind: 'face', indices: [0] }, { distance: 2 });
    expect(out.warnings?.map((w) => [w.code, w.message])).toEqual([
      ['held-lost', '4 held normals were let go, as their faces changed.'],
    ]);
    const kept = runOperation(
      OPERATIONS.transform as never,
      m,
      { kind: 'face', indices: [0] },
      { move: [1, 2, 3] },
    );
    expect(kept.warnings ?? []).toEqual([]);
  });

  it('hold on faces divided in place, and not on walls', () => {
    const m = held(buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10 }));
    expect(count(act(m, 'ringCut', { edges: [0] }).mesh)).toBe(40);
    const { mesh, selection } = act(m, 'extrude', { rule: 'facing', direction: [0, 1, 0] }, { distance: 2 });
    expect(count(mesh)).toBe(20);
    const f = selection.indices[0];
    expect(mesh.layers.corner.normal.data[3 * mesh.faceStart[f] + 1]).toBe(0);
  });
});

describe('drafts', () => {
  const quad = meshFromLoops([[0, 0, 0], [4, 0, 0], [4, 0, 4], [0, 0, 4]], [[0, 3, 2, 1]]); // prettier-ignore
  it('leave out points no face uses, and tell where everything went', () => {
    const draft = new MeshDraft(quad);
    const middle = draft.addPoint([2, 1, 2], evenly([0, 1, 2, 3]));
    draft.addPoint([9, 9, 9], -1);
    draft.dropFace(0);
    draft.addFace({ loop: [0, middle, 1], face: 0 });
    const out = draft.finish();
    expect([vertexCount(out.mesh), faceCount(out.mesh)]).toEqual([3, 1]);
    expect(Array.from(out.vertexOf)).toEqual([0, 1, -1, -1]);
    expect([out.point(middle), out.faceOf[0], out.sourceFace[0], out.firstNewFace]).toEqual([2, -1, 0, 0]);
  });

  it('mix by share', () => {
    expect(between(3, 8, 0.25)).toEqual({ of: [3, 8], by: [0.75, 0.25] });
    expect(evenly([1, 2]).by).toEqual([0.5, 0.5]);
  });
});

describe('keeping manifold', () => {
  it('gives parts that touch in a point or an edge points of their own', () => {
    const a = [[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]] as [number, number, number][]; // prettier-ignore
    const tetra = [[0, 2, 1], [0, 1, 3], [1, 2, 3], [0, 3, 2]]; // prettier-ignore
    const before = meshFromLoops(a, tetra);
    const twin = meshFromLoops(
      [...a, [-1, 0, 0], [0, -1, 0], [0, 0, -1]],
      [...tetra, ...[[0, 2, 1], [0, 1, 3], [1, 2, 3], [0, 3, 2]].map((f) => f.map((v) => (v ? v + 3 : 0)).reverse())],
    ); // prettier-ignore
    expect(checkMesh(twin).findings.map((f) => f.code)).toContain('non-manifold-vertex');
    const apart = keepManifold(twin, before);
    expect([checkMesh(apart).closed, vertexCount(apart)]).toEqual([true, 8]);
    // A mesh that was not manifold before is left to its owner.
    expect(keepManifold(twin, twin)).toBe(twin);
  });

  it('divides edges that have come to run between the same two points', () => {
    // Two square bags sewn along the same pair of points.
    const bag = meshFromLoops(
      [[0, 0, 0], [0, 4, 0], [2, 2, 1], [-2, 2, 1], [2, 2, -1], [-2, 2, -1]],
      [[0, 2, 1], [0, 1, 3], [0, 1, 2], [0, 3, 1], [0, 4, 1], [0, 1, 5], [0, 1, 4], [0, 5, 1]],
    ); // prettier-ignore
    const closed = buildPrimitive({ primitive: 'box', width: 1, height: 1, depth: 1 });
    const out = keepManifold(bag, closed);
    expect(checkMesh(out).findings.map((f) => f.code)).not.toContain('non-manifold-edge');
  });
});

describe('small geometry', () => {
  it('displacement meets up to three planes exactly, and gives way in between', () => {
    expect(displacement([{ n: [0, 1, 0], h: 2 }])).toEqual([0, 2, 0].map((x) => expect.closeTo(x, 12)));
    const two = displacement([{ n: [1, 0, 0], h: 1 }, { n: [0, 0, 1], h: 3 }]); // prettier-ignore
    expect(two).toEqual([1, 0, 3].map((x) => expect.closeTo(x, 12)));
    const s = Math.SQRT1_2;
    const slanted = displacement([{ n: [1, 0, 0], h: 1 }, { n: [s, s, 0], h: 1 }, { n: [0, 0, 1], h: -1 }]); // prettier-ignore
    expect(slanted[0]).toBeCloseTo(1, 9);
    expect(s * slanted[0] + s * slanted[1]).toBeCloseTo(1, 9);
    // Two planes that disagree about the same direction meet half way.
    expect(displacement([{ n: [0, 1, 0], h: 1 }, { n: [0, 1, 0], h: 3 }])[1]).toBeCloseTo(2, 9); // prettier-ignore
    expect(displacement([])).toEqual([0, 0, 0]);
  });

  it('eigenvectors of a symmetric matrix are orthogonal and fit', () => {
    const m = [4, 1, -2, 1, 3, 0.5, -2, 0.5, 6];
    const { values, vectors } = eigen(m);
    vectors.forEach((v, k) => {
      for (let i = 0; i < 3; i++)
        expect(m[3 * i] * v[0] + m[3 * i + 1] * v[1] + m[3 * i + 2] * v[2]).toBeCloseTo(values[k] * v[i], 9);
    });
  });

  it('open runs follow their faces, closed and broken, and part where they touch', () => {
    const grid = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [4, 4] });
    expect(openRuns(grid).map((r) => [r.closed, r.points.length])).toEqual([[true, 16]]);
    const t = topologyOf(grid);
    const some = openRuns(grid, new Set(openRuns(grid)[0].edges.slice(0, 5)));
    expect(some.map((r) => [r.closed, r.points.length])).toEqual([[false, 6]]);
    const [a, b] = openRuns(grid)[0].points;
    const c = t.cornerOfEdge[edgeBetween(grid, t, a, b)];
    expect(grid.corners[c]).toBe(a);
    // Two holes that touch in a point are two runs.
    const draft = new MeshDraft(makeMesh(grid.positions, grid.faceStart, grid.corners));
    for (const f of [5, 10]) draft.dropFace(f);
    const out = draft.finish().mesh;
    expect(openRuns(out).filter((r) => r.closed)).toHaveLength(3);
  });
});
