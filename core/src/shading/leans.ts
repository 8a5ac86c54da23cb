/** Whether a face beside one whose surface is known stands for the same surface. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, type Topology } from '../mesh/Topology';

/**
 * Over an edge to another facet of the same surface the surface's normal turns about half as far as the facets do; over
 * one to another surface it does not turn, or all the way.
 */
const LEANS = 0.75;
const SAME = Math.PI / 180;

/**
 * @param normals of faces, of length 1
 * @param c corner of the face that is known, whose outgoing edge both have
 */
export function leansOver(
  mesh: PolyMesh,
  t: Topology,
  surface: ArrayLike<number>,
  normals: ArrayLike<number>,
  c: number,
): boolean {
  const f = 3 * t.faceOfCorner[c];
  const g = 3 * t.faceOfCorner[t.twin[c]];
  const angle = (a: ArrayLike<number>, i: number): number =>
    Math.acos(Math.min(1, a[i] * normals[g] + a[i + 1] * normals[g + 1] + a[i + 2] * normals[g + 2]));
  const facets = angle(normals, f);
  return [c, nextCorner(mesh, t, c)].every((k) => {
    const turn = angle(surface, 3 * k);
    return turn > SAME && turn < LEANS * facets;
  });
}
