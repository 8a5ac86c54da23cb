/**
 * A tree of boxes over a mesh's triangles, for the nearest place on its surface and for where a line meets it.
 * Halves are split at the middle of the longest side of their centres (Wald 2007, section 2, without the cost model:
 * queries here are few against one build).
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { add, addScaled, cross, distance, dot, pointOf, scale, sub, type Vec3 } from '../mesh/vec3';
import { triangulate } from '../planar/triangulate';

export interface SurfacePlace {
  at: Vec3;
  face: number;
}

const LEAF = 4;

export class TriangleTree {
  /** Point indices, three per triangle. */
  private readonly points: Uint32Array;
  private readonly face: ArrayLike<number>;
  private readonly order: Uint32Array;
  /** Per node: 6 bounds; first triangle; count (leaf) or −(second child) for an inner node. */
  private readonly bounds: number[] = [];
  private readonly first: number[] = [];
  private readonly size: number[] = [];

  /** Time n log n in triangles. */
  constructor(private readonly mesh: PolyMesh) {
    const tri = triangulate(mesh);
    this.points = Uint32Array.from(tri.corners, (c: number) => mesh.corners[c]);
    this.face = tri.face;
    this.order = Uint32Array.from({ length: tri.face.length }, (_, i) => i);
    if (this.order.length) this.split(0, this.order.length);
  }

  /** The nearest place on the surface to a point; null for a mesh without faces. */
  nearest(p: Vec3): SurfacePlace | null {
    let best: SurfacePlace | null = null;
    let least = Infinity;
    const visit = (node: number): void => {
      if (this.boxFar(node, p) >= least) return;
      if (this.size[node] > 0) {
        this.eachTriangle(node, (t, a, b, c) => {
          const at = nearestOnTriangle(p, a, b, c);
          const d = distance(at, p) ** 2;
          if (d < least) [best, least] = [{ at, face: this.face[t] }, d];
        });
        return;
      }
      const [l, r] = [node + 1, -this.size[node]];
      const [near, far] = this.boxFar(l, p) <= this.boxFar(r, p) ? [l, r] : [r, l];
      visit(near);
      visit(far);
    };
    if (this.order.length) visit(0);
    return best;
  }

  /**
   * Where a line first meets the surface, from a place onward.
   * @param direction any length but zero
   * @param both also behind the place: whichever is nearer
   */
  meets(from: Vec3, direction: Vec3, both = false): SurfacePlace | null {
    let best: SurfacePlace | null = null;
    let least = Infinity;
    const slack = 1e-12;
    const visit = (node: number): void => {
      const near = this.boxAlong(node, from, direction, both);
      if (near === null || near >= least) return;
      if (this.size[node] > 0) {
        this.eachTriangle(node, (t, a, b, c) => {
          const s = meetsTriangle(from, direction, a, b, c);
          if (s === null || (s < -slack && !both) || Math.abs(s) >= least) return;
          least = Math.abs(s);
          best = { at: addScaled(from, direction, s), face: this.face[t] };
        });
        return;
      }
      visit(node + 1);
      visit(-this.size[node]);
    };
    if (this.order.length) visit(0);
    return best;
  }

  private eachTriangle(node: number, each: (t: number, a: Vec3, b: Vec3, c: Vec3) => void): void {
    for (let i = this.first[node]; i < this.first[node] + this.size[node]; i++) {
      const t = this.order[i];
      const [a, b, c] = [0, 1, 2].map((k) => pointOf(this.mesh.positions, this.points[3 * t + k]));
      each(t, a, b, c);
    }
  }

  private split(from: number, to: number): void {
    const node = this.first.length;
    const p = this.mesh.positions;
    const lo: Vec3 = [Infinity, Infinity, Infinity];
    const hi: Vec3 = [-Infinity, -Infinity, -Infinity];
    const middle = (t: number, k: number): number =>
      p[3 * this.points[3 * t] + k] + p[3 * this.points[3 * t + 1] + k] + p[3 * this.points[3 * t + 2] + k];
    const cLo: Vec3 = [...lo];
    const cHi: Vec3 = [...hi];
    for (let i = from; i < to; i++) {
      const t = this.order[i];
      for (let k = 0; k < 3; k++) {
        for (let j = 0; j < 3; j++) {
          const x = p[3 * this.points[3 * t + j] + k];
          if (x < lo[k]) lo[k] = x;
          if (x > hi[k]) hi[k] = x;
        }
        const m = middle(t, k);
        if (m < cLo[k]) cLo[k] = m;
        if (m > cHi[k]) cHi[k] = m;
      }
    }
    this.bounds.push(...lo, ...hi);
    this.first.push(from);
    this.size.push(to - from);
    if (to - from <= LEAF) return;
    const axis = [0, 1, 2].reduce((a, k) => (cHi[k] - cLo[k] > cHi[a] - cLo[a] ? k : a), 0);
    const half = (cLo[axis] + cHi[axis]) / 2;
    let m = from;
    for (let i = from; i < to; i++)
      if (middle(this.order[i], axis) < half) {
        [this.order[i], this.order[m]] = [this.order[m], this.order[i]];
        m++;
      }
    // Triangles with one middle between them are halved by number.
    if (m === from || m === to) m = (from + to) >> 1;
    this.split(from, m);
    this.size[node] = -this.first.length;
    this.split(m, to);
  }

  private boxFar(node: number, p: Vec3): number {
    let d = 0;
    for (let k = 0; k < 3; k++) {
      const x = Math.max(this.bounds[6 * node + k] - p[k], 0, p[k] - this.bounds[6 * node + 3 + k]);
      d += x * x;
    }
    return d;
  }

  /** Least |s| at which from + s · direction is in the box; null when it never is. */
  private boxAlong(node: number, from: Vec3, d: Vec3, both: boolean): number | null {
    let [s0, s1] = [both ? -Infinity : 0, Infinity];
    for (let k = 0; k < 3; k++) {
      const [lo, hi] = [this.bounds[6 * node + k] - from[k], this.bounds[6 * node + 3 + k] - from[k]];
      // A hair of slack: a flat box is met by lines that lie in it.
      const slack = 1e-12 * (Math.abs(lo) + Math.abs(hi));
      if (d[k] === 0) {
        if (lo > slack || hi < -slack) return null;
        continue;
      }
      const [a, b] = [(lo - slack) / d[k], (hi + slack) / d[k]];
      s0 = Math.max(s0, Math.min(a, b));
      s1 = Math.min(s1, Math.max(a, b));
    }
    if (s0 > s1) return null;
    return s0 <= 0 && s1 >= 0 ? 0 : Math.min(Math.abs(s0), Math.abs(s1));
  }
}

/** The nearest place of a triangle to a point (Ericson 2005, section 5.1.5). */
export function nearestOnTriangle(p: Vec3, a: Vec3, b: Vec3, c: Vec3): Vec3 {
  const [ab, ac, ap] = [sub(b, a), sub(c, a), sub(p, a)];
  const [d1, d2] = [dot(ab, ap), dot(ac, ap)];
  if (d1 <= 0 && d2 <= 0) return a;
  const bp = sub(p, b);
  const [d3, d4] = [dot(ab, bp), dot(ac, bp)];
  if (d3 >= 0 && d4 <= d3) return b;
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return addScaled(a, ab, d1 / (d1 - d3 || 1));
  const cp = sub(p, c);
  const [d5, d6] = [dot(ab, cp), dot(ac, cp)];
  if (d6 >= 0 && d5 <= d6) return c;
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return addScaled(a, ac, d2 / (d2 - d6 || 1));
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0)
    return addScaled(b, sub(c, b), (d4 - d3) / (d4 - d3 + (d5 - d6) || 1));
  const sum = va + vb + vc;
  return add(a, add(scale(ab, vb / sum), scale(ac, vc / sum)));
}

/** s with from + s · d in the triangle, its rim included (Möller & Trumbore 1997); null when there is none. */
function meetsTriangle(from: Vec3, d: Vec3, a: Vec3, b: Vec3, c: Vec3): number | null {
  const [ab, ac] = [sub(b, a), sub(c, a)];
  const h = cross(d, ac);
  const det = dot(ab, h);
  if (Math.abs(det) < 1e-300) return null;
  const s = sub(from, a);
  const u = dot(s, h) / det;
  const q = cross(s, ab);
  const v = dot(d, q) / det;
  // The rim belongs to it, with room for rounding: a line along a shared edge meets one of the two at least.
  const slack = 1e-12;
  if (u < -slack || v < -slack || u + v > 1 + slack) return null;
  return dot(ac, q) / det;
}

const trees = new WeakMap<PolyMesh, TriangleTree>();

/** The tree of a mesh, built once. */
export function treeOf(mesh: PolyMesh): TriangleTree {
  let tree = trees.get(mesh);
  if (!tree) trees.set(mesh, (tree = new TriangleTree(mesh)));
  return tree;
}
