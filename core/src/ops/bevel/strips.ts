/**
 * Rails as points, and the columns of the strip between the two rails of an edge: every point of either rail is an end
 * of a column, and has its partner on the other rail at the same share of the edge.
 */
import { TOLERANCE } from '../../mesh/tolerance';
import { distance, dot, lerp, sub, type Vec3 } from '../../mesh/vec3';
import type { Fronts } from './Fronts';
import type { Laid, Side } from './layOut';
import type { Places } from './places';
import type { Points } from './Points';
import { PairMap } from '../../spatial/PairMap';
import { railBetween } from './rails';
import type { RailPath } from './railPath';
import type { RunEnds } from './RunEnds';
import { lineBetween, nearerEnd, type Surface } from './Surface';
import { SNAP, type Spot } from './walk';

export interface Rail {
  side: number;
  /** Points from the side's first node to its last; a single one where the side is used up. */
  ids: number[];
  /** The plate each piece between two points lies in. */
  plates: number[];
  /** The line of the surface each piece runs along, or −1. */
  along: number[];
  /** Share of the rail's length at each point. */
  shares: number[];
}

/** Points along a strip, nearest the start of the edge first; on its left and on its right. */
export interface Column {
  left: number;
  right: number;
  /** Share of the edge's length. */
  share: number;
}

export interface Strip {
  edge: number;
  left: Rail;
  right: Rail;
  columns: Column[];
}

/** Columns closer than this share of the width are one. */
const CLOSE = 0.05;

/** Rounds of nodes becoming one at most. */
const ROUNDS = 64;
/** Nodes that went past each other by no more than this share of the width became one on the way. */
const PASSED = 0.25;

export class Strips {
  readonly rails = new Map<number, Rail>();
  /** Points on lines between plates. */
  readonly onLine = new Map<number, number[]>();
  /** Sides whose rail does not get from node to node. */
  readonly lost: number[] = [];
  /** Points put into a rail only to end a column there. */
  readonly partners = new Set<number>();
  /** Points at which ends of strips pass from plate to plate, and their lists by the points of the strip beside them. */
  private readonly passed: number[][] = [];
  private readonly passedAt = new PairMap();
  private readonly pointOfNode = new Map<number, number>();

  constructor(
    private readonly surface: Surface,
    private readonly fronts: Fronts,
    private readonly laid: Laid,
    private readonly places: Places,
    readonly points: Points,
  ) {}

  /** Whether strips end on sheets of several plates, in curves that lie there. */
  endOnPlates = false;

  /** The points to put between two neighbouring points of a strip's or a patch's outline. */
  between(p: number, q: number): ReadonlyArray<number> {
    const forward = this.passedAt.get(p, q);
    if (forward >= 0) return this.passed[forward];
    const back = this.passedAt.get(q, p);
    return back >= 0 ? [...this.passed[back]].reverse() : [];
  }

  /** The point of a node, its spot seen from any side that ends there. */
  point(node: number): number {
    const n = this.fronts.resolve(node);
    const known = this.pointOfNode.get(n);
    if (known !== undefined) return known;
    const { moves, vertices } = this.fronts.nodes[n];
    const stays = moves === 'fixed' || this.fronts.widthOf(n) < SNAP * this.surface.size;
    const at = stays ? vertices[0] : this.places.vertexAt(n);
    const made =
      at >= 0
        ? this.points.vertex(at)
        : this.points.add(this.places.at(n), this.places.lineEnd(n) ?? vertices[0]);
    this.pointOfNode.set(n, made);
    return made;
  }

  /**
   * Lays the rails of all rounded sides that are left, and the chords of corners that are cut off.
   * @param endsOf lays curves where strips end on several plates, once the rails beside them are laid
   */
  layRails(endsOf: (strips: Strips) => RunEnds): void {
    const { sides } = this.fronts;
    this.weldTouching();
    sides.forEach((s, i) => s.alive && s.rounded && this.rails.set(i, this.rail(i)));
    let ends: RunEnds | null = null;
    sides.forEach((s, i) => {
      if (s.alive && this.cutsOff(s))
        this.rails.set(
          i,
          this.rail(i, () => this.endRail(i, (ends ??= endsOf(this)))),
        );
    });
  }

  /** The rail of a chord along the curve its strip ends in; null where that does not lie on the sheet. */
  private endRail(i: number, ends: RunEnds): Rail | null {
    const s = this.fronts.sides[i];
    const spotOf = (node: number, end: 'first' | 'last'): Spot =>
      this.places.spot(this.fronts.resolve(node), s, end);
    const laid = ends.lay(s, spotOf(s.node, 'first'), spotOf(this.fronts.end(s), 'last'));
    if (!laid) return null;
    this.endOnPlates = true;
    const ids = [laid.ids[0]];
    const plates: number[] = [];
    laid.paths.forEach((path, k) => {
      const next = laid.ids[k + 1];
      const { side } = laid.spots[k + 1];
      if (k + 1 < laid.paths.length && side >= 0) this.insert(this.surface.line[side], next);
      const between = this.crossed(path);
      if (between.length) this.passedAt.set(laid.ids[k], next, this.passed.push(between) - 1);
      ids.push(...between, next);
      plates.push(...path.plates);
    });
    return { side: i, ids, plates, along: plates.map(() => -1), shares: this.sharesOf(ids) };
  }

  /** The points of a way where it passes from plate to plate. */
  private crossed(path: RailPath): number[] {
    return path.crossings.map((c) => {
      if (c.vertex >= 0) return this.points.vertex(c.vertex);
      const id = this.points.add(c.at, nearerEnd(this.surface, c.side, c.at));
      this.insert(this.surface.line[c.side], id);
      return id;
    });
  }

  /** A chord between two corners that slide away from each other cuts the corner of a face off. */
  private cutsOff(s: Side): boolean {
    // One that has come to a point that stays still is where it slid to.
    const slides = (n: number): boolean => this.fronts.nodes[n].moves === 'slide';
    return s.edge < 0 && slides(s.node) && slides(this.fronts.end(s));
  }

  /** The rails of chords: what is on their right is cut off. */
  *cutOff(): Generator<Rail> {
    for (const [i, rail] of this.rails) if (this.fronts.sides[i].edge < 0) yield rail;
  }

  /** The rail of the side on a corner's half-edge; of a side that is used up, the node it became. */
  railOf(corner: number): Rail {
    const i = this.laid.sideOfCorner[corner];
    return (
      this.rails.get(i) ?? {
        side: i,
        ids: [this.point(this.fronts.sides[i].node)],
        plates: [],
        along: [],
        shares: [0],
      }
    );
  }

  strip(edge: number, corner: number, twin: number, width: number): Strip {
    const left = this.railOf(corner);
    const right = this.railOf(twin);
    const close = this.closeness(left, width);
    // Read late: partners are inserted into the rails along the way.
    const [L, R] = [left, turned(right)].map((r) => ({ ids: [...r.ids], shares: [...r.shares] }));
    const [n, m] = [L.ids.length - 1, R.ids.length - 1];
    const columns: Column[] = [{ left: L.ids[0], right: R.ids[0], share: 0 }];
    for (let [i, j] = [1, 1]; i < n || j < m;) {
      const a = i < n ? L.shares[i] : Infinity;
      const b = j < m ? R.shares[j] : Infinity;
      if (Math.abs(a - b) <= close) columns.push({ left: L.ids[i++], right: R.ids[j++], share: (a + b) / 2 });
      else if (a < b) columns.push({ left: L.ids[i++], right: this.partner(right, 1 - a), share: a });
      else columns.push({ left: this.partner(left, b), right: R.ids[j++], share: b });
    }
    if (n > 0 || m > 0) columns.push({ left: L.ids[n], right: R.ids[m], share: 1 });
    return { edge, left, right, columns };
  }

  private closeness(rail: Rail, width: number): number {
    const length = distance(this.points.at(rail.ids[0]), this.points.at(rail.ids.at(-1)!));
    return length > 0 ? (CLOSE * width) / length : 0;
  }

  /** A point of a rail at a share of its length: one that is there, or a new one. */
  private partner(rail: Rail, share: number): number {
    if (rail.ids.length === 1) return rail.ids[0];
    let k = 0;
    while (k + 2 < rail.ids.length && rail.shares[k + 1] < share) k++;
    const [a, b] = [rail.shares[k], rail.shares[k + 1]];
    const x = b > a ? (share - a) / (b - a) : 0.5;
    const at = lerp(this.points.at(rail.ids[k]), this.points.at(rail.ids[k + 1]), x);
    const id = this.points.add(at, this.points.source[rail.ids[k]]);
    this.partners.add(id);
    rail.ids.splice(k + 1, 0, id);
    rail.shares.splice(k + 1, 0, share);
    rail.plates.splice(k, 0, rail.plates[k]);
    rail.along.splice(k, 0, rail.along[k]);
    this.insert(rail.along[k], id);
    return id;
  }

  /** @param overPlates lays it in another way where it passes from plate to plate; null where it cannot */
  private rail(i: number, overPlates?: () => Rail | null): Rail {
    const s = this.fronts.sides[i];
    const [a, b] = [this.fronts.resolve(s.node), this.fronts.resolve(this.fronts.end(s))];
    const [first, last] = [this.point(a), this.point(b)];
    if (first === last) return { side: i, ids: [first], plates: [], along: [], shares: [0] };
    const from = this.spotOf(a, s, 'first');
    const to = this.spotOf(b, s, 'last');
    const path = railBetween(this.surface, from, to);
    if (!path) {
      this.lost.push(i);
      const plates = [this.surface.plateOf[from.triangle]];
      return { side: i, ids: [first, last], plates, along: [-1], shares: [0, 1] };
    }
    const other = path.crossings.length && overPlates?.();
    if (other) return other;
    const ids = [first, ...this.crossed(path), last];
    const along = this.alongOf(path, from, to);
    return { side: i, ids, plates: path.plates, along, shares: this.sharesOf(ids) };
  }

  /** A node's spot; one on a line between plates, or on an edge that stays, becomes a point of that line. */
  private spotOf(n: number, s: Side, end: 'first' | 'last'): Spot {
    const spot = this.places.spot(n, s, end);
    if (spot.side >= 0 && this.surface.line[spot.side] >= 0)
      this.insert(this.surface.line[spot.side], this.point(n));
    return spot;
  }

  /** The line each piece of a way runs along, or −1. */
  private alongOf({ crossings, plates }: RailPath, from: Spot, to: Spot): number[] {
    const spots = [from, ...crossings, to];
    return plates.map((p, k) => lineBetween(this.surface, p, spots[k], spots[k + 1]));
  }

  private insert(line: number, id: number): void {
    if (line < 0) return;
    const list = this.onLine.get(line);
    if (!list) this.onLine.set(line, [id]);
    else if (!list.includes(id)) list.push(id);
  }

  private sharesOf(ids: number[]): number[] {
    const at = [0];
    for (let k = 1; k < ids.length; k++)
      at.push(at[k - 1] + distance(this.points.at(ids[k - 1]), this.points.at(ids[k])));
    const whole = at[at.length - 1] || 1;
    return at.map((x) => x / whole);
  }

  /**
   * Neighbouring nodes that ended in the same place become one, and so do those that went past each other: ways on
   * either side of a vertex of a curved surface draw nearer to each other than their angles tell.
   */
  private weldTouching(): void {
    const reach = TOLERANCE.weld * 10 * this.surface.size;
    const meet = (s: Side): boolean => {
      const [a, b] = [this.fronts.resolve(s.node), this.fronts.resolve(this.fronts.end(s))];
      if (a === b) return false;
      const [p, q] = [this.places.at(a), this.places.at(b)];
      const apart = distance(p, q);
      if (apart >= reach && !(s.rounded && this.wentPast(s, a, b, sub(q, p), apart))) return false;
      this.fronts.weld(a, b);
      return true;
    };
    let sides = this.fronts.sides.filter((s) => s.alive);
    for (let round = 0; sides.length && round < ROUNDS; round++) {
      const met = sides.filter(meet);
      sides = [...new Set(met.flatMap((s) => [this.fronts.sides[s.prev], this.fronts.sides[s.next]]))];
    }
  }

  private wentPast(s: Side, a: number, b: number, d: Vec3, apart: number): boolean {
    const width = Math.max(this.fronts.widthOf(a), this.fronts.widthOf(b));
    if (apart > PASSED * width || !(this.places.isBent(a) || this.places.isBent(b))) return false;
    return dot(d, this.surface.along(this.surface.sideOfCorner[s.corner])) < 0;
  }
}

/** A rail seen from its other end. */
const turned = (r: Rail): Pick<Rail, 'ids' | 'shares'> => ({
  ids: [...r.ids].reverse(),
  shares: r.shares.map((x) => 1 - x).reverse(),
});

/** The plate of a strip's cell on one side: of the rail's piece between two of its points. */
export function plateBetween(rail: Rail, a: number, b: number): number {
  const i = rail.ids.indexOf(a);
  const j = rail.ids.indexOf(b);
  return rail.plates[Math.max(0, Math.min(i, j, rail.plates.length - 1))] ?? -1;
}
