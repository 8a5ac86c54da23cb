/** Operations that make faces and cut them, on shapes whose result is known exactly. */
import { beforeAll, describe, expect, it } from 'vitest';
import { OPERATIONS } from '../src/ops';
import { pullsOf, runOperation, type OperationResult, sentenceOf } from '../src/ops/operation';
import { ringCutLines } from '../src/ops/ringCut';
import { buildPrimitive } from '../src/primitives';
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
import { checkMesh } from '../src/mesh/checkMesh';
import { faceCount, faceLoop, meshFromLoops, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { resolveSelect, type Select } from '../src/select/rules';
import { everything } from '../src/select/grow';
import { loadKernel } from '../src/solid/kernel';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { dot, pointOf, type Vec3 } from '../src/mesh/vec3';
import { points } from './acting';
import { refusal } from './refusal';
import { act, closed, cube, grid, top, edgeAlong, upright, laidBeside } from './onShapes';
beforeAll(async () => {
  await loadKernel();
});
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
    const middle = resolveSelect(box, { rule: 'within', of: 'faces', min: [-1, 4, -1], max: [1, 6, 1] });
    const out = runOperation(OPERATIONS.extrude, box, middle, { distance: -14 });
    expect(out.counts.through).toBe(1);
    expect(sentenceOf(OPERATIONS.extrude, out.counts, {})).toBe(
      'Extruded 1 face. It went through, and opened a passage.',
    );
    expect([closed(out.mesh), eulerCharacteristic(out.mesh)]).toEqual([true, 0]);
    // At a border there is nothing to pass through.
    const side = resolveSelect(box, { rule: 'within', of: 'faces', min: [9, 4, -1], max: [11, 6, 1] });
    const notch = runOperation(OPERATIONS.extrude, box, side, { distance: -14 });
    expect(sentenceOf(OPERATIONS.extrude, notch.counts, {})).toBe(
      'Extruded 1 face. It went through, and cut a notch.',
    );
    expect(volume(notch.mesh)).toBeCloseTo(9000 - 1000, 6);
    expect(volume(out.mesh)).toBeCloseTo(9000 - 1000, 6);
    expect(out.mesh.layers.edge.cut).toBeUndefined();
    // Not through: plain walls, no boolean.
    const dent = runOperation(OPERATIONS.extrude, box, middle, { distance: -4 });
    expect(volume(dent.mesh)).toBeCloseTo(9000 - 400, 9);
    expect(faceCount(dent.mesh)).toBe(faceCount(box) + 4);
  });
  it('opens a passage when pushed exactly to the far side, however the piece is turned', () => {
    for (const turn of [
      [0, 0, 0],
      [70.5, 239.9, 186.4],
    ] as Vec3[]) {
      // prettier-ignore
      const can = transformMesh(
        buildPrimitive({ primitive: 'cylinder', radius: 20, height: 10, sides: 60 }),
        transformMatrix({ move: [3, 4, 5], turn, size: [1, 1, 1] }),
      );
      const lid = Array.from({ length: faceCount(can) }, (_, f) => f).filter(
        (f) => faceArea(can, f) > 1000,
      )[0];
      const rim = act(can, 'inset', { faces: [lid] }, { thickness: 5 });
      const bored = runOperation(OPERATIONS.extrude, rim.mesh, rim.selection, { distance: -10 });
      expect(bored.counts.through).toBe(1);
      // Two walls and the ring of the inset of 60 faces each, and the far side with two bridges.
      expect([closed(bored.mesh), eulerCharacteristic(bored.mesh), faceCount(bored.mesh)]).toEqual([
        true,
        0,
        182,
      ]);
      const floor = runOperation(OPERATIONS.extrude, rim.mesh, rim.selection, { distance: -9.9 });
      expect([eulerCharacteristic(floor.mesh), floor.counts.through]).toEqual([2, undefined]);
    }
    // All of a side pushed to the other leaves nothing, which is refused.
    expect(refusal(() => act(cube, 'extrude', top, { distance: -10 }))).toBe('nothing-left');
    // Nor does it where other faces would be pulled outward at the same time.
    const far = { distance: -1e6, by: 'each', along: 'axis', axis: [-1, 1, -1] };
    expect(refusal(() => act(cube, 'extrude', { rule: 'all', of: 'faces' }, far))).toBe('nothing-left');
  });
  it('joins what it is pushed against', () => {
    const base = buildPrimitive({ primitive: 'box', width: 30, height: 10, depth: 10, segments: [3, 1, 1] });
    const facing = (m: PolyMesh, n: Vec3, x: number): number[] =>
      Array.from({ length: faceCount(m) }, (_, f) => f).filter(
        (f) =>
          dot(faceNormal(m, f), n) > 0.99 &&
          faceLoop(m, f).every(
            (v) => m.positions[3 * v] * x >= 4.9 && (n[1] > 0 || m.positions[3 * v + 1] >= 4.9),
          ),
      );
    const ends = [...facing(base, [0, 1, 0], -1), ...facing(base, [0, 1, 0], 1)];
    const arms = act(base, 'extrude', { faces: ends }, { distance: 10 }).mesh;
    expect(volume(arms)).toBeCloseTo(5000, 9);
    const across = runOperation(OPERATIONS.extrude, arms, { kind: 'face', indices: facing(arms, [1, 0, 0], -1) }, { distance: 10 }); // prettier-ignore
    expect([closed(across.mesh), eulerCharacteristic(across.mesh), checkMesh(across.mesh).findings]).toEqual([true, 2, []]); // prettier-ignore
    expect(volume(across.mesh)).toBeCloseTo(6000, 9);
  });
  it('goes outward where faces look every way', () => {
    const ball = buildPrimitive({ primitive: 'sphere', radius: 20, sides: 24, rings: 12 });
    const { mesh } = act(ball, 'extrude', { rule: 'all', of: 'faces' }, { distance: 2 });
    for (let f = 0; f < faceCount(ball); f++) {
      const [n, m] = [faceNormal(ball, f), faceNormal(mesh, f)];
      expect(dot(n, m)).toBeCloseTo(1, 9);
      const [p, q] = [mesh, ball].map((b) => pointOf(b.positions, b.corners[b.faceStart[f]]));
      expect(dot(n, p) - dot(n, q)).toBeCloseTo(2, 9);
    }
    // A closed band of a tube's inner wall moves toward the axis.
    const tube = buildPrimitive({
      primitive: 'tube',
      outerRadius: 20,
      innerRadius: 10,
      height: 30,
      sides: 16,
    });
    const inner = Array.from({ length: faceCount(tube) }, (_, f) => f).filter((f) =>
      faceLoop(tube, f).every((v) => Math.hypot(tube.positions[3 * v], tube.positions[3 * v + 2]) < 11),
    );
    const narrow = act(tube, 'extrude', { faces: inner }, { distance: 1 }).mesh;
    const radii = points(narrow).map((p) => Math.hypot(p[0], p[2]));
    expect(Math.min(...radii)).toBeCloseTo((10 * Math.cos(Math.PI / 16) - 1) / Math.cos(Math.PI / 16), 9);
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
    // The picks are the same as before.
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
describe('bevel', () => {
  it('is the live step on picked edges', () => {
    const all: Select = { rule: 'all', of: 'edges' };
    expect(faceCount(act(cube, 'bevel', all, { width: 1, segments: 1 }).mesh)).toBe(6 + 12 + 8);
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
  it('cuts no deeper than it is asked to, and is pulled by its depth', () => {
    // Two plates one over the other, 10 thick and 20 apart: their faces look up at 5, −25 and down at −5, −35.
    const lower = cube.positions.map((x, i) => (i % 3 === 1 ? x - 30 : x));
    const loops = Array.from({ length: 6 }, (_, f) => faceLoop(cube, f));
    const stack = meshFromLoops(
      [...Array.from({ length: 8 }, (_, v) => pointOf(cube.positions, v)), ...Array.from({ length: 8 }, (_, v) => pointOf(lower, v))],
      [...loops, ...loops.map((l) => l.map((v) => v + 8))],
    ); // prettier-ignore
    const all: Select = { rule: 'all', of: 'faces' };
    const line = { lines: [[[-9, 20, 2], [9, 20, 2]]], through: true }; // prettier-ignore
    const cuts = (depth: number): number => faceCount(act(stack, 'knife', all, { ...line, depth }).mesh) - 12;
    expect([0, 4, 10, 29, 30, 39, 40, 100].map(cuts)).toEqual([4, 1, 2, 2, 3, 3, 4, 4]);
    const [pull] = pullsOf(OPERATIONS.knife as never, stack, everything(stack, 'face'), {
      ...line,
      depth: 4,
    });
    expect(pull).toMatchObject({ key: 'depth', along: [0, -1, 0], rate: 1 });
    expect([pull.zero[1], pull.zero[2]]).toEqual([expect.closeTo(5, 9), expect.closeTo(2, 9)]);
    expect(Math.abs(pull.zero[0])).toBeLessThan(1);
    expect(pullsOf(OPERATIONS.knife as never, stack, everything(stack, 'face'), { ...line, through: false })).toEqual([]); // prettier-ignore
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
    const areas = resolveSelect(out.mesh, { rule: 'facing', direction: [0, 1, 0] }).indices.map((f) =>
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
  it('closes rims that cross each other, each for itself', () => {
    // Edges all over it collapsed, this goes through itself and touches itself.
    const tube = buildPrimitive({ primitive: 'tube', outerRadius: 10, innerRadius: 7.265612115385011, height: 6.401978596113622, sides: 12 }); // prettier-ignore
    const edges = [12, 13, 19, 20, 21, 27, 28, 44, 45, 46, 47, 51, 52, 54, 60, 61, 65, 66, 67, 68, 74];
    const twisted = act(tube, 'collapse', { edges }).mesh;
    const plane = { point: [-2.8948, 0.4062, -1.375], normal: [1, 1, 0.9258], cap: true };
    for (const keep of ['front', 'back', 'apart']) {
      const cut = act(twisted, 'planeSlice', all, { keep, ...plane });
      expect(checkMesh(cut.mesh).findings).toEqual([]);
    }
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

  it('open along a run of edges, and refuse what parts nothing', () => {
    const run = resolveSelect(grid, { rule: 'within', of: 'edges', min: [0, -1, -99], max: [0, 1, 99] });
    const out = runOperation(OPERATIONS.openAlong, grid, run, {});
    expect([shellCount(out.mesh), vertexCount(out.mesh), out.selection.indices.length]).toEqual([2, 30, 8]);
    const one = edgeAlong(grid, (a, b) => a[0] === 0 && b[0] === 0 && Math.abs(a[2] + b[2]) === 10);
    expect(refusal(() => act(grid, 'openAlong', { edges: [one] }))).toBe('nothing-opens');
  });
});
