/**
 * How wide a rounding may be at each place of its rims. A place that is in the way of another is given a least width; from
 * there the width rises along the rims by half the way, up to what was asked. Where that bends within an edge, the edge
 * gets a point.
 */
import { makeMesh, type PolyMesh } from '../../mesh/PolyMesh';
import { blendLayers, copyLayers, makeBlend, type Blend } from '../../mesh/layers';
import { nextCorner, topologyOf, type Topology } from '../../mesh/Topology';
import { distance, dot, lerp, pointOf, sub, type Vec3 } from '../../mesh/vec3';
import { edgesOf } from './layOut';

/** The width gained per unit of way along a rim. */
export const TAPER = 0.5;
/** Places on one edge that may hold it back each by itself. */
const MANY = 16;
/** Bends closer to the end of an edge than this share of the width get no point. */
const NEAR_END = 0.2;

/** Limits on the width of a rounding. */
export type Why =
  /** Another rounded edge, or the far end of its own run. */
  | 'strip'
  /** An edge that stays as it is, or the end of the mesh. */
  | 'edge'
  /** Its corners find no place. */
  | 'room'
  /** Its profile would go through what is beside it. */
  | 'crossing'
  /** Its edge runs on without being rounded. */
  | 'end';

/** A stretch of an edge that may not be wider: from one way along the edge to another, mm, and the width at both. */
interface Limit {
  x: [number, number];
  width: [number, number];
  why: Why;
}

export interface Divided {
  mesh: PolyMesh;
  /** Edge of the mesh that was given, per edge. */
  edgeOf: Int32Array;
  /** Per vertex: the one it is, or −1 for a new one. */
  own: Int32Array;
  rounded: Uint8Array;
  /** Width each vertex may reach at most. */
  caps: Float64Array;
  /** Width each vertex was to reach. */
  wanted: Float64Array;
  /** The same with strips that run out. */
  due: Float64Array;
  /** The corners that new ones lie between; null where nothing was divided. */
  between: Between | null;
  /** Per vertex: the one it is, or one it lies near. */
  source: Int32Array;
}

/** Corners of the divided mesh as places between those of the mesh that was given. */
export interface Between {
  /** 2 corners per corner. */
  corners: Int32Array;
  /** The share of the second. */
  share: Float64Array;
}

export class Widths {
  /** Limits by edge; none of them follows from the others of its edge. */
  private readonly limits = new Map<number, Limit[]>();
  /** By edge: the ways along it to ends where its strip runs out, mm. */
  private readonly runOuts = new Map<number, number[]>();
  private changes = 0;
  /** The length of each edge used up by its end corners on both sides, per unit of width. */
  private trims: Float64Array = new Float64Array(0);

  constructor(
    private readonly mesh: PolyMesh,
    private readonly t: Topology,
    private readonly rounded: Uint8Array,
    /** The greatest width asked for anywhere. */
    readonly width: number,
    /** The requested width by vertex. */
    private readonly wanted: Float64Array,
  ) {}

  /** @param trims 2 numbers per edge: what the corner at its start and its end uses up of it, per unit of width */
  trimmedBy(trims: Float64Array): void {
    this.trims = trims;
  }

  /** Holds the rim to a width at the place of an edge nearest to a point. */
  limit(edge: number, at: Vec3, width: number, why: Why): void {
    const x = this.wayTo(edge, at);
    this.put(edge, [x, x], [width, width], why);
  }

  /** The strip of an edge runs out at one of its ends, if it is long enough for that; else over all of it. */
  runOut(edge: number, end: 0 | 1): void {
    const length = this.length(edge);
    if (length < this.width / TAPER) return;
    const list = this.runOuts.get(edge) ?? [];
    const x = end * length;
    if (list.includes(x)) return;
    this.runOuts.set(edge, [...list, x]);
    this.put(edge, [x, x], [0, 0], 'end');
  }

  /** Holds a whole edge to a width. */
  limitAll(edge: number, width: number, why: Why): void {
    this.put(edge, [0, this.length(edge)], [width, width], why);
  }

  /**
   * Holds the rim from the place of an edge nearest to a point, in a direction, to a width that rises evenly.
   * @param reach way it goes on for, mm; to the edge's end at most
   * @returns the way it went
   */
  limitAlong(
    edge: number,
    at: Vec3,
    towards: Vec3,
    reach: number,
    width: number,
    slope: number,
    why: Why,
  ): void {
    const [a, b] = this.ends(edge);
    const x = this.wayTo(edge, at);
    const forward = dot(sub(b, a), towards) > 0;
    const y = Math.min(reach, this.room(edge, at, towards));
    const far = width + slope * y;
    if (forward) this.put(edge, [x, x + y], [width, far], why);
    else this.put(edge, [x - y, x], [far, width], why);
  }

  /** Way from the place of an edge nearest to a point to the edge's end in a direction, mm. */
  room(edge: number, at: Vec3, towards: Vec3): number {
    const [a, b] = this.ends(edge);
    const x = this.wayTo(edge, at);
    return dot(sub(b, a), towards) > 0 ? distance(a, b) - x : x;
  }

  private put(edge: number, x: [number, number], width: [number, number], why: Why): void {
    const made: Limit = { x, width: [Math.max(0, width[0]), Math.max(0, width[1])], why };
    if (Math.min(...made.width) >= this.width) return;
    const list = this.limits.get(edge) ?? [];
    if (list.some((l) => follows(made, l))) return;
    const all = [...list.filter((l) => !follows(l, made)), made];
    // Held back in so many places, an edge is held back as a whole.
    const least = Math.min(...all.flatMap((l) => l.width));
    const whole: Limit = { x: [0, this.length(edge)], width: [least, least], why };
    this.limits.set(edge, all.length > MANY ? [whole] : all);
    this.changes++;
  }

  private wayTo(edge: number, at: Vec3): number {
    const [a, b] = this.ends(edge);
    const d = sub(b, a);
    const l = Math.sqrt(dot(d, d)) || 1;
    return Math.min(l, Math.max(0, dot(sub(at, a), d) / l));
  }

  /** The strongest limit on some edges; null where there is none. */
  whyOf(edges: Iterable<number>): Why | null {
    let [least, why]: [number, Why | null] = [Infinity, null];
    for (const e of edges)
      for (const l of this.limits.get(e) ?? [])
        if (l.why !== 'end' && Math.min(...l.width) < least) [least, why] = [Math.min(...l.width), l.why];
    return why;
  }

  /** The mesh with points where the width bends, and the width at every vertex. */
  divided(): Divided {
    const caps = this.atVertices();
    const cuts = new Map<number, number[]>();
    for (const e of this.limits.size ? edgesOf(this.rounded) : []) {
      const bends = this.bendsOf(e, caps);
      if (bends.length) cuts.set(e, bends);
    }
    if (!cuts.size) {
      const own = Int32Array.from(caps, (_, v) => v);
      const edgeOf = Int32Array.from({ length: this.t.edgeCount }, (_, e) => e);
      return {
        mesh: this.mesh,
        edgeOf,
        own,
        rounded: this.rounded,
        caps,
        wanted: this.wanted,
        due: this.dueAtVertices(),
        between: null,
        source: own,
      };
    }
    return this.withPoints(cuts, caps);
  }

  /** The width at any place of an edge, as limited so far. */
  now(): (edge: number, at: Vec3) => number {
    const caps = this.atVertices();
    const limits = new Map(this.limits);
    return (edge, at) => this.alongEdge(edge, caps, this.wayTo(edge, at), this.length(edge), limits);
  }

  private ends(e: number): [Vec3, Vec3] {
    const { edges } = this.t;
    return [pointOf(this.mesh.positions, edges[2 * e]), pointOf(this.mesh.positions, edges[2 * e + 1])];
  }

  private length(e: number): number {
    return distance(...this.ends(e));
  }

  private known: Float64Array | null = null;
  private knownFor = -1;

  private atVertices(): Float64Array {
    if (this.known && this.knownFor === this.changes) return this.known;
    const { edges } = this.t;
    const caps = this.wanted.slice();
    for (const [edge, list] of this.limits) {
      const [a, b] = [edges[2 * edge], edges[2 * edge + 1]];
      for (const l of list) {
        caps[a] = Math.min(caps[a], under(l, 0));
        caps[b] = Math.min(caps[b], under(l, this.length(edge)));
      }
    }
    if (this.limits.size) this.spread(caps);
    this.knownFor = this.changes;
    return (this.known = caps);
  }

  private spread(caps: Float64Array): void {
    const list = [...edgesOf(this.rounded)].map((e) => [
      this.t.edges[2 * e],
      this.t.edges[2 * e + 1],
      TAPER * this.length(e),
    ]);
    for (let again = true; again;) {
      again = false;
      for (const [a, b, most] of list) {
        if (caps[a] > caps[b] + most + 1e-9 * this.width) [caps[a], again] = [caps[b] + most, true];
        else if (caps[b] > caps[a] + most + 1e-9 * this.width) [caps[b], again] = [caps[a] + most, true];
      }
    }
  }

  private alongEdge(e: number, caps: Float64Array, x: number, length: number, limits = this.limits): number {
    const { edges } = this.t;
    let w = Math.min(
      this.wantedAt(e, x / length),
      caps[edges[2 * e]] + TAPER * x,
      caps[edges[2 * e + 1]] + TAPER * (length - x),
    );
    for (const l of limits.get(e) ?? []) w = Math.min(w, under(l, x));
    return w;
  }

  private dueAtVertices(): Float64Array {
    const due = this.wanted.slice();
    for (const [e, ends] of this.runOuts) for (const x of ends) due[this.t.edges[2 * e + Number(x > 0)]] = 0;
    return due;
  }

  private dueAt(e: number, x: number): number {
    const ends = this.runOuts.get(e) ?? [];
    return Math.min(this.wantedAt(e, x / this.length(e)), ...ends.map((end) => TAPER * Math.abs(x - end)));
  }

  private wantedAt(e: number, share: number): number {
    const [a, b] = [this.wanted[this.t.edges[2 * e]], this.wanted[this.t.edges[2 * e + 1]]];
    return a === b ? a : a + (b - a) * share;
  }

  /** Ways along an edge where the width bends. */
  private bendsOf(e: number, caps: Float64Array): number[] {
    const { edges } = this.t;
    const length = this.length(e);
    const own = this.limits.get(e) ?? [];
    const most = Math.max(this.wantedAt(e, 0), this.wantedAt(e, 1));
    const peaks = [
      { x: 0, width: caps[edges[2 * e]] },
      ...own.flatMap((l) => [0, 1].map((k) => ({ x: l.x[k], width: l.width[k] }))),
      { x: length, width: caps[edges[2 * e + 1]] },
    ]
      .filter((p) => p.width <= this.alongEdge(e, caps, p.x, length) * (1 + 1e-9))
      .sort((p, q) => p.x - q.x);
    const found: number[] = peaks.map((p) => p.x);
    for (let i = 0; i + 1 < peaks.length; i++) {
      const [p, q] = [peaks[i], peaks[i + 1]];
      const full = [p.x + (most - p.width) / TAPER, q.x - (most - q.width) / TAPER];
      const bends = full[0] < full[1] ? full : [(p.x + q.x) / 2 + (q.width - p.width) / (2 * TAPER)];
      // Unless the width is held lower there.
      for (const x of bends)
        if (
          this.alongEdge(e, caps, x, length) >
          Math.min(p.width + TAPER * (x - p.x), q.width + TAPER * (q.x - x)) - 1e-9 * this.width
        )
          found.push(x);
    }
    const apart = NEAR_END * this.width;
    const [from, to] = [0, 1].map((k) =>
      Math.max(apart, 1.01 * (this.trims[2 * e + k] ?? 0) * caps[edges[2 * e + k]]),
    );
    const out: number[] = [];
    for (const x of found.sort((p, q) => p - q))
      if (x > from && x < length - to && !(x - out[out.length - 1] < apart)) out.push(x);
    return out;
  }

  private withPoints(cuts: ReadonlyMap<number, number[]>, caps: Float64Array): Divided {
    const { mesh, t } = this;
    const positions = Array.from(mesh.positions);
    const widths = Array.from(caps);
    const wanted = Array.from(this.wanted);
    const due = Array.from(this.dueAtVertices());
    const own = Array.from(caps, (_, v) => v);
    const source = Array.from(caps, (_, v) => v);
    const pointsOf = new Map<number, number[]>();
    for (const [e, list] of cuts) {
      const [a, b] = this.ends(e);
      const length = distance(a, b);
      pointsOf.set(
        e,
        list.map((x) => {
          positions.push(...lerp(a, b, x / length));
          widths.push(this.alongEdge(e, caps, x, length));
          wanted.push(this.wantedAt(e, x / length));
          due.push(this.dueAt(e, x));
          source.push(t.edges[2 * e]);
          return own.push(-1) - 1;
        }),
      );
    }
    const corners: number[] = [];
    const ends: number[] = [];
    const share: number[] = [];
    const edgeOfCorner: number[] = [];
    const faceStart = new Uint32Array(mesh.faceStart.length);
    for (let f = 0; f + 1 < faceStart.length; f++) {
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const e = t.edgeOfCorner[c];
        corners.push(mesh.corners[c]);
        ends.push(c, c);
        share.push(0);
        edgeOfCorner.push(e);
        const inner = pointsOf.get(e);
        if (!inner) continue;
        const forward = t.edges[2 * e] === mesh.corners[c];
        const shares = cuts.get(e)!.map((x) => x / this.length(e));
        for (let k = 0; k < inner.length; k++) {
          const i = forward ? k : inner.length - 1 - k;
          corners.push(inner[i]);
          ends.push(c, nextCorner(mesh, t, c));
          share.push(forward ? shares[i] : 1 - shares[i]);
          edgeOfCorner.push(e);
        }
      }
      faceStart[f + 1] = corners.length;
    }
    const between = { corners: Int32Array.from(ends), share: Float64Array.from(share) };
    const bare = makeMesh(Float64Array.from(positions), faceStart, Uint32Array.from(corners));
    const topology = topologyOf(bare);
    const edgeOf = Int32Array.from(topology.cornerOfEdge, (c: number) => edgeOfCorner[c]);
    const made = makeMesh(bare.positions, faceStart, bare.corners, {
      edge: copyLayers(mesh.layers.edge, edgeOf),
      corner: blendLayers(mesh.layers.corner, blendOf(between)),
    });
    return {
      mesh: made,
      edgeOf,
      own: Int32Array.from(own),
      rounded: Uint8Array.from(edgeOf, (e: number) => this.rounded[e]),
      caps: Float64Array.from(widths),
      wanted: Float64Array.from(wanted),
      due: Float64Array.from(due),
      between,
      source: Int32Array.from(source),
    };
  }
}

function blendOf({ corners, share }: Between): Blend {
  const blend = makeBlend(share.length);
  share.forEach((x, i) => {
    blend.index.set(corners.subarray(2 * i, 2 * i + 2), 3 * i);
    blend.weight.set([1 - x, x], 3 * i);
  });
  return blend;
}

/** The width a limit allows at a distance along its edge. */
function under({ x: [x0, x1], width: [w0, w1] }: Limit, x: number): number {
  if (x <= x0) return w0 + TAPER * (x0 - x);
  if (x >= x1) return w1 + TAPER * (x - x1);
  return w0 + ((w1 - w0) * (x - x0)) / (x1 - x0);
}

/** Whether a limit holds back nothing that another does not. */
const follows = (l: Limit, from: Limit): boolean =>
  under(from, l.x[0]) <= l.width[0] && under(from, l.x[1]) <= l.width[1];
