/**
 * Finds where a mesh passes through itself: edges that pierce the inside of a face they do not touch.
 * Candidate pairs come from a tree of boxes over the triangles; the test itself is exact in sign
 * (Guigue & Devillers 2003 style orientation tests on Shewchuk's orient3d).
 */
import { orient3d } from 'robust-predicates';
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { triangulate } from '../planar/triangulate';
import { BoxTree } from '../spatial/BoxTree';
import { boxesOfTriangles } from '../spatial/triangle';

export interface Crossings {
  /** Edges that pass through a face. */
  edges: number[];
  /** Faces passed through. */
  faces: number[];
}

/** Time n log n in triangles, for boxes that overlap few others. */
export function selfCrossings(mesh: PolyMesh): Crossings {
  const crossing = new Set<number>();
  const faces = new Set<number>();
  eachCrossing(mesh, (edge, face) => {
    crossing.add(edge);
    faces.add(face);
  });
  return { edges: [...crossing], faces: [...faces] };
}

/**
 * Calls back for every edge that passes through a face, more than once where it meets several triangles of it.
 * @param isEdge only these edges are looked at
 */
export function eachCrossing(
  mesh: PolyMesh,
  call: (edge: number, face: number) => void,
  isEdge: (edge: number) => boolean = () => true,
): void {
  const { edges, edgeCount } = topologyOf(mesh);
  const { corners, face } = triangulate(mesh);
  const p = mesh.positions;
  const points = Uint32Array.from(corners, (c: number) => mesh.corners[c]);
  const tree = new BoxTree(boxesOfTriangles(p, points));
  for (let e = 0; e < edgeCount; e++) {
    if (!isEdge(e)) continue;
    const [a, b] = [edges[2 * e], edges[2 * e + 1]];
    const ends = [0, 1, 2].map((k) => [p[3 * a + k], p[3 * b + k]]);
    const lo = ends.map(([x, y]) => Math.min(x, y));
    const hi = ends.map(([x, y]) => Math.max(x, y));
    tree.eachIn(lo, hi, (i) => {
      const [u, v, w] = [points[3 * i], points[3 * i + 1], points[3 * i + 2]];
      if (u === a || u === b || v === a || v === b || w === a || w === b) return;
      if (pierces(p, a, b, u, v, w)) call(e, face[i]);
    });
  }
}

/** Does segment ab pass from one side of triangle uvw to the other through it or its rim? */
function pierces(p: Float64Array, a: number, b: number, u: number, v: number, w: number): boolean {
  const o = (i: number, j: number, k: number, l: number): number =>
    orient3d(
      p[3 * i], p[3 * i + 1], p[3 * i + 2], p[3 * j], p[3 * j + 1], p[3 * j + 2],
      p[3 * k], p[3 * k + 1], p[3 * k + 2], p[3 * l], p[3 * l + 1], p[3 * l + 2],
    ); // prettier-ignore
  const sa = o(u, v, w, a);
  const sb = o(u, v, w, b);
  if (!((sa > 0 && sb < 0) || (sa < 0 && sb > 0))) return false;
  const s1 = o(a, b, u, v);
  const s2 = o(a, b, v, w);
  const s3 = o(a, b, w, u);
  return (s1 >= 0 && s2 >= 0 && s3 >= 0) || (s1 <= 0 && s2 <= 0 && s3 <= 0);
}
