/** Rounding measured on the surface: sides run over facets, and what is in the way stops only where it is. */
import { beforeAll, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { bevel, type BevelResult } from '../src/ops/bevel/bevel';
import { stoppedOf } from '../src/ops/bevel/groups';
import { cut, type CutMode } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { checkMesh } from '../src/mesh/checkMesh';
import { eulerCharacteristic, faceNormal, volume } from '../src/mesh/measure';
import { meshFromLoops, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { stripsMade, tracked } from '../src/mesh/lineage';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { distance, dot, pointOf, type Vec3 } from '../src/mesh/vec3';
import { rimEdges, sharpEdges } from '../src/select/edges';
import { deepestCrossing } from './crossings';
import { number } from './anySolid';
import { HOSTS, roundedBuilds, shareOf, tiltedHoles } from './roundedBuilds';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

const cylinder = (radius: number, height: number, sides: number): Primitive => ({
  primitive: 'cylinder',
  radius,
  height,
  sides,
});
const place = (p: Primitive, move: Vec3 = [0, 0, 0], turn: Vec3 = [0, 0, 0]): PolyMesh =>
  transformMesh(buildPrimitive(p), transformMatrix({ move, turn, size: [1, 1, 1] }));
const cutting = (host: PolyMesh, cutters: PolyMesh[], mode: CutMode = 'subtract'): PolyMesh =>
  cut({ mesh: host, name: 'host' }, cutters.map((mesh, i) => ({ mesh, name: `c${i}`, id: `c${i}` })), mode).mesh; // prettier-ignore
const roundRims = (m: PolyMesh, width: number, segments = 3, profile = 1): BevelResult =>
  bevel(m, rimEdges(m), { width, segments, profile });

/** Closed as before, no edge through a face, every rim as wide as asked all along. */
function expectFull(before: PolyMesh, { mesh, report }: BevelResult, width: number): void {
  expect(checkMesh(mesh).findings).toEqual([]);
  expect(eulerCharacteristic(mesh)).toBe(eulerCharacteristic(before));
  expect(deepestCrossing(mesh)).toBeLessThan(1e-9);
  expect(report.groups.length).toBeGreaterThan(0);
  expect(stoppedOf(report.groups, width)).toEqual([]);
  expect(report.groups.every((g) => g.full === 1)).toBe(true);
}

describe('a hole in the side of a cylinder', () => {
  const hole = (sides: number, off: number): PolyMesh =>
    cutting(place(cylinder(25, 80, sides)), [place(cylinder(8, 120, 32), [off, 0, 0], [90, 0, 0])]);

  it.each([12, 24, 48, 96, 192])('is rounded in full over %i facets, strips of quads', (sides) => {
    const m = tracked(hole(sides, 0));
    const r = roundRims(m, 2);
    expectFull(m, r, 2);
    const strips = stripsMade(r.mesh);
    const quads = strips.filter(({ face: f }) => r.mesh.faceStart[f + 1] - r.mesh.faceStart[f] === 4);
    expect(strips.length).toBeGreaterThan(100);
    expect(quads.length).toBeGreaterThanOrEqual(0.95 * strips.length);
  });

  it.each([24, 48, 96])('beside the middle too, over %i', (sides) => {
    const m = hole(sides, 11);
    expectFull(m, roundRims(m, 2), 2);
  });

  it('takes the same away however fine the wall is', () => {
    const taken = [24, 48, 192].map((sides) => {
      const m = hole(sides, 0);
      return volume(m) - volume(roundRims(m, 2, 4).mesh);
    });
    for (const v of taken) expect(Math.abs(v / taken[2] - 1)).toBeLessThan(0.01);
  });

  it('holds at any width, profile and count', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(12, 24, 40, 64),
        number(0.1, 4),
        fc.integer({ min: 1, max: 8 }),
        fc.constantFrom(-1, 0, 0.5, 1, 2),
        number(-9, 9),
        (sides, width, segments, profile, off) => {
          const m = hole(sides, off);
          expectFull(m, roundRims(m, width, segments, profile), width);
        },
      ),
      { numRuns: 12, seed: 3 },
    );
  });
});

describe('rims on other surfaces', () => {
  it.each<[string, Primitive, Primitive, Vec3, Vec3, CutMode]>([
    ['a square pocket in a wall', cylinder(25, 80, 96), { primitive: 'box', width: 12, height: 12, depth: 120 }, [0, 0, 0], [0, 0, 0], 'subtract'], // prettier-ignore
    ['two pipes, joined', cylinder(20, 100, 48), cylinder(12, 100, 32), [0, 0, 40], [90, 0, 0], 'union'],
    ['a sphere with a hole beside its middle', { primitive: 'sphere', radius: 25, sides: 48, rings: 24 }, cylinder(6, 100, 32), [7, 0, 4], [0, 0, 0], 'subtract'], // prettier-ignore
    ['a torus, cut aslant', { primitive: 'torus', radius: 25, tubeRadius: 10, sides: 48, tubeSides: 24 }, { primitive: 'box', width: 80, height: 60, depth: 40 }, [0, 0, 30], [20, 0, 12], 'subtract'], // prettier-ignore
    ['a cone with a hole', { primitive: 'cone', bottomRadius: 25, topRadius: 10, height: 60, sides: 48 }, cylinder(5, 100, 24), [0, 0, 0], [90, 0, 0], 'subtract'], // prettier-ignore
  ])('%s', (_, host, cutter, move, turn, mode) => {
    const m = cutting(place(host), [place(cutter, move, turn)], mode);
    expectFull(m, roundRims(m, 2), 2);
  });

  it('flat plates: holes that overlap, a stadium, a keyhole', () => {
    const plate = place({ primitive: 'box', width: 100, height: 20, depth: 80 });
    const bore = (r: number, x: number): PolyMesh => place(cylinder(r, 60, 32), [x, 0, 0]);
    const slot = (d: number): PolyMesh => place({ primitive: 'box', width: 40, height: 60, depth: d });
    for (const cutters of [
      [bore(12, -7), bore(12, 9)],
      [slot(12), bore(6, -20), bore(6, 20)],
      [slot(8), bore(10, -20)],
    ]) {
      const m = cutting(plate, cutters);
      expectFull(m, roundRims(m, 2), 2);
    }
  });
});

/**
 * The volume that arcs of this many chords leave and flat strips do not, along all edges, at a width of 1 and without
 * the corners.
 */
function keptByArcs(m: PolyMesh, segments: number): number {
  const t = topologyOf(m);
  let kept = 0;
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    const [n1, n2] = [c, t.twin[c]].map((x) => faceNormal(m, t.faceOfCorner[x]));
    const long = distance(pointOf(m.positions, t.edges[2 * e]), pointOf(m.positions, t.edges[2 * e + 1]));
    const turn = Math.acos(dot(n1, n2));
    const r = 1 / Math.tan(turn / 2);
    const arc = r * r * (Math.tan(turn / 2) - (segments / 2) * Math.sin(turn / segments));
    kept += long * (Math.sin(turn) / 2 - arc);
  }
  return kept;
}

describe('all edges of a body of bent faces', () => {
  it('keep the roundness of their profile, whatever crosses the strips beside their corners', () => {
    for (const divisions of [3, 5, 8].slice(0, runs(2, 3)))
      for (const segments of [2, 3, 4]) {
        const m = buildPrimitive({ primitive: 'quadSphere', radius: 50, divisions });
        const edges = Array.from({ length: topologyOf(m).edgeCount }, (_, e) => e);
        const width = 0.2;
        const left = (profile: number): number => {
          const made = bevel(m, edges, { width, segments, profile });
          expectFull(m, made, width);
          return volume(made.mesh);
        };
        // Remains of bent faces may be divided differently, the same in both; along an edge they turn a tenth more or
        // less than their mean normals tell.
        const off = Math.abs((left(1) - left(0)) / (width ** 2 * keptByArcs(m, segments)) - 1);
        expect([divisions, segments, off < 0.12]).toEqual([divisions, segments, true]);
      }
  });
});

describe('a rim that ends on a face', () => {
  it('fills its inward corner up, and the face stays one', () => {
    const outline = [[0, 0], [20, 0], [20, 5], [5, 5], [5, 20], [0, 20]]; // prettier-ignore
    const n = outline.length;
    const ell = meshFromLoops(
      [0, 30].flatMap((z) => outline.map(([x, y]): Vec3 => [x, y, z])),
      [
        outline.map((_, i) => n - 1 - i),
        outline.map((_, i) => n + i),
        ...outline.map((_, i) => [i, (i + 1) % n, n + ((i + 1) % n), n + i]),
      ],
    );
    const { edges, edgeCount } = topologyOf(ell);
    const inner = [...Array(edgeCount).keys()].filter(
      (e) => edges[2 * e] === 3 && edges[2 * e + 1] === 3 + n,
    );
    for (const segments of [1, 2, 4]) {
      const r = bevel(ell, inner, { width: 2, segments });
      expectFull(ell, r, 2);
      expect(r.mesh.faceStart.length - 1).toBe(8 + segments);
      // A square less a fan of triangles from the arc's middle.
      const added = 4 - segments * 2 * Math.sin(Math.PI / 2 / segments);
      expect(volume(r.mesh) - volume(ell)).toBeCloseTo(30 * added, 9);
    }
  });

  it('runs on along the outline of a round one, from facet to facet', () => {
    const box: Primitive = { primitive: 'box', width: 60, height: 30, depth: 20 };
    fc.assert(
      fc.property(
        fc.record({
          mode: fc.constantFrom<CutMode>('union', 'subtract'),
          sides: fc.constantFrom(12, 24, 48, 96, 192),
          // Within the plate, flush with it, standing out of it.
          length: fc.constantFrom(20, 30, 40),
          z: number(7, 13),
          turn: number(0, 30),
          width: fc.constantFrom(0.5, 1, 2),
        }),
        ({ mode, sides, length, z, turn, width }) => {
          const round = place(cylinder(6, length, sides), [0, 0, z], [0, turn, 0]);
          const m = cutting(place(box), [round], mode);
          expectFull(m, roundRims(m, width), width);
        },
      ),
      { numRuns: runs(20, 40), seed: 6 },
    );
  });
});

describe('random tilted holes', () => {
  it.each(HOSTS.filter(([name]) => !name.endsWith('192') && !name.endsWith('12')))(
    'in a %s keep their width all along',
    (...host) => {
      for (const [width, bound] of [
        [1, 0.95],
        [2, 0.85],
      ]) {
        const { faults, full } = tiltedHoles(host, width, 3, 4);
        expect(faults).toEqual([]);
        expect(full.length).toBeGreaterThan(5);
        expect(shareOf(full, 1)).toBeGreaterThanOrEqual(bound);
        expect(shareOf(full, 0.9)).toBe(1);
      }
    },
  );
});

describe('any build of cuts', () => {
  it('comes out closed, uncrossed and without slivers', () => {
    fc.assert(roundedBuilds(), { numRuns: runs(10, 20) });
  });
});

describe('a pocket whose walls run out to nothing', () => {
  const box = (width: number, height: number, depth: number): Primitive => ({ primitive: 'box', width, height, depth }); // prettier-ignore
  const wide = (turn: Vec3): PolyMesh =>
    cutting(place(box(108, 21, 76)), [place(box(95, 19, 87), [1.36, 3.32, 1.73], turn)]);
  const high = () => cutting(place(box(102, 21, 73)), [place(box(97, 23, 81), [-0.73, 3.8, 1.88], [2.7, 2.7, 2.7])]); // prettier-ignore

  it.each([
    [2, 0, 0.2, () => wide([-3.9, -0.9, -3.8])],
    [4, 0, 0.2, () => wide([-3.9, -0.9, -3.8])],
    [6, 1, 0.2, () => wide([-3.9, -0.9, -3.8])],
    [4, 0, 0.2, () => wide([-3.5, -1.2, -3.9])],
    [4, 2, 0.02, () => high()],
  ] as const)(
    'is rounded by %i segments, profile %f: nothing crosses, nothing folds',
    (segments, profile, least, made) => {
      const m = made();
      const { mesh, report } = bevel(m, sharpEdges(m, 30), { width: 2.3, segments, profile });
      expect(checkMesh(mesh).findings).toEqual([]);
      expect(deepestCrossing(mesh)).toBeLessThan(1e-9);
      expect(Math.min(...report.groups.map((g) => g.reached))).toBeGreaterThan(least);
    },
  );
});

describe('what is in the way', () => {
  it('stops the rim only beside it', () => {
    // The rim comes within 1 mm of the plate's edge in one place.
    const m = cutting(place({ primitive: 'box', width: 60, height: 10, depth: 60 }), [place(cylinder(10, 30, 64), [19, 0, 0])]); // prettier-ignore
    const { mesh, report } = roundRims(m, 2);
    expect(checkMesh(mesh).findings).toEqual([]);
    expect(deepestCrossing(mesh)).toBeLessThan(1e-9);
    const [g] = report.groups;
    expect(g.reached).toBeGreaterThan(0.9);
    expect(g.reached).toBeLessThan(1.2);
    expect(g.full).toBeGreaterThan(0.6);
    expect(g.stops).toHaveLength(1);
    const [{ at, width, why, edges, lines }] = g.stops;
    expect(why).toBe('edge');
    expect(width).toBe(g.reached);
    expect(at[0]).toBeCloseTo(29, 1);
    expect(edges.length).toBeLessThan(g.edges.length / 2);
    expect(lines.length).toBeGreaterThanOrEqual(6 * edges.length);
  });
});
