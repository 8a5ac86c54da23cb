/** Places on surfaces: the tree against looking at every triangle, drawing points onto another mesh, welding on contact. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { documentOf, meshesOf } from '../src/document/sections';
import { recipeFaults } from '../src/document/validate';
import { boundsOf, faceKinds, volume } from '../src/mesh/measure';
import { vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { distance, length, pointOf, sub, type Vec3 } from '../src/mesh/vec3';
import { topologyOf } from '../src/mesh/Topology';
import { triangulate } from '../src/planar/triangulate';
import { buildPrimitive } from '../src/primitives';
import { PointGrid } from '../src/spatial/PointGrid';
import { nearestOnTriangle } from '../src/spatial/triangle';
import { TriangleTree } from '../src/spatial/TriangleTree';
import { act, points } from './acting';
import { refusal } from './refusal';

const torus = buildPrimitive({ primitive: 'torus', radius: 20, tubeRadius: 6, sides: 24, tubeSides: 12 });
const box = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10, segments: [4, 4, 4] });
const all = { rule: 'all', of: 'points' } as const;

const coordinate = fc.double({ min: -40, max: 40, noNaN: true });
const somewhere = fc.tuple(coordinate, coordinate, coordinate) as fc.Arbitrary<Vec3>;

function eachTriangle(m: PolyMesh, f: (a: Vec3, b: Vec3, c: Vec3) => void): void {
  const tri = triangulate(m);
  for (let i = 0; i < tri.corners.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => pointOf(m.positions, m.corners[tri.corners[i + k]]));
    f(a, b, c);
  }
}

describe('the tree of triangles', () => {
  const tree = new TriangleTree(torus);

  it('finds the same nearest place as looking at every triangle', () => {
    fc.assert(
      fc.property(somewhere, (p) => {
        let least = Infinity;
        eachTriangle(torus, (a, b, c) => {
          least = Math.min(least, distance(p, nearestOnTriangle(p, a, b, c)));
        });
        expect(distance(p, tree.nearest(p)!.at)).toBeCloseTo(least, 9);
      }),
    );
  });

  it('meets what a line meets, and nothing beside it', () => {
    fc.assert(
      fc.property(somewhere, somewhere, (from, to) => {
        const d = sub(to, from);
        fc.pre(length(d) > 1e-3);
        const hit = tree.meets(from, d);
        if (!hit) return;
        // The hit lies on the line, ahead of its start, and on the surface.
        const s = length(sub(hit.at, from)) / length(d);
        hit.at.forEach((x, k) => expect(x).toBeCloseTo(from[k] + s * d[k], 6));
        expect(distance(hit.at, tree.nearest(hit.at)!.at)).toBeLessThan(1e-7);
      }),
    );
    expect(tree.meets([0, 50, 0], [0, -1, 0])).toBeNull();
    expect(tree.meets([20, 50, 0], [0, -1, 0])!.at[1]).toBeCloseTo(6, 9);
    expect(tree.meets([20, 50, 0], [0, 1, 0])).toBeNull();
    expect(tree.meets([20, 50, 0], [0, 1, 0], true)!.at[1]).toBeCloseTo(6, 9);
  });

  it('is at home with flat sheets and lines along their edges', () => {
    const sheet = new TriangleTree(
      buildPrimitive({ primitive: 'plane', width: 10, depth: 10, segments: [4, 4] }),
    );
    for (let x = -5; x <= 5; x += 1.25)
      for (let z = -5; z <= 5; z += 1.25) expect(sheet.meets([x, 3, z], [0, -2, 0])?.at).toEqual([x, 0, z]);
    expect(sheet.nearest([7, 2, 0])!.at).toEqual([5, 0, 0]);
  });

  it('has nothing to offer for an empty mesh', () => {
    const empty = new TriangleTree({ ...box, faceStart: new Uint32Array(1), corners: new Uint32Array(0) });
    expect([empty.nearest([0, 0, 0]), empty.meets([0, 0, 0], [0, 1, 0])]).toEqual([null, null]);
  });
});

it('a grid of points finds the near ones, as measuring all would', () => {
  const p = torus.positions;
  const grid = new PointGrid(p, 4);
  points(torus).forEach((_, v) => grid.add(v));
  fc.assert(
    fc.property(somewhere, (at) => {
      const near = points(torus).flatMap((q, v) => (distance(q, at) <= 4 ? [v] : []));
      expect(grid.near(at).sort((a, b) => a - b)).toEqual(near);
      const nearest = grid.nearest(at);
      if (!near.length) expect(nearest).toBeNull();
      else
        expect(distance(pointOf(p, nearest!), at)).toBe(
          Math.min(...near.map((v) => distance(pointOf(p, v), at))),
        );
    }),
  );
});

describe('drawing points onto a surface', () => {
  const ball = { base: { primitive: 'sphere', radius: 8, sides: 96, rings: 48 } };

  it('makes a ball of quads from a divided box, drawn toward the middle', () => {
    const { mesh, report, warning } = act(box, {
      op: 'transform',
      select: all,
      surface: ball,
      lay: 'center',
    });
    expect(faceKinds(mesh)).toMatchObject({ quads: 96, triangles: 0, ngons: 0 });
    for (const q of points(mesh)) {
      expect(length(q)).toBeLessThanOrEqual(8 + 1e-9);
      expect(length(q)).toBeGreaterThan(8 * Math.cos(Math.PI / 96) ** 2 - 1e-9);
    }
    expect([report, warning]).toEqual(['Moved 98 points.', undefined]);
  });

  it('goes by the nearest way, or along a direction both ways', () => {
    const wall = {
      base: { primitive: 'plane', width: 100, depth: 100 },
      place: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 2, 0, 1],
    };
    const flat = act(box, { op: 'transform', select: { points: [0, 1, 2] }, surface: wall }).mesh;
    expect([0, 1, 2].map((v) => flat.positions[3 * v + 1])).toEqual([2, 2, 2]);
    for (const v of [0, 1, 2]) expect(flat.positions[3 * v]).toBe(box.positions[3 * v]);
    const slanted = act(box, {
      op: 'transform',
      select: { points: [0] },
      surface: wall,
      lay: 'along',
      direction: [1, 1, 0],
    }).mesh;
    const [x, y] = [box.positions[0], box.positions[1]];
    expect(slanted.positions[0]).toBeCloseTo(x + (2 - y), 9);
    expect(slanted.positions[1]).toBeCloseTo(2, 9);
  });

  it('moves first, then lays; points in soft reach come part of the way', () => {
    const wall = { base: { primitive: 'plane', width: 100, depth: 100 } };
    const sheet = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [8, 8] });
    const up = act(sheet, { op: 'transform', select: all, move: [0, 9, 0] }).mesh;
    const middle = points(up).findIndex((q) => q[0] === 0 && q[2] === 0);
    const { mesh } = act(up, {
      op: 'transform',
      select: { points: [middle] },
      move: [1, 3, 0],
      reach: 12,
      surface: wall,
    });
    expect(pointOf(mesh.positions, middle)).toEqual([1, 0, 0]);
    const heights = points(mesh).map((q) => q[1]);
    expect(heights.some((h) => h > 0.1 && h < 8.9)).toBe(true);
    points(mesh).forEach((q, v) => {
      if (Math.hypot(up.positions[3 * v], up.positions[3 * v + 2]) >= 12) expect(q[1]).toBe(9);
    });
  });

  it('says how many points the way did not lead to the surface, and leaves those', () => {
    const small = { base: { primitive: 'plane', width: 1, depth: 1 } };
    const { mesh, warning } = act(box, {
      op: 'transform',
      select: all,
      surface: small,
      lay: 'along',
      direction: [0, 1, 0],
    });
    expect(warning).toMatch(/^\d+ points found no surface that way\.$/);
    expect(boundsOf(mesh)).toEqual(boundsOf(box));
    expect(
      refusal(() =>
        act(box, { op: 'transform', select: all, surface: small, lay: 'along', direction: [0, 0, 0] }),
      ),
    ).toBe('no-direction');
  });

  it('is checked like everything else a document holds, down to the surface it names', () => {
    const recipe = (surface: unknown) => ({
      pieces: [
        {
          id: 'a',
          base: { primitive: 'box', width: 1, height: 1, depth: 1 },
          actions: [{ op: 'transform', select: all, surface }],
        },
      ],
    });
    const where = (surface: unknown) => recipeFaults(recipe(surface)).map((f) => f.path);
    expect(where(ball)).toEqual([]);
    expect(where({ base: { primitive: 'sphere', radius: -1 } })).toEqual([
      'pieces/0/actions/0/surface/base/radius',
    ]);
    expect(where({ base: ball.base, place: [1] })).toEqual(['pieces/0/actions/0/surface/place']);
    expect(where({ base: { primitive: 'heap' } })).toEqual(['pieces/0/actions/0/surface/base/primitive']);
    const hash = 'a'.repeat(64);
    const stored = recipe({ base: { blob: hash } }).pieces as never;
    expect([...meshesOf(documentOf(stored))]).toEqual([hash]);
    // Without a library there is no such mesh.
    expect(refusal(() => act(box, { op: 'transform', select: all, surface: { base: { blob: hash } } }))).toBe(
      'no-blob',
    );
  });
});

describe('welding on contact', () => {
  const sheet = buildPrimitive({ primitive: 'plane', width: 20, depth: 20, segments: [2, 2] });
  const at = (m: PolyMesh, x: number, z: number): number =>
    points(m).findIndex((q) => q[0] === x && q[2] === z);

  it('joins a dropped point to the one it meets, which stays where it is', () => {
    const from = at(sheet, 0, 0);
    const { mesh, selection, report } = act(sheet, {
      op: 'transform',
      select: { points: [from] },
      move: [10.004, 0, 0.002],
      weld: 0.01,
    });
    expect(report).toBe('Moved 1 point, welded 1.');
    expect(vertexCount(mesh)).toBe(8);
    expect(selection).toEqual({ kind: 'vertex', indices: [at(mesh, 10, 0)] });
    expect(faceKinds(mesh)).toMatchObject({ quads: 2, triangles: 2 });
  });

  it('welds nothing that lands out of reach, and nothing at all unless asked', () => {
    const select = { points: [at(sheet, 0, 0)] };
    const move = [9.9, 0, 0];
    expect(vertexCount(act(sheet, { op: 'transform', select, move, weld: 0.01 }).mesh)).toBe(9);
    expect(vertexCount(act(sheet, { op: 'transform', select, move: [10, 0, 0] }).mesh)).toBe(9);
  });

  it('closes a slit: a row dropped onto another keeps its level of picking', () => {
    const split = act(sheet, { op: 'openAlong', select: { edges: middleEdges(sheet) } }).mesh;
    const open = act(split, { op: 'transform', select: { points: firstOfDoubles(split) }, move: [-3, 0, 0] });
    expect(vertexCount(open.mesh)).toBeGreaterThan(9);
    const back = act(open.mesh, {
      op: 'transform',
      select: { points: [...open.selection.indices] },
      move: [3, 0, 0],
      weld: 0.001,
    });
    expect(vertexCount(back.mesh)).toBe(9);
    expect(volume(back.mesh)).toBe(0);
    expect(back.selection.kind).toBe('vertex');
  });
});

function middleEdges(m: PolyMesh): number[] {
  // Rows run along z at x = 0.
  return edgesWhere(m, (a, b) => a[0] === 0 && b[0] === 0);
}
function firstOfDoubles(m: PolyMesh): number[] {
  const seen = new Map<string, number>();
  const out: number[] = [];
  points(m).forEach((q, v) => {
    const key = q.join();
    if (seen.has(key)) out.push(seen.get(key)!);
    else seen.set(key, v);
  });
  return out;
}
function edgesWhere(m: PolyMesh, test: (a: Vec3, b: Vec3) => boolean): number[] {
  const t = topologyOf(m);
  return Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
    test(pointOf(m.positions, t.edges[2 * e]), pointOf(m.positions, t.edges[2 * e + 1])),
  );
}
