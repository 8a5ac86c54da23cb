/** Bodies over outlines: exact volumes, corners that are true arcs, holes in holes, and refusals that say where. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkMesh } from '../src/mesh/checkMesh';
import { eulerCharacteristic, faceNormal, volume } from '../src/mesh/measure';
import { faceCount } from '../src/mesh/PolyMesh';
import { buildPrimitive, primitiveFault, type Primitive } from '../src/primitives';
import { isInside, roundedContour, straightSided, signedArea, turnedByNesting, withoutCrossings, type Contour } from '../src/planar/contours'; // prettier-ignore

type Outline = Extract<Primitive, { primitive: 'outline' }>;
const body = (contours: Contour[], more: Partial<Outline> = {}): Outline => ({
  primitive: 'outline',
  contours: contours.map((c) => c.map(([x, y]): [number, number] => [x, y])),
  height: 10,
  ...more,
});
const rectangle = (w: number, d: number, x = 0, y = 0): Contour => [
  [x - w / 2, y - d / 2], [x + w / 2, y - d / 2], [x + w / 2, y + d / 2], [x - w / 2, y + d / 2],
]; // prettier-ignore
const regular = (n: number, r: number, x = 0, y = 0): Contour =>
  Array.from({ length: n }, (_, k) => [x + r * Math.cos((2 * Math.PI * k) / n), y + r * Math.sin((2 * Math.PI * k) / n)] as const); // prettier-ignore

describe('a body over an outline', () => {
  it('has the volume of a plate with arcs at its corners, and of a slot where they meet', () => {
    const arc = (r: number, sides: number): number => 4 * (r * r - (sides * r * r * Math.sin(Math.PI / 2 / sides)) / 2);
    for (const [corner, sides] of [[0, 6], [4, 6], [4, 1], [10, 16]]) {
      const mesh = buildPrimitive(body([rectangle(60, 20)], { corner, cornerSides: sides }));
      expect(checkMesh(mesh).findings).toEqual([]);
      expect(volume(mesh)).toBeCloseTo((60 * 20 - arc(corner, sides)) * 10, 6);
    }
    // Wider than there is room for: as wide as there is.
    expect(volume(buildPrimitive(body([rectangle(60, 20)], { corner: 25 })))).toBeCloseTo(
      volume(buildPrimitive(body([rectangle(60, 20)], { corner: 10 }))),
      6,
    );
  }); // prettier-ignore

  it('has holes, and islands in them, whichever way the outlines are given', () => {
    const contours = [rectangle(60, 60), regular(24, 20), [...rectangle(10, 10)].reverse()];
    const mesh = buildPrimitive(body(contours));
    expect(checkMesh(mesh).findings).toEqual([]);
    const round = 24 * 0.5 * 400 * Math.sin((2 * Math.PI) / 24);
    expect(volume(mesh)).toBeCloseTo((3600 - round + 100) * 10, 6);
    // A ring and a block.
    expect(eulerCharacteristic(mesh)).toBe(2);
    const tops = Array.from({ length: faceCount(mesh) }, (_, f) => f).filter(
      (f) => faceNormal(mesh, f)[1] > 0.9,
    );
    expect(tops.length).toBe(3);
    expect(Array.from(mesh.layers.edge.bridge.data).filter((b) => b > 0).length).toBe(4);
  });

  it('is closed and as large as its outline for any star, turned either way, with any corners', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 5, max: 30, noNaN: true }), { minLength: 3, maxLength: 14 }),
        fc.boolean(),
        fc.constantFrom(0, 0.5, 3, 40),
        (radii, back, corner) => {
          const star = radii.map((r, k) => {
            const a = (2 * Math.PI * k) / radii.length;
            return [r * Math.cos(a), r * Math.sin(a)] as const;
          });
          const p = body([back ? [...star].reverse() : star], { corner });
          if (primitiveFault(p)) return;
          const mesh = buildPrimitive(p);
          expect(checkMesh(mesh).findings).toEqual([]);
          const area = Math.abs(signedArea(roundedContour(star, corner, 6).points)) / 2;
          expect(volume(mesh)).toBeCloseTo(area * 10, 5);
        },
      ),
      { numRuns: 200, seed: 4 },
    );
  });

  it('says what is wrong with an outline, and where', () => {
    const bow: Contour = [[0, 0], [10, 10], [10, 0], [0, 10]]; // prettier-ignore
    expect(withoutCrossings([bow])).toMatch(/^The outline crosses or touches itself near/);
    expect(withoutCrossings([rectangle(10, 10), rectangle(10, 10, 5)])).toMatch(/^Outlines 1 and 2 cross or touch near/); // prettier-ignore
    expect(withoutCrossings([rectangle(10, 10), [[20, 0], [30, 1e-9], [25, 0]]])).toBe('Outline 2 encloses no area.'); // prettier-ignore
    expect(withoutCrossings([[[0, 0], [5, 0], [5, 0], [0, 5]]])).toBe('The outline has two corners in one place, 2 and 3.'); // prettier-ignore
    expect(withoutCrossings([rectangle(10, 10), rectangle(4, 4), rectangle(4, 4, 30)])).toBeNull();
    expect(primitiveFault(body([[[0, 0], [5, 5], [9, 9]]]))).toBe('The outline encloses no area.'); // prettier-ignore
    expect(primitiveFault(body([regular(3000, 50), regular(2000, 20)]))).toBe(
      'The outlines have 5000 points; keep to 4000, or make curves coarser.',
    );
  });
});

describe('outlines', () => {
  it('are told apart by how often they lie in one another', () => {
    const turned = turnedByNesting(
      [regular(9, 2), rectangle(30, 30), regular(5, 12), rectangle(5, 5, 40)].map(straightSided),
    );
    expect(turned.map((c) => signedArea(c.points) > 0)).toEqual([true, true, false, true]);
    expect(isInside(rectangle(4, 4), [1, 1])).toBe(true);
    expect(isInside(rectangle(4, 4), [3, 1])).toBe(false);
  });
});
