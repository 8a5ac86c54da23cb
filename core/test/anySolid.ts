/** Random closed solids in any pose, for laws that must hold for all of them. */
import fc from 'fast-check';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { buildPrimitive, type Primitive } from '../src/primitives';

export const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
export const triple = (min: number, max: number) =>
  fc.tuple(number(min, max), number(min, max), number(min, max));

/** Solids with plane faces, so that areas and volumes do not depend on how faces fall into triangles. */
const flatSolid: fc.Arbitrary<Primitive> = fc.oneof(
  fc.record({
    primitive: fc.constant('box' as const),
    width: number(4, 30),
    height: number(4, 30),
    depth: number(4, 30),
    segments: fc.tuple(
      fc.integer({ min: 1, max: 3 }),
      fc.integer({ min: 1, max: 3 }),
      fc.integer({ min: 1, max: 3 }),
    ),
  }),
  fc.record({
    primitive: fc.constant('cylinder' as const),
    radius: number(3, 15),
    height: number(4, 30),
    sides: fc.integer({ min: 3, max: 12 }),
    rings: fc.integer({ min: 1, max: 3 }),
  }),
  fc.record({
    primitive: fc.constant('cone' as const),
    bottomRadius: number(4, 15),
    topRadius: number(2, 12),
    height: number(4, 30),
    sides: fc.integer({ min: 3, max: 12 }),
  }),
  fc.record({
    primitive: fc.constant('tube' as const),
    outerRadius: number(10, 20),
    innerRadius: number(3, 8),
    height: number(4, 20),
    sides: fc.integer({ min: 4, max: 12 }),
  }),
);
export const pose = fc.record({ move: triple(-20, 20), turn: triple(-180, 180), size: triple(0.5, 2) });
/** A solid in any pose, turned, moved and stretched. */
export const solid = fc
  .tuple(flatSolid, pose)
  .map(([p, t]) => transformMesh(buildPrimitive(p), transformMatrix(t)));
