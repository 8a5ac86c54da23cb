/** The curves strips end in, and the straight sides of cut-off corners: each made once, with the points on it. */
import { nextCorner } from '../../mesh/Topology';
import { dot, lerp, pointOf, sub, unit, type Vec3 } from '../../mesh/vec3';
import type { Growth } from './growth';
import { pairKey } from './carryOverBevel';
import { onProfile, profileWeights } from './profile';
import { inwardDirection, type Spoke, type VertexPlan } from './sectors';

/** The points of the mesh that is being built. */
export interface Points {
  ofNode(node: number): number;
  at(point: number): Vec3;
  /** @param source the vertex of the input it comes from */
  add(at: Vec3, source: number): number;
}

/** Points from end to end, and the place half way. */
export interface Curve {
  ids: number[];
  middle: Vec3;
}

export class Curves {
  private readonly found = new Map<number, Curve>();
  private readonly chords = new Map<number, Curve>();

  constructor(
    private readonly g: Growth,
    private readonly points: Points,
  ) {}

  /** The profile curve across spoke k's strip at a vertex, from its right to its left node. */
  across(plan: VertexPlan, k: number): Curve {
    const { g } = this;
    const s = plan.spokes[k];
    const a = this.points.ofNode(s.right);
    const b = this.points.ofNode(s.left);
    const A = this.points.at(a);
    const B = this.points.at(b);
    if (a === b) return { ids: [a], middle: A };
    const found = this.found.get(pairKey(a, b));
    if (found) return found;
    const mitre = plan.spokes.length === 2 && plan.spokes.every((x) => x.gap === 'none') && !plan.open;
    const tip = pointOf(g.mesh.positions, plan.vertex);
    const apex = mitre || plan.spokes.length === 1 ? tip : this.footOnEdge(s, tip, A, B);
    const angle = mitre ? (this.angleAt(plan.spokes[0]) + this.angleAt(plan.spokes[1])) / 2 : this.angleAt(s);
    const n = g.options.segments;
    const weights = profileWeights(n, g.options.profile, angle);
    const ids = weights.map((w, i) =>
      i === 0 ? a : i === n ? b : this.points.add(onProfile(A, apex, B, w), plan.vertex),
    );
    const middle = onProfile(A, apex, B, profileWeights(2, g.options.profile, angle)[1]);
    const made = { ids, middle };
    this.found.set(pairKey(a, b), made);
    this.found.set(pairKey(b, a), { ids: [...ids].reverse(), middle });
    return made;
  }

  /** The straight side of a patch along a cut-off corner, from spoke k's left node to the next right one. */
  chord(plan: VertexPlan, k: number): Curve {
    const a = this.points.ofNode(plan.spokes[k].left);
    const b = this.points.ofNode(plan.spokes[(k + 1) % plan.spokes.length].right);
    const [A, B] = [this.points.at(a), this.points.at(b)];
    if (a === b) return { ids: [a], middle: A };
    // Chords have a map of their own: a profile curve may join the same two points.
    const key = pairKey(a, b);
    const found = this.chords.get(key);
    if (found) return found;
    const n = this.g.options.segments;
    const ids = Array.from({ length: n + 1 }, (_, i) =>
      i === 0 ? a : i === n ? b : this.points.add(lerp(A, B, i / n), plan.vertex),
    );
    const made = { ids, middle: lerp(A, B, 0.5) };
    this.chords.set(key, made);
    return made;
  }

  edgeDirection(s: Spoke): Vec3 {
    const { mesh, t } = this.g;
    const a = pointOf(mesh.positions, mesh.corners[s.corner]);
    return unit(sub(pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, s.corner)]), a));
  }

  /**
   * Apex of the curve at a corner patch: on the edge, between the feet of its two ends. Towards a square profile
   * it moves to the farther foot, or the curves of a mixed convex and concave corner would run into one another.
   */
  private footOnEdge(s: Spoke, tip: Vec3, A: Vec3, B: Vec3): Vec3 {
    const d = this.edgeDirection(s);
    const [a, b] = [dot(sub(A, tip), d), dot(sub(B, tip), d)];
    const square = Math.max(0, this.g.options.profile - 1);
    const h = ((a + b) / 2) * (1 - square) + Math.max(a, b) * square;
    return [tip[0] + h * d[0], tip[1] + h * d[1], tip[2] + h * d[2]];
  }

  /** Angle between the two faces' inward directions at an edge. */
  private angleAt(s: Spoke): number {
    const { mesh, t } = this.g;
    const a = inwardDirection(mesh, t, t.faceOfCorner[s.corner], s.edge);
    const b = inwardDirection(mesh, t, t.faceOfCorner[t.twin[s.corner]], s.edge);
    return Math.acos(Math.min(1, Math.max(-1, dot(a, b))));
  }
}
