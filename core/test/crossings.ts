/** An independent look for edges that pass through faces: every edge against every triangle in the same slices, with how deep it goes. */
import { boundsOf } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { cross, dot, length, pointOf, sub, type Vec3 } from '../src/mesh/vec3';
import { triangulate } from '../src/planar/triangulate';

/** Slices of the longest axis that triangles are sorted into. */
const SLICES = 128;

/** The greatest depth, in units of the mesh, to which an edge goes through the inside of a triangle; 0 for none. */
export function deepestCrossing(mesh: PolyMesh): number {
  const t = topologyOf(mesh);
  const tri = triangulate(mesh);
  const corners = Array.from({ length: tri.face.length }, (_, i) =>
    [0, 1, 2].map((k) => pointOf(mesh.positions, mesh.corners[tri.corners[3 * i + k]])),
  );
  const { min, max } = boundsOf(mesh);
  const axis = [0, 1, 2].reduce((x, k) => (max[k] - min[k] > max[x] - min[x] ? k : x));
  const sliceOf = (x: number): number =>
    Math.floor(((x - min[axis]) / (max[axis] - min[axis] || 1)) * (SLICES - 1));
  const slices = Array.from({ length: SLICES }, (): number[] => []);
  corners.forEach((p, i) => {
    const along = p.map((x) => sliceOf(x[axis]));
    for (let s = Math.min(...along); s <= Math.max(...along); s++) slices[s].push(i);
  });
  let deepest = 0;
  for (let e = 0; e < t.edgeCount; e++) {
    const [a, b] = [pointOf(mesh.positions, t.edges[2 * e]), pointOf(mesh.positions, t.edges[2 * e + 1])];
    const [lo, hi] = [0, 1].map((s) =>
      [0, 1, 2].map((k) => (s ? Math.max(a[k], b[k]) : Math.min(a[k], b[k]))),
    );
    for (let s = sliceOf(lo[axis]); s <= sliceOf(hi[axis]); s++)
      for (const i of slices[s]) {
        const p = corners[i];
        if ([0, 1, 2].some((k) => p.every((x) => x[k] <= lo[k]) || p.every((x) => x[k] >= hi[k]))) continue;
        deepest = Math.max(deepest, depthThrough(a, b, p as [Vec3, Vec3, Vec3]));
      }
  }
  return deepest;
}

function depthThrough(a: Vec3, b: Vec3, [p, q, r]: [Vec3, Vec3, Vec3]): number {
  const n = cross(sub(q, p), sub(r, p));
  const l = length(n);
  if (!(l > 0)) return 0;
  const [ha, hb] = [dot(n, sub(a, p)) / l, dot(n, sub(b, p)) / l];
  if (ha * hb >= 0) return 0;
  const x = a.map((v, k) => v + ((b[k] - v) * ha) / (ha - hb)) as Vec3;
  const inside = [
    [p, q],
    [q, r],
    [r, p],
  ].map(([u, v]) => dot(n, cross(sub(v, u), sub(x, u))) / (l * length(sub(v, u))));
  return Math.max(0, Math.min(Math.abs(ha), Math.abs(hb), ...inside));
}
