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
 * @param call gets the triangle of `triangulate` too
 * @param changed 1 per face that may cross others: pairs without one are not looked at; all are when it is left out
 */
export function eachCrossing(
  mesh: PolyMesh,
  call: (edge: number, face: number, triangle: number) => void,
  changed?: Uint8Array,
): void {
  const { edges, edgeCount, cornerOfEdge, faceOfCorner, twin } = topologyOf(mesh);
  const { corners, face } = triangulate(mesh);
  const p = mesh.positions;
  const points = new Uint32Array(corners.length);
  for (let i = 0; i < points.length; i++) points[i] = mesh.corners[corners[i]];
  const tree = new BoxTree(boxesOfTriangles(p, points));
  const planes = planesOf(p, points);
  const lo = [0, 0, 0];
  const hi = [0, 0, 0];
  let [e, a, b, f, g, moved] = [0, 0, 0, 0, 0, true];
  const look = (i: number): void => {
    // A face and one of its own edges lie in one plane, so they cannot cross.
    if (changed && !changed[face[i]] && (!moved || face[i] === f || face[i] === g)) return;
    const [u, v, w] = [points[3 * i], points[3 * i + 1], points[3 * i + 2]];
    if (u === a || u === b || v === a || v === b || w === a || w === b) return;
    const [side, beyond] = [sideOf(planes, i, p, a), sideOf(planes, i, p, b)];
    if (side !== 0 && side === beyond) return;
    if (!pierces(p, a, b, u, v, w)) return;
    // An end that is a point of the face and lies in its plane, as far as numbers tell, meets the face there only.
    if ((side === 0 && isOf(face[i], a)) || (beyond === 0 && isOf(face[i], b))) return;
    call(e, face[i], i);
  };
  const isOf = (x: number, v: number): boolean =>
    mesh.corners.subarray(mesh.faceStart[x], mesh.faceStart[x + 1]).includes(v);
  for (e = 0; e < edgeCount; e++) {
    a = edges[2 * e];
    b = edges[2 * e + 1];
    const c = cornerOfEdge[e];
    f = faceOfCorner[c];
    g = twin[c] < 0 ? f : faceOfCorner[twin[c]];
    if (changed) moved = changed[f] + changed[g] > 0;
    for (let k = 0; k < 3; k++) {
      const [x, y] = [p[3 * a + k], p[3 * b + k]];
      lo[k] = x < y ? x : y;
      hi[k] = x < y ? y : x;
    }
    tree.eachIn(lo, hi, look);
  }
}

/** Per triangle: its normal, not of unit length, the plane's offset, and how far rounding may be off. */
function planesOf(p: Float64Array, points: Uint32Array): Float64Array {
  let size = 0;
  for (const x of p) size = Math.max(size, Math.abs(x));
  const out = new Float64Array((5 * points.length) / 3);
  for (let t = 0; 3 * t < points.length; t++) {
    const [a, b, c] = [3 * points[3 * t], 3 * points[3 * t + 1], 3 * points[3 * t + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const sides = (Math.abs(ux) + Math.abs(uy) + Math.abs(uz)) * (Math.abs(vx) + Math.abs(vy) + Math.abs(vz));
    out[5 * t] = nx;
    out[5 * t + 1] = ny;
    out[5 * t + 2] = nz;
    out[5 * t + 3] = nx * p[a] + ny * p[a + 1] + nz * p[a + 2];
    out[5 * t + 4] = 1e-14 * sides * size;
  }
  return out;
}

/** The side of a triangle's plane a point lies on for certain: 1, −1, or 0 where rounding leaves it open. */
function sideOf(planes: Float64Array, t: number, p: Float64Array, v: number): number {
  const i = 5 * t;
  const x =
    planes[i] * p[3 * v] + planes[i + 1] * p[3 * v + 1] + planes[i + 2] * p[3 * v + 2] - planes[i + 3];
  return x > planes[i + 4] ? 1 : x < -planes[i + 4] ? -1 : 0;
}

/** Does segment ab pass from one side of triangle uvw to the other through it or its rim? */
function pierces(p: Float64Array, a: number, b: number, u: number, v: number, w: number): boolean {
  const sa = orientation(p, u, v, w, a);
  const sb = orientation(p, u, v, w, b);
  if (!((sa > 0 && sb < 0) || (sa < 0 && sb > 0))) return false;
  const s1 = orientation(p, a, b, u, v);
  const s2 = orientation(p, a, b, v, w);
  const s3 = orientation(p, a, b, w, u);
  return (s1 >= 0 && s2 >= 0 && s3 >= 0) || (s1 <= 0 && s2 <= 0 && s3 <= 0);
}

function orientation(p: Float64Array, i: number, j: number, k: number, l: number): number {
  return orient3d(
    p[3 * i], p[3 * i + 1], p[3 * i + 2], p[3 * j], p[3 * j + 1], p[3 * j + 2],
    p[3 * k], p[3 * k + 1], p[3 * k + 2], p[3 * l], p[3 * l + 1], p[3 * l + 2],
  ); // prettier-ignore
}
