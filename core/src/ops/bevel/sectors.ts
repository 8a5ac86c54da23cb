/**
 * What surrounds a vertex with rounded edges: rounded edges in turn, and between two of them a sector of faces
 * divided by edges that stay. Decides which moving points ("nodes") each face corner gets.
 *
 * Turning counter-clockwise about the vertex a sector reads: rounded edge, G0, D1, G1, … Dr, Gr, rounded edge,
 * where faces in one plane count as one group G and only real edges D divide groups.
 *  r = 0  one node, where the two moved lines meet in the plane (a mitre)
 *  r = 1  one node, sliding along D1
 *  r ≥ 2  one node sliding on D1, one on Dr; r = 2 cuts the corner of G1 off, r > 2 keeps the vertex between
 */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { nextCorner, prevCorner, type Topology } from '../../mesh/Topology';
import { faceNormal } from '../../mesh/measure';
import { add, cross, dot, pointOf, scale, sub, unit, type Vec3 } from '../../mesh/vec3';

export interface Node {
  /** Position at time `since`, and velocity per unit of width. */
  at: Vec3;
  since: number;
  velocity: Vec3;
  /** The vertex it started from. */
  vertex: number;
  /** Edge it slides along, −1 for a mitre or a fixed point. */
  slidesOn: number;
  /** Connected group of rounded edges; −1 for a point that stays. */
  group: number;
  /** The node it has become, or itself. */
  becomes: number;
}

/** A rounded edge as seen from one of its ends. */
export interface Spoke {
  edge: number;
  /** Half-edge leaving the vertex along it. */
  corner: number;
  /** Nodes on its clockwise and counter-clockwise side. */
  right: number;
  left: number;
  /** How the sector after it (counter-clockwise) leads to the next spoke's right node. */
  gap: 'none' | 'chord' | 'vertex';
}

export interface VertexPlan {
  vertex: number;
  spokes: Spoke[];
  /** The vertex itself stays in use. */
  keeps: boolean;
  /** The fan is open: no patch between the last spoke and the first. */
  open: boolean;
}

export interface Plan {
  nodes: Node[];
  /** Nodes per corner of the mesh, in face order (incoming edge first); undefined where the vertex stays. */
  stations: Array<number[] | undefined>;
  vertices: VertexPlan[];
}

interface Step {
  /** Face corner at the vertex. */
  corner: number;
  /** Edge on its clockwise side (outgoing) and counter-clockwise side (incoming). */
  out: number;
  into: number;
}

/** Slower than this (sine of the angle to the rounded edge) a point would run away along its edge. */
const LEAST_SINE = 0.08;

export class Planner {
  readonly plan: Plan;

  constructor(
    private readonly mesh: PolyMesh,
    private readonly t: Topology,
    private readonly rounded: Uint8Array,
    private readonly flat: Uint8Array,
    private readonly groupOfVertex: Int32Array,
    /** Width of each edge's strip sides as a share of the whole width. */
    private readonly speed: Speed,
  ) {
    this.plan = { nodes: [], stations: new Array(mesh.corners.length), vertices: [] };
  }

  addVertex(v: number): void {
    const steps = this.fan(v);
    const open = this.t.twin[steps[0].corner] < 0;
    const first = open ? 0 : steps.findIndex((s) => this.rounded[s.out]);
    const turned = [...steps.slice(first), ...steps.slice(0, first)];
    const vp: VertexPlan = { vertex: v, spokes: [], keeps: false, open };
    // Sectors: runs of faces from one rounded edge to the next.
    let run: Step[] = [];
    let start = -1;
    const sectors: Array<{ from: number; to: number; faces: Step[] }> = [];
    for (const s of turned) {
      if (this.rounded[s.out]) {
        if (run.length) sectors.push({ from: start, to: s.out, faces: run });
        run = [];
        start = s.out;
        vp.spokes.push({ edge: s.out, corner: s.corner, right: -1, left: -1, gap: 'none' });
      }
      run.push(s);
    }
    const last = turned[turned.length - 1];
    // A rounded edge never is open, so an open fan ends with an edge that stays.
    sectors.push({ from: start, to: open ? -1 : last.into, faces: run });
    for (const s of sectors) this.planSector(vp, s.from, s.to, s.faces);
    this.plan.vertices.push(vp);
  }

  /** Faces around a vertex counter-clockwise; an open fan starts at its open outgoing edge. */
  private fan(v: number): Step[] {
    const { mesh, t } = this;
    let start = t.vertexCorners[t.vertexStart[v]];
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
      if (t.twin[t.vertexCorners[i]] < 0) start = t.vertexCorners[i];
    const steps: Step[] = [];
    let c = start;
    do {
      const p = prevCorner(mesh, t, c);
      steps.push({ corner: c, out: t.edgeOfCorner[c], into: t.edgeOfCorner[p] });
      c = t.twin[p];
    } while (c >= 0 && c !== start);
    return steps;
  }

  private planSector(vp: VertexPlan, from: number, to: number, faces: Step[]): void {
    const v = vp.vertex;
    // Groups of faces in one plane; divider[k] lies between group k and k + 1.
    const groups: Step[][] = [[faces[0]]];
    const dividers: number[] = [];
    for (let i = 1; i < faces.length; i++) {
      if (this.flat[faces[i].out]) groups[groups.length - 1].push(faces[i]);
      else {
        dividers.push(faces[i].out);
        groups.push([faces[i]]);
      }
    }
    const r = dividers.length;
    const fromSpoke = vp.spokes.find((s) => s.edge === from);
    const toSpoke = vp.spokes.find((s) => s.edge === to);
    const firstFace = faces[0];
    const lastFace = faces[faces.length - 1];
    const set = (steps: Step[], nodes: number[]): void => {
      for (const s of steps) this.plan.stations[s.corner] = nodes;
    };
    const stay = (): number => {
      vp.keeps = true;
      return this.fixedNode(v);
    };
    if (from < 0 || to < 0) {
      // One side is the open rim: slide along the nearest edge that stays.
      const spoke = (from < 0 ? toSpoke : fromSpoke)!;
      const near = from < 0 ? lastFace : firstFace;
      const rimEdge = from < 0 ? firstFace.out : lastFace.into;
      const slide = r ? dividers[from < 0 ? r - 1 : 0] : rimEdge;
      const node = this.slideNode(vp, slide, [[near.corner, spoke.edge]]);
      if (from < 0) spoke.right = node;
      else spoke.left = node;
      if (!r) return set(faces, [node]);
      const kept = stay();
      groups.forEach((g, k) => {
        const at = from < 0 ? r - k : k;
        set(g, at === 0 ? [node] : at > 1 ? [kept] : from < 0 ? [node, kept] : [kept, node]);
      });
      // Only the face next to the sliding node gets both; the rest of its group keeps the vertex.
      return;
    }
    const single = fromSpoke === toSpoke;
    if (single && r < 2) {
      // The edge runs on without being rounded: let the strip run out in the vertex.
      const kept = stay();
      fromSpoke!.left = fromSpoke!.right = kept;
      return set(faces, [kept]);
    }
    if (r === 0) {
      const node = this.mitreNode(v, firstFace.corner, from, lastFace.corner, to);
      fromSpoke!.left = toSpoke!.right = node;
      return set(faces, [node]);
    }
    if (r === 1) {
      const node = this.slideNode(vp, dividers[0], [
        [firstFace.corner, from],
        [lastFace.corner, to],
      ]);
      fromSpoke!.left = toSpoke!.right = node;
      return set(faces, [node]);
    }
    const a = this.slideNode(vp, dividers[0], [[firstFace.corner, from]]);
    const b = this.slideNode(vp, dividers[r - 1], [[lastFace.corner, to]]);
    fromSpoke!.left = a;
    toSpoke!.right = b;
    set(groups[0], [a]);
    set(groups[r], [b]);
    if (r === 2 && groups[1].length === 1) {
      fromSpoke!.gap = 'chord';
      return set(groups[1], [b, a]);
    }
    fromSpoke!.gap = 'vertex';
    const kept = stay();
    for (let k = 1; k < r; k++) set(groups[k], [kept]);
    const afterFirst = groups[1][0];
    const beforeLast = groups[r - 1][groups[r - 1].length - 1];
    this.plan.stations[afterFirst.corner] = [kept, a];
    this.plan.stations[beforeLast.corner] = afterFirst === beforeLast ? [b, kept, a] : [b, kept];
  }

  private readonly fixed = new Map<number, number>();
  /** The node of a vertex that stays where it is. */
  fixedNode(v: number): number {
    let n = this.fixed.get(v);
    if (n === undefined) {
      n = this.addNode(v, [0, 0, 0], -1);
      this.plan.nodes[n].group = -1;
      this.fixed.set(v, n);
    }
    return n;
  }

  private addNode(v: number, velocity: Vec3, slidesOn: number): number {
    return (
      this.plan.nodes.push({
        at: pointOf(this.mesh.positions, v),
        since: 0,
        velocity,
        vertex: v,
        slidesOn,
        group: this.groupOfVertex[v],
        becomes: this.plan.nodes.length,
      }) - 1
    );
  }

  private mitreNode(v: number, c1: number, e1: number, c2: number, e2: number): number {
    return this.addNode(
      v,
      mitreVelocity(this.inward(c1, e1), this.inward(c2, e2), this.speed(e1), this.speed(e2)),
      -1,
    );
  }

  /** A node on edge d; where d runs on almost straight from the rounded edge, the vertex itself. */
  private slideNode(vp: VertexPlan, d: number, sides: Array<[number, number]>): number {
    const v = vp.vertex;
    const rate = slideRate(
      this.along(d, v),
      sides.map(([c, e]) => ({ inward: this.inward(c, e), speed: this.speed(e) })),
    );
    if (rate > 0) return this.addNode(v, scale(this.along(d, v), rate), d);
    vp.keeps = true;
    return this.fixedNode(v);
  }

  /** Unit direction of an edge away from a vertex. */
  private along(e: number, v: number): Vec3 {
    const { edges } = this.t;
    const other = edges[2 * e] === v ? edges[2 * e + 1] : edges[2 * e];
    return unit(sub(pointOf(this.mesh.positions, other), pointOf(this.mesh.positions, v)));
  }

  private inward(corner: number, e: number): Vec3 {
    return inwardDirection(this.mesh, this.t, this.t.faceOfCorner[corner], e);
  }
}

/** Unit vector in the face's plane, square to one of its edges, into the face. */
export function inwardDirection(mesh: PolyMesh, t: Topology, face: number, e: number): Vec3 {
  let c = t.cornerOfEdge[e];
  if (t.faceOfCorner[c] !== face) c = t.twin[c];
  const a = pointOf(mesh.positions, mesh.corners[c]);
  const b = pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, c)]);
  return unit(cross(faceNormal(mesh, face), sub(b, a)));
}

/**
 * Velocity of the meeting point of two lines that move inward, each at its own speed. Lines that run on almost
 * straight never meet unless their speeds are the same: there the width goes over from one to the other.
 */
export function mitreVelocity(n1: Vec3, n2: Vec3, s1: number, s2: number): Vec3 {
  const c = dot(n1, n2);
  // A spike's mitre would run away; it is held to fourteen times the width.
  const even = scale(add(n1, n2), (s1 + s2) / 2 / Math.max(0.01, 1 + c));
  const off = (s1 - s2) / 2 / (1 - c);
  return s1 === s2 || 1 - c < 0.05 ? even : add(even, scale(sub(n1, n2), off));
}

export type Speed = (edge: number) => number;

/** Speed along unit direction u at which a point keeps up with lines moving inward; the mean where they differ. */
export function slideRate(u: Vec3, lines: Array<{ inward: Vec3; speed: number }>): number {
  const rates = lines.flatMap(({ inward, speed }) => {
    const sine = dot(u, inward);
    return sine > LEAST_SINE ? [speed / sine] : [];
  });
  return rates.length ? rates.reduce((sum, r) => sum + r, 0) / rates.length : 0;
}
