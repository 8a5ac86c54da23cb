/** The mesh check finds planted faults, and finds nothing in real builds. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { inspectMesh } from '../src/inspect/inspectMesh';
import { withPoints } from '../src/mesh/MeshDraft';
import { boundsOf } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { IDENTITY_TRANSFORM, transformMatrix, transformMesh } from '../src/mesh/transform';
import { cross, dot, lerp, sub, unit, type Vec3 } from '../src/mesh/vec3';
import { joinMeshes } from '../src/ops/join';
import { flatParts } from '../src/planar/flatParts';
import { buildPrimitive } from '../src/primitives';
import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { anyRoundedBuild, tryRounding } from './roundedBuilds';
import { number } from './anySolid';
import { runs } from './effort';

beforeAll(() => loadKernel());

const box = (size: number): PolyMesh => buildPrimitive({ primitive: 'box', width: size, height: size, depth: size }); // prettier-ignore
const codes = (m: PolyMesh): string[] => inspectMesh(m).findings.map((f) => `${f.code} ×${f.count}`);
/** With points moved: what is given per point is added to it. */
const moved = (m: PolyMesh, by: Record<number, Vec3>): PolyMesh =>
  withPoints(m, m.positions.map((x, i) => x + (by[Math.floor(i / 3)]?.[i % 3] ?? 0))); // prettier-ignore
const at = (m: PolyMesh, move: Vec3): PolyMesh => transformMesh(m, transformMatrix({ ...IDENTITY_TRANSFORM, move })); // prettier-ignore

describe('a check of a mesh as it will be read', () => {
  it('finds edges that pass through faces, and not where bodies touch', () => {
    expect(inspectMesh(box(10))).toEqual({ valid: true, closed: true, findings: [] });
    // A corner pulled through the opposite side.
    const side = Math.sign(box(10).positions[0]);
    const far = moved(box(10), { 0: [-25 * side, 3, 2] });
    expect(inspectMesh(far).valid).toBe(false);
    expect(codes(far).join()).toMatch(/^crossing ×\d+$/);
    expect(codes(joinMeshes([box(10), at(box(6), [5, 1, 1])])).join()).toMatch(/^crossing ×\d+$/);
    for (const gap of [0, 1e-12, -1e-12, 1])
      expect(codes(joinMeshes([box(10), at(box(6), [8 + gap, 0.3, 1])]))).toEqual([]);
  });

  it('finds faces that fold back over an edge', () => {
    const sheet = buildPrimitive({ primitive: 'plane', width: 10, depth: 10, segments: [2, 1] });
    const right = [...Array(6).keys()].filter((v) => sheet.positions[3 * v] > 4);
    const folded = (up: number): PolyMesh => moved(sheet, Object.fromEntries(right.map((v) => [v, [-9.9, up, 0] as Vec3]))); // prettier-ignore
    expect(codes(folded(1e-5))).toContain('fold ×1');
    expect(codes(folded(0.5)).join()).not.toContain('fold');
  });

  it('finds faces narrower than single precision holds at their place, and no others', () => {
    const thin = 1e-4;
    const slab = transformMesh(box(10), transformMatrix({ ...IDENTITY_TRANSFORM, size: [1, thin / 10, 1] }));
    expect(codes(slab)).toEqual([]);
    // The same sides 10 km away, where numbers lie 0.001 apart.
    expect(codes(at(slab, [0, 0, 1e4 * 1000]))).toEqual(['narrow-face ×4']);
  });

  it('finds nothing in cuts that were rounded, repeated and merged', () => {
    fc.assert(
      fc.property(anyRoundedBuild, number(0.2, 0.9), (build, share) => {
        if (build.rounding.segments > 4) return;
        const mesh = tryRounding(build)?.made.mesh;
        if (!mesh) return;
        const { min, max } = boundsOf(mesh);
        const step = share * (max[0] - min[0]);
        const copies = [1, 2].map((k) => ({ mesh: at(mesh, [k * step, 0, 0]), name: `${k}`, id: `${k}` }));
        const merged = cut({ mesh, name: '0' }, copies, 'union').mesh;
        expect(codes(merged)).toEqual([]);
      }),
      { numRuns: runs(6, 100), seed: 3 },
    );
  });
});

describe('polygons that are bent', () => {
  it('are divided into parts with four corners at most, or flat ones; others stay', () => {
    fc.assert(
      fc.property(fc.integer({ min: 5, max: 9 }), fc.array(number(-0.3, 0.3), { minLength: 9, maxLength: 9 }), (n, up) => {
        const ring = Array.from({ length: n }, (_, k): Vec3 => [5 * Math.cos((2 * Math.PI * k) / n), up[k], -5 * Math.sin((2 * Math.PI * k) / n)]);
        const parts = flatParts(ring, 1e-3);
        for (const part of parts) {
          if (part.length < 5) continue;
          const normal = unit(cross(sub(ring[part[1]], ring[part[0]]), sub(ring[part[2]], ring[part[0]])));
          for (const k of part) expect(Math.abs(dot(normal, sub(ring[k], ring[part[0]])))).toBeLessThan(0.02);
        }
        // Every side is in one part; every diagonal in two, both ways.
        const sides = parts.flatMap((p) => p.map((a, i) => `${a} ${p[(i + 1) % p.length]}`));
        expect(new Set(sides).size).toBe(sides.length);
        for (let k = 0; k < n; k++) expect(sides).toContain(`${k} ${(k + 1) % n}`);
        for (const s of sides) {
          const [a, b] = s.split(' ').map(Number);
          if (b !== (a + 1) % n) expect(sides).toContain(`${b} ${a}`);
        }
        const flat = ring.map(([x, , z]): Vec3 => [x, 0, z]);
        expect(flatParts(flat, 1e-3)).toEqual([[...flat.keys()]]);
      }),
      { numRuns: 60 },
    ); // prettier-ignore
  });

  it('get no slivers: a point beside a corner is joined to the far side', () => {
    const [a, b, c, d]: Vec3[] = [[0, 0, 0], [10, 0, 0], [10, 0, -10], [0, 0, -10]]; // prettier-ignore
    const x = lerp(a, b, 0.5);
    const parts = flatParts([a, [x[0], 0.2, x[2]], b, c, d], 1e-3);
    expect(parts.map((p) => p.length).sort()).toEqual([3, 4]);
    expect(parts.some((p) => p.length === 3 && p.includes(0) && p.includes(2))).toBe(false);
  });
});
