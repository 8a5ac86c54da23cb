/** Sliding along neighbours, and support loops beside edges, to exact places. */
import { beforeAll, describe, expect, it } from 'vitest';
import { faceArea, surfaceArea, volume } from '../src/mesh/measure';
import { checkMesh } from '../src/mesh/checkMesh';
import { faceCount, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { pointOf, type Vec3 } from '../src/mesh/vec3';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { buildPrimitive } from '../src/primitives';
import { rimEdges } from '../src/select/edges';
import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { act, edgeWhere, points } from './acting';
import { refusal } from './refusal';

const cube = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10 });
const can = buildPrimitive({ primitive: 'cylinder', radius: 8, height: 20, sides: 10, rings: 3 });
const upright = (m: PolyMesh): number => edgeWhere(m, (a, b) => a[0] === b[0] && a[2] === b[2]);
const pointAt = (m: PolyMesh, at: Vec3): number =>
  points(m).findIndex((p) => p.every((x, k) => Math.abs(x - at[k]) < 1e-9));

describe('sliding a loop', () => {
  const cut = act(cube, { op: 'ringCut', select: { edges: [upright(cube)] } });
  const slid = (params: object) =>
    act(cut.mesh, { op: 'slide', select: { edges: cut.selection.indices }, ...params });
  const heights = (m: PolyMesh): number[] => {
    const t = topologyOf(m);
    return [
      ...new Set(
        cut.selection.indices.flatMap((e) => [0, 1].map((k) => m.positions[3 * t.edges[2 * e + k] + 1])),
      ),
    ];
  };

  it('goes by a distance or by a share, to one side or the other', () => {
    const [by, back] = [2, -2].map((distance) => heights(slid({ by: 'distance', distance }).mesh));
    expect([by.length, back.length]).toEqual([1, 1]);
    expect(Math.abs(by[0])).toBeCloseTo(2, 12);
    expect(back[0]).toBeCloseTo(-by[0], 12);
    expect(Math.abs(heights(slid({ share: 0.5 }).mesh)[0])).toBeCloseTo(2.5, 12);
  });

  it('stops short of its neighbours, and says how many points did', () => {
    const far = slid({ by: 'distance', distance: 99 });
    expect(far.warning).toBe('4 points stopped short of a neighbour.');
    expect([checkMesh(far.mesh).closed, faceCount(far.mesh)]).toEqual([true, 10]);
    expect(volume(far.mesh)).toBeCloseTo(1000, 9);
  });

  it('needs edges beside it', () => {
    const sheet = buildPrimitive({ primitive: 'plane', width: 4, depth: 4 });
    const all = { rule: 'all', of: 'edges' };
    expect(refusal(() => act(sheet, { op: 'slide', select: all, share: 0.5 }))).toBe('no-rails');
  });
});

describe('sliding points', () => {
  const grid = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [4, 4] });
  const middle = pointAt(grid, [0, 0, 0]);
  const slid = (at: number[], params: object) =>
    act(grid, { op: 'slide', select: { points: at }, ...params });

  it('goes along the edge that leads most the way asked for', () => {
    const at = (params: object): Vec3 => pointOf(slid([middle], params).mesh.positions, middle);
    expect(at({ share: 0.25, toward: [1, 0, 0.3] })).toEqual([2.5, 0, 0]);
    expect(at({ share: -0.25, toward: [1, 0, 0.3] })).toEqual([-2.5, 0, 0]);
    expect(at({ by: 'distance', distance: 4, toward: [0.2, 0, -1] })).toEqual([0, 0, -4]);
  });

  it('goes evenly by a distance, or by a share of edges of different length', () => {
    const cone = buildPrimitive({
      primitive: 'cone',
      bottomRadius: 12,
      topRadius: 4,
      height: 6,
      sides: 6,
    });
    const top = points(cone).flatMap((p, v) => (p[1] > 2 ? [v] : []));
    const down = act(cone, { op: 'slide', select: { points: top }, share: 0.5, toward: [0, -1, 0] });
    for (const v of top) {
      const [x, y, z] = pointOf(down.mesh.positions, v);
      expect([Math.hypot(x, z), y]).toEqual([expect.closeTo(8, 9), expect.closeTo(0, 9)]);
    }
    const by = act(cone, {
      op: 'slide',
      select: { points: top },
      by: 'distance',
      distance: 5,
      toward: [0, -1, 0],
    });
    for (const v of top) expect(Math.hypot(...pointOf(by.mesh.positions, v))).toBeCloseTo(8, 9);
  });

  it('keeps points that face each other from passing, and stops before others', () => {
    const beside = pointAt(grid, [10, 0, 0]);
    const out = slid([middle, beside], { share: 0.5, toward: [1, 0, 0] });
    // The one has no way past the other; that one goes on.
    expect(pointOf(out.mesh.positions, middle)).toEqual([0, 0, 0]);
    expect(pointOf(out.mesh.positions, beside)).toEqual([15, 0, 0]);
    const far = slid([middle], { by: 'distance', distance: 50 });
    expect(far.warning).toContain('stopped short');
    expect(pointOf(far.mesh.positions, middle)[0]).toBeCloseTo(9.99, 9);
  });

  it('refuses points without a way, and a way of no direction', () => {
    const everyone = points(grid).map((_, v) => v);
    expect(refusal(() => slid(everyone, { share: 0.5 }))).toBe('no-rails');
    expect(refusal(() => slid([middle], { toward: [0, 0, 0] }))).toBe('no-direction');
  });
});

describe('support loops', () => {
  const held = (mesh: PolyMesh, edges: number[], params: object) =>
    act(mesh, { op: 'supportLoops', select: { edges }, ...params });
  const rim = (m: PolyMesh): number[] => {
    const { edges, edgeCount } = topologyOf(m);
    const high = (v: number): boolean => m.positions[3 * v + 1] === 10;
    return Array.from({ length: edgeCount }, (_, e) => e).filter(
      (e) => high(edges[2 * e]) && high(edges[2 * e + 1]),
    );
  };

  it('keep the shape, on both sides of an edge', () => {
    const { mesh, selection } = held(cube, [upright(cube)], { distance: 1 });
    expect([faceCount(mesh), vertexCount(mesh), checkMesh(mesh).closed]).toEqual([8, 12, true]);
    expect(volume(mesh)).toBeCloseTo(1000, 9);
    expect(selection.indices).toHaveLength(2);
  });

  it('run on one side only, left or right of the edge', () => {
    const sides = (['left', 'right'] as const).map((on) =>
      held(cube, [upright(cube)], { distance: 1, sides: on }),
    );
    for (const { mesh, selection } of sides) {
      expect([faceCount(mesh), vertexCount(mesh), checkMesh(mesh).closed]).toEqual([7, 10, true]);
      expect(volume(mesh)).toBeCloseTo(1000, 9);
      expect(selection.indices).toHaveLength(1);
    }
    const [left, right] = sides.map(({ mesh }) => points(mesh).slice(0).map(String).sort().join(';'));
    expect(left).not.toBe(right);
  });

  it('run round a rim on its wall or on its lid, each at the distance', () => {
    const loops = (['left', 'right'] as const).map((on) => {
      const { mesh, selection } = held(can, rim(can), { distance: 1.5, sides: on });
      expect([faceCount(mesh), selection.indices.length, checkMesh(mesh).closed]).toEqual([
        faceCount(can) + 10,
        10,
        true,
      ]);
      expect(volume(mesh)).toBeCloseTo(volume(can), 6);
      expect(surfaceArea(mesh)).toBeCloseTo(surfaceArea(can), 6);
      const fresh = points(mesh).filter((p) => pointAt(can, p) < 0);
      expect(fresh).toHaveLength(10);
      return fresh;
    });
    const onWall = loops.filter((l) => l.every((p) => Math.abs(p[1] - 8.5) < 1e-9));
    const onLid = loops.filter((l) => l.every((p) => Math.abs(p[1] - 10) < 1e-9));
    expect([onWall.length, onLid.length]).toEqual([1, 1]);
    const inside = 8 * Math.cos(Math.PI / 10) - 1.5;
    for (const [x, , z] of onLid[0]) expect(Math.hypot(x, z) * Math.cos(Math.PI / 10)).toBeCloseTo(inside, 9);
  });

  describe('beside the rim of a hole in a curved wall', () => {
    beforeAll(() => loadKernel());
    const bored = (sides: number, turn: Vec3): PolyMesh => {
      const host = buildPrimitive({ primitive: 'cylinder', radius: 25, height: 80, sides });
      const bore = transformMesh(
        buildPrimitive({ primitive: 'cylinder', radius: 8, height: 60, sides: 32 }),
        transformMatrix({ move: [0, 0, 30], turn, size: [1, 1, 1] }),
      );
      return cut({ mesh: host, name: 'host' }, [{ mesh: bore, name: 'bore', id: 'bore' }], 'subtract').mesh;
    };

    /** Both ends lie near the outer radius, on the side the bore comes in. */
    const outside = (m: PolyMesh, e: number): boolean =>
      [0, 1].every((k) => {
        const [x, , z] = pointOf(m.positions, topologyOf(m).edges[2 * e + k]);
        return z > 0 && Math.hypot(x, z) > 20;
      });
    const areaOf = (m: PolyMesh, faces: readonly number[]): number =>
      faces.reduce((a, f) => a + faceArea(m, f), 0);

    it.each([
      [24, 90, 0],
      [48, 90, 7],
      [96, 84, 13],
      [64, 97, 5],
    ])('run over its %i facets, on both sides or on one, and keep the shape', (sides, x, z) => {
      const m = bored(sides, [x, 0, z]);
      const select = { edges: rimEdges(m).filter((e) => outside(m, e)) };
      const most = Object.fromEntries(
        ['both', 'left', 'right'].map((on) => {
          const out = act(m, { op: 'supportLoops', select, distance: 1.5, sides: on });
          expect(out.warning).toBeUndefined();
          // Columns join crossings of facets on the rim to those on the loop: their faces are bent a little.
          expect(Math.abs(volume(out.mesh) / volume(m) - 1)).toBeLessThan(3e-5);
          return [on, areaOf(out.mesh, out.selection.indices)];
        }),
      );
      expect(most.left + most.right).toBeCloseTo(most.both, 3);
    });
  });

  it('on one side refuse picks that branch, which have no left', () => {
    const corner = points(cube).findIndex((p) => p.every((x) => x > 0));
    const t = topologyOf(cube);
    const three = Array.from({ length: t.edgeCount }, (_, e) => e).filter(
      (e) => t.edges[2 * e] === corner || t.edges[2 * e + 1] === corner,
    );
    expect(refusal(() => held(cube, three, { distance: 1, sides: 'left' }))).toBe('no-row');
    expect(refusal(() => held(cube, three, { distance: 1 }))).toBe('done');
  });
});
