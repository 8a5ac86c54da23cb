/** Edges that cannot get in each other's way are rounded each by themselves: what that must not change, and what it saves. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { encodeMesh } from '../src/formats/meshBlob';
import { checkMesh } from '../src/mesh/checkMesh';
import { surfaceArea, volume } from '../src/mesh/measure';
import { makeMesh, type PolyMesh } from '../src/mesh/PolyMesh';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import type { Vec3 } from '../src/mesh/vec3';
import { bevel } from '../src/ops/bevel/bevel';
import { UnitCache } from '../src/ops/bevel/UnitCache';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { rimEdges, sharpEdges } from '../src/select/edges';
import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import { deepestCrossing } from './crossings';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

interface Bore {
  at: Vec3;
  turn?: Vec3;
  radius?: number;
}
const PLATE: Primitive = { primitive: 'box', width: 120, height: 10, depth: 80 };

function bored(bores: Bore[], host: Primitive = PLATE, sides = 16): PolyMesh {
  const cutters = bores.map(({ at, turn = [0, 0, 0], radius = 4 }, i) => ({
    mesh: transformMesh(
      buildPrimitive({ primitive: 'cylinder', radius, height: 200, sides }),
      transformMatrix({ move: at, turn, size: [1, 1, 1] }),
    ),
    name: 'bore',
    id: `c${i}`,
  }));
  return cut({ mesh: buildPrimitive(host), name: 'host' }, cutters, 'subtract').mesh;
}
const never = (): never => {
  throw new Error('no file is used');
};
const copy = (m: PolyMesh): PolyMesh =>
  makeMesh(m.positions.slice(), m.faceStart.slice(), m.corners.slice(), m.layers);
const bytes = (m: PolyMesh): string => Buffer.from(encodeMesh(m)).toString('base64');
const GRID: Bore[] = [-45, -15, 15, 45].flatMap((x) => [-22, 22].map((z): Bore => ({ at: [x, 0, z] })));

describe('roundings in units', () => {
  it('take as much away as the rims do each for itself, on plates of any number of holes', () => {
    const before = (bores: Bore[]): number => volume(bored(bores));
    const lost = (bores: Bore[]): number => {
      const m = bored(bores);
      const { mesh, report } = bevel(m, rimEdges(m), { width: 1, segments: 3 });
      expect(checkMesh(mesh).findings).toEqual([]);
      expect(report.groups.every((g) => g.reached === 1 && g.full === 1)).toBe(true);
      expect(report.groups.length).toBe(2 * bores.length);
      return before(bores) - volume(mesh);
    };
    const one = lost([GRID[0]]);
    for (const n of [2, 5, 8]) expect(lost(GRID.slice(0, n)) / (n * one)).toBeCloseTo(1, 9);
  });

  it('give the same bytes whether known before or not, wherever one of several holes goes', () => {
    const cache = new UnitCache();
    const rounded = (m: PolyMesh, kept?: UnitCache): PolyMesh =>
      bevel(copy(m), rimEdges(m), { width: 1, segments: 2 }, undefined, kept).mesh;
    rounded(bored(GRID), cache);
    fc.assert(
      fc.property(
        fc.double({ min: -50, max: 50, noNaN: true }),
        fc.double({ min: -30, max: 30, noNaN: true }),
        fc.double({ min: -30, max: 30, noNaN: true }),
        fc.constantFrom(...GRID.keys()),
        (x, z, tilt, which) => {
          const m = bored(GRID.map((b, i) => (i === which ? { at: [x, 0, z], turn: [tilt, 0, 0] } : b)));
          const warm = rounded(m, cache);
          expect(bytes(warm)).toBe(bytes(rounded(m)));
          expect(checkMesh(warm).findings).toEqual([]);
          expect(deepestCrossing(warm)).toBeLessThan(1e-9);
        },
      ),
      { numRuns: runs(16, 40), seed: 20261128 },
    );
  });

  it('are not grown again where nothing around them changed', () => {
    const cache = new UnitCache();
    const rounded = (bores: Bore[], width = 1): void => {
      const m = bored(bores);
      bevel(m, rimEdges(m), { width, segments: 2 }, undefined, cache);
    };
    const own = GRID.map((b, i): Bore => ({ ...b, radius: 3 + i / 8 }));
    rounded(own);
    expect(cache.last).toEqual({ known: 0, grown: 8 });
    const wider = own.map((b, i): Bore => (i === 3 ? { ...b, radius: 5 } : b));
    rounded(wider);
    expect(cache.last).toEqual({ known: 7, grown: 1 });
    rounded(wider, 1.5);
    expect(cache.last).toEqual({ known: 0, grown: 8 });
    // Entries that two roundings in a row did not use are dropped.
    const held = cache.bytes;
    rounded(wider, 1.5);
    rounded(wider, 1.5);
    expect(cache.bytes).toBeLessThan(held);
  });

  it('are grown once for all that are alike, wherever they are', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -3, max: 3, noNaN: true }), { minLength: 16, maxLength: 16 }),
        fc.double({ min: -40, max: 40, noNaN: true }),
        (aside, tilt) => {
          const bores = GRID.map(({ at }, i): Bore => ({
            at: [at[0] + aside[2 * i], 0, at[2] + aside[2 * i + 1]],
            turn: [tilt, 0, 0],
          }));
          const m = bored(bores);
          const cache = new UnitCache();
          const { mesh } = bevel(m, rimEdges(m), { width: 1, segments: 2 }, undefined, cache);
          // A place may fall between two steps of the grid it is told by, as rounding goes.
          expect(cache.last.grown).toBeLessThanOrEqual(2);
          expect(checkMesh(mesh).findings).toEqual([]);
          const alone = bored([bores[0]]);
          const one = bevel(alone, rimEdges(alone), { width: 1, segments: 2 }).mesh;
          expect((volume(m) - volume(mesh)) / (8 * (volume(alone) - volume(one)))).toBeCloseTo(1, 8);
        },
      ),
      { numRuns: runs(5, 12), seed: 20261129 },
    );
  });

  it('are alike for twins of a cutter in a build, whatever the names of their faces', () => {
    const ids = GRID.map((_, i) => `bore-${i}`);
    const pieces = [
      {
        id: 'plate',
        base: PLATE,
        steps: [{ kind: 'cut' as const, mode: 'subtract' as const, cutters: ids }],
      },
      ...GRID.map(({ at }, i) => ({
        id: ids[i],
        base: { primitive: 'cylinder' as const, radius: 4, height: 30, sides: 16 },
        transform: { move: at },
      })),
    ];
    const e = new Evaluator({ blob: never, file: never });
    e.setPieces(pieces);
    const cut = e.build('plate').mesh;
    const cache = new UnitCache();
    bevel(cut, rimEdges(cut), { width: 1, segments: 2 }, undefined, cache);
    expect(cache.last).toEqual({ known: 7, grown: 1 });
  });

  it('round what comes near as one, and hold it back as one', () => {
    for (const apart of [8.5, 9, 9.9, 10.05, 10.5, 12]) {
      const m = bored([{ at: [0, 0, 0] }, { at: [apart, 0, 0] }, { at: [-40, 0, 20] }]);
      const { mesh, report } = bevel(m, rimEdges(m), { width: 1, segments: 2 });
      expect(checkMesh(mesh).findings).toEqual([]);
      expect(deepestCrossing(mesh)).toBeLessThan(1e-9);
      const narrow = report.groups.filter((g) => g.reached < 0.999).length;
      expect([apart, narrow]).toEqual([apart, apart < 9.99 ? 4 : 0]);
    }
  });

  it('see a wall in space that they do not reach over the surface', () => {
    // A blind pocket whose floor is a hair above the underside, and a slit beside it from below.
    const host = buildPrimitive(PLATE);
    const box = (size: Vec3, move: Vec3, id: string) => ({
      mesh: transformMesh(
        buildPrimitive({ primitive: 'box', width: size[0], height: size[1], depth: size[2] }),
        transformMatrix({ move, turn: [0, 0, 0], size: [1, 1, 1] }),
      ),
      name: id,
      id,
    });
    const m = cut(
      { mesh: host, name: 'host' },
      [box([20, 10, 20], [0, 1, 0], 'pocket'), box([1, 6, 20], [11.4, -3, 0], 'slit')],
      'subtract',
    ).mesh;
    for (const width of [0.3, 1, 3]) {
      const { mesh } = bevel(m, rimEdges(m), { width, segments: 3 });
      expect(checkMesh(mesh).findings).toEqual([]);
      expect(deepestCrossing(mesh)).toBeLessThan(1e-9);
    }
  });

  it('keep the layers of large faces that several of them changed', () => {
    const m = bored(GRID);
    const { mesh } = bevel(m, sharpEdges(m, 30), { width: 1, segments: 2 });
    expect(checkMesh(mesh).findings).toEqual([]);
    expect(surfaceArea(mesh)).toBeLessThan(surfaceArea(m));
    const uv = mesh.layers.corner.uv.data;
    const before = m.layers.corner.uv.data;
    // On the top, UVs are linear in place before and after: the same map holds for every corner.
    const top = (x: PolyMesh): number[] =>
      [...x.corners.keys()].filter((c) => Math.abs(x.positions[3 * x.corners[c] + 1] - 5) < 1e-12);
    const [a, b] = [-60, 60].map((x) => top(m).find((c) => m.positions[3 * m.corners[c]] === x)!);
    const slope = (before[2 * b] - before[2 * a]) / 120;
    expect(slope).not.toBe(0);
    const flat = new Set<number>();
    mesh.layers.face.rank.data.forEach((r, f) => {
      if (r < 2) for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) flat.add(c);
    });
    for (const c of top(mesh).filter((k) => flat.has(k))) {
      const f = mesh.positions[3 * mesh.corners[c]];
      expect(uv[2 * c]).toBeCloseTo(before[2 * a] + slope * (f + 60), 6);
    }
  });
});
