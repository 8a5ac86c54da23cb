/** Every direct operation on shapes whose result is known exactly. */
import { beforeAll, describe, expect, it } from 'vitest';
import { OPERATIONS } from '../src/ops';
import { runOperation, type OperationResult } from '../src/ops/operation';
import { ringCutLines } from '../src/ops/ringCut';
import { buildPrimitive } from '../src/primitives';
import { checkMesh } from '../src/mesh/checkMesh';
import {
  boundsOf,
  eulerCharacteristic,
  faceArea,
  faceKinds,
  faceNormal,
  shellCount,
  surfaceArea,
  volume,
} from '../src/mesh/measure';
import { faceCount, meshFromLoops, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { resolveSelect, type Select } from '../src/select/rules';
import { selectionOf } from '../src/select/selection';
import { loadKernel } from '../src/solid/kernel';
import { refusal } from './refusal';

beforeAll(async () => {
  await loadKernel();
});

const act = (
  mesh: PolyMesh,
  op: string,
  select: Select,
  params: Record<string, unknown> = {},
): OperationResult => {
  const out = runOperation(OPERATIONS[op], mesh, resolveSelect(mesh, select, null), params);
  expect(checkMesh(out.mesh).findings.filter((f) => f.code !== 'open-edge')).toEqual([]);
  return out;
};
const closed = (m: PolyMesh): boolean => checkMesh(m).closed;

const cube = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10 });
const grid = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [4, 4] });
const top: Select = { rule: 'facing', direction: [0, 1, 0] };
const edgeAlong = (m: PolyMesh, test: (a: number[], b: number[]) => boolean): number => {
  const t = topologyOf(m);
  const at = (v: number): number[] => Array.from(m.positions.subarray(3 * v, 3 * v + 3));
  for (let e = 0; e < t.edgeCount; e++) if (test(at(t.edges[2 * e]), at(t.edges[2 * e + 1]))) return e;
  throw new Error('no such edge');
};
const upright = (m: PolyMesh): number => edgeAlong(m, (a, b) => a[0] === b[0] && a[2] === b[2]);

describe('extrude', () => {
  it('raises a face with four walls', () => {
    const { mesh, selection } = act(cube, 'extrude', top, { distance: 4 });
    expect([faceCount(mesh), volume(mesh), closed(mesh)]).toEqual([10, 1400, true]);
    expect(boundsOf(mesh).max[1]).toBe(9);
    expect(selection.kind).toBe('face');
    expect(faceNormal(mesh, selection.indices[0])).toEqual([0, 1, 0]);
  });

  it('lays the UVs of walls beside the layout, at its density', () => {
    const { mesh } = act(grid, 'extrude', { faces: [5, 6] }, { distance: 4 });
    // Six walls of 10 by 4 on a sheet of 40 by 40.
    expect(laidBeside(grid, mesh, 6)).toBeCloseTo(240 / 1600, 9);
  });

  it('raises a region as one, each face by itself, or along its own normals', () => {
    const box = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10, segments: [2, 1, 1] });
    expect(faceCount(act(box, 'extrude', top, { distance: 1 }).mesh)).toBe(10 + 6);
    const each = act(box, 'extrude', top, { distance: 1, by: 'each' }).mesh;
    expect(faceCount(each)).toBe(10 + 8);
    expect(volume(each)).toBeCloseTo(1100, 9);
    // All faces along their own normals: every plane moves out by the distance, so the cube grows by twice that.
    const grown = act(cube, 'extrude', { rule: 'all', of: 'faces' }, { distance: 1, along: 'own' }).mesh;
    expect([faceCount(grown), volume(grown)]).toEqual([6, 12 ** 3]);
  });

  it('goes along an axis', () => {
    const { mesh } = act(cube, 'extrude', top, { distance: 5, along: 'axis', axis: [1, 1, 0] });
    expect(volume(mesh)).toBeCloseTo(1000 + (100 * 5) / Math.SQRT2, 9);
  });

  it('opens a clean passage when pushed through, and takes a part away when it runs out at a side', () => {
    const box = buildPrimitive({ primitive: 'box', width: 30, height: 10, depth: 30, segments: [3, 1, 3] });
    const middle = resolveSelect(
      box,
      { rule: 'within', of: 'faces', min: [-1, 4, -1], max: [1, 6, 1] },
      null,
    );
    const out = runOperation(OPERATIONS.extrude, box, middle, { distance: -14 });
    expect(out.report).toContain('passage');
    expect([closed(out.mesh), eulerCharacteristic(out.mesh)]).toEqual([true, 0]);
    expect(volume(out.mesh)).toBeCloseTo(9000 - 1000, 6);
    expect(out.mesh.layers.edge.cut).toBeUndefined();
    // Not through: plain walls, no boolean.
    const dent = runOperation(OPERATIONS.extrude, box, middle, { distance: -4 });
    expect(volume(dent.mesh)).toBeCloseTo(9000 - 400, 9);
    expect(faceCount(dent.mesh)).toBe(faceCount(box) + 4);
  });

  it('keeps marks of the sides it moves and layers of the faces it walls', () => {
    const marked = act(cube, 'mark', { rule: 'all', of: 'edges' }, { marks: ['crease'], value: 2 }).mesh;
    const { mesh, selection } = act(marked, 'extrude', top, { distance: 4 });
    const t = topologyOf(mesh);
    const f = selection.indices[0];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      expect(mesh.layers.edge.crease.data[t.edgeOfCorner[c]]).toBe(2);
    expect(Array.from(mesh.layers.edge.crease.data).filter((x) => x === 2)).toHaveLength(16);
  });
});

describe('inset', () => {
  it('lays an even ring, also at uneven corners', () => {
    const kite = meshFromLoops([[0, 0, 0], [30, 0, -4], [20, 0, 18], [3, 0, 12]], [[3, 2, 1, 0]]); // prettier-ignore
    const { mesh, selection } = act(kite, 'inset', { faces: [0] }, { thickness: 2 });
    expect(faceCount(mesh)).toBe(5);
    const inner = selection.indices[0];
    const t = topologyOf(mesh);
    for (let c = mesh.faceStart[inner]; c < mesh.faceStart[inner + 1]; c++) {
      const [a, b] = [
        mesh.corners[c],
        mesh.corners[c + 1 === mesh.faceStart[inner + 1] ? mesh.faceStart[inner] : c + 1],
      ];
      const p = (v: number): number[] => [mesh.positions[3 * v], mesh.positions[3 * v + 2]];
      const far = Math.min(
        ...Array.from(topologyOf(kite).edges.length ? [0, 1, 2, 3] : []).map((k) => {
          const [u, w] = [p(k), p((k + 1) % 4)];
          const l = Math.hypot(w[0] - u[0], w[1] - u[1]);
          return Math.max(
            ...[a, b].map(
              (v) => Math.abs((p(v)[0] - u[0]) * (w[1] - u[1]) - (p(v)[1] - u[1]) * (w[0] - u[0])) / l,
            ),
          );
        }),
      );
      expect(far).toBeCloseTo(2, 9);
    }
    expect(t.edgeCount).toBe(12);
    expect(surfaceArea(mesh)).toBeCloseTo(surfaceArea(kite), 9);
  });

  it('sinks by a depth, per face or as a region', () => {
    const region = act(grid, 'inset', { rule: 'all', of: 'faces' }, { thickness: 2, depth: -3 }).mesh;
    expect(faceCount(region)).toBe(16 + 16);
    expect(boundsOf(region).min[1]).toBeCloseTo(-3, 12);
    const each = act(grid, 'inset', { rule: 'all', of: 'faces' }, { thickness: 2, by: 'each' }).mesh;
    expect(faceCount(each)).toBe(16 * 5);
    expect(surfaceArea(each)).toBeCloseTo(1600, 9);
  });

  it('goes outward onto the faces around', () => {
    const middle: Select = { rule: 'within', of: 'faces', min: [-11, -1, -11], max: [11, 1, 11] };
    const out = act(grid, 'inset', middle, { thickness: -3 });
    expect(faceCount(out.mesh)).toBe(16 + 8);
    expect(surfaceArea(out.mesh)).toBeCloseTo(1600, 9);
    // What was picked is what it was.
    for (const f of out.selection.indices) expect(faceArea(out.mesh, f)).toBeCloseTo(100, 9);
    expect(refusal(() => act(cube, 'inset', { rule: 'all', of: 'faces' }, { thickness: -1 }))).toBe(
      'no-outside',
    );
  });

  it('stops before its border would fold, and says where', () => {
    const out = act(cube, 'inset', top, { thickness: 8 });
    expect(out.warning).toContain('5 mm');
    expect(out.mesh.positions.every(Number.isFinite)).toBe(true);
    // A reflex corner stops before the side across from it.
    const ell = meshFromLoops([[0, 0, 0], [20, 0, 0], [20, 0, 4], [4, 0, 4], [4, 0, 20], [0, 0, 20]], [[5, 4, 3, 2, 1, 0]]); // prettier-ignore
    expect(act(ell, 'inset', { faces: [0] }, { thickness: 6 }).warning).toContain('2 mm');
  });
});

describe('ring cut', () => {
  it('runs all round a closed ring, and from rim to rim on an open one', () => {
    const { mesh, selection } = act(cube, 'ringCut', { edges: [upright(cube)] });
    expect([faceCount(mesh), vertexCount(mesh), selection.indices.length]).toEqual([10, 12, 4]);
    expect(volume(mesh)).toBe(1000);
    const e = edgeAlong(grid, (a, b) => a[2] === b[2]);
    expect(act(grid, 'ringCut', { edges: [e] }, { count: 3 }).selection.indices).toHaveLength(12);
  });

  it('spaces several evenly and slides them without crossing a side', () => {
    const heights = (count: number, slide: number): number[] => {
      const { mesh, selection } = act(cube, 'ringCut', { edges: [upright(cube)] }, { count, slide });
      const ys = selection.indices.map((e) => mesh.positions[3 * topologyOf(mesh).edges[2 * e] + 1]);
      return [...new Set(ys.map((y) => Number(y.toFixed(9))))].sort((a, b) => a - b);
    };
    expect(heights(1, 0)).toEqual([0]);
    expect(heights(4, 0)).toHaveLength(4);
    expect(heights(4, 0)[0]).toBeCloseTo(-3, 12);
    const slid = heights(2, 0.9);
    expect(Math.max(...slid.map(Math.abs))).toBeLessThan(5);
    expect(slid[1] - slid[0]).toBeCloseTo(10 / 30, 6);
  });

  it('stops at faces that are no quads, keeps them whole, and says so', () => {
    const can = buildPrimitive({ primitive: 'cylinder', radius: 10, height: 20, sides: 12 });
    const rim = edgeAlong(can, (a, b) => a[1] === b[1] && a[1] > 0);
    const out = act(can, 'ringCut', { edges: [rim] });
    expect(out.warning).toContain('2 ends');
    expect([closed(out.mesh), faceKinds(out.mesh).ngons]).toEqual([true, 2]);
    const lid = buildPrimitive({ primitive: 'disc', radius: 10, sides: 7 });
    expect(refusal(() => act(lid, 'ringCut', { edges: [0] }))).toBe('no-ring');
  });

  it('shows where it will run, before it does', () => {
    for (const p of [
      { count: 1, slide: 0 },
      { count: 3, slide: 0.4 },
      { count: 2, slide: -0.7 },
    ]) {
      const lines = ringCutLines(cube, upright(cube), p);
      const { mesh, selection } = act(cube, 'ringCut', { edges: [upright(cube)] }, p);
      const t = topologyOf(mesh);
      const ends = (list: number[][]): string =>
        list
          .map((l) => [l.slice(0, 3), l.slice(3)].map((q) => q.map((x) => x.toFixed(6)).join()).sort().join('|'))
          .sort()
          .join('\n'); // prettier-ignore
      const cut = selection.indices.map((e) =>
        [0, 1].flatMap((k) => [0, 1, 2].map((x) => mesh.positions[3 * t.edges[2 * e + k] + x])),
      );
      const shown = Array.from({ length: lines.length / 6 }, (_, i) => [...lines.subarray(6 * i, 6 * i + 6)]);
      expect(ends(shown)).toBe(ends(cut));
    }
    const lid = buildPrimitive({ primitive: 'disc', radius: 5, sides: 7 });
    expect(ringCutLines(lid, 0, { count: 1, slide: 0 })).toHaveLength(0);
  });

  it('cuts crossing rings, one after the other', () => {
    const along = (k: number): number =>
      edgeAlong(cube, (a, b) => [0, 1, 2].every((j) => (j === k) === (a[j] !== b[j])));
    const { mesh } = act(cube, 'ringCut', { edges: [along(0), along(1)] });
    expect([faceCount(mesh), closed(mesh), volume(mesh)]).toEqual([16, true, 1000]);
  });
});

describe('bevel and support loops', () => {
  it('are the live step on picked edges', () => {
    const all: Select = { rule: 'all', of: 'edges' };
    expect(faceCount(act(cube, 'bevel', all, { width: 1, segments: 1 }).mesh)).toBe(6 + 12 + 8);
    const e = upright(cube);
    const held = act(cube, 'supportLoops', { edges: [e] }, { distance: 1 });
    expect(volume(held.mesh)).toBeCloseTo(1000, 6);
    expect(closed(held.mesh)).toBe(true);
  });
});

describe('knife', () => {
  it('cuts straight across faces seen from above, only on the surface', () => {
    const out = act(cube, 'knife', { rule: 'all', of: 'faces' }, { lines: [[[-5, 5, 2], [5, 5, 2]]], view: [0, -1, 0] }); // prettier-ignore
    expect([faceCount(out.mesh), closed(out.mesh), volume(out.mesh)]).toEqual([7, true, 1000]);
    expect(out.selection.indices).toHaveLength(1);
  });

  it('cuts through the whole depth', () => {
    const out = act(cube, 'knife', { rule: 'all', of: 'faces' }, { lines: [[[-9, 20, 2], [9, 20, 2]]], through: true }); // prettier-ignore
    // Top and bottom are divided; the sides stand edge-on and take the points in.
    expect(faceCount(out.mesh)).toBe(8);
    expect(closed(out.mesh)).toBe(true);
  });

  it('bends inside an n-gon', () => {
    const can = buildPrimitive({ primitive: 'cylinder', radius: 10, height: 4, sides: 16 });
    const path = [[-20, 2, 0], [0, 2, 0], [0, 2, 20]]; // prettier-ignore
    const out = act(
      can,
      'knife',
      { rule: 'facing', direction: [0, 1, 0] },
      { lines: [path], view: [0, -1, 0] },
    );
    expect(faceCount(out.mesh)).toBe(19);
    const areas = resolveSelect(out.mesh, { rule: 'facing', direction: [0, 1, 0] }, null).indices.map((f) =>
      faceArea(out.mesh, f),
    );
    const whole = areas[0] + areas[1];
    expect(Math.min(...areas) / whole).toBeCloseTo(0.25, 9);
    expect(closed(out.mesh)).toBe(true);
  });

  it('goes through a place of the mesh it is drawn over', () => {
    const out = act(grid, 'knife', { rule: 'all', of: 'faces' }, { lines: [[[-20, 0, -20], [20, 0, 20]]], view: [0, -1, 0] }); // prettier-ignore
    expect([faceCount(out.mesh), vertexCount(out.mesh)]).toEqual([20, 25]);
  });

  it('makes a closed line inside one face a face of its own', () => {
    const path = [[-2, 5, -2], [2, 5, -2], [2, 5, 2], [-2, 5, 2]]; // prettier-ignore
    const out = act(cube, 'knife', top, { lines: [[...path, path[0]]] });
    expect([closed(out.mesh), volume(out.mesh)]).toEqual([true, 1000]);
    expect(
      Array.from({ length: faceCount(out.mesh) }, (_, f) => faceArea(out.mesh, f)).some(
        (a) => Math.abs(a - 16) < 1e-9,
      ),
    ).toBe(true);
  });

  it('sees in perspective', () => {
    const eye = [0, 30, 0];
    const out = act(cube, 'knife', { rule: 'all', of: 'faces' }, { lines: [[[-5, 5, 2], [5, 5, 2]]], eye, view: [0, -1, 0] }); // prettier-ignore
    const t = topologyOf(out.mesh);
    const e = out.selection.indices[0];
    for (const v of [t.edges[2 * e], t.edges[2 * e + 1]])
      expect(out.mesh.positions[3 * v + 2]).toBeCloseTo(2, 9);
  });

  it('cuts along several lines in one go, also where they cross', () => {
    const lines = [
      [[-5, 5, 2], [5, 5, 2]],
      [[1, 5, -5], [1, 5, 5]],
      [[0, 5, 0], [0.5, 5, 0]],
    ]; // prettier-ignore
    const out = act(cube, 'knife', { rule: 'all', of: 'faces' }, { lines, view: [0, -1, 0] });
    // Four fields on top, two edges of each line, and the third line is told about.
    expect([faceCount(out.mesh), out.selection.indices.length]).toEqual([9, 4]);
    expect(out.warning).toBe('1 line divided no face.');
    expect(Object.keys(out.mesh.layers.edge)).toEqual(Object.keys(cube.layers.edge));
    // Only picked faces are cut, however many lines there are.
    const half = act(out.mesh, 'knife', { faces: [faceCount(out.mesh) - 1] }, { lines: [[[-5, 5, -1], [5, 5, -1]], [[-5, 5, 4], [5, 5, 4]]], view: [0, -1, 0] }); // prettier-ignore
    expect(faceCount(half.mesh)).toBe(10);
  });

  it('refuses lines that divide nothing', () => {
    expect(refusal(() => act(cube, 'knife', top, { lines: [[[-1, 5, 0], [1, 5, 0]]] }))).toBe('cuts-nothing'); // prettier-ignore
    expect(refusal(() => act(cube, 'knife', top, { lines: [[[-1, 5, 0]]] }))).toBe('short-line');
  });
});

describe('plane slice', () => {
  const all: Select = { rule: 'all', of: 'faces' };
  it('divides, keeps a side, closes the cut', () => {
    expect(faceCount(act(cube, 'planeSlice', all).mesh)).toBe(10);
    const half = act(cube, 'planeSlice', all, { keep: 'front', cap: true });
    expect([closed(half.mesh), volume(half.mesh), faceCount(half.mesh)]).toEqual([true, 500, 6]);
    expect(faceNormal(half.mesh, half.selection.indices[0])).toEqual([0, -1, 0]);
    const open = act(cube, 'planeSlice', all, { keep: 'back' });
    expect([closed(open.mesh), boundsOf(open.mesh).max[1]]).toEqual([false, 0]);
  });

  it('closes rings within rings', () => {
    const tube = buildPrimitive({
      primitive: 'tube',
      outerRadius: 10,
      innerRadius: 6,
      height: 20,
      sides: 24,
    });
    const half = act(tube, 'planeSlice', all, { keep: 'front', cap: true, point: [0, 3, 0] });
    expect(closed(half.mesh)).toBe(true);
    expect(volume(half.mesh)).toBeCloseTo((volume(tube) * 7) / 20, 6);
  });

  it('slices apart into two closed bodies', () => {
    const apart = act(cube, 'planeSlice', all, { keep: 'apart', cap: true, normal: [1, 1, 0] });
    expect([closed(apart.mesh), shellCount(apart.mesh)]).toEqual([true, 2]);
    expect(volume(apart.mesh)).toBeCloseTo(1000, 9);
  });

  it('passes through points and along edges that lie in it', () => {
    const quarter = act(cube, 'planeSlice', all, { keep: 'front', cap: true, normal: [1, 1, 0] });
    expect([closed(quarter.mesh), volume(quarter.mesh)]).toEqual([true, 500]);
    expect(refusal(() => act(cube, 'planeSlice', all, { point: [0, 99, 0] }))).toBe('plane-misses');
    expect(refusal(() => act(cube, 'planeSlice', all, { point: [0, 99, 0], keep: 'front' }))).toBe(
      'nothing-left',
    );
  });
});

describe('dissolve and delete', () => {
  it('leave a hole, or join faces', () => {
    const hole = act(cube, 'deleteFaces', top).mesh;
    expect([faceCount(hole), closed(hole)]).toEqual([5, false]);
    const cut = act(cube, 'ringCut', { edges: [upright(cube)] });
    const back = runOperation(OPERATIONS.dissolve, cut.mesh, cut.selection, {});
    expect([faceCount(back.mesh), vertexCount(back.mesh), volume(back.mesh)]).toEqual([6, 8, 1000]);
    expect(refusal(() => act(cube, 'deleteFaces', { rule: 'all', of: 'faces' }))).toBe('nothing-left');
  });

  it('dissolve many loops at once', () => {
    const many = act(cube, 'ringCut', { edges: [upright(cube)] }, { count: 9 });
    const back = runOperation(OPERATIONS.dissolve, many.mesh, many.selection, {});
    expect([faceCount(back.mesh), vertexCount(back.mesh)]).toEqual([6, 8]);
  });

  it('dissolve a point into one face, and refuse what would leave a hole in a face', () => {
    const v = Array.from({ length: 25 }, (_, i) => i).find(
      (i) => grid.positions[3 * i] === 0 && grid.positions[3 * i + 2] === 0,
    )!;
    const out = act(grid, 'dissolve', { points: [v] }).mesh;
    expect([faceCount(out), vertexCount(out), faceKinds(out).ngons]).toEqual([13, 24, 1]);
    const ring = act(grid, 'inset', { faces: [5] }, { thickness: 2 });
    const border = resolveSelect(ring.mesh, { rule: 'border', faces: [...ring.selection.indices] }, null);
    const t = topologyOf(ring.mesh);
    const inner = border.indices;
    expect(refusal(() => runOperation(OPERATIONS.dissolve, ring.mesh, selectionOf('edge', inner), {}))).toBe(
      'cannot-dissolve',
    );
    expect(t.edgeCount).toBeGreaterThan(0);
  });
});

describe('weld and collapse', () => {
  it('weld by distance, at the middle, at the last', () => {
    const apart = act(cube, 'splitApart', top).mesh;
    expect([vertexCount(apart), shellCount(apart)]).toEqual([12, 2]);
    const joined = act(apart, 'weld', { rule: 'all', of: 'points' }, { distance: 0.001 });
    expect([vertexCount(joined.mesh), closed(joined.mesh)]).toEqual([8, true]);
    expect(joined.report).toBe('Welded 8 points into 4.');
    expect(refusal(() => act(cube, 'weld', { rule: 'all', of: 'points' }, { distance: 1 }))).toBe(
      'nothing-near',
    );
  });

  it('collapse an edge to its middle, a face to a point', () => {
    const out = act(cube, 'collapse', { edges: [upright(cube)] });
    expect([vertexCount(out.mesh), faceKinds(out.mesh).triangles, closed(out.mesh)]).toEqual([7, 2, true]);
    const peak = act(cube, 'collapse', top);
    expect([vertexCount(peak.mesh), faceCount(peak.mesh)]).toEqual([5, 5]);
    expect(volume(peak.mesh)).toBeCloseTo(1000 / 3, 9);
  });
});

describe('fill and bridge', () => {
  it('fill a hole with a face or a grid', () => {
    const box = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10, segments: [4, 1, 4] });
    const hole = act(box, 'deleteFaces', top).mesh;
    const face = act(hole, 'fill', { rule: 'open' });
    expect([closed(face.mesh), volume(face.mesh), face.selection.indices.length]).toEqual([true, 1000, 1]);
    const quads = act(hole, 'fill', { rule: 'open' }, { with: 'grid', span: 4 });
    expect([closed(quads.mesh), quads.selection.indices.length, faceKinds(quads.mesh).quads]).toEqual([
      true,
      16,
      faceCount(quads.mesh),
    ]);
    expect(volume(quads.mesh)).toBeCloseTo(1000, 9);
    // One edge of the rim is enough; nothing open is refused.
    expect(
      closed(act(hole, 'fill', { edges: [resolveSelect(hole, { rule: 'open' }, null).indices[3]] }).mesh),
    ).toBe(true);
    expect(refusal(() => act(cube, 'fill', { rule: 'all', of: 'edges' }))).toBe('no-hole');
  });

  it('bridge two faces into a passage, in segments', () => {
    const slab = buildPrimitive({ primitive: 'box', width: 30, height: 10, depth: 30, segments: [3, 1, 3] });
    const faces = resolveSelect(
      slab,
      { rule: 'within', of: 'faces', min: [-1, -9, -1], max: [1, 9, 1] },
      null,
    );
    const out = runOperation(OPERATIONS.bridge, slab, faces, { segments: 3 });
    expect([closed(out.mesh), eulerCharacteristic(out.mesh), out.selection.indices.length]).toEqual([
      true,
      0,
      12,
    ]);
    expect(volume(out.mesh)).toBeCloseTo(8000, 9);
    expect(refusal(() => act(slab, 'bridge', { faces: [faces.indices[0]] }))).toBe('not-two-rims');
  });

  it('bridge rims of unequal count with triangles where they must be', () => {
    const ring = (n: number, y: number, up: boolean): PolyMesh => {
      const disc = buildPrimitive({ primitive: 'disc', radius: 10, sides: n });
      const positions = disc.positions.map((x, i) => (i % 3 === 1 ? y : x));
      const m = { ...disc, positions };
      return up ? m : runOperation(OPERATIONS.turnOver, m, selectionOf('face', [0]), {}).mesh;
    };
    const [a, b] = [ring(12, 10, true), ring(8, 0, false)];
    const both = meshFromLoops(
      [...Array.from({ length: 12 }, (_, i) => Array.from(a.positions.subarray(3 * i, 3 * i + 3))), ...Array.from({ length: 8 }, (_, i) => Array.from(b.positions.subarray(3 * i, 3 * i + 3)))] as [number, number, number][],
      [Array.from(a.corners), Array.from(b.corners, (v) => v + 12)],
    ); // prettier-ignore
    const out = act(both, 'bridge', { rule: 'open' });
    expect([closed(out.mesh), eulerCharacteristic(out.mesh)]).toEqual([true, 2]);
    expect(faceKinds(out.mesh).triangles).toBeGreaterThanOrEqual(4);
    expect(volume(out.mesh)).toBeGreaterThan(2500);
  });
});

describe('faces by themselves', () => {
  it('fan, triangulate, pair back into quads', () => {
    expect(faceCount(act(cube, 'fan', top).mesh)).toBe(9);
    const tris = act(cube, 'triangulate', { rule: 'all', of: 'faces' });
    expect(faceKinds(tris.mesh)).toEqual({ triangles: 12, quads: 0, ngons: 0 });
    const quads = act(tris.mesh, 'pairTriangles', { rule: 'all', of: 'faces' });
    expect(faceKinds(quads.mesh)).toEqual({ triangles: 0, quads: 6, ngons: 0 });
    expect(volume(quads.mesh)).toBe(1000);
    expect(refusal(() => act(cube, 'pairTriangles', { rule: 'all', of: 'faces' }))).toBe('no-pairs');
  });

  it('turn over and face outward', () => {
    const over = act(cube, 'turnOver', { rule: 'all', of: 'faces' }).mesh;
    expect(volume(over)).toBe(-1000);
    expect(volume(act(over, 'faceOutward', { rule: 'all', of: 'faces' }).mesh)).toBe(1000);
    const one = runOperation(OPERATIONS.turnOver, cube, selectionOf('face', [2]), {}).mesh;
    expect(checkMesh(one).findings.map((f) => f.code)).toContain('folded-edge');
    expect(closed(act(one, 'faceOutward', { rule: 'all', of: 'faces' }).mesh)).toBe(true);
  });

  it('keep, duplicate and split faces', () => {
    expect(faceCount(act(cube, 'keepFaces', top).mesh)).toBe(1);
    const twice = act(cube, 'copyFaces', top);
    expect([faceCount(twice.mesh), shellCount(twice.mesh)]).toEqual([7, 2]);
  });

  it('connect points and edge middles across faces', () => {
    const t = topologyOf(cube);
    const f = resolveSelect(cube, top, null).indices[0];
    const [a, , b] = Array.from(cube.corners.subarray(cube.faceStart[f], cube.faceStart[f + 1]));
    expect(faceKinds(act(cube, 'connect', { points: [a, b] }).mesh).triangles).toBe(2);
    const sides = [cube.faceStart[f], cube.faceStart[f] + 2].map((c) => t.edgeOfCorner[c]);
    const out = act(cube, 'connect', { edges: sides });
    expect([faceCount(out.mesh), closed(out.mesh)]).toEqual([7, true]);
    const ell = meshFromLoops([[0, 0, 0], [20, 0, 0], [20, 0, 4], [4, 0, 4], [4, 0, 20], [0, 0, 20]], [[5, 4, 3, 2, 1, 0]]); // prettier-ignore
    expect(refusal(() => act(ell, 'connect', { points: [2, 4] }))).toBe('no-way-across');
    expect(refusal(() => act(ell, 'connect', { points: [1, 2, 4] }))).toBe('nothing-to-connect');
  });

  it('connect two points over the faces between them', () => {
    const at = (x: number, z: number): number =>
      Array.from({ length: vertexCount(grid) }, (_, v) => v).find(
        (v) => grid.positions[3 * v] === x && grid.positions[3 * v + 2] === z,
      )!;
    const out = act(grid, 'connect', { points: [at(-20, -20), at(20, 0)] });
    // Four columns and two rows of fields, one crossing of a grid point: four faces are divided.
    expect([faceCount(out.mesh), out.selection.indices.length]).toEqual([20, 4]);
    expect(out.report).toBe('Connected with 4 edges.');
    const far = resolveSelect(cube, { rule: 'all', of: 'points' }, null).indices;
    const opposite = far.find((v) =>
      [0, 1, 2].every((k) => cube.positions[3 * v + k] === -cube.positions[k]),
    )!;
    expect(refusal(() => act(cube, 'connect', { points: [0, opposite] }))).toBe('no-way-across');
  });
});

describe('mirror once and thicken', () => {
  it('mirror a half onto its other half, welded', () => {
    const half = act(
      cube,
      'planeSlice',
      { rule: 'all', of: 'faces' },
      { keep: 'front', normal: [1, 0, 0] },
    ).mesh;
    const out = act(half, 'mirrorOnce', { rule: 'all', of: 'faces' });
    expect([closed(out.mesh), volume(out.mesh)]).toEqual([true, 1000]);
    expect(out.report).toContain('welded 4 points');
    // A closed half has its wall in the plane taken out.
    const shut = act(
      cube,
      'planeSlice',
      { rule: 'all', of: 'faces' },
      { keep: 'front', normal: [1, 0, 0], cap: true },
    ).mesh;
    expect(closed(act(shut, 'mirrorOnce', { rule: 'all', of: 'faces' }).mesh)).toBe(true);
  });

  it('thicken a sheet into a closed plate', () => {
    for (const side of [-1, 0, 1]) {
      const out = act(grid, 'thicken', { rule: 'all', of: 'faces' }, { thickness: 2, side });
      expect([closed(out.mesh), volume(out.mesh)]).toEqual([true, 3200]);
      expect(boundsOf(out.mesh).max[1]).toBeCloseTo(1 + side, 12);
    }
  });
});

describe('moving and arranging', () => {
  it('moves, turns and sizes in a frame, about the middle, each island or a point', () => {
    const moved = act(cube, 'transform', top, { move: [1, 2, 3] }).mesh;
    expect(boundsOf(moved)).toEqual({ min: [-5, -5, -5], max: [6, 7, 8] });
    const turned = act(cube, 'transform', top, { turn: [0, 90, 0] }).mesh;
    expect(boundsOf(turned).max[0]).toBeCloseTo(5, 12);
    const sized = act(cube, 'transform', top, { size: [0.5, 1, 0.5] }).mesh;
    expect(volume(sized)).toBeCloseTo((10 / 3) * (100 + 25 + 50), 9);
    const s = Math.SQRT1_2;
    const frame = [s, s, 0, -s, s, 0, 0, 0, 1];
    const along = act(cube, 'transform', { rule: 'all', of: 'faces' }, { move: [10, 0, 0], frame }).mesh;
    expect(boundsOf(along).max[0]).toBeCloseTo(5 + 10 * s, 12);
    const ends: Select = { rule: 'within', of: 'faces', min: [-21, -1, -21], max: [21, 1, -11] };
    const each = act(grid, 'transform', ends, { size: [0.5, 1, 0.5], about: 'each' }).mesh;
    expect(boundsOf(each).min[2]).toBeCloseTo(-17.5, 9);
  });

  it('lets points in reach follow softly', () => {
    const v = Array.from({ length: 25 }, (_, i) => i).find(
      (i) => grid.positions[3 * i] === 0 && grid.positions[3 * i + 2] === 0,
    )!;
    const m = act(grid, 'transform', { points: [v] }, { move: [0, 8, 0], reach: 15, falloff: 'linear' }).mesh;
    const height = (x: number, z: number): number =>
      m.positions[
        3 *
          Array.from({ length: 25 }, (_, i) => i).find(
            (i) => grid.positions[3 * i] === x && grid.positions[3 * i + 2] === z,
          )! +
          1
      ];
    expect(height(0, 0)).toBe(8);
    expect(height(10, 0)).toBeCloseTo(8 / 3, 9);
    expect(height(10, 10)).toBeCloseTo(8 * (1 - Math.hypot(10, 10) / 15), 9);
    expect(height(20, 0)).toBe(0);
  });

  it('flattens, straightens, spaces evenly, relaxes, rounds, pushes', () => {
    const bent = { ...grid, positions: grid.positions.map((x, i) => (i % 3 === 1 ? Math.sin(i) : x)) };
    const flat = act(bent, 'flatten', { rule: 'all', of: 'points' }, { onto: 'y' }).mesh;
    expect(boundsOf(flat).max[1] - boundsOf(flat).min[1]).toBeCloseTo(0, 12);
    const loop: Select = { rule: 'loop', edge: edgeAlong(bent, (a, b) => a[0] === 0 && b[0] === 0) };
    const row = act(bent, 'straighten', loop);
    const t = topologyOf(row.mesh);
    const ys = row.selection.indices.map((e) =>
      [t.edges[2 * e], t.edges[2 * e + 1]].map((p) => [2, 1].map((k) => row.mesh.positions[3 * p + k])),
    );
    const line = ys.flat().sort((a, b) => a[0] - b[0]);
    const slope = (line[line.length - 1][1] - line[0][1]) / (line[line.length - 1][0] - line[0][0]);
    for (const [z, y] of line) expect(y).toBeCloseTo(line[0][1] + slope * (z - line[0][0]), 9);
    const calm = act(bent, 'relax', { rule: 'all', of: 'points' }, { rounds: 50 });
    expect(calm.report).toContain('9 points');
    expect(boundsOf(calm.mesh).max[0]).toBe(20);
    const disc = act(
      grid,
      'makeRound',
      { rule: 'within', of: 'faces', min: [-11, -1, -11], max: [11, 1, 11] },
      { radius: 12 },
    );
    const border = resolveSelect(disc.mesh, { rule: 'border', faces: [...disc.selection.indices] }, null);
    for (const e of border.indices)
      for (const p of [topologyOf(disc.mesh).edges[2 * e]])
        expect(Math.hypot(disc.mesh.positions[3 * p], disc.mesh.positions[3 * p + 2])).toBeCloseTo(12, 9);
    expect(
      boundsOf(act(cube, 'push', { rule: 'all', of: 'points' }, { distance: Math.sqrt(3) }).mesh).max,
    ).toEqual([6, 6, 6].map((x) => expect.closeTo(x, 9)));
  });

  it('spaces a row evenly along its curve', () => {
    const strip = buildPrimitive({ primitive: 'plane', width: 10, depth: 40, segments: [1, 4] });
    const uneven = {
      ...strip,
      positions: strip.positions.map((x, i) => (i % 3 === 2 ? Math.sign(x) * Math.abs(x) ** 1.5 : x)),
    };
    const out = act(uneven, 'spaceEvenly', {
      rule: 'within',
      of: 'edges',
      min: [5, -1, -99],
      max: [5, 1, 99],
    });
    const t = topologyOf(out.mesh);
    const zs = [...new Set(out.selection.indices.filter((x) => [0, 1].every((k) => out.mesh.positions[3 * t.edges[2 * x + k]] === 5)).flatMap((x) => [0, 1].map((k) => out.mesh.positions[3 * t.edges[2 * x + k] + 2])))].sort((a, b) => a - b); // prettier-ignore
    const gaps = zs.slice(1).map((z, k) => z - zs[k]);
    for (const g of gaps) expect(g).toBeCloseTo((2 * 20 ** 1.5) / 4, 3);
  });

  it('slides loops along their neighbours and stops short of them', () => {
    const cut = act(cube, 'ringCut', { edges: [upright(cube)] });
    const up = runOperation(OPERATIONS.slide, cut.mesh, cut.selection, { by: 'distance', distance: 2 });
    const ys = new Set(
      cut.selection.indices.map((e) => up.mesh.positions[3 * topologyOf(up.mesh).edges[2 * e] + 1]),
    );
    expect(ys.size).toBe(1);
    expect(Math.abs([...ys][0])).toBeCloseTo(2, 12);
    const far = runOperation(OPERATIONS.slide, cut.mesh, cut.selection, { by: 'distance', distance: 99 });
    expect(far.warning).toContain('stopped short');
    expect(closed(far.mesh)).toBe(true);
  });
});

/** UV area of the last faces, which must lie right of the layout before and apart from one another. */
function laidBeside(before: PolyMesh, after: PolyMesh, walls: number): number {
  const right = Math.max(...before.layers.corner.uv.data.filter((_, i) => i % 2 === 0));
  const uv = after.layers.corner.uv.data;
  const boxes = Array.from({ length: walls }, (_, k) => {
    const f = faceCount(after) - walls + k;
    const corners = after.faceStart[f + 1] - after.faceStart[f];
    const at = Array.from({ length: corners }, (__, i) =>
      [0, 1].map((x) => uv[2 * (after.faceStart[f] + i) + x]),
    );
    const [us, vs] = [at.map((p) => p[0]), at.map((p) => p[1])];
    return {
      l: Math.min(...us),
      r: Math.max(...us),
      b: Math.min(...vs),
      t: Math.max(...vs),
      area: Math.abs(shoelace(at)),
    };
  });
  const slack = 1e-9;
  boxes.forEach((a, i) => {
    expect(a.l).toBeGreaterThan(right);
    for (const b of boxes.slice(0, i))
      expect(a.l < b.r - slack && b.l < a.r - slack && a.b < b.t - slack && b.b < a.t - slack).toBe(false);
  });
  return boxes.reduce((sum, x) => sum + x.area, 0);
}

const shoelace = (p: number[][]): number =>
  p.reduce((s, a, k) => s + a[0] * p[(k + 1) % p.length][1] - p[(k + 1) % p.length][0] * a[1], 0) / 2;

describe('drawing a face', () => {
  const draw = (mesh: PolyMesh, points: number[][], view = [0, -1, 0]): OperationResult =>
    act(mesh, 'drawFace', { rule: 'all', of: 'faces' }, { points, view });
  const code = (points: number[][], mesh = grid): string => refusal(() => draw(mesh, points));

  it('faces who drew it, whichever way round the points were set', () => {
    const square = [[50, 0, 0], [60, 0, 0], [60, 0, 10], [50, 0, 10]]; // prettier-ignore
    for (const points of [square, [...square].reverse()]) {
      const { mesh, selection } = draw(grid, points);
      expect([faceCount(mesh), faceArea(mesh, selection.indices[0])]).toEqual([17, 100]);
      expect(faceNormal(mesh, selection.indices[0])).toEqual([0, 1, 0]);
    }
  });

  it('joins on to open edges and turns with its neighbours', () => {
    const beside = [[20, 0, -10], [30, 0, -10], [30, 0, 0], [20, 0, 0]]; // prettier-ignore
    // Drawn from below, it would face down; the sheet it joins faces up.
    const { mesh, selection } = draw(grid, beside, [0, 1, 0]);
    expect(faceNormal(mesh, selection.indices[0])).toEqual([0, 1, 0]);
    expect([vertexCount(mesh), shellCount(mesh)]).toEqual([27, 1]);
  });

  it('has UVs of its own beside the layout, also where its outline is not convex', () => {
    const ell = [[50, 0, 0], [60, 0, 0], [60, 0, 4], [54, 0, 4], [54, 0, 10], [50, 0, 10]]; // prettier-ignore
    // 40 + 24 of the 1600 square millimetres the layout shows as one.
    expect(laidBeside(grid, draw(grid, ell).mesh, 1)).toBeCloseTo(64 / 1600, 9);
  });

  it('refuses what is no face, with what would help', () => {
    expect(code([[50, 0, 0], [60, 0, 0]])).toBe('short-outline'); // prettier-ignore
    expect(code([[50, 0, 0], [60, 0, 0], [70, 0, 0]])).toBe('flat-outline'); // prettier-ignore
    expect(code([[50, 0, 0], [60, 0, 10], [70, 0, 0], [50, 0, 4]])).toBe('crossed-outline'); // prettier-ignore
    const over = [[-10, 0, -10], [0, 0, -10], [0, 8, -10]]; // prettier-ignore
    expect(code(over)).toBe('edge-taken');
  });
});

describe('marks', () => {
  const edges: Select = { rule: 'all', of: 'edges' };
  const can = buildPrimitive({ primitive: 'cylinder', radius: 10, height: 10, sides: 12 });
  const marksOf = (m: PolyMesh): string[] => Object.keys(m.layers.edge).sort();

  it('set any set of them on edges over an angle, and clear them again', () => {
    const { mesh, report } = act(can, 'mark', edges, { marks: ['hard', 'seam', 'round'], value: 0.5, sharper: 45 }); // prettier-ignore
    expect(report).toBe('Marked 24 edges hard, seam, round.');
    for (const m of ['hard', 'seam', 'round'])
      expect(Array.from(mesh.layers.edge[m].data).filter((x) => x > 0)).toHaveLength(24);
    expect(Math.max(...mesh.layers.edge.round.data)).toBe(0.5);
    const less = act(mesh, 'mark', edges, { marks: ['hard', 'round'], value: 0 });
    expect(marksOf(less.mesh)).toEqual(['seam']);
    expect(less.report).toBe('Cleared hard, round from 36 edges.');
  });

  it('refuse an angle no edge is over, and know no angle at a rim', () => {
    expect(refusal(() => act(grid, 'mark', edges, { marks: ['hard'], sharper: 10 }))).toBe('none-sharper');
  });
});

describe('even spacing between parallel loops', () => {
  const at = (m: PolyMesh, v: number): number[] => Array.from(m.positions.subarray(3 * v, 3 * v + 3));
  const level = (m: PolyMesh, y: number): number[] => {
    const t = topologyOf(m);
    return Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
      [0, 1].every((k) => Math.abs(at(m, t.edges[2 * e + k])[1] - y) < 1e-9),
    );
  };

  it('brings them between the outer two, along a straight wall', () => {
    const can = buildPrimitive({ primitive: 'cylinder', radius: 5, height: 20, sides: 9, rings: 4 });
    const picked = [-10, -5, 0, 5, 10].flatMap((y) => level(can, y));
    const moved = act(can, 'transform', { edges: level(can, 0) }, { move: [0, 3, 0] }).mesh;
    const { mesh } = act(moved, 'spaceEvenly', { edges: picked }, { between: true });
    mesh.positions.forEach((x, i) => expect(x).toBeCloseTo(can.positions[i], 9));
  });

  it('and on the curve of a round one', () => {
    const ball = buildPrimitive({ primitive: 'sphere', radius: 10, sides: 16, rings: 12 });
    const ys = [...new Set(Array.from({ length: vertexCount(ball) }, (_, v) => Number(at(ball, v)[1].toFixed(9))))].sort((a, b) => a - b); // prettier-ignore
    const picked = ys.slice(3, 10).flatMap((y) => level(ball, y));
    const slid = act(ball, 'transform', { edges: level(ball, ys[6]) }, { move: [0, 0.8, 0] }).mesh;
    const { mesh } = act(slid, 'spaceEvenly', { edges: picked }, { between: true });
    for (let v = 0; v < vertexCount(mesh); v++) expect(Math.hypot(...at(mesh, v))).toBeCloseTo(10, 0);
    const now = [...new Set(Array.from({ length: vertexCount(mesh) }, (_, v) => Number(at(mesh, v)[1].toFixed(6))))]; // prettier-ignore
    // Rows of one meridian are all spaced alike, so every loop is still level.
    expect(now).toHaveLength(ys.length);
  });

  it('refuses a single loop', () => {
    const can = buildPrimitive({ primitive: 'cylinder', radius: 5, height: 20, sides: 9, rings: 4 });
    expect(refusal(() => act(can, 'spaceEvenly', { edges: level(can, 0) }, { between: true }))).toBe('no-loops-beside'); // prettier-ignore
  });
});

describe('rims and tears', () => {
  it('draw strips out of open edges, with even corners and UVs beside the layout', () => {
    const out = act(grid, 'extrudeEdges', { rule: 'open' }, { distance: 5 });
    expect(faceCount(out.mesh)).toBe(16 + 16);
    expect(boundsOf(out.mesh)).toEqual({ min: [-25, 0, -25], max: [25, 0, 25] });
    expect(surfaceArea(out.mesh)).toBeCloseTo(2500, 6);
    expect(out.selection.indices).toHaveLength(16);
    expect(laidBeside(grid, out.mesh, 16)).toBeCloseTo(900 / 1600, 9);
    const up = act(grid, 'extrudeEdges', { rule: 'open' }, { distance: 3, along: 'axis', axis: [0, 1, 0] });
    expect(boundsOf(up.mesh).max[1]).toBe(3);
    expect(refusal(() => act(cube, 'extrudeEdges', { rule: 'all', of: 'edges' }))).toBe('no-open-edge');
  });

  it('rip apart along a run of edges, and refuse what parts nothing', () => {
    const run = resolveSelect(
      grid,
      { rule: 'within', of: 'edges', min: [0, -1, -99], max: [0, 1, 99] },
      null,
    );
    const out = runOperation(OPERATIONS.rip, grid, run, {});
    expect([shellCount(out.mesh), vertexCount(out.mesh), out.selection.indices.length]).toEqual([2, 30, 8]);
    const one = edgeAlong(grid, (a, b) => a[0] === 0 && b[0] === 0 && Math.abs(a[2] + b[2]) === 10);
    expect(refusal(() => act(grid, 'rip', { edges: [one] }))).toBe('nothing-to-rip');
  });
});

it('moves the other side along across a plane of symmetry', () => {
  const at = (x: number, z: number): number =>
    Array.from({ length: 25 }, (_, i) => i).find(
      (i) => grid.positions[3 * i] === x && grid.positions[3 * i + 2] === z,
    )!;
  const out = act(grid, 'transform', { points: [at(10, 10), at(0, 10)] }, { move: [2, 3, 1], symmetry: 'x' });
  const p = (v: number): number[] => Array.from(out.mesh.positions.subarray(3 * v, 3 * v + 3));
  expect([p(at(10, 10)), p(at(-10, 10)), p(at(0, 10))]).toEqual([[12, 3, 11], [-12, 3, 11], [0, 3, 11]]); // prettier-ignore
  const odd = { ...grid, positions: grid.positions.map((x, i) => (i === 3 * at(-10, 10) ? -11 : x)) };
  expect(
    act(odd, 'transform', { points: [at(10, 10)] }, { move: [1, 0, 0], symmetry: 'x' }).warning,
  ).toContain('no counterpart');
});

it('every operation refuses an empty selection in one sentence', () => {
  for (const op of Object.values(OPERATIONS))
    expect(refusal(() => runOperation(op, cube, selectionOf('face', []), {}))).toBe('nothing-picked');
});
