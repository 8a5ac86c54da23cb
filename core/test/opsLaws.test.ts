/** Laws of operations on random solids in any affine pose: volumes, areas, counts and places that must come out. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { checkMesh } from '../src/mesh/checkMesh';
import {
  boundsOf,
  eulerCharacteristic,
  faceArea,
  faceKinds,
  faceNormal,
  shellCount,
  sizeOf,
  surfaceArea,
  volume,
} from '../src/mesh/measure';
import { faceCount, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { determinant, transformMatrix, transformMesh, type Matrix } from '../src/mesh/transform';
import { distance, dot, pointOf, sub, unit, type Vec3 } from '../src/mesh/vec3';
import { buildPrimitive } from '../src/primitives';
import { loadKernel } from '../src/solid/kernel';
import { act, points } from './acting';
import { number, pose, solid, triple } from './anySolid';
import { refusal } from './refusal';

beforeAll(async () => {
  await loadKernel();
});

const seed = fc.nat(100000);
const direction = triple(-1, 1).filter((d) => Math.hypot(...d) > 0.2);

const closeTo = (x: number): number => expect.closeTo(x, 6) as number;
/** Volume and area, in units of the mesh's own size so that digits mean the same for all. */
const measures = (m: PolyMesh, size: number): [number, number] => [
  volume(m) / size ** 3,
  surfaceArea(m) / size ** 2,
];
const pick = (from: number, n: number): number => from % n;
const all = (of: 'faces' | 'edges' | 'points') => ({ rule: 'all', of });
const holds = <T>(law: fc.IProperty<T>): void => fc.assert(law, { numRuns: 60 });

describe('what divides faces keeps the shape', () => {
  it('to the last digit of volume and area, closed and of the same genus', () => {
    holds(
      fc.property(
        solid,
        seed,
        direction,
        fc.constantFrom('ringCut', 'knife', 'planeSlice', 'triangulate', 'fan'),
        (mesh, k, d, op) => {
          const size = sizeOf(mesh);
          const { min, max } = boundsOf(mesh);
          const middle = min.map((x, i) => (x + max[i]) / 2) as Vec3;
          const edge = pick(k, topologyOf(mesh).edgeCount);
          const far = (s: number): number[] => middle.map((x, i) => x + s * size * [d[1], d[2], d[0]][i]);
          const action = {
            ringCut: { select: { edges: [edge] }, count: 1 + (k % 3), slide: d[0] * 0.9 },
            knife: { select: all('faces'), lines: [[far(-2), far(2)]], view: d, through: k % 2 === 0 },
            planeSlice: { select: all('faces'), point: middle, normal: d },
            triangulate: { select: all('faces') },
            fan: { select: { faces: [pick(k, faceCount(mesh))] } },
          }[op];
          let out: PolyMesh;
          const why = refusal(() => (out = act(mesh, { op, ...action }).mesh));
          if (why !== 'done') return;
          expect(measures(out!, size)).toEqual(measures(mesh, size).map(closeTo));
          expect([checkMesh(out!).closed, eulerCharacteristic(out!)]).toEqual([
            true,
            eulerCharacteristic(mesh),
          ]);
          expect(faceCount(out!)).toBeGreaterThanOrEqual(faceCount(mesh));
        },
      ),
    );
  });

  it('and a ring that is cut and dissolved again leaves what was there', () => {
    holds(
      fc.property(solid, seed, (mesh, k) => {
        let cut: ReturnType<typeof act>;
        const edge = pick(k, topologyOf(mesh).edgeCount);
        if (refusal(() => (cut = act(mesh, { op: 'ringCut', select: { edges: [edge] } }))) !== 'done') return;
        const back = act(cut!.mesh, { op: 'dissolve', select: { edges: [...cut!.selection.indices] } }).mesh;
        const places = (m: PolyMesh): string[] => points(m).map(String).sort();
        expect([faceCount(back), places(back)]).toEqual([faceCount(mesh), places(mesh)]);
      }),
    );
  });

  it('and triangles pair back into as many quads as there were', () => {
    const grid = buildPrimitive({ primitive: 'plane', width: 9, depth: 7, segments: [5, 4] });
    holds(
      fc.property(pose, (t) => {
        const sheet = transformMesh(grid, transformMatrix(t));
        const cut = act(sheet, { op: 'triangulate', select: all('faces') }).mesh;
        expect(faceKinds(cut).triangles).toBe(40);
        const quads = act(cut, { op: 'pairTriangles', select: all('faces') }).mesh;
        expect(faceKinds(quads)).toEqual({ triangles: 0, quads: 20, ngons: 0 });
      }),
    );
  });
});

describe('what a plane parts', () => {
  it('has the volume of the whole in its two sides, and the section twice in their area', () => {
    holds(
      fc.property(solid, direction, number(0.2, 0.8), (mesh, d, share) => {
        const size = sizeOf(mesh);
        const n = unit(d);
        const along = points(mesh).map((p) => dot(p, n));
        const at = Math.min(...along) + share * (Math.max(...along) - Math.min(...along));
        const slice = (keep: string): PolyMesh =>
          act(mesh, {
            op: 'planeSlice',
            select: all('faces'),
            point: n.map((x) => x * at),
            normal: n,
            keep,
            cap: true,
          }).mesh;
        const [front, back, apart] = ['front', 'back', 'apart'].map(slice);
        for (const m of [front, back, apart]) expect(checkMesh(m).closed).toBe(true);
        expect(volume(front) + volume(back)).toBeCloseTo(volume(mesh), 6);
        expect(volume(apart) / volume(mesh)).toBeCloseTo(1, 9);
        expect(shellCount(apart)).toBe(shellCount(front) + shellCount(back));
        // Both sides lie where they should, and their caps are in the plane and alike.
        const heights = (m: PolyMesh): number[] => points(m).map((p) => dot(p, n) - at);
        expect(Math.min(...heights(front))).toBeGreaterThan(-1e-7 * size);
        expect(Math.max(...heights(back))).toBeLessThan(1e-7 * size);
        const cap = (m: PolyMesh, way: number): number => {
          let sum = 0;
          for (let f = 0; f < faceCount(m); f++) {
            const lies = [...m.corners.subarray(m.faceStart[f], m.faceStart[f + 1])].every(
              (v) => Math.abs(dot(pointOf(m.positions, v), n) - at) < 1e-7 * size,
            );
            if (lies && dot(faceNormal(m, f), n) * way > 0.99) sum += faceArea(m, f);
          }
          return sum;
        };
        expect(cap(front, -1)).toBeCloseTo(cap(back, 1), 5);
        expect((surfaceArea(front) + surfaceArea(back) - 2 * cap(back, 1)) / size ** 2).toBeCloseTo(
          surfaceArea(mesh) / size ** 2,
          6,
        );
      }),
    );
  });
});

describe('what is drawn out of a face', () => {
  it('adds its area times the way', () => {
    holds(
      fc.property(solid, seed, number(0.1, 10), (mesh, k, way) => {
        const f = pick(k, faceCount(mesh));
        // Inside a tube the way may lead into the other wall.
        if (eulerCharacteristic(mesh) !== 2) return;
        const { mesh: out, selection } = act(mesh, { op: 'extrude', select: { faces: [f] }, distance: way });
        expect(volume(out)).toBeCloseTo(volume(mesh) + faceArea(mesh, f) * way, 5);
        expect(faceNormal(out, selection.indices[0])).toEqual(
          faceNormal(mesh, f).map((x) => expect.closeTo(x, 9)),
        );
        expect(faceCount(out)).toBe(faceCount(mesh) + mesh.faceStart[f + 1] - mesh.faceStart[f]);
      }),
    );
  });

  it('inset each by itself, faces keep their planes and their areas together', () => {
    holds(
      fc.property(solid, number(0.01, 0.5), (mesh, thickness) => {
        let out: PolyMesh;
        if (
          refusal(
            () => (out = act(mesh, { op: 'inset', select: all('faces'), thickness, by: 'each' }).mesh),
          ) !== 'done'
        )
          return;
        const size = sizeOf(mesh);
        expect(measures(out!, size)).toEqual(measures(mesh, size).map(closeTo));
        expect(faceCount(out!)).toBe(faceCount(mesh) + mesh.corners.length);
        expect(vertexCount(out!)).toBe(vertexCount(mesh) + mesh.corners.length);
      }),
    );
  });

  it('is taken back by deleting and filling: closed again, with the volume it had', () => {
    holds(
      fc.property(solid, seed, (mesh, k) => {
        const f = pick(k, faceCount(mesh));
        const t = topologyOf(mesh);
        const rim = [...mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1])];
        const open = act(mesh, { op: 'deleteFaces', select: { faces: [f] } });
        expect(checkMesh(open.mesh).closed).toBe(false);
        const filled = act(open.mesh, { op: 'fill', select: { rule: 'open' } }).mesh;
        expect([checkMesh(filled).closed, faceCount(filled), rim.length > 2]).toEqual([
          true,
          faceCount(mesh),
          true,
        ]);
        expect(volume(filled) / volume(mesh)).toBeCloseTo(1, 9);
        expect(topologyOf(filled).edgeCount).toBe(t.edgeCount);
      }),
    );
  });
});

describe('what is taken apart', () => {
  it('welds together again', () => {
    holds(
      fc.property(solid, seed, fc.constantFrom('splitApart', 'openAlong'), (mesh, k, op) => {
        const t = topologyOf(mesh);
        const f = pick(k, faceCount(mesh));
        const around = [...t.edgeOfCorner.subarray(mesh.faceStart[f], mesh.faceStart[f + 1])];
        const select = op === 'openAlong' ? { edges: around } : { faces: [f] };
        let apart: PolyMesh;
        if (refusal(() => (apart = act(mesh, { op, select }).mesh)) !== 'done') return;
        expect(checkMesh(apart!).closed).toBe(false);
        expect(vertexCount(apart!)).toBeGreaterThan(vertexCount(mesh));
        const whole = act(apart!, { op: 'weld', select: all('points'), to: 'near', distance: 1e-6 }).mesh;
        expect([checkMesh(whole).closed, vertexCount(whole), faceCount(whole)]).toEqual([
          true,
          vertexCount(mesh),
          faceCount(mesh),
        ]);
      }),
    );
  });
});

describe('what bridges and passes through', () => {
  it('takes one from the genus when two faces of one solid are joined', () => {
    holds(
      fc.property(
        number(4, 20),
        number(4, 20),
        pose,
        fc.integer({ min: 1, max: 4 }),
        (width, height, t, segments) => {
          const box = transformMesh(
            buildPrimitive({ primitive: 'box', width, height, depth: 9, segments: [3, 1, 3] }),
            transformMatrix(t),
          );
          // The middles of top and bottom, found by the counts of the grid: three by three on each.
          const inner = Array.from({ length: faceCount(box) }, (_, f) => f).filter((f) =>
            [...box.corners.subarray(box.faceStart[f], box.faceStart[f + 1])].every((v) => !onRim(box, v, f)),
          );
          expect(inner).toHaveLength(2);
          const { mesh } = act(box, { op: 'bridge', select: { faces: inner }, segments });
          expect([checkMesh(mesh).closed, eulerCharacteristic(mesh)]).toEqual([true, 0]);
          expect(volume(mesh) / volume(box)).toBeCloseTo(8 / 9, 9);
          expect(faceCount(mesh)).toBe(faceCount(box) - 2 + 4 * segments);
        },
      ),
    );
  });
});

/** A corner of a face at which faces of another plane meet too. */
function onRim(mesh: PolyMesh, v: number, f: number): boolean {
  const t = topologyOf(mesh);
  const n = faceNormal(mesh, f);
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
    if (dot(faceNormal(mesh, t.faceOfCorner[t.vertexCorners[i]]), n) < 0.999) return true;
  return false;
}

describe('what moves', () => {
  it('scales the volume by the determinant, whatever it goes about', () => {
    holds(
      fc.property(
        solid,
        triple(-30, 30),
        triple(0.3, 2),
        triple(-9, 9),
        fc.constantFrom('middle', 'point'),
        (mesh, turn, size, move, about) => {
          const out = act(mesh, {
            op: 'transform',
            select: all('faces'),
            turn,
            size,
            move,
            about,
            point: [1, 2, 3],
          }).mesh;
          const m: Matrix = transformMatrix({ move, turn, size });
          expect(volume(out) / volume(mesh)).toBeCloseTo(determinant(m), 9);
          const own = act(mesh, { op: 'transform', select: all('faces'), turn }).mesh;
          const t = topologyOf(mesh);
          for (let e = 0; e < t.edgeCount; e += 3) {
            const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
            const length = (of: PolyMesh): number =>
              distance(pointOf(of.positions, a), pointOf(of.positions, b));
            expect(length(own)).toBeCloseTo(length(mesh), 8);
          }
        },
      ),
    );
  });

  it('makes loops round: all points as far from the middle, in a plane, evenly', () => {
    holds(
      fc.property(
        fc.integer({ min: 3, max: 9 }),
        number(2, 20),
        number(2, 20),
        pose,
        (n, width, depth, t) => {
          const sheet = transformMesh(
            buildPrimitive({ primitive: 'plane', width, depth, segments: [n, n] }),
            transformMatrix(t),
          );
          const { mesh } = act(sheet, { op: 'makeRound', select: { rule: 'open' } });
          const tp = topologyOf(sheet);
          const rim = [
            ...new Set(
              Array.from({ length: tp.edgeCount }, (_, e) => e)
                .filter((e) => tp.edgeUse[e] === 1)
                .flatMap((e) => [tp.edges[2 * e], tp.edges[2 * e + 1]]),
            ),
          ];
          const at = rim.map((v) => pointOf(mesh.positions, v));
          const middle = at.reduce((s, p) => s.map((x, k) => x + p[k] / at.length) as Vec3, [
            0, 0, 0,
          ] as Vec3);
          const radii = at.map((p) => distance(p, middle));
          for (const r of radii) expect(r / radii[0]).toBeCloseTo(1, 7);
          const sides = Array.from({ length: tp.edgeCount }, (_, e) => e)
            .filter((e) => tp.edgeUse[e] === 1)
            .map((e) =>
              distance(
                pointOf(mesh.positions, tp.edges[2 * e]),
                pointOf(mesh.positions, tp.edges[2 * e + 1]),
              ),
            );
          for (const s of sides) expect(s / sides[0]).toBeCloseTo(1, 7);
        },
      ),
    );
  });

  it('straightens onto the line between the ends, and spaces evenly on it', () => {
    holds(
      fc.property(fc.array(triple(-3, 3), { minLength: 3, maxLength: 9 }), pose, (shifts, t) => {
        const n = shifts.length;
        const strip = transformMesh(
          buildPrimitive({ primitive: 'plane', width: 10 * n, depth: 5, segments: [n, 1] }),
          transformMatrix(t),
        );
        const row = points(buildPrimitive({ primitive: 'plane', width: 10 * n, depth: 5, segments: [n, 1] }))
          .flatMap((p, v) => (p[2] > 0 ? [{ x: p[0], v }] : []))
          .sort((a, b) => a.x - b.x)
          .map((p) => p.v);
        const bent = { ...strip, positions: strip.positions.slice() };
        shifts.slice(0, -1).forEach((s, k) => s.forEach((x, a) => (bent.positions[3 * row[k + 1] + a] += x)));
        const straight = act(bent, { op: 'straighten', select: { points: row } }).mesh;
        const onLine = row.map((v) => pointOf(straight.positions, v));
        const way = unit(sub(onLine[n], onLine[0]));
        for (let k = 1; k <= n; k++) expect(dot(sub(onLine[k], onLine[k - 1]), way)).toBeGreaterThan(0);
        const even = act(straight, { op: 'spaceEvenly', select: { points: row } }).mesh;
        const at = row.map((v) => pointOf(even.positions, v));
        const along = sub(at[n], at[0]);
        at.forEach((p, k) => {
          const line = at[0].map((x, a) => x + (along[a] * k) / n);
          expect(distance(p, line as Vec3)).toBeLessThan(1e-9 * sizeOf(strip) + 1e-9);
        });
      }),
    );
  });
});

describe('what is mirrored and thickened', () => {
  it('has twice the volume of its half, the same on both sides', () => {
    holds(
      fc.property(solid, direction, number(0.2, 0.8), (mesh, d, share) => {
        const n = unit(d);
        const along = points(mesh).map((p) => dot(p, n));
        const at = Math.min(...along) + share * (Math.max(...along) - Math.min(...along));
        const plane = { point: n.map((x) => x * at), normal: n };
        const half = act(mesh, {
          op: 'planeSlice',
          select: all('faces'),
          ...plane,
          keep: 'front',
          cap: false,
        }).mesh;
        const whole = act(half, { op: 'mirrorOnce', select: all('faces'), ...plane }).mesh;
        const solidHalf = act(mesh, {
          op: 'planeSlice',
          select: all('faces'),
          ...plane,
          keep: 'front',
          cap: true,
        }).mesh;
        expect(checkMesh(whole).closed).toBe(true);
        expect(volume(whole) / volume(solidHalf)).toBeCloseTo(2, 7);
        expect(faceCount(whole)).toBe(2 * faceCount(half));
      }),
    );
  });

  it('is cut at the plane where it passes through it, and the larger side is mirrored', () => {
    holds(
      fc.property(solid, direction, fc.constantFrom(0.2, 0.3, 0.7, 0.8), (mesh, d, share) => {
        const n = unit(d);
        const along = points(mesh).map((p) => dot(p, n));
        const at = Math.min(...along) + share * (Math.max(...along) - Math.min(...along));
        const plane = { point: n.map((x) => x * at), normal: n };
        const whole = act(mesh, { op: 'mirrorOnce', select: all('faces'), ...plane }).mesh;
        expect(checkMesh(whole).closed).toBe(true);
        const part = (keep: string, cap: boolean): PolyMesh =>
          act(mesh, { op: 'planeSlice', select: all('faces'), ...plane, keep, cap }).mesh;
        const [front, back] = ['front', 'back'].map((keep) => surfaceArea(part(keep, false)));
        const larger = part(front >= back ? 'front' : 'back', true);
        expect(volume(whole) / volume(larger)).toBeCloseTo(2, 7);
      }),
    );
  });

  it('a flat sheet becomes a plate of its area times the thickness', () => {
    holds(
      fc.property(
        fc.integer({ min: 1, max: 5 }),
        number(0.1, 4),
        number(-1, 1),
        pose,
        (n, thickness, side, t) => {
          const sheet = transformMesh(
            buildPrimitive({ primitive: 'plane', width: 12, depth: 8, segments: [n, 2] }),
            transformMatrix(t),
          );
          const { mesh } = act(sheet, { op: 'thicken', select: all('faces'), thickness, side });
          expect(checkMesh(mesh).closed).toBe(true);
          expect(volume(mesh) / (surfaceArea(sheet) * thickness)).toBeCloseTo(1, 9);
          expect(faceCount(mesh)).toBe(2 * faceCount(sheet) + 2 * (n + 2));
        },
      ),
    );
  });
});
