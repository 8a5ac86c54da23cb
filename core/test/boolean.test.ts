import { beforeAll, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { cutterCode } from '../src/births/hash';
import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { checkMesh } from '../src/mesh/checkMesh';
import { eulerCharacteristic, faceArea, surfaceArea, volume, faceNormal } from '../src/mesh/measure';
import { faceCount, faceLoop, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { transformMesh, transformMatrix } from '../src/mesh/transform';
import { shadingNormals } from '../src/shading/shadingNormals';
import { runs } from './effort';

const host = (p: Primitive, id = 'host') => ({ mesh: buildPrimitive(p), name: id, id });
const cutter = (
  p: Primitive,
  move: [number, number, number] = [0, 0, 0],
  turn: [number, number, number] = [0, 0, 0],
  id = 'cutter',
) => ({
  mesh: transformMesh(buildPrimitive(p), transformMatrix({ move, turn, size: [1, 1, 1] })),
  name: id,
  id,
});
const box = (width: number, height: number, depth: number): Primitive => ({
  primitive: 'box',
  width,
  height,
  depth,
});
const edgeSum = (m: PolyMesh, layer: string): number =>
  Array.from(m.layers.edge[layer].data).filter(Boolean).length;
const tubePolygonArea = (r: number, n: number): number => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);

beforeAll(async () => {
  await loadKernel();
});

describe('cut', () => {
  it('bores a hole: two bridges a side, exact volume, rims marked, sides identical', () => {
    const h = host(box(100, 20, 80));
    const r = cut(
      h,
      [cutter({ primitive: 'cylinder', radius: 10, height: 60, sides: 32 }, [0, 0, 0], [0, 0, 0], 'hole')],
      'subtract',
    );
    expect(checkMesh(r.mesh)).toMatchObject({ closed: true });
    expect(volume(r.mesh)).toBeCloseTo(100 * 20 * 80 - 20 * tubePolygonArea(10, 32), 6);
    expect(eulerCharacteristic(r.mesh)).toBe(0);
    // 4 sides + 32 walls + top and bottom in two faces each.
    expect(faceCount(r.mesh)).toBe(4 + 32 + 4);
    expect(edgeSum(r.mesh, 'bridge')).toBe(4);
    const rim = r.mesh.layers.edge.cut.data.filter((c) => c === cutterCode('hole')).length;
    expect(rim).toBe(64);
    // Untouched faces: same loops of positions, bit for bit.
    const loopsOf = (m: PolyMesh) => Array.from({ length: faceCount(m) }, (_, f) => faceLoop(m, f).map((v) => [...m.positions.subarray(3 * v, 3 * v + 3)].join()).join('|')); // prettier-ignore
    const after = new Set(loopsOf(r.mesh));
    expect(loopsOf(h.mesh).filter((l) => after.has(l))).toHaveLength(4);
  });

  it('keeps the plane of a turned cut face to double precision', () => {
    const r = cut(host(box(40, 40, 40)), [cutter(box(30, 30, 60), [13, 11, 0], [7, 31, 13])], 'subtract');
    expect(checkMesh(r.mesh).closed).toBe(true);
    for (let f = 0; f < faceCount(r.mesh); f++) {
      const n = faceNormal(r.mesh, f);
      const ds = faceLoop(r.mesh, f).map((v) => n[0] * r.mesh.positions[3 * v] + n[1] * r.mesh.positions[3 * v + 1] + n[2] * r.mesh.positions[3 * v + 2]); // prettier-ignore
      expect(Math.max(...ds) - Math.min(...ds)).toBeLessThan(1e-9);
    }
  });

  it('lays bridges afresh in a second cut, so they never pile up', () => {
    const first = cut(
      host(box(100, 10, 100)),
      [cutter({ primitive: 'cylinder', radius: 10, height: 30 }, [-20, 0, 0], [0, 0, 0], 'a')],
      'subtract',
    );
    const second = cut(
      { mesh: first.mesh, name: 'host' },
      [cutter({ primitive: 'cylinder', radius: 10, height: 30 }, [20, 0, 0], [0, 0, 0], 'b')],
      'subtract',
    );
    const both = cut(host(box(100, 10, 100)), [cutter({ primitive: 'cylinder', radius: 10, height: 30 }, [-20, 0, 0], [0, 0, 0], 'a'), cutter({ primitive: 'cylinder', radius: 10, height: 30 }, [20, 0, 0], [0, 0, 0], 'b')], 'subtract'); // prettier-ignore
    expect(edgeSum(second.mesh, 'bridge')).toBe(edgeSum(both.mesh, 'bridge'));
    expect(edgeSum(second.mesh, 'cut')).toBe(128);
    expect(second.mesh.layers.edge.cut.data.filter((c) => c === cutterCode('a'))).toHaveLength(64);
    expect(volume(second.mesh)).toBeCloseTo(volume(both.mesh), 6);
  });

  it('adds volumes up: |A−B| + |A∩B| = |A| and |A∪B| = |A| + |B| − |A∩B|', () => {
    const a = host({ primitive: 'sphere', radius: 30, sides: 24, rings: 12 });
    const b = cutter(
      { primitive: 'torus', radius: 28, tubeRadius: 9, sides: 20, tubeSides: 12 },
      [3, 4, 5],
      [20, 30, 40],
    );
    const [minus, both, plus] = (['subtract', 'intersect', 'union'] as const).map((m) => cut(a, [b], m).mesh);
    for (const m of [minus, both, plus]) expect(checkMesh(m).findings).toEqual([]);
    expect(volume(minus) + volume(both)).toBeCloseTo(volume(a.mesh), 3);
    expect(volume(plus)).toBeCloseTo(volume(a.mesh) + volume(b.mesh) - volume(both), 3);
  });

  it('keeps a cylinder smooth up to the rim of a cut', () => {
    const c = host({ primitive: 'cylinder', radius: 50, height: 100, sides: 48 });
    const r = cut(c, [cutter(box(30, 30, 200), [0, 0, 0])], 'subtract');
    const n = shadingNormals(r.mesh);
    const t = topologyOf(r.mesh);
    let checked = 0;
    for (let i = 0; i < r.mesh.corners.length; i++) {
      const f = t.faceOfCorner[i];
      if (r.operandOfFace[f] !== 0 || Math.abs(faceNormal(r.mesh, f)[1]) > 0.5) continue;
      const v = r.mesh.corners[i];
      const [x, z] = [r.mesh.positions[3 * v], r.mesh.positions[3 * v + 2]];
      const l = Math.hypot(x, z);
      // Interpolated between two true radial normals: within a hundredth of a degree of radial.
      expect(n[3 * i] * (x / l) + n[3 * i + 2] * (z / l)).toBeGreaterThan(Math.cos((0.2 * Math.PI) / 180));
      checked++;
    }
    expect(checked).toBeGreaterThan(100);
  });

  it('names an open operand and its open edges', () => {
    const open = cutter({ primitive: 'plane', width: 50, depth: 50 }, [0, 0, 0], [0, 0, 0], 'sheet');
    expect(() => cut(host(box(10, 10, 10)), [open], 'subtract')).toThrowError(
      /“sheet” is not a closed solid: 4 of its edges are open/,
    );
  });

  it('names an operand that crosses itself', () => {
    const b = buildPrimitive(box(10, 10, 10));
    const p = b.positions.slice();
    for (let i = 0; i < p.length; i += 3) if (p[i] > 0 && p[i + 1] > 0) p[i] = -20;
    const twisted = { ...b, positions: p };
    const e = (() => { try { cut(host(box(30, 30, 30)), [{ mesh: twisted, name: 'bent', id: 'bent' }], 'subtract'); } catch (x) { return x as { code: string; lines: Float64Array }; } })(); // prettier-ignore
    expect(e?.code).toBe('crossed-operand');
    expect(e!.lines.length).toBeGreaterThan(0);
  });

  it('stays a closed clean solid for any two primitives in any pose', () => {
    const solid = fc.constantFrom<Primitive>(
      box(40, 30, 50),
      { primitive: 'box', width: 40, height: 30, depth: 50, segments: [3, 2, 4] },
      { primitive: 'cylinder', radius: 20, height: 50, sides: 12 },
      { primitive: 'cone', bottomRadius: 25, topRadius: 8, height: 40, sides: 9 },
      { primitive: 'sphere', radius: 22, sides: 12, rings: 8 },
      { primitive: 'quadSphere', radius: 24, divisions: 4 },
      { primitive: 'torus', radius: 20, tubeRadius: 7, sides: 14, tubeSides: 8 },
      { primitive: 'tube', outerRadius: 24, innerRadius: 15, height: 30, sides: 16 },
    );
    const move = fc.tuple(
      ...[0, 1, 2].map(() => fc.integer({ min: -200, max: 200 }).map((x) => x / 10)),
    ) as fc.Arbitrary<[number, number, number]>;
    const turn = fc.tuple(...[0, 1, 2].map(() => fc.constantFrom(0, 30, 45, 90, 17.3, 211))) as fc.Arbitrary<
      [number, number, number]
    >;
    fc.assert(
      fc.property(
        solid,
        solid,
        solid,
        move,
        turn,
        move,
        turn,
        fc.constantFrom('subtract', 'union', 'intersect' as const),
        (a, b, c, m, t, m2, t2, mode) => {
          const h = host(a);
          const cutters = [cutter(b, m, t, 'b'), cutter(c, m2, t2, 'c')];
          const r = cut(h, cutters, mode as 'subtract');
          if (!faceCount(r.mesh)) return;
          const again = cut({ mesh: r.mesh, name: 'again' }, [cutter(c, m2, t2, 'd')], 'subtract');
          for (const x of [r.mesh, again.mesh]) {
            expect(checkMesh(x).findings).toEqual([]);
          }
          if (mode === 'subtract') expect(volume(r.mesh)).toBeLessThanOrEqual(volume(h.mesh) + 1e-6);
          let area = 0;
          for (let f = 0; f < faceCount(r.mesh); f++) area += faceArea(r.mesh, f);
          expect(area).toBeCloseTo(surfaceArea(r.mesh), 9);
          expect(vertexCount(r.mesh)).toBeLessThan(5000);
        },
      ),
      { numRuns: runs(60, 150), seed: 7 },
    );
  });
});
