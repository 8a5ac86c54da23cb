/** Strips run over rows of a mesh as if they were not there, and end in curves that lie on whatever they run into. */
import { beforeAll, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { checkMesh } from '../src/mesh/checkMesh';
import { volume } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { pointOf, type Vec3 } from '../src/mesh/vec3';
import { bevel, type BevelResult } from '../src/ops/bevel/bevel';
import { stoppedOf } from '../src/ops/bevel/groups';
import { buildPrimitive } from '../src/primitives';
import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { deepestCrossing } from './crossings';
import { runs } from './effort';

beforeAll(() => loadKernel());

type Size = [number, number, number];
const box = ([width, height, depth]: Size, segments: Size): PolyMesh =>
  buildPrimitive({ primitive: 'box', width, height, depth, segments });

/** Edges with both ends at places that pass. */
function edgesWhere(m: PolyMesh, passes: (p: Vec3) => boolean): number[] {
  const t = topologyOf(m);
  return Array.from(t.edgeCount ? Array(t.edgeCount).keys() : []).filter((e) =>
    [0, 1].every((k) => passes(pointOf(m.positions, t.edges[2 * e + k]))),
  );
}

/** Edges of the mesh along some of the 12 edges of a box: four along each axis. */
const along = (m: PolyMesh, size: Size, lines: number[]): number[] =>
  lines.flatMap((l) => {
    const axis = Math.floor(l / 4);
    const [j, k] = [0, 1, 2].filter((x) => x !== axis);
    const on = (p: Vec3, x: number, positive: number): boolean =>
      Math.abs(p[x] - (positive ? size[x] : -size[x]) / 2) < 1e-9;
    return edgesWhere(m, (p) => on(p, j, l & 1) && on(p, k, l & 2));
  });

function expectFull({ mesh, report }: BevelResult, width: number): void {
  expect(checkMesh(mesh).findings).toEqual([]);
  expect(deepestCrossing(mesh)).toBeLessThan(1e-9);
  expect(report.groups.length).toBeGreaterThan(0);
  expect(stoppedOf(report.groups, width)).toEqual([]);
}

describe('rows within flat faces', () => {
  const size = fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: 20, max: 80 }))) as fc.Arbitrary<Size>;
  const segments = fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: 1, max: 5 }))) as fc.Arbitrary<Size>;
  const lines = fc.uniqueArray(fc.integer({ min: 0, max: 11 }), { minLength: 1, maxLength: 8 });
  // Fifths and quarters put rails on rows, to the bit or nearly so.
  const share = fc.constantFrom(0.1, 0.2, 0.25, 0.3, 1 / 3, 0.4);
  const profile = fc.constantFrom(0, 0.5, 1, -0.5);

  it('change neither the width nor the shape of any set of rounded edges', () => {
    fc.assert(
      fc.property(
        size,
        segments,
        lines,
        share,
        profile,
        fc.integer({ min: 1, max: 5 }),
        (whole, rows, which, part, shape, n) => {
          const width = Math.min(...whole) * part;
          const rounded = (m: PolyMesh): BevelResult =>
            bevel(m, along(m, whole, which), { width, segments: n, profile: shape });
          const [r, plain] = [rounded(box(whole, rows)), rounded(box(whole, [1, 1, 1]))];
          expectFull(r, width);
          expect(volume(r.mesh) / volume(plain.mesh)).toBeCloseTo(1, 7);
        },
      ),
      { numRuns: runs(25, 1000) },
    );
  });

  it.each([7, 7.5, 8, 12, 15, 20, 22.5, 28])('are passed over by a strip of %d mm, at one width', (width) => {
    const whole: Size = [160, 30, 60];
    const m = box(whole, [4, 4, 4]);
    const r = bevel(m, along(m, whole, [3]), { width, segments: 5 });
    expectFull(r, width);
    // Rails lie in two lines: nothing of the strip is nearer to the edge, and its ends are on the two end faces.
    const outside = edgesWhere(r.mesh, (p) => p[1] > 15 - width + 1e-9 && p[2] > 30 - width + 1e-9);
    expect(outside.length).toBeGreaterThan(0);
    const railPoints = edgesWhere(
      r.mesh,
      (p) => Math.abs(p[1] - (15 - width)) < 1e-9 && Math.abs(p[2] - 30) < 1e-9,
    );
    expect(railPoints.length).toBeGreaterThanOrEqual(4);
  });
});

describe('a strip that ends on a curved wall', () => {
  const slotted = (sides: number, off: number): PolyMesh => {
    const cutter = transformMesh(
      box([80, 20, 12], [1, 1, 1]),
      transformMatrix({ move: [0, 20, off], turn: [0, 0, 0], size: [1, 1, 1] }),
    );
    const host = buildPrimitive({ primitive: 'cylinder', radius: 25, height: 40, sides });
    return cut({ mesh: host, name: 'host' }, [{ mesh: cutter, name: 'slot', id: 'c' }], 'subtract').mesh;
  };
  const lips = (m: PolyMesh, off: number): number[] =>
    edgesWhere(m, (p) => Math.abs(p[1] - 20) < 1e-9 && Math.abs(Math.abs(p[2] - off) - 6) < 1e-9);

  it.each([
    [12, 0, 6],
    [24, 6, 4],
    [48, 0, 6],
    [96, 6, 6],
  ])('of %i sides, %d mm off its middle, keeps its %d mm and ends on the wall', (sides, off, width) => {
    const m = slotted(sides, off);
    for (const profile of [1, 0, -1]) {
      const r = bevel(m, lips(m, off), { width, segments: 4, profile });
      expectFull(r, width);
      // Points stay on the prism of the cylinder.
      const apothem = 25 * Math.cos(Math.PI / sides);
      for (let v = 0; v < r.mesh.positions.length / 3; v++) {
        const [x, , z] = pointOf(r.mesh.positions, v);
        const turn = (2 * Math.PI) / sides;
        const angle = Math.atan2(z, x);
        const within = [0, 0.5].map((start) => {
          const k = Math.floor(angle / turn - start) + start + 0.5;
          return x * Math.cos(k * turn) + z * Math.sin(k * turn);
        });
        expect(Math.min(...within)).toBeLessThan(apothem + 1e-9);
      }
    }
  });

  it('takes away what a strip of its section would, cut off by the wall', () => {
    const m = slotted(48, 0);
    const r = bevel(m, lips(m, 0), { width: 4, segments: 1 });
    // A chamfer's section is a triangle: its part within the wall, by slices across.
    const sides = 48;
    const wallAt = (z: number): number => {
      const turn = (2 * Math.PI) / sides;
      let x = Infinity;
      for (let k = 0; k < sides; k++) {
        const a = (k + 0.5) * turn;
        if (Math.cos(a) > 1e-9) x = Math.min(x, (25 * Math.cos(turn / 2) - z * Math.sin(a)) / Math.cos(a));
      }
      return x;
    };
    let expected = 0;
    const slices = 4000;
    for (let i = 0; i < slices; i++) {
      const z = 6 + (4 * (i + 0.5)) / slices;
      expected += 2 * 2 * wallAt(z) * (10 - z) * (4 / slices);
    }
    expect((volume(m) - volume(r.mesh)) / expected).toBeCloseTo(1, 4);
  });
});
