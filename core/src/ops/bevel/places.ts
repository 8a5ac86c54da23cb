/** Positions of a grown rounding's nodes on the surface. */
import { add, addScaled, cross, distance, pointOf, scale, type Vec3 } from '../../mesh/vec3';
import type { PolyMesh } from '../../mesh/PolyMesh';
import type { Topology } from '../../mesh/Topology';
import type { Fronts } from './Fronts';
import type { Side } from './layOut';
import { nearerEnd, nextSide, type Surface } from './Surface';
import { SNAP, spotAtVertex, spotIn, walkFrom, walkFromVertex, type Spot, type Walked } from './walk';

/** A node that ran into the end of its sheet. */
export interface Hit {
  node: number;
  /** The half-edge of the surface it reached. */
  side: number;
  /** The place and the width. */
  at: Vec3;
  width: number;
  /** Unit direction it had. */
  heading: Vec3;
}

export class Places {
  readonly hits: Hit[] = [];
  private readonly walked = new Map<number, Walked>();

  constructor(
    private readonly mesh: PolyMesh,
    private readonly t: Topology,
    private readonly surface: Surface,
    private readonly fronts: Fronts,
  ) {}

  /** The place of a node, as the sheet of a side that ends in it sees it. */
  spot(node: number, side: Side, end: 'first' | 'last'): Spot {
    const n = this.fronts.nodes[node];
    if (n.moves === 'fixed' && side.corner >= 0) {
      const h = this.surface.sideOfCorner[side.corner];
      const own = end === 'first' ? h : nextSide(h);
      if (this.surface.from[own] === n.vertices[0]) return spotAtVertex(this.surface, own);
    }
    if (n.moves === 'mitre') return this.walk(node).spot;
    const beside = this.fronts.sides[end === 'first' ? side.prev : side.next];
    return spotIn(
      this.surface,
      this.surface.triangle(this.surface.sideOfCorner[beside.corner]),
      this.at(node),
    );
  }

  /** The vertex a node has come to lie at, or −1. */
  vertexAt(node: number): number {
    const n = this.fronts.nodes[node];
    if (n.moves === 'mitre') return this.walk(node).spot.vertex;
    if (n.moves === 'fixed') return n.vertices[0];
    const { edges } = this.t;
    const at = this.at(node);
    const reach = SNAP * this.surface.size;
    const ends = [edges[2 * n.slidesOn], edges[2 * n.slidesOn + 1]];
    return ends.find((v) => distance(at, pointOf(this.mesh.positions, v)) < reach) ?? -1;
  }

  /** The nearer end of the line between plates a node lies on, if it lies on one. */
  lineEnd(node: number): number | null {
    if (this.fronts.nodes[node].moves !== 'mitre') return null;
    const { side, at } = this.walk(node).spot;
    return side >= 0 && this.surface.line[side] >= 0 ? nearerEnd(this.surface, side, at) : null;
  }

  /** The way a node went does not lie in one plane. */
  isBent(node: number): boolean {
    const n = this.fronts.nodes[node];
    if (n.moves !== 'mitre') return false;
    return this.walk(node).bent || (n.after >= 0 && this.isBent(n.after));
  }

  at(node: number): Vec3 {
    const n = this.fronts.nodes[node];
    if (n.moves === 'fixed') return pointOf(this.mesh.positions, n.vertices[0]);
    if (n.moves === 'mitre') return this.walk(node).spot.at;
    const start = n.after >= 0 ? this.at(n.after) : pointOf(this.mesh.positions, n.vertices[0]);
    return addScaled(start, this.alongEdge(n.slidesOn, this.startOf(node)), n.rate * this.grown(node));
  }

  /** How far a node grew: until it stopped, or became another. */
  private grown(node: number): number {
    const n = this.fronts.nodes[node];
    const until = n.becomes === node ? this.fronts.widthOf(node) : this.fronts.nodes[n.becomes].since;
    return Math.max(0, until - n.since);
  }

  /** The vertex the edge a node slides along was entered at. */
  private startOf(node: number): number {
    const { nodes } = this.fronts;
    const n = nodes[node];
    if (n.after < 0) return n.vertices[0];
    const edge = nodes[n.after].slidesOn;
    if (edge === n.slidesOn) return this.startOf(n.after);
    const { edges } = this.t;
    const before = [edges[2 * edge], edges[2 * edge + 1]];
    return edges[2 * n.slidesOn + Number(before.includes(edges[2 * n.slidesOn + 1]))];
  }

  private alongEdge(e: number, v: number): Vec3 {
    const { edges } = this.t;
    const other = edges[2 * e] === v ? edges[2 * e + 1] : edges[2 * e];
    const [a, b] = [pointOf(this.mesh.positions, v), pointOf(this.mesh.positions, other)];
    return scale(add(b, scale(a, -1)), 1 / (distance(a, b) || 1));
  }

  private walk(node: number): Walked {
    const known = this.walked.get(node);
    if (known) return known;
    const { surface: s } = this;
    const n = this.fronts.nodes[node];
    const length = n.rate * this.grown(node);
    const made =
      n.after < 0
        ? walkFromVertex(s, n.side, n.turn, length)
        : this.walkOn(this.walk(n.after), n.turn, length);
    this.walked.set(node, made);
    if (n.becomes === node) this.lookAhead(node, made);
    return made;
  }

  /** Looks for an end of the sheet on the node's path, as far on as one that moves towards it could be met. */
  private lookAhead(node: number, made: Walked): void {
    const n = this.fronts.nodes[node];
    const on =
      made.hit >= 0
        ? made
        : walkFrom(
            this.surface,
            made.spot,
            made.heading,
            n.rate * this.grown(node) + SNAP * this.surface.size,
          );
    if (on.hit < 0) return;
    const length = made.hit >= 0 ? made.length : made.length + on.length;
    this.hits.push({
      node,
      side: on.hit,
      at: on.spot.at,
      width: n.since + length / n.rate,
      heading: on.heading,
    });
  }

  private walkOn(before: Walked, turn: number, length: number): Walked {
    const normal = this.surface.normal(before.spot.triangle);
    const d = before.heading;
    const turned = add(scale(d, Math.cos(turn)), scale(cross(normal, d), Math.sin(turn)));
    return walkFrom(this.surface, before.spot, turned, length);
  }
}
