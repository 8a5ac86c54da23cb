/** Outlines that cross, overlap, touch, or lie on each other fill the region their rule says. */
import '../src/planar/withClipper';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkMesh } from '../src/mesh/checkMesh';
import { volume } from '../src/mesh/measure';
import { vertexCount } from '../src/mesh/PolyMesh';
import { pointOf } from '../src/mesh/vec3';
import type { Contour } from '../src/planar/contours';
import { isClosed } from '../src/mesh/Topology';
import { buildPrimitive, primitiveFault, type Primitive } from '../src/primitives';

type Fill = 'evenodd' | 'nonzero';
const body = (contours: Contour[], fill?: Fill, corner = 0): Primitive => ({
  primitive: 'outline',
  contours: contours.map((c) => c.map(([x, y]): [number, number] => [x, y])),
  height: 10,
  corner,
  ...(fill && { fill }),
});
const square = (x: number, y: number, size: number): Contour => [[x, y], [x + size, y], [x + size, y + size], [x, y + size]]; // prettier-ignore

/** How often a point is gone round, by the angles all sides are seen under. */
function windings(contours: ReadonlyArray<Contour>, x: number, y: number): number {
  let sum = 0;
  for (const c of contours)
    for (let i = 0; i < c.length; i++) {
      const [a, b] = [c[i], c[(i + 1) % c.length]];
      const [ux, uy, vx, vy] = [a[0] - x, a[1] - y, b[0] - x, b[1] - y];
      sum += Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy);
    }
  return Math.round(sum / (2 * Math.PI));
}

/**
 * The filled area between coordinates that are all whole numbers or halves of squares, exactly: each cell of a grid of
 * triangles is inside or outside as a whole.
 */
function area(contours: ReadonlyArray<Contour>, fill: Fill, size: number): number {
  let sum = 0;
  for (let x = 0; x < size; x++)
    for (let y = 0; y < size; y++)
      for (const [dx, dy] of [[0.5, 0.2], [0.8, 0.5], [0.5, 0.8], [0.2, 0.5]]) {
        const n = windings(contours, x + dx, y + dy);
        if (fill === 'evenodd' ? n % 2 !== 0 : n !== 0) sum += 0.25;
      } // prettier-ignore
  return sum;
}

function expectFilled(contours: Contour[], fill: Fill, filled: number): void {
  expect(primitiveFault(body(contours, fill))).toBeNull();
  const mesh = buildPrimitive(body(contours, fill));
  expect(checkMesh(mesh).findings).toEqual([]);
  expect(isClosed(mesh)).toBe(true);
  expect(volume(mesh)).toBeCloseTo(10 * filled, 6);
}

describe('outlines that meet', () => {
  it('fill what their rule says: squares anywhere on a grid, over, beside, on and in each other', () => {
    const one = fc
      .tuple(fc.integer({ min: 0, max: 8 }), fc.integer({ min: 0, max: 8 }), fc.integer({ min: 1, max: 6 }), fc.boolean())
      .map(([x, y, size, back]) => (back ? [...square(x, y, size)].reverse() : square(x, y, size))); // prettier-ignore
    fc.assert(
      fc.property(
        fc.array(one, { minLength: 1, maxLength: 6 }),
        fc.constantFrom<Fill>('evenodd', 'nonzero'),
        (contours, fill) => {
          const filled = area(contours, fill, 16);
          if (filled > 0) expectFilled(contours, fill, filled);
          else expect(() => buildPrimitive(body(contours, fill))).toThrow('fill no area');
        },
      ),
      { numRuns: 150 },
    );
  });

  it('fill what their rule says where one crosses itself, with its corners where they were', () => {
    const bow: Contour = [[0, 0], [10, 10], [10, 0], [0, 10]]; // prettier-ignore
    for (const fill of ['evenodd', 'nonzero'] as const) expectFilled([bow], fill, 50);
    const star: Contour = [0, 2, 4, 1, 3].map((k) => [30 * Math.sin((2 * Math.PI * k) / 5), 30 * Math.cos((2 * Math.PI * k) / 5)]); // prettier-ignore
    const [whole, pierced] = (['nonzero', 'evenodd'] as const).map((f) => buildPrimitive(body([star], f)));
    const pentagon = 2.5 * (30 * (Math.sin(Math.PI / 10) / Math.sin((7 * Math.PI) / 10))) ** 2 * Math.sin((2 * Math.PI) / 5); // prettier-ignore
    expect(volume(whole) - volume(pierced)).toBeCloseTo(10 * pentagon, 6);
    for (const [x, y] of star) {
      const at = Array.from({ length: vertexCount(whole) }, (_, v) => pointOf(whole.positions, v));
      expect(at.some((p) => p[0] === x && p[2] === -y)).toBe(true);
    }
  });

  it('are one where two are drawn the same way in each other, and a hole where they are not', () => {
    const nested = [square(0, 0, 10), square(2, 2, 4)];
    expectFilled(nested, 'nonzero', 100);
    expectFilled(nested, 'evenodd', 84);
    expectFilled([nested[0], [...nested[1]].reverse()], 'nonzero', 84);
  });

  it('keep the normals of the arcs they are made of', () => {
    const mesh = buildPrimitive(body([square(0, 0, 10), square(6, 6, 10)], 'nonzero', 3));
    const surface = mesh.layers.corner.surface.data;
    const middles = [[3, 3], [7, 3], [3, 7], [13, 9], [13, 13], [9, 13]]; // prettier-ignore
    let known = 0;
    mesh.corners.forEach((v, c) => {
      if (surface[3 * c] === 0 && surface[3 * c + 2] === 0) return;
      known++;
      const [x, , z] = pointOf(mesh.positions, v);
      // A point of an arc looks away from its middle.
      const off = middles.map(([mx, my]) => Math.hypot(x - (mx + 3 * surface[3 * c]), -z - (my - 3 * surface[3 * c + 2]))); // prettier-ignore
      expect(Math.min(...off)).toBeLessThan(1e-6);
    });
    expect(known).toBeGreaterThan(100);
  });

  it('letters that run into each other are one body', () => {
    const text = buildPrimitive({ primitive: 'text', text: 'OOO', spacing: -3 });
    const apart = buildPrimitive({ primitive: 'text', text: 'OOO' });
    expect(checkMesh(text).findings).toEqual([]);
    expect(volume(text)).toBeLessThan(volume(apart) - 1);
  });
});
