/** Anchored cutters turn with the face that they have their place on. */
import { areaVectors } from '../mesh/measure';
import type { PolyMesh } from '../mesh/PolyMesh';
import { transformMatrix, transformOf, type Matrix, type Transform } from '../mesh/transform';
import { add, addScaled, cross, dot, length, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { frameFrom } from '../planar/frame';
import type { Anchor, AnchorTarget } from '../select/anchor';
import { findBorn } from '../select/born';
import { completeTransform } from './placement';
import type { Piece } from './schema';

/** Directions of unit length, square to each other; the last one is what an anchor faces. */
export type Axes = [u: Vec3, v: Vec3, normal: Vec3];

export function axesOf(facing: Vec3): Axes {
  const { u, v, normal } = frameFrom([0, 0, 0], facing);
  return [u, v, normal];
}

/** Normals nearer to each other than this, as the sine of the angle between, have not turned. */
const SAME_FACING = 1e-9;

export interface TurnedWithFace {
  transform: Transform;
  /** An anchor as it faces now, and the axes its place is measured along, turned with it. */
  turned(a: Anchor): { anchor: Anchor; axes: Axes };
}

/**
 * The placement of a piece turned with the face that it has its place on, about the middle that had, by the least turn
 * that brings the old normal to the new one (Möller & Hughes 1999). Anchors along that normal turn too; they do not
 * where the face is gone or looks the other way.
 */
export function turnedWithFace(host: PolyMesh, { transform, anchors }: Piece): TurnedWithFace {
  const t = completeTransform(transform);
  const on = anchors?.find((a) => a.hold === 'centre' && a.to[0].of === 'faces');
  const normal = on ? normalNow(host, on.to[0]) : null;
  const still: TurnedWithFace = { transform: t, turned: (a) => ({ anchor: a, axes: axesOf(a.facing) }) };
  if (!on || !normal || length(cross(on.facing, normal)) < SAME_FACING) return still;
  // Turned right over, it is not known about which axis.
  if (dot(on.facing, normal) < -1 + SAME_FACING) return still;
  const turn = leastTurn(on.facing, normal);
  const about = on.to[0].at;
  const m = transformMatrix({ ...t, size: [1, 1, 1] });
  const columns = [0, 1, 2].flatMap((k) => [...turn([m[4 * k], m[4 * k + 1], m[4 * k + 2]]), 0]);
  const matrix: Matrix = [...columns, ...add(about, turn(sub(t.move, about))), 1];
  const { move, turn: angles } = transformOf(matrix);
  return {
    transform: { ...t, move, turn: angles },
    turned(a) {
      const axes = axesOf(a.facing);
      if (Math.abs(dot(a.facing, on.facing)) < 1 - SAME_FACING) return { anchor: a, axes };
      return { anchor: { ...a, facing: unit(turn(a.facing)) }, axes: axes.map(turn) as Axes };
    },
  };
}

/** The mean normal of the faces an anchor holds to, by area; null where they are gone. */
function normalNow(mesh: PolyMesh, { of, picks }: AnchorTarget): Vec3 | null {
  const { indices } = findBorn(mesh, { of, picks }).selection;
  if (!indices.length) return null;
  const areas = areaVectors(mesh);
  const sum = indices.reduce((s: Vec3, f) => add(s, pointOf(areas, f)), [0, 0, 0]);
  return length(sum) > 0 ? unit(sum) : null;
}

/** @param from @param to of unit length, not opposite */
function leastTurn(from: Vec3, to: Vec3): (v: Vec3) => Vec3 {
  const axis = cross(from, to);
  const c = dot(from, to);
  // v cos a + (axis × v) sin a + axis (axis · v) (1 − cos a), with an axis of length sin a.
  return (v) => addScaled(add(scale(v, c), cross(axis, v)), axis, dot(axis, v) / (1 + c));
}
