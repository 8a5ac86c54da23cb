/** The triangles of a mesh laid out for one question: is anything met on the way from a place in a direction? */
import type { PolyMesh } from '../mesh/PolyMesh';
import { triangulate } from '../planar/triangulate';
import { BoxTree } from './BoxTree';
import { boxesOfTriangles } from './triangle';

export class ShadowTree {
  private readonly bounds: Float64Array;
  private readonly first: Uint32Array;
  private readonly size: Int32Array;
  private readonly after: Uint32Array;
  /** Per triangle, in the order of the leaves: a point and the two sides from it, 9 numbers. */
  private readonly sides: Float64Array;

  /** Time n log n in triangles. */
  constructor(mesh: PolyMesh) {
    const points = Uint32Array.from(triangulate(mesh).corners, (c: number) => mesh.corners[c]);
    const tree = new BoxTree(boxesOfTriangles(mesh.positions, points));
    this.bounds = tree.bounds;
    this.first = tree.first;
    this.size = tree.size;
    this.after = tree.after;
    this.sides = new Float64Array(9 * tree.order.length);
    const p = mesh.positions;
    for (let i = 0; i < tree.order.length; i++) {
      const [a, b, c] = [0, 1, 2].map((k) => 3 * points[3 * tree.order[i] + k]);
      for (let k = 0; k < 3; k++) {
        this.sides[9 * i + k] = p[a + k];
        this.sides[9 * i + 3 + k] = p[b + k] - p[a + k];
        this.sides[9 * i + 6 + k] = p[c + k] - p[a + k];
      }
    }
  }

  /**
   * Whether a triangle is met between a place and so far along a unit direction; from either side. Boxes by their slabs
   * (Kay and Kajiya 1986), triangles by Möller and Trumbore (1997). Nothing is allocated.
   */
  meets(x: number, y: number, z: number, dx: number, dy: number, dz: number, reach: number): boolean {
    const { bounds, first, size, after, sides } = this;
    const [ix, iy, iz] = [1 / dx, 1 / dy, 1 / dz];
    for (let node = 0; node < size.length;) {
      const b = 6 * node;
      // 0 · ∞ is not a number, and what is not a number never says that a box is missed.
      const x0 = (bounds[b] - x) * ix;
      const x1 = (bounds[b + 3] - x) * ix;
      const y0 = (bounds[b + 1] - y) * iy;
      const y1 = (bounds[b + 4] - y) * iy;
      const z0 = (bounds[b + 2] - z) * iz;
      const z1 = (bounds[b + 5] - z) * iz;
      const near = Math.max(Math.min(x0, x1), Math.min(y0, y1), Math.min(z0, z1));
      const far = Math.min(Math.max(x0, x1), Math.max(y0, y1), Math.max(z0, z1));
      if (near > far || far < 0 || near > reach) {
        node = after[node];
        continue;
      }
      const end = 9 * (first[node] + size[node]);
      for (let i = 9 * first[node]; i < end; i += 9) {
        const e0 = sides[i + 3];
        const e1 = sides[i + 4];
        const e2 = sides[i + 5];
        const f0 = sides[i + 6];
        const f1 = sides[i + 7];
        const f2 = sides[i + 8];
        const h0 = dy * f2 - dz * f1;
        const h1 = dz * f0 - dx * f2;
        const h2 = dx * f1 - dy * f0;
        const inverse = 1 / (e0 * h0 + e1 * h1 + e2 * h2);
        const s0 = x - sides[i];
        const s1 = y - sides[i + 1];
        const s2 = z - sides[i + 2];
        const u = (s0 * h0 + s1 * h1 + s2 * h2) * inverse;
        if (!(u >= 0 && u <= 1)) continue;
        const q0 = s1 * e2 - s2 * e1;
        const q1 = s2 * e0 - s0 * e2;
        const q2 = s0 * e1 - s1 * e0;
        const v = (dx * q0 + dy * q1 + dz * q2) * inverse;
        if (!(v >= 0 && u + v <= 1)) continue;
        const t = (f0 * q0 + f1 * q1 + f2 * q2) * inverse;
        if (t > 0 && t < reach) return true;
      }
      node++;
    }
    return false;
  }
}
