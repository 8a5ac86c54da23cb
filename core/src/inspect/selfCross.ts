/**
 * Finds where a mesh passes through itself: edges that pierce the inside of a face they do not touch.
 * Candidate pairs come from a uniform grid over the triangles; the test itself is exact in sign
 * (Guigue & Devillers 2003 style orientation tests on Shewchuk's orient3d).
 */
import { orient3d } from 'robust-predicates';
import type { PolyMesh } from '../mesh/PolyMesh';
import { boundsOf } from '../mesh/measure';
import { topologyOf } from '../mesh/Topology';
import { triangulate } from '../planar/triangulate';

export interface Crossings {
  /** Edges that pass through a face. */
  edges: number[];
  /** Faces passed through. */
  faces: number[];
}

/** Expected time linear in triangles for evenly sized faces. */
export function selfCrossings(mesh: PolyMesh): Crossings {
  const t = topologyOf(mesh);
  const tri = triangulate(mesh);
  const T = tri.face.length;
  const p = mesh.positions;
  const { min, max } = boundsOf(mesh);
  const extent = max.map((m, k) => Math.max(m - min[k], 1e-9));
  const side = Math.max(extent[0], extent[1], extent[2]) / Math.max(1, Math.min(96, Math.cbrt(T) * 1.5));
  const dims = extent.map((e) => Math.max(1, Math.ceil(e / side)));
  const range = (points: number[], k: number): [number, number] => {
    let lo = Infinity;
    let hi = -Infinity;
    for (const v of points) {
      lo = Math.min(lo, p[3 * v + k]);
      hi = Math.max(hi, p[3 * v + k]);
    }
    const cell = (x: number): number => Math.min(dims[k] - 1, Math.max(0, Math.floor((x - min[k]) / side)));
    return [cell(lo), cell(hi)];
  };
  const cells: Array<number[] | undefined> = new Array(dims[0] * dims[1] * dims[2]);
  const visit = (points: number[], each: (cell: number) => void): void => {
    const [x0, x1] = range(points, 0);
    const [y0, y1] = range(points, 1);
    const [z0, z1] = range(points, 2);
    for (let x = x0; x <= x1; x++)
      for (let y = y0; y <= y1; y++) for (let z = z0; z <= z1; z++) each((x * dims[1] + y) * dims[2] + z);
  };
  const vertices = (i: number): number[] => [
    mesh.corners[tri.corners[3 * i]],
    mesh.corners[tri.corners[3 * i + 1]],
    mesh.corners[tri.corners[3 * i + 2]],
  ];
  for (let i = 0; i < T; i++) visit(vertices(i), (c) => (cells[c] ??= []).push(i));
  const edges = new Set<number>();
  const faces = new Set<number>();
  const stamp = new Int32Array(T).fill(-1);
  for (let e = 0; e < t.edgeCount; e++) {
    const a = t.edges[2 * e];
    const b = t.edges[2 * e + 1];
    visit([a, b], (cell) => {
      for (const i of cells[cell] ?? []) {
        if (stamp[i] === e) continue;
        stamp[i] = e;
        const [u, v, w] = vertices(i);
        if (u === a || u === b || v === a || v === b || w === a || w === b) continue;
        if (pierces(p, a, b, u, v, w)) {
          edges.add(e);
          faces.add(tri.face[i]);
        }
      }
    });
  }
  return { edges: [...edges], faces: [...faces] };
}

/** Does segment ab pass from one side of triangle uvw to the other through it or its rim? */
function pierces(p: Float64Array, a: number, b: number, u: number, v: number, w: number): boolean {
  for (let k = 0; k < 3; k++) {
    const lo = Math.min(p[3 * u + k], p[3 * v + k], p[3 * w + k]);
    const hi = Math.max(p[3 * u + k], p[3 * v + k], p[3 * w + k]);
    if (Math.max(p[3 * a + k], p[3 * b + k]) < lo || Math.min(p[3 * a + k], p[3 * b + k]) > hi) return false;
  }
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
