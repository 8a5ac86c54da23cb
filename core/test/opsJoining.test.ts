/** Operations that join, close and part, on shapes whose result is known exactly. */
import { beforeAll, describe, expect, it } from 'vitest';
import { OPERATIONS } from '../src/ops';
import { runOperation } from '../src/ops/operation';
import { buildPrimitive } from '../src/primitives';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, eulerCharacteristic, faceKinds, shellCount, volume } from '../src/mesh/measure';
import { faceCount, meshFromLoops, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { resolveSelect } from '../src/select/rules';
import { selectionOf } from '../src/select/selection';
import { loadKernel } from '../src/solid/kernel';
import { refusal } from './refusal';
import { act, closed, cube, grid, top, upright } from './onShapes';

beforeAll(async () => {
  await loadKernel();
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
    const border = resolveSelect(ring.mesh, { rule: 'border', faces: [...ring.selection.indices] });
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
      closed(act(hole, 'fill', { edges: [resolveSelect(hole, { rule: 'open' }).indices[3]] }).mesh),
    ).toBe(true);
    expect(refusal(() => act(cube, 'fill', { rule: 'all', of: 'edges' }))).toBe('no-hole');
  });

  it('bridge two faces into a passage, in segments', () => {
    const slab = buildPrimitive({ primitive: 'box', width: 30, height: 10, depth: 30, segments: [3, 1, 3] });
    const faces = resolveSelect(slab, { rule: 'within', of: 'faces', min: [-1, -9, -1], max: [1, 9, 1] });
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
    const f = resolveSelect(cube, top).indices[0];
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
    const far = resolveSelect(cube, { rule: 'all', of: 'points' }).indices;
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
    // A whole one is cut there first, and the smaller side goes; without the cut, nothing is.
    const whole = act(cube, 'mirrorOnce', { rule: 'all', of: 'faces' }, { point: [1, 0, 0] });
    expect([closed(whole.mesh), volume(whole.mesh)]).toEqual([true, 1200]);
    expect(whole.report).toBe('Mirrored 5 faces, welded 4 points, took 5 faces away beyond the plane.');
    const uncut = act(cube, 'mirrorOnce', { rule: 'all', of: 'faces' }, { point: [1, 0, 0], cut: false });
    expect(faceCount(uncut.mesh)).toBe(12);
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

it('every operation refuses an empty selection in one sentence', () => {
  for (const op of Object.values(OPERATIONS))
    expect(refusal(() => runOperation(op, cube, selectionOf('face', []), {}))).toBe('nothing-picked');
});
