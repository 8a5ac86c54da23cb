/** How often a closed surface goes round a point (van Oosterom & Strackee 1983). */
import type { PolyMesh } from '../mesh/PolyMesh';
import { pointOf, sub, type Vec3 } from '../mesh/vec3';
import { triangulate } from '../planar/triangulate';

/** 1 inside a solid, 0 outside, −1 inside one turned over; in between only on the surface. Time linear in triangles. */
export function windingNumber(mesh: PolyMesh, at: Vec3): number {
  const { corners } = triangulate(mesh);
  let sum = 0;
  for (let i = 0; i < corners.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => sub(pointOf(mesh.positions, mesh.corners[corners[i + k]]), at));
    const [la, lb, lc] = [a, b, c].map(([x, y, z]) => Math.sqrt(x * x + y * y + z * z));
    const det =
      a[0] * (b[1] * c[2] - b[2] * c[1]) -
      a[1] * (b[0] * c[2] - b[2] * c[0]) +
      a[2] * (b[0] * c[1] - b[1] * c[0]);
    const d = (u: Vec3, v: Vec3): number => u[0] * v[0] + u[1] * v[1] + u[2] * v[2];
    sum += Math.atan2(det, la * lb * lc + d(a, b) * lc + d(b, c) * la + d(c, a) * lb);
  }
  return sum / (2 * Math.PI);
}
