/**
 * The surroundings of a vertex with rounded edges: rounded edges in turn, and between two of them a sector of faces
 * divided by edges that stay. Decides which moving points ("nodes") each face corner gets.
 *
 * Turning counter-clockwise about the vertex a sector reads: rounded edge, G0, D1, G1, … Dr, Gr, rounded edge,
 * where faces of one sheet count as one group G and only edges D that end a sheet divide groups.
 *  r = 0  one node, where the two moved lines meet on the sheet (a mitre)
 *  r = 1  one node, sliding along D1
 *  r ≥ 2  one node sliding on D1, one on Dr; r = 2 cuts the corner of G1 off, or fills it up where it points inward;
 *         r > 2 keeps the vertex between
 */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { prevCorner, type Topology } from '../../mesh/Topology';
import type { Surface } from './Surface';

export interface Node {
  /** The vertices whose points it stands for: one, and more once sides between them are used up. */
  vertices: number[];
  /**
   * How it moves as the width grows: it lies in the sheet between two sides, runs along an edge that stays, or stays.
   */
  moves: 'mitre' | 'slide' | 'fixed';
  /** Way per unit of width. */
  rate: number;
  /** The half-edge of the surface it leaves from, and the angle counter-clockwise from it to its path. */
  side: number;
  turn: number;
  /** The edge it slides along, −1 for others. */
  slidesOn: number;
  /** Width at which it came to be; the node it came from goes on from there, turned by `turn`. */
  since: number;
  after: number;
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
  /**
   * How the sector after it (counter-clockwise) leads to the next spoke's right node: in one point, along a chord that
   * cuts a face's corner off, along one that fills its inward corner up, or past the vertex.
   */
  gap: 'none' | 'chord' | 'fill' | 'vertex';
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
/** A corner this near to straight, radians, points nowhere. */
const STRAIGHT = 1e-9;

export class Planner {
  readonly plan: Plan;

  constructor(
    private readonly mesh: PolyMesh,
    private readonly t: Topology,
    private readonly surface: Surface,
    private readonly rounded: Uint8Array,
    /** Edges that do not end a sheet. */
    private readonly soft: Uint8Array,
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
    // Groups of faces in one sheet; divider[k] lies between group k and k + 1.
    const groups: Step[][] = [[faces[0]]];
    const dividers: number[] = [];
    for (let i = 1; i < faces.length; i++) {
      if (this.soft[faces[i].out]) groups[groups.length - 1].push(faces[i]);
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
      const rimEdge = from < 0 ? firstFace.out : lastFace.into;
      const slide = r ? dividers[from < 0 ? r - 1 : 0] : rimEdge;
      const inner = groups[from < 0 ? r : 0][0];
      const node = this.slideNode(vp, slide, [[inner.corner, spoke.edge]]);
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
      const node = this.mitreNode(v, firstFace.corner, from, to);
      fromSpoke!.left = toSpoke!.right = node;
      return set(faces, [node]);
    }
    if (r === 1) {
      const node = this.slideNode(vp, dividers[0], [
        [firstFace.corner, from],
        [groups[1][0].corner, to],
      ]);
      fromSpoke!.left = toSpoke!.right = node;
      return set(faces, [node]);
    }
    const a = this.slideNode(vp, dividers[0], [[firstFace.corner, from]]);
    const b = this.slideNode(vp, dividers[r - 1], [[groups[r][0].corner, to]]);
    fromSpoke!.left = a;
    toSpoke!.right = b;
    set(groups[0], [a]);
    set(groups[r], [b]);
    const fills = this.pointsInward(groups[1][0].corner);
    if (r === 2 && groups[1].length === 1 && !fills) {
      fromSpoke!.gap = 'chord';
      return set(groups[1], [b, a]);
    }
    fromSpoke!.gap = r === 2 && fills ? 'fill' : 'vertex';
    const kept = stay();
    for (let k = 1; k < r; k++) set(groups[k], [kept]);
    const afterFirst = groups[1][0];
    const beforeLast = groups[r - 1][groups[r - 1].length - 1];
    this.plan.stations[afterFirst.corner] = [kept, a];
    this.plan.stations[beforeLast.corner] = afterFirst === beforeLast ? [b, kept, a] : [b, kept];
  }

  /** Whether a sheet is flat around a corner and has more than half of what is around it. */
  private pointsInward(corner: number): boolean {
    const s = this.surface;
    const h = s.sideOfCorner[corner];
    for (let k = s.turned(h); k >= 0; k = s.turned(k))
      if (k === h || s.plateOf[s.triangle(k)] !== s.plateOf[s.triangle(h)]) return false;
    return s.fanAngle(h) > Math.PI + STRAIGHT;
  }

  private readonly fixed = new Map<number, number>();
  /** The node of a vertex that stays where it is. */
  fixedNode(v: number): number {
    let n = this.fixed.get(v);
    if (n === undefined) this.fixed.set(v, (n = this.addNode(v, { moves: 'fixed', rate: 0, side: -1 })));
    return n;
  }

  private addNode(
    v: number,
    node: Pick<Node, 'moves' | 'rate' | 'side'> & Partial<Pick<Node, 'turn' | 'slidesOn'>>,
  ): number {
    const { nodes } = this.plan;
    return (
      nodes.push({
        vertices: [v],
        turn: 0,
        slidesOn: -1,
        since: 0,
        after: -1,
        becomes: nodes.length,
        ...node,
      }) - 1
    );
  }

  private mitreNode(v: number, corner: number, e1: number, e2: number): number {
    const side = this.surface.sideOfCorner[corner];
    const whole = this.surface.fanAngle(side);
    return this.addNode(v, { moves: 'mitre', side, ...mitre(whole, this.speed(e1), this.speed(e2)) });
  }

  /** A node on edge d; where d runs on almost straight from the rounded edge, the vertex itself. */
  private slideNode(vp: VertexPlan, d: number, sides: Array<[number, number]>): number {
    const v = vp.vertex;
    const rate = slideRate(
      sides.map(([c, e]) => ({
        angle: this.surface.fanAngle(this.surface.sideOfCorner[c]),
        speed: this.speed(e),
      })),
    );
    if (rate > 0) return this.addNode(v, { moves: 'slide', rate, side: -1, slidesOn: d });
    vp.keeps = true;
    return this.fixedNode(v);
  }
}

/** A spike's mitre would run away; it is held to so many widths. */
const LONGEST_MITRE = 14;

/**
 * The path of the meeting point of two sides that move inward, each at its own speed: its angle from the first, and its
 * way per unit of width. Sides that run on almost straight never meet unless their speeds are the same: there the
 * width goes over from one to the other.
 * @param whole angle between the sides, measured in the sheet, radians
 */
export function mitre(whole: number, s1: number, s2: number): { turn: number; rate: number } {
  if (s1 === s2 || 1 + Math.cos(whole) < 0.05)
    return { turn: whole / 2, rate: Math.min(LONGEST_MITRE, (s1 + s2) / 2 / Math.sin(whole / 2)) };
  const turn = Math.atan2(s1 * Math.sin(whole), s2 + s1 * Math.cos(whole));
  const at = turn < 0 ? turn + Math.PI : turn;
  return { turn: at, rate: Math.min(LONGEST_MITRE, s1 / Math.sin(at)) };
}

export type Speed = (edge: number) => number;

/** Speed along an edge at which a point keeps up with sides moving inward; the mean where they differ. */
export function slideRate(sides: Array<{ angle: number; speed: number }>): number {
  const rates = sides.flatMap(({ angle, speed }) => {
    const sine = Math.sin(angle);
    return sine > LEAST_SINE ? [speed / sine] : [];
  });
  return rates.length ? rates.reduce((sum, r) => sum + r, 0) / rates.length : 0;
}
