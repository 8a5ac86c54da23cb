/** The triangles of a mesh in a tree, for the nearest place on its surface and for where a line meets it. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { addScaled, distance, pointOf, type Vec3 } from '../mesh/vec3';
import { triangulate } from '../planar/triangulate';
import { BoxTree } from './BoxTree';
import { boxesOfTriangles, meetsTriangle, nearestOnTriangle } from './triangle';

export interface SurfacePlace {
  at: Vec3;
  face: number;
  /** The corners of the mesh its triangle is of. */
  corners: [number, number, number];
}

export class TriangleTree {
  /** Point indices, three per triangle. */
  private readonly points: Uint32Array;
  private readonly face: ArrayLike<number>;
  private readonly corners: ArrayLike<number>;
  private readonly tree: BoxTree;

  /** Time n log n in triangles. */
  constructor(private readonly mesh: PolyMesh) {
    const tri = triangulate(mesh);
    this.points = Uint32Array.from(tri.corners, (c: number) => mesh.corners[c]);
    this.face = tri.face;
    this.corners = tri.corners;
    this.tree = new BoxTree(boxesOfTriangles(mesh.positions, this.points));
  }

  /** The nearest place on the surface to a point; null for a mesh without faces. */
  nearest(p: Vec3): SurfacePlace | null {
    const { tree } = this;
    let best: SurfacePlace | null = null;
    let least = Infinity;
    const stack: number[] = tree.empty ? [] : [0];
    while (stack.length) {
      const node = stack.pop()!;
      if (tree.farFrom(node, p) >= least) continue;
      if (tree.size[node] > 0) {
        for (let i = tree.first[node]; i < tree.first[node] + tree.size[node]; i++) {
          const t = tree.order[i];
          const at = nearestOnTriangle(p, this.corner(t, 0), this.corner(t, 1), this.corner(t, 2));
          const d = distance(at, p) ** 2;
          if (d < least) [best, least] = [this.place(t, at), d];
        }
        continue;
      }
      const [l, r] = [node + 1, -tree.size[node]];
      // The nearer child is looked at first.
      if (tree.farFrom(l, p) <= tree.farFrom(r, p)) stack.push(r, l);
      else stack.push(l, r);
    }
    return best;
  }

  /**
   * The first hit of a line with the surface, from a place onward.
   * @param direction any length but zero
   * @param both also behind the place: whichever is nearer
   */
  meets(from: Vec3, direction: Vec3, both = false): SurfacePlace | null {
    const { tree } = this;
    let best: SurfacePlace | null = null;
    let least = Infinity;
    const slack = 1e-12;
    const stack: number[] = tree.empty ? [] : [0];
    while (stack.length) {
      const node = stack.pop()!;
      const near = alongBox(tree.bounds, node, from, direction, both);
      if (!(near < least)) continue;
      if (tree.size[node] < 0) {
        stack.push(-tree.size[node], node + 1);
        continue;
      }
      for (let i = tree.first[node]; i < tree.first[node] + tree.size[node]; i++) {
        const t = tree.order[i];
        const s = meetsTriangle(from, direction, this.corner(t, 0), this.corner(t, 1), this.corner(t, 2));
        if (s === null || (s < -slack && !both) || Math.abs(s) >= least) continue;
        least = Math.abs(s);
        best = this.place(t, addScaled(from, direction, s));
      }
    }
    return best;
  }

  private place(t: number, at: Vec3): SurfacePlace {
    const c = this.corners;
    return { at, face: this.face[t], corners: [c[3 * t], c[3 * t + 1], c[3 * t + 2]] };
  }

  private corner(t: number, k: number): Vec3 {
    return pointOf(this.mesh.positions, this.points[3 * t + k]);
  }
}

/** Least |s| at which from + s · d is in a node's box; infinite when it never is. */
function alongBox(bounds: Float64Array, node: number, from: Vec3, d: Vec3, both: boolean): number {
  let [s0, s1] = [both ? -Infinity : 0, Infinity];
  for (let k = 0; k < 3; k++) {
    const [lo, hi] = [bounds[6 * node + k] - from[k], bounds[6 * node + 3 + k] - from[k]];
    // A hair of slack: a flat box is met by lines that lie in it.
    const slack = 1e-12 * (Math.abs(lo) + Math.abs(hi));
    if (d[k] === 0) {
      if (lo > slack || hi < -slack) return Infinity;
      continue;
    }
    const [a, b] = [(lo - slack) / d[k], (hi + slack) / d[k]];
    s0 = Math.max(s0, Math.min(a, b));
    s1 = Math.min(s1, Math.max(a, b));
  }
  if (s0 > s1) return Infinity;
  return s0 <= 0 && s1 >= 0 ? 0 : Math.min(Math.abs(s0), Math.abs(s1));
}

const trees = new WeakMap<PolyMesh, TriangleTree>();

/** The tree of a mesh, built once. */
export function treeOf(mesh: PolyMesh): TriangleTree {
  let tree = trees.get(mesh);
  if (!tree) trees.set(mesh, (tree = new TriangleTree(mesh)));
  return tree;
}
