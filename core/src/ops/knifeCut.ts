/**
 * One line of the knife: it cuts the faces it runs over, as they are looked at. A line that ends where it began is closed.
 *
 * Everything is seen in the picture plane: every edge the line crosses gets one point, used by the faces on both
 * sides; a face is divided between one crossing of its outline and the next, corners of the line in between included.
 * Ends that stop inside a face divide nothing there and are left off. A closed line inside one face becomes a face
 * of its own, bridged to the outline.
 *
 * Ways that lost: marching from face to face over the nearest side lost its way at points where many faces meet;
 * slicing by one plane per stretch cut beyond the ends of the stretch and needed the pieces dissolved again.
 */

import { type Source } from '../mesh/MeshDraft';
import { vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { faceNormal, sizeOf } from '../mesh/measure';
import { topologyOf } from '../mesh/Topology';
import { TOLERANCE } from '../mesh/tolerance';
import { add, dot, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { inside } from '../planar/chordInside';
import { frameFrom } from '../planar/frame';
import { locateInFace } from '../planar/locateInFace';
import { makeBlend } from '../mesh/layers';
import { FaceDivider } from './divideFaces';
import { islandLoops } from './knifeIslands';
import type { Cut, Sight } from './knifeLine';
type Flat = [number, number];
/** A crossing of the line with a face's outline: the distance along the line, and the point of the mesh. */
interface Hit {
  /** Stretch number plus share along it. */
  at: number;
  point: number;
}
/** Places looked at along a line that begins and ends beside the piece. */
const SAMPLES = 64;
export class KnifeCut {
  private readonly t;
  private readonly divider: FaceDivider;
  private readonly flat: Float64Array;
  private readonly depth: Float64Array;
  private readonly line: Flat[];
  private readonly closed: boolean;
  private readonly u: Vec3;
  private readonly v: Vec3;
  private readonly w: Vec3;
  private readonly eps: number;
  private readonly crossings = new Map<string, Hit | null>();
  constructor(
    private readonly mesh: PolyMesh,
    private readonly faces: ReadonlyArray<number>,
    private readonly path: ReadonlyArray<Vec3>,
    private readonly p: Sight,
  ) {
    this.t = topologyOf(mesh);
    this.divider = new FaceDivider(mesh);
    this.w = unit(p.view);
    const frame = frameFrom([0, 0, 0], this.w);
    this.u = frame.u;
    this.v = frame.v;
    this.flat = new Float64Array(2 * vertexCount(mesh));
    this.depth = new Float64Array(vertexCount(mesh));
    for (let k = 0; k < this.depth.length; k++) {
      const at = pointOf(mesh.positions, k);
      this.depth[k] = p.eye ? dot(sub(at, p.eye), this.w) : 1;
      this.flat.set(this.project(at), 2 * k);
    }
    this.line = path.map((x) => this.project(x));
    this.closed = path.length > 3 && path[0].every((x, k) => x === path[path.length - 1][k]);
    const span = Math.max(...[0, 1].map((k) => range(this.flat, k)));
    this.eps = Math.max(span, 1e-12) * TOLERANCE.straight * 10;
  }
  run(): Cut {
    const loops: Array<{ face: number; points: Vec3[] }> = [];
    for (const f of this.p.through ? this.within(this.p.depth) : this.reached()) {
      if (!this.inFront(f)) continue;
      const hits = this.hitsOf(f);
      if (hits.length) this.divideFace(f, hits);
      else if (this.closed && this.line.every((q) => inside(this.outlineOf(f), q)))
        loops.push({ face: f, points: this.line.slice(0, -1).map((q) => this.lift(f, q)) });
    }
    const out = this.divider.finish();
    return loops.length
      ? islandLoops(
          out,
          loops.map((l) => ({ ...l, face: out.faceOf[l.face] })),
        )
      : out;
  }
  private project(at: Vec3): Flat {
    const d = this.p.eye ? sub(at, this.p.eye) : at;
    const z = this.p.eye ? dot(d, this.w) : 1;
    return [dot(d, this.u) / z, dot(d, this.v) / z];
  }
  /** Through the depth every face counts that is not seen edge-on; on the surface only those that face the eye. */
  private inFront(f: number): boolean {
    const n = faceNormal(this.mesh, f);
    const at = pointOf(this.mesh.positions, this.mesh.corners[this.mesh.faceStart[f]]);
    const along = this.p.eye ? unit(sub(at, this.p.eye)) : this.w;
    const cos = dot(n, along);
    return this.p.through ? Math.abs(cos) > 1e-6 : cos < -1e-6;
  }
  /** Through the depth: faces the line runs over, no further behind the first of them; all of them for 0. */
  private within(depth: number): ReadonlyArray<number> {
    if (!depth) return this.faces;
    const met = this.faces.flatMap((f) => {
      const far = this.inFront(f) ? this.depthsOf(f) : [];
      return far.length ? { f, near: Math.min(...far), far: Math.max(...far) } : [];
    });
    const first = Math.min(...met.map((m) => m.near));
    return met.filter((m) => m.far - first <= depth * (1 + 1e-9)).map((m) => m.f);
  }

  /** How far along the sight a face lies under the line, mm. */
  private depthsOf(f: number): number[] {
    return this.placesOn(f).map((at) => dot(at, this.w));
  }

  /** Places of the line on a face, at even steps along it. */
  private placesOn(f: number): Vec3[] {
    const outline = this.outlineOf(f);
    const n = this.line.length - 1;
    const out: Vec3[] = [];
    for (let i = 0; i <= SAMPLES; i++) {
      const q = this.lineAt(Math.min(n - 1e-9, (i / SAMPLES) * n));
      if (inside(outline, q)) out.push(this.lift(f, q));
    }
    return out;
  }

  /** The line's first hit on the piece, about the middle of its course; null where it meets nothing. */
  front(): Vec3 | null {
    let [first, least]: [Vec3[] | null, number] = [null, Infinity];
    for (const f of this.faces) {
      const places = this.inFront(f) ? this.placesOn(f) : [];
      const near = Math.min(...places.map((at) => dot(at, this.w)));
      if (near < least) [first, least] = [places, near];
    }
    return first && first[first.length >> 1];
  }

  /** On the surface: faces the line's points lie on, and from there those it crosses into. */
  private reached(): number[] {
    const { mesh, t } = this;
    const allowed = new Set(this.faces);
    const size = sizeOf(mesh);
    const seen = new Set<number>();
    const waiting: number[] = [];
    for (const f of this.faces) {
      if (!this.inFront(f)) continue;
      const n = faceNormal(mesh, f);
      const o = pointOf(mesh.positions, mesh.corners[mesh.faceStart[f]]);
      const touches = this.path.some((x, i) => {
        if (Math.abs(dot(sub(x, o), n)) > size * 1e-4) return false;
        return inside(this.outlineOf(f), this.line[i]) || this.onOutline(f, this.line[i]);
      });
      if (touches) {
        seen.add(f);
        waiting.push(f);
      }
    }
    // A line drawn in from beside the piece has no end on it: what is seen first along it is meant.
    if (!seen.size)
      for (const f of this.seenAlong()) {
        seen.add(f);
        waiting.push(f);
      }
    for (let f = waiting.pop(); f !== undefined; f = waiting.pop()) {
      const met = new Set(this.hitsOf(f).map((h) => h.point));
      if (!met.size) continue;
      // Every face around a met edge or point may be next.
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const near: number[] = [];
        if (t.twin[c] >= 0 && this.edgeMet(t.edgeOfCorner[c])) near.push(t.faceOfCorner[t.twin[c]]);
        const v = mesh.corners[c];
        if (met.has(v))
          for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
            near.push(t.faceOfCorner[t.vertexCorners[i]]);
        for (const g of near)
          if (!seen.has(g) && allowed.has(g) && this.inFront(g)) {
            seen.add(g);
            waiting.push(g);
          }
      }
    }
    return [...seen].sort((a, b) => a - b);
  }

  /** Faces seen first at places along the line. */
  private seenAlong(): Set<number> {
    const out = new Set<number>();
    const front = this.faces.filter((f) => this.inFront(f));
    const n = this.line.length - 1;
    for (let i = 0; i <= SAMPLES; i++) {
      const q = this.lineAt(Math.min(n - 1e-9, (i / SAMPLES) * n));
      let [first, least] = [-1, Infinity];
      for (const f of front) {
        if (!inside(this.outlineOf(f), q)) continue;
        const far = dot(this.lift(f, q), this.w);
        if (far < least) [first, least] = [f, far];
      }
      if (first >= 0) out.add(first);
    }
    return out;
  }

  private edgeMet(e: number): boolean {
    for (let k = 0; k + 1 < this.line.length; k++) if (this.crossing(e, k)) return true;
    return false;
  }

  private onOutline(f: number, q: Flat): boolean {
    const o = this.outlineOf(f);
    return o.some((a, k) => segmentDistance(q, a, o[(k + 1) % o.length]) <= this.eps * 100);
  }

  private outlineOf(f: number): Flat[] {
    const out: Flat[] = [];
    for (let c = this.mesh.faceStart[f]; c < this.mesh.faceStart[f + 1]; c++)
      out.push(this.flatOf(this.mesh.corners[c]));
    return out;
  }

  private flatOf(v: number): Flat {
    return [this.flat[2 * v], this.flat[2 * v + 1]];
  }

  private hitsOf(f: number): Hit[] {
    const { mesh, t } = this;
    const hits: Hit[] = [];
    for (let k = 0; k + 1 < this.line.length; k++)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const hit = this.crossing(t.edgeOfCorner[c], k);
        if (hit && !hits.some((h) => h.point === hit.point && Math.abs(h.at - hit.at) < 1e-6)) hits.push(hit);
      }
    return hits.sort((a, b) => a.at - b.at);
  }

  /** The crossing of segment k with an edge: the same answer for both faces beside it. */
  private crossing(e: number, k: number): Hit | null {
    const key = `${e}/${k}`;
    let hit = this.crossings.get(key);
    if (hit === undefined) this.crossings.set(key, (hit = this.meet(e, k)));
    return hit;
  }

  private meet(e: number, k: number): Hit | null {
    const [a, b] = [this.t.edges[2 * e], this.t.edges[2 * e + 1]];
    const [p, q] = [this.line[k], this.line[k + 1]];
    const [A, B] = [this.flatOf(a), this.flatOf(b)];
    const d: Flat = [q[0] - p[0], q[1] - p[1]];
    const l = Math.hypot(d[0], d[1]);
    if (l <= this.eps) return null;
    // At the ends of the edge: the mesh's own point, if the line passes it.
    for (const [v, V] of [
      [a, A],
      [b, B],
    ] as const) {
      if (segmentDistance(V, p, q) > this.eps) continue;
      const s = ((V[0] - p[0]) * d[0] + (V[1] - p[1]) * d[1]) / (l * l);
      return { at: k + Math.min(1, Math.max(0, s)), point: v };
    }
    // A corner of the line that lies on the edge is one point of it, for the stretch before and the one after.
    for (const [at, P] of [
      [k, p],
      [k + 1, q],
    ] as const)
      if (segmentDistance(P, A, B) <= this.eps) return { at, point: this.pointAt(e, shareAlong(P, A, B)) };
    const [hA, hB] = [
      d[0] * (A[1] - p[1]) - d[1] * (A[0] - p[0]),
      d[0] * (B[1] - p[1]) - d[1] * (B[0] - p[0]),
    ];
    if (hA * hB >= 0) return null;
    const s = hA / (hA - hB);
    const at: Flat = [A[0] + s * (B[0] - A[0]), A[1] + s * (B[1] - A[1])];
    const along = ((at[0] - p[0]) * d[0] + (at[1] - p[1]) * d[1]) / (l * l);
    const slack = this.eps / l;
    if (along < -slack || along > 1 + slack) return null;
    return { at: k + Math.min(1, Math.max(0, along)), point: this.pointAt(e, s) };
  }

  /** The mesh's point on an edge at a share of it in the picture; in perspective, that is another share in space. */
  private pointAt(e: number, s: number): number {
    const [za, zb] = [this.depth[this.t.edges[2 * e]], this.depth[this.t.edges[2 * e + 1]]];
    return this.divider.pointOnEdge(e, (s * za) / (zb - s * (zb - za)));
  }

  private divideFace(f: number, hits: Hit[]): void {
    const outline = this.outlineOf(f);
    const pairs = hits.slice(0, -1).map((h, i): [Hit, Hit] => [h, hits[i + 1]]);
    // A closed line may run through the place where it began.
    if (this.closed && hits.length > 1)
      pairs.push([hits[hits.length - 1], { ...hits[0], at: hits[0].at + this.line.length - 1 }]);
    for (const [h, g] of pairs) {
      if (h.point === g.point) continue;
      const between_ = this.cornersBetween(h.at, g.at);
      const first = between_[0] ?? this.lineAt(g.at);
      const start = this.lineAt(h.at);
      if (!inside(outline, [(start[0] + first[0]) / 2, (start[1] + first[1]) / 2])) continue;
      this.divider.divide(f, {
        from: h.point,
        to: g.point,
        through: between_.map((q) => {
          const at = this.lift(f, q);
          const source = this.sourceIn(f, at);
          return { point: this.divider.draft.addPoint(at, pointSource(this.mesh, source)), source };
        }),
      });
    }
  }

  private lineAt(x: number): Flat {
    const n = this.line.length - 1;
    const y = x > n ? x - n : x;
    const k = Math.min(n - 1, Math.floor(y));
    const s = y - k;
    return [
      this.line[k][0] + s * (this.line[k + 1][0] - this.line[k][0]),
      this.line[k][1] + s * (this.line[k + 1][1] - this.line[k][1]),
    ];
  }

  /** Corners of the line strictly between two places on it. */
  private cornersBetween(from: number, to: number): Flat[] {
    const n = this.line.length - 1;
    const out: Flat[] = [];
    for (let k = Math.floor(from + 1e-9) + 1; k < to - 1e-9; k++) out.push(this.line[k % n]);
    return out;
  }

  /** The place in the face's plane that is seen at a place in the picture. */
  private lift(f: number, [x, y]: Flat): Vec3 {
    const n = faceNormal(this.mesh, f);
    const o = pointOf(this.mesh.positions, this.mesh.corners[this.mesh.faceStart[f]]);
    const across: Vec3 = add(scale(this.u, x), scale(this.v, y));
    if (this.p.eye) {
      const ray = add(across, this.w);
      return add(this.p.eye, scale(ray, dot(sub(o, this.p.eye), n) / dot(ray, n)));
    }
    return add(across, scale(this.w, dot(sub(o, across), n) / dot(this.w, n)));
  }

  private sourceIn(f: number, at: Vec3): Source {
    const blend = makeBlend(1);
    locateInFace(this.mesh, [f], at, blend, 0);
    const of = Array.from(blend.index).filter((c) => c >= 0);
    return { of, by: Array.from(blend.weight).slice(0, of.length) };
  }
}

/** The corners' points in place of the corners. */
const pointSource = (mesh: PolyMesh, s: Source): Source =>
  typeof s === 'number' ? mesh.corners[s] : { of: s.of.map((c) => mesh.corners[c]), by: s.by };

function range(flat: Float64Array, k: number): number {
  let [lo, hi] = [Infinity, -Infinity];
  for (let i = k; i < flat.length; i += 2) {
    lo = Math.min(lo, flat[i]);
    hi = Math.max(hi, flat[i]);
  }
  return hi - lo;
}

/** The place on a segment nearest to `p`, from 0 to 1. */
function shareAlong(p: Flat, a: Flat, b: Flat): number {
  const d = [b[0] - a[0], b[1] - a[1]];
  const s = ((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1]) / (d[0] * d[0] + d[1] * d[1] || 1);
  return Math.min(1, Math.max(0, s));
}

function segmentDistance(p: Flat, a: Flat, b: Flat): number {
  const s = shareAlong(p, a, b);
  return Math.hypot(p[0] - a[0] - s * (b[0] - a[0]), p[1] - a[1] - s * (b[1] - a[1]));
}
