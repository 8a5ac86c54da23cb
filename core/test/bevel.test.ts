import { beforeAll, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { bevel, type BevelResult } from '../src/ops/bevel/bevel';
import { leastWidth } from '../src/ops/bevel/groups';
import type { BevelOptions } from '../src/ops/bevel/options';

import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { isSound, markSound } from '../src/solid/Solid';
import { checkMesh } from '../src/mesh/checkMesh';
import { eulerCharacteristic, faceArea, faceNormal, sizeOf, volume } from '../src/mesh/measure';
import { faceCount, faceLoop, meshFromLoops, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { sharpEdges } from '../src/select/edges';
import { selfCrossings } from '../src/inspect/selfCross';
import { runs } from './effort';

const all = (m: PolyMesh): number[] => Array.from({ length: topologyOf(m).edgeCount }, (_, e) => e);
const box = (w: number, h: number, d: number): Primitive => ({
  primitive: 'box',
  width: w,
  height: h,
  depth: d,
});
const round = (m: PolyMesh, edges: number[], o: Partial<BevelOptions>): PolyMesh => bevel(m, edges, o).mesh;
const rims = (m: PolyMesh): number[] => all(m).filter((e) => m.layers.edge.cut?.data[e]);
const place = (
  p: Primitive,
  move: [number, number, number],
  turn: [number, number, number] = [0, 0, 0],
): PolyMesh => transformMesh(buildPrimitive(p), transformMatrix({ move, turn, size: [1, 1, 1] }));

function expectClean(m: PolyMesh): void {
  expect(checkMesh(m).findings).toEqual([]);
}

beforeAll(async () => {
  await loadKernel();
});

/** Least width of all groups, mm. */
const reached = (r: BevelResult): number => leastWidth(r.report.groups, Infinity);

describe('bevel of a box', () => {
  const cube = buildPrimitive(box(100, 100, 100));

  it('flat, one segment: 6 squares, 12 strips, 8 triangles, exact volume', () => {
    const m = round(cube, all(cube), { width: 10, segments: 1, profile: 0 });
    expectClean(m);
    expect([vertexCount(m), faceCount(m), eulerCharacteristic(m)]).toEqual([24, 26, 2]);
    // Chamfer: 12 prisms of leg 10 and length 80 off the edges, and at each corner what is left of a 10-cube.
    const corner = 1000 - 1000 / 6 - 0;
    expect(volume(m)).toBeCloseTo(1e6 - 12 * 50 * 80 - 8 * corner, 6);
  });

  it('round: every corner point lies on the ball, exactly an octant; faces stay in their planes', () => {
    const segments = 6;
    const m = round(cube, all(cube), { width: 20, segments, profile: 1 });
    expectClean(m);
    let onBall = 0;
    for (let v = 0; v < vertexCount(m); v++) {
      const p = [0, 1, 2].map((k) => Math.abs(m.positions[3 * v + k]) - 30);
      if (p.filter((x) => x > -1e-9).length === 3) {
        expect(Math.hypot(...p)).toBeCloseTo(20, 9);
        onBall++;
      }
    }
    // Three grids of 3×3 quads with a shared centre: 37 points less... counted: 1 + 3·(3·2+3) per corner.
    expect(onBall).toBe(8 * (1 + 3 * 3 + 3 * 9 - 9 + 9));
    expect(faceCount(m)).toBe(6 + 12 * segments + 8 * 27);
    const flat = Array.from({ length: faceCount(m) }, (_, f) => faceArea(m, f)).filter(
      (a) => Math.abs(a - 3600) < 1e-6,
    );
    expect(flat).toHaveLength(6);
  });

  it('odd segments leave one small n-gon per corner', () => {
    const m = round(cube, all(cube), { width: 20, segments: 3, profile: 1 });
    expectClean(m);
    expect(faceCount(m)).toBe(6 + 36 + 8 * (3 * 1 + 3 + 1));
  });

  it('square profile with 2 segments keeps the shape and holds the edges', () => {
    const m = round(cube, all(cube), { width: 5, segments: 2, profile: 2 });
    expectClean(m);
    expect(volume(m)).toBeCloseTo(1e6, 6);
  });

  it('stops where strips meet: twice too wide on a plate welds its sides', () => {
    const plate = buildPrimitive(box(100, 20, 60));
    const r = bevel(plate, all(plate), { width: 50, segments: 2, profile: 1 });
    expectClean(r.mesh);
    expect(reached(r)).toBeCloseTo(10, 9);
    expect(selfCrossings(r.mesh).edges).toEqual([]);
  });

  it('without clamping refuses and tells the width that fits', () => {
    const plate = buildPrimitive(box(100, 20, 60));
    expect(() => bevel(plate, all(plate), { width: 12, clamp: false })).toThrowError(/collide at 10 mm/);
  });

  it('one edge, two edges and three edges of a corner', () => {
    for (const pick of [[0], [0, 1], [0, 1, 2]]) {
      const t = topologyOf(cube);
      const at = all(cube).filter((e) => t.edges[2 * e] === 0 || t.edges[2 * e + 1] === 0);
      const m = round(
        cube,
        pick.map((k) => at[k]),
        { width: 10, segments: 4, profile: 1 },
      );
      expectClean(m);
      expect(volume(m)).toBeLessThan(1e6);
      expect(volume(m)).toBeGreaterThan(1e6 - pick.length * 100 * 100);
    }
  });
});

describe('what is rounded', () => {
  it('counts as going through nothing only where what was given did', () => {
    const of = (m: PolyMesh): boolean => isSound(bevel(m, sharpEdges(m, 30), { width: 1 }).mesh);
    const box = (): PolyMesh => buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10 });
    expect(of(markSound(box()))).toBe(true);
    expect(of(box())).toBe(false);
  });
});

describe('bevel on other shapes', () => {
  it('marks new faces follow and keeps materials', () => {
    const cube = buildPrimitive(box(10, 10, 10));
    const painted = {
      ...cube,
      layers: { ...cube.layers, face: { material: { size: 1, data: Int32Array.of(1, 2, 3, 4, 5, 6) } } },
    };
    const m = round(painted, all(painted), { width: 1, segments: 1 });
    const rank = Array.from(m.layers.face.rank.data);
    expect(rank.filter((r) => r === 0)).toHaveLength(6);
    expect([2, 3].map((k) => rank.filter((r) => r === k).length)).toEqual([12, 8]);
    expect(Array.from(m.layers.face.material.data).slice(0, 6)).toEqual([1, 2, 3, 4, 5, 6]);
  });

  it('rounds tips of any valence', () => {
    for (const sides of [3, 4, 5, 6, 9]) {
      const m0 = buildPrimitive({ primitive: 'cone', bottomRadius: 50, topRadius: 0, height: 60, sides });
      for (const segments of [1, 2, 3, 4]) {
        const m = round(m0, all(m0), { width: 4, segments, profile: 1 });
        expectClean(m);
        expect(eulerCharacteristic(m)).toBe(2);
        expect(volume(m)).toBeLessThan(volume(m0));
      }
    }
  });

  it('rounds concave and mixed corners of an L', () => {
    const L: Array<[number, number]> = [[0, 0], [40, 0], [40, 20], [20, 20], [20, 40], [0, 40]]; // prettier-ignore
    const n = L.length;
    const points = [...L.map(([x, z]) => [x, 0, -z]), ...L.map(([x, z]) => [x, 10, -z])] as Array<
      [number, number, number]
    >;
    const faces = [
      ...L.map((_, i) => [i, (i + 1) % n, n + ((i + 1) % n), n + i]),
      L.map((_, i) => n - 1 - i),
      L.map((_, i) => n + i),
    ];
    const l = meshFromLoops(points, faces);
    expectClean(l);
    for (const profile of [-1, -0.5, 0, 0.5, 1, 1.5, 2])
      for (const segments of [1, 2, 3, 4]) {
        const m = round(l, all(l), { width: 3, segments, profile });
        expectClean(m);
        expect(eulerCharacteristic(m)).toBe(2);
      }
    const flat = round(l, all(l), { width: 3, segments: 1, profile: 0 });
    expect(selfCrossings(flat).edges).toEqual([]);
  });

  it('a cylinder rim shrinks to a point at the radius and stops there', () => {
    const c = buildPrimitive({ primitive: 'cylinder', radius: 20, height: 100, sides: 24 });
    const rim = sharpEdges(c, 60);
    const r = bevel(c, rim, { width: 30, segments: 3, profile: 1 });
    expectClean(r.mesh);
    expect(reached(r)).toBeCloseTo(20 * Math.cos(Math.PI / 24), 9);
  });

  it('follows the rims of a cut only, through bridged faces', () => {
    const r = cut({ mesh: buildPrimitive(box(100, 20, 80)), name: 'plate' }, [{ mesh: place({ primitive: 'cylinder', radius: 10, height: 60, sides: 32 }, [0, 0, 0]), name: 'hole', id: 'hole' }], 'subtract'); // prettier-ignore
    const b = bevel(r.mesh, rims(r.mesh), { width: 2, segments: 3 });
    expectClean(b.mesh);
    expect(b.report.roundedEdges).toBe(64);
    expect(reached(b)).toBe(2);
    expect(faceCount(b.mesh)).toBe(faceCount(r.mesh) + 64 * 3);
    expect(Array.from(b.mesh.layers.edge.bridge.data).filter(Boolean)).toHaveLength(4);
    // Flat faces keep their plane exactly.
    for (let f = 0; f < faceCount(b.mesh); f++)
      if (faceNormal(b.mesh, f)[1] > 1 - 1e-12 && b.mesh.layers.face.rank.data[f] !== 2)
        for (const v of faceLoop(b.mesh, f)) expect(b.mesh.positions[3 * v + 1]).toBe(10);
  });

  it('two holes stop each other exactly half way', () => {
    const hole = (x: number, id: string) => ({
      mesh: place({ primitive: 'cylinder', radius: 10, height: 60, sides: 4 }, [x, 0, 0]),
      name: id,
      id,
    });
    const r = cut(
      { mesh: buildPrimitive(box(100, 20, 80)), name: 'plate' },
      [hole(-12, 'a'), hole(12, 'b')],
      'subtract',
    );
    // Corners of the square holes face each other at a distance of 4: mitres move at √2.
    const b = bevel(r.mesh, rims(r.mesh), { width: 8, segments: 1, profile: 0 });
    expectClean(b.mesh);
    expect(reached(b)).toBeCloseTo(2 / Math.SQRT2, 6);
  });

  it('goes past the short edges where facets cross instead of stopping at them', () => {
    const r = cut(
      { mesh: buildPrimitive({ primitive: 'cylinder', radius: 30, height: 100, sides: 48 }), name: 'post' },
      [
        {
          mesh: place(
            { primitive: 'cylinder', radius: 12, height: 100, sides: 32 },
            [0.61, 3.3, 1.7],
            [90, 0, 3.1],
          ),
          name: 'bore',
          id: 'bore',
        },
      ],
      'subtract',
    );
    const edges = rims(r.mesh);
    const t = topologyOf(r.mesh);
    const shortest = Math.min(...edges.map((e) => Math.hypot(...[0, 1, 2].map((k) => r.mesh.positions[3 * t.edges[2 * e] + k] - r.mesh.positions[3 * t.edges[2 * e + 1] + k])))); // prettier-ignore
    const b = bevel(r.mesh, edges, { width: 0.25, segments: 2 });
    expectClean(b.mesh);
    expect(shortest).toBeLessThan(0.1);
    expect(reached(b)).toBe(0.25);
    expect(selfCrossings(b.mesh).edges).toEqual([]);
  });

  it('stays closed and uncrossed on cuts of any two solids, at any width', () => {
    const solid = fc.constantFrom<Primitive>(
      box(40, 30, 50),
      { primitive: 'cylinder', radius: 20, height: 50, sides: 12 },
      { primitive: 'cone', bottomRadius: 25, topRadius: 8, height: 40, sides: 9 },
      { primitive: 'sphere', radius: 22, sides: 12, rings: 8 },
      { primitive: 'torus', radius: 20, tubeRadius: 7, sides: 14, tubeSides: 8 },
      { primitive: 'tube', outerRadius: 24, innerRadius: 15, height: 30, sides: 16 },
    );
    const move = fc.tuple(
      ...[0, 1, 2].map(() => fc.integer({ min: -150, max: 150 }).map((x) => x / 10)),
    ) as fc.Arbitrary<[number, number, number]>;
    const turn = fc.tuple(...[0, 1, 2].map(() => fc.constantFrom(0, 30, 45, 90, 17.3, 211))) as fc.Arbitrary<
      [number, number, number]
    >;
    fc.assert(
      fc.property(
        solid,
        solid,
        move,
        turn,
        fc.constantFrom('subtract', 'union', 'intersect' as const),
        fc.constantFrom(0.2, 1, 3, 20),
        fc.integer({ min: 1, max: 4 }),
        fc.boolean(),
        (a, b, m, tn, mode, width, segments, onlyRims) => {
          const r = cut(
            { mesh: buildPrimitive(a), name: 'a' },
            [{ mesh: place(b, m, tn), name: 'b', id: 'b' }],
            mode as 'union',
          ).mesh;
          if (!faceCount(r)) return;
          const edges = onlyRims ? rims(r) : sharpEdges(r, 25);
          const out = round(r, edges, { width, segments, profile: 1 });
          expect(checkMesh(out).findings).toEqual([]);
          expect(eulerCharacteristic(out)).toBe(eulerCharacteristic(r));
          expect(sizeOf(out)).toBeLessThan(sizeOf(r) * 1.5);
        },
      ),
      { numRuns: runs(40, 120), seed: 11 },
    );
  });
});
