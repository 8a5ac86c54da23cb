/** Numbers of actions that are pulled on the model, and the places on a mesh they are pulled from. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { areaVectors, faceNormal } from '../mesh/measure';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { add, cross, distance, lerp, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';

/** A number of an action on the model, in the frame of the piece. It can be sent from thread to thread. */
export interface Pull {
  /** Key of the number in the schema of its operation, which says its range and unit. */
  key: string;
  /** The place where the number is zero, and the unit direction it grows in, mm. */
  zero: Vec3;
  along: Vec3;
  /** The gain of the number per millimetre pulled; 0 for counts, which stay in their place. */
  rate: number;
}

/** A count, shown at a place. */
export const counter = (key: string, zero: Vec3): Pull => ({ key, zero, along: [0, 1, 0], rate: 0 });

/** Middle of some faces by their area, and their mean normal; null where that comes to nothing. */
export function standing(
  mesh: PolyMesh,
  faces: ReadonlyArray<number>,
): { middle: Vec3; normal: Vec3 | null } {
  const areas = areaVectors(mesh);
  let sum: Vec3 = [0, 0, 0];
  let middle: Vec3 = [0, 0, 0];
  let all = 0;
  for (const f of faces) {
    const a = pointOf(areas, f);
    const size = Math.hypot(...a);
    sum = add(sum, a);
    middle = add(middle, scale(centroid(mesh, f), size));
    all += size;
  }
  return {
    middle: scale(middle, 1 / (all || 1)),
    normal: Math.hypot(...sum) > 1e-4 * all ? unit(sum) : null,
  };
}

/** Centroid of a face by area, of the triangles from its first point. */
export function centroid(mesh: PolyMesh, f: number): Vec3 {
  const n = faceNormal(mesh, f);
  const [from, to] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
  const at = (c: number): Vec3 => pointOf(mesh.positions, mesh.corners[c]);
  const o = at(from);
  let sum: Vec3 = [0, 0, 0];
  let all = 0;
  for (let c = from + 1; c + 1 < to; c++) {
    const [a, b] = [sub(at(c), o), sub(at(c + 1), o)];
    const k = cross(a, b);
    const area = k[0] * n[0] + k[1] * n[1] + k[2] * n[2];
    sum = add(sum, scale(add(a, b), area / 3));
    all += area;
  }
  return all ? add(o, scale(sum, 1 / all)) : o;
}

/** Ends of a half-edge, its middle, and the unit direction from it into its face, square to it. */
export function sideOf(
  mesh: PolyMesh,
  c: number,
): { ends: [Vec3, Vec3]; middle: Vec3; inward: Vec3; length: number } {
  const t = topologyOf(mesh);
  const [a, b] = [c, nextCorner(mesh, t, c)].map((k) => pointOf(mesh.positions, mesh.corners[k]));
  return {
    ends: [a, b],
    middle: lerp(a, b, 0.5),
    inward: unit(cross(faceNormal(mesh, t.faceOfCorner[c]), sub(b, a))),
    length: distance(a, b),
  };
}
