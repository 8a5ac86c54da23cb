/** The curves strips end in and run through, and the straight sides of cut-off corners: each made once, with its points. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { nextCorner, type Topology } from '../../mesh/Topology';
import {
  addScaled,
  cross,
  distance,
  dot,
  length,
  lerp,
  pointOf,
  sub,
  unit,
  type Vec3,
} from '../../mesh/vec3';
import { faceNormal } from '../../mesh/measure';
import { PairMap } from '../../spatial/PairMap';
import { onProfile, profileLeans, profileWeights, reversedLeans, type Leans } from './profile';
import type { Points } from './Points';
import type { Spoke, VertexPlan } from './sectors';

/** Points from end to end, and the place half way. */
export interface Curve {
  ids: number[];
  middle: Vec3;
  /** Share of the angle between the walls by which the surface has turned at each point; null where it is flat. */
  leans: Leans | null;
}

/** The point of a rail seen from its strip: where it is, and the surface's normal there; null on a flat sheet. */
export interface Rim {
  id: number;
  normal: Vec3 | null;
}

export class Curves {
  private readonly made: Curve[] = [];
  /** Numbers of curves by their ends. */
  private readonly found = new PairMap();
  private readonly chords = new PairMap();

  constructor(
    private readonly mesh: PolyMesh,
    private readonly t: Topology,
    private readonly options: { segments: number; profile: number },
    private readonly points: Points,
    /** The share of the profile's bulge kept at each vertex. */
    private readonly bulge: Float64Array,
  ) {}

  /**
   * The profile curve at a vertex from spoke k's right rail to its left.
   * @param right and left ends of the two rails
   */
  across(plan: VertexPlan, k: number, right: Rim, left: Rim): Curve {
    const s = plan.spokes[k];
    const mitre = isMitre(plan);
    const foot = this.foot(plan, s, right.id, left.id);
    const [A, B] = [this.points.at(right.id), this.points.at(left.id)];
    const straight = mitre || plan.spokes.length === 1;
    const apex = straight ? apexOf(A, right.normal, B, left.normal, foot) : foot;
    const flat = !straight || (!right.normal && !left.normal);
    const angle = !flat
      ? angleBetween(sub(A, apex), sub(B, apex))
      : mitre
        ? (this.angleAt(plan.spokes[0]) + this.angleAt(plan.spokes[1])) / 2
        : this.angleAt(s);
    return this.curve(right.id, left.id, apex, angle, plan.vertex, this.bulge[plan.vertex]);
  }

  /** The point of an edge the curve at its end belongs to: the vertex, or where a patch begins. */
  foot(plan: VertexPlan, s: Spoke, right: number, left: number): Vec3 {
    const tip = pointOf(this.mesh.positions, plan.vertex);
    // On a straight run the strip may have used up an edge and gone past the vertex.
    if ((isMitre(plan) && !this.runsStraight(plan)) || plan.spokes.length === 1) return tip;
    return this.footOnEdge(s, tip, this.points.at(right), this.points.at(left));
  }

  /**
   * The profile curve between two points of the rails of one edge.
   * @param share of the way between the edge's ends
   * @param foot the point of the edge it belongs to
   */
  between(s: Spoke, share: number, foot: Vec3, right: Rim, left: Rim): Curve {
    const c = s.corner;
    const [A, B] = [this.points.at(right.id), this.points.at(left.id)];
    const apex = apexOf(A, right.normal, B, left.normal, foot);
    const flat = !right.normal && !left.normal;
    const angle = flat ? this.angleAt(s) : angleBetween(sub(A, apex), sub(B, apex));
    const [v, w] = [this.mesh.corners[c], this.mesh.corners[nextCorner(this.mesh, this.t, c)]];
    const bulge = this.bulge[v] * (1 - share) + this.bulge[w] * share;
    return this.curve(right.id, left.id, apex, angle, this.points.source[left.id], bulge);
  }

  private curve(a: number, b: number, apex: Vec3, angle: number, vertex: number, bulge: number): Curve {
    const [A, B] = [this.points.at(a), this.points.at(b)];
    if (a === b) return { ids: [a], middle: A, leans: null };
    const found = this.found.get(a, b);
    if (found >= 0) return this.made[found];
    const n = this.options.segments;
    const profile = this.options.profile * bulge;
    const ids = profileWeights(n, profile, angle).map((w, i) =>
      i === 0 ? a : i === n ? b : this.points.add(onProfile(A, apex, B, w), vertex),
    );
    const middle = onProfile(A, apex, B, profileWeights(2, profile, angle)[1]);
    const leans = profileLeans(n, profile, angle);
    const made = { ids, middle, leans };
    this.found.set(a, b, this.made.push(made) - 1);
    const back = { ids: [...ids].reverse(), middle, leans: leans && reversedLeans(leans) };
    this.found.set(b, a, this.made.push(back) - 1);
    return made;
  }

  /** The straight side of a patch along a cut-off corner, from one spoke's left point to the next one's right. */
  chord(a: number, b: number, vertex: number): Curve {
    const [A, B] = [this.points.at(a), this.points.at(b)];
    if (a === b) return { ids: [a], middle: A, leans: null };
    // Chords have a map of their own: a profile curve may join the same two points.
    const found = this.chords.get(a, b);
    if (found >= 0) return this.made[found];
    const n = this.options.segments;
    const ids = Array.from({ length: n + 1 }, (_, i) =>
      i === 0 ? a : i === n ? b : this.points.add(lerp(A, B, i / n), vertex),
    );
    const made = { ids, middle: lerp(A, B, 0.5), leans: null };
    this.chords.set(a, b, this.made.push(made) - 1);
    return made;
  }

  /** Just two edges meet there, in one line. */
  runsStraight(plan: VertexPlan): boolean {
    if (!isMitre(plan)) return false;
    const [a, b] = plan.spokes.map((s) => this.edgeDirection(s));
    return length(cross(a, b)) < STRAIGHT;
  }

  edgeDirection(s: Spoke): Vec3 {
    const a = pointOf(this.mesh.positions, this.mesh.corners[s.corner]);
    return unit(
      sub(pointOf(this.mesh.positions, this.mesh.corners[nextCorner(this.mesh, this.t, s.corner)]), a),
    );
  }

  /**
   * Apex of the curve at a corner patch: on the edge, between the feet of its two ends. Towards a square profile
   * it moves to the farther foot, or the curves of a mixed convex and concave corner would run into one another.
   */
  private footOnEdge(s: Spoke, tip: Vec3, A: Vec3, B: Vec3): Vec3 {
    const d = this.edgeDirection(s);
    const [a, b] = [dot(sub(A, tip), d), dot(sub(B, tip), d)];
    const square = Math.max(0, this.options.profile - 1);
    const h = ((a + b) / 2) * (1 - square) + Math.max(a, b) * square;
    return addScaled(tip, d, h);
  }

  /** Angle between the two faces' inward directions at an edge. */
  private angleAt(s: Spoke): number {
    return angleBetween(
      inwardDirection(this.mesh, this.t, s.corner),
      inwardDirection(this.mesh, this.t, this.t.twin[s.corner]),
    );
  }
}

/** Unit vector in the plane of a corner's face, square to its half-edge, into the face. */
export function inwardDirection(mesh: PolyMesh, t: Topology, c: number): Vec3 {
  const a = pointOf(mesh.positions, mesh.corners[c]);
  const b = pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, c)]);
  return unit(cross(faceNormal(mesh, t.faceOfCorner[c]), sub(b, a)));
}

/** Edges that turn by less are in one line; sine. */
const STRAIGHT = 1e-9;

/** Just two strips meet at the vertex, with nothing between them. */
const isMitre = ({ spokes, open }: VertexPlan): boolean =>
  spokes.length === 2 && spokes.every((x) => x.gap === 'none') && !open;

function angleBetween(a: Vec3, b: Vec3): number {
  return Math.atan2(length(cross(a, b)), dot(a, b));
}

/** The apex may lie so far from the edge, as a share of the way to it. */
const STRAY = 0.5;

/**
 * The point where the tangents of both sheets meet: from each end towards the edge, in the plane that touches the
 * surface there.
 * @param tip the point of the edge the ends belong to; the apex itself where both sheets are flat
 */
function apexOf(A: Vec3, nA: Vec3 | null, B: Vec3, nB: Vec3 | null, tip: Vec3): Vec3 {
  if (!nA && !nB) return tip;
  const towards = (p: Vec3, n: Vec3 | null): Vec3 => {
    const d = sub(tip, p);
    return unit(n ? addScaled(d, n, -dot(d, n)) : d);
  };
  const [u, v] = [towards(A, nA), towards(B, nB)];
  const w = sub(B, A);
  const uv = dot(u, v);
  const det = 1 - uv * uv;
  if (det < 1e-4) return tip;
  const x = (dot(w, u) - dot(w, v) * uv) / det;
  const y = (dot(w, u) * uv - dot(w, v)) / det;
  const apex = lerp(addScaled(A, u, x), addScaled(B, v, y), 0.5);
  const reach = Math.min(distance(A, tip), distance(B, tip));
  return x > 0 && y > 0 && distance(apex, tip) < STRAY * reach ? apex : tip;
}
