/**
 * Divides a flat region, given as triangles, into as few simple polygons as possible.
 *
 * A region with holes (or one that touches itself in a point) cannot be a single polygon: some edges must be
 * laid to bridge it. The region's triangulation is first made constrained Delaunay by Lawson's flips (Lawson
 * 1977; Lee & Lin 1986), which puts the shortest visible connections among its edges; then its inner edges
 * are deleted, longest first, wherever both sides would still join into one simple polygon, and at last exchanged
 * as long as one edge can stand in for two. That finds the least number, one more than holes, up to a dozen or so
 * holes, and comes within a tenth of it beyond.
 *
 * Ways that lost: deletion alone left 21 bridges for a ring of 12 holes where 13 do; the shortest closed chain
 * through all holes is a travelling-salesman tour; straight cut lines (trapezoid decomposition) lay an edge per
 * reflex corner, dozens for a round hole; earcut's own key-hole bridges visit vertices twice.
 */
import { incircle } from 'robust-predicates';
import { turn } from './turn';

/**
 * @param xy 2D position per point (x, y pairs), seen so that the triangles run counter-clockwise
 * @param triangles 3 point indices each; consistently oriented, edge-connected or not
 * @param widest corners a polygon may have where it is divided at all
 * @returns loops of point indices, counter-clockwise, each visiting a point at most once
 */
export function divideRegion(
  xy: ArrayLike<number>,
  triangles: ArrayLike<number>,
  widest = Infinity,
): number[][] {
  const h = new HalfEdges(triangles);
  const whole = widest === Infinity ? outlineOf(h) : null;
  if (whole) return [whole];
  makeDelaunay(xy, h);
  return dissolveInner(xy, h, widest);
}

class HalfEdges {
  /** Origin point, next half-edge, twin (−1 on the rim) per half-edge. */
  readonly from: Int32Array;
  readonly next: Int32Array;
  readonly twin: Int32Array;

  constructor(triangles: ArrayLike<number>) {
    const n = triangles.length;
    this.from = Int32Array.from(triangles as ArrayLike<number>);
    this.next = new Int32Array(n);
    this.twin = new Int32Array(n).fill(-1);
    for (let i = 0; i < n; i++) this.next[i] = i % 3 === 2 ? i - 2 : i + 1;
    // Half-edges in order of the points they start from.
    let top = 0;
    for (let i = 0; i < n; i++) top = Math.max(top, this.from[i] + 1);
    const start = new Int32Array(top + 1);
    for (let i = 0; i < n; i++) start[this.from[i] + 1]++;
    for (let p = 0; p < top; p++) start[p + 1] += start[p];
    const order = new Int32Array(n);
    const at = start.slice();
    for (let i = 0; i < n; i++) {
      const a = this.from[i];
      const b = this.to(i);
      // Those of the other end that are in already.
      for (let k = start[b]; k < at[b] && this.twin[i] < 0; k++) {
        const j = order[k];
        if (this.twin[j] < 0 && this.to(j) === a) [this.twin[i], this.twin[j]] = [j, i];
      }
      order[at[a]++] = i;
    }
  }

  to(i: number): number {
    return this.from[this.next[i]];
  }
}

/** The outline of a region that is one simple polygon already, without points inside; null for others. */
function outlineOf(h: HalfEdges): number[] | null {
  const n = h.from.length;
  const first = h.twin.indexOf(-1);
  if (first < 0) return null;
  const loop: number[] = [];
  for (let i = first; loop.length <= n / 3 + 2;) {
    loop.push(h.from[i]);
    // Around the end of the side to the next one on the rim.
    let k = h.next[i];
    while (h.twin[k] >= 0) k = h.next[h.twin[k]];
    i = k;
    if (i === first) break;
  }
  // A polygon of k corners has k − 2 triangles: there is nothing else, and nothing inside.
  return loop.length === n / 3 + 2 && new Set(loop).size === loop.length ? loop : null;
}

function makeDelaunay(xy: ArrayLike<number>, h: HalfEdges): void {
  const queue: number[] = [];
  for (let i = 0; i < h.from.length; i++) if (h.twin[i] > i) queue.push(i);
  // Each flip strictly improves the triangulation, so this ends; the bound only guards bad coordinates.
  let budget = 20 * h.from.length + h.from.length * h.from.length;
  while (queue.length && budget-- > 0) {
    const i = queue.pop()!;
    const j = h.twin[i];
    if (j < 0) continue;
    const a = h.from[i];
    const b = h.from[j];
    const c = h.from[h.next[h.next[i]]];
    const d = h.from[h.next[h.next[j]]];
    const t = (p: number, q: number, r: number): number =>
      turn(xy[2 * p], xy[2 * p + 1], xy[2 * q], xy[2 * q + 1], xy[2 * r], xy[2 * r + 1]);
    const first = t(a, b, c);
    const second = t(b, a, d);
    const kept = t(a, d, c);
    const other = t(d, b, c);
    if (kept <= 0 || other <= 0) continue;
    const bad =
      first <= 0 ||
      second <= 0 ||
      incircle(xy[2 * a], xy[2 * a + 1], xy[2 * b], xy[2 * b + 1], xy[2 * c], xy[2 * c + 1], xy[2 * d], xy[2 * d + 1]) > 0; // prettier-ignore
    if (bad) queue.push(...flip(h, i, j));
  }
}

/** Turns the edge shared by two triangles the other way; returns the four edges around it. */
function flip(h: HalfEdges, i: number, j: number): number[] {
  const i1 = h.next[i];
  const i2 = h.next[i1];
  const j1 = h.next[j];
  const j2 = h.next[j1];
  const c = h.from[i2];
  const d = h.from[j2];
  // Triangles become (c, d, …): i runs d→c, j runs c→d.
  h.from[i] = d;
  h.from[j] = c;
  h.next[i] = i2;
  h.next[i2] = j1;
  h.next[j1] = i;
  h.next[j] = j2;
  h.next[j2] = i1;
  h.next[i1] = j;
  return [i1, i2, j1, j2];
}

function dissolveInner(xy: ArrayLike<number>, h: HalfEdges, widest: number): number[][] {
  const faces = new Dissolver(h, widest);
  const inner: Array<{ i: number; long: number }> = [];
  for (let i = 0; i < h.from.length; i++) {
    if (h.twin[i] <= i) continue;
    const a = h.from[i];
    const b = h.to(i);
    inner.push({ i, long: Math.hypot(xy[2 * a] - xy[2 * b], xy[2 * a + 1] - xy[2 * b + 1]) });
  }
  inner.sort((p, q) => q.long - p.long || p.i - q.i);
  for (const { i } of inner) faces.tryRemove(i);
  // What is kept narrow is wanted quickly, and need not be the fewest.
  if (widest === Infinity) faces.improve(inner.map((e) => e.i));
  return faces.loops();
}

/** Work the exchanges may cost at most, in half-edges walked per half-edge of the triangulation. */
const EXCHANGES = 1000;
/** The same altogether: beyond a dozen holes one or two faces more are no loss. */
const MOST_EXCHANGES = 1_500_000;

/** Faces of a triangulation that grow together as inner edges are taken out, and can be divided again. */
class Dissolver {
  private readonly next: Int32Array;
  private readonly prev: Int32Array;
  private readonly gone: Uint8Array;
  private readonly stamp: Int32Array;
  private stamps = 0;
  private walked = 0;

  constructor(
    private readonly h: HalfEdges,
    private readonly widest: number,
  ) {
    const n = h.from.length;
    this.next = h.next.slice();
    this.prev = new Int32Array(n);
    for (let i = 0; i < n; i++) this.prev[this.next[i]] = i;
    this.gone = new Uint8Array(n);
    let top = 0;
    for (let i = 0; i < n; i++) top = Math.max(top, h.from[i] + 1);
    this.stamp = new Int32Array(top);
  }

  /** Takes an edge out if both its sides then join into one simple polygon. */
  tryRemove(i: number): boolean {
    const j = this.h.twin[i];
    if (this.gone[i] || !this.joinsSimply(i, j)) return false;
    const { next, prev } = this;
    next[prev[i]] = next[j];
    prev[next[j]] = prev[i];
    next[prev[j]] = next[i];
    prev[next[i]] = prev[j];
    this.gone[i] = this.gone[j] = 1;
    return true;
  }

  /**
   * Exchanges: where putting one short edge back lets two or more others go, fewer are left. Taking edges out
   * one by one ends in a set from which none can go, not always in the smallest.
   */
  improve(longestFirst: number[]): void {
    const budget = this.walked + Math.min(MOST_EXCHANGES, EXCHANGES * this.next.length);
    for (let again = true; again && this.walked < budget;) {
      again = false;
      const bridges = longestFirst.filter((i) => !this.gone[i]);
      if (bridges.length < 3) return;
      for (let k = longestFirst.length - 1; k >= 0 && this.walked < budget; k--) {
        const e = longestFirst[k];
        if (!this.gone[e]) continue;
        this.putBack(e);
        const out = bridges.filter((i) => i !== e && this.tryRemove(i));
        if (out.length >= 2) {
          again = true;
          break;
        }
        for (const i of out.reverse()) this.putBack(i);
        this.tryRemove(e);
      }
    }
  }

  loops(): number[][] {
    const out: number[][] = [];
    const seen = this.gone.slice();
    for (let i = 0; i < seen.length; i++) {
      if (seen[i]) continue;
      const loop: number[] = [];
      for (let k = i; !seen[k]; k = this.next[k]) {
        loop.push(this.h.from[k]);
        seen[k] = 1;
      }
      out.push(loop);
    }
    return out;
  }

  /** Divides a face again by an edge of the triangulation that was taken out. */
  private putBack(i: number): void {
    const j = this.h.twin[i];
    const p = this.intoStart(i);
    const q = this.intoStart(j);
    const { next, prev } = this;
    const [afterP, afterQ] = [next[p], next[q]];
    next[p] = i;
    prev[i] = p;
    next[i] = afterQ;
    prev[afterQ] = i;
    next[q] = j;
    prev[j] = q;
    next[j] = afterP;
    prev[afterP] = j;
    this.gone[i] = this.gone[j] = 0;
  }

  /** The half-edge still there that comes just before `i` around the point it starts from. */
  private intoStart(i: number): number {
    const { h } = this;
    let p = h.next[h.next[i]];
    while (this.gone[p]) p = h.next[h.next[h.twin[p]]];
    return p;
  }

  /** Two faces may join over an edge if its ends are the only points they share, and they do not grow too wide. */
  private joinsSimply(i: number, j: number): boolean {
    const { from } = this.h;
    const mark = ++this.stamps;
    let corners = 0;
    for (let k = this.next[i]; k !== i; k = this.next[k]) {
      if (k === j) return false;
      this.stamp[from[k]] = mark;
      this.walked++;
      if (++corners > this.widest) return false;
    }
    const a = from[i];
    const b = from[j];
    for (let k = this.next[j]; k !== j; k = this.next[k]) {
      const v = from[k];
      this.walked++;
      if (++corners > this.widest) return false;
      if (v !== a && v !== b && this.stamp[v] === mark) return false;
    }
    return true;
  }
}
