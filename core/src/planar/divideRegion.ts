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
  if (whole) return [fromLeast(whole)];
  makeDelaunay(xy, h);
  return dissolveInner(xy, h, widest)
    .map(fromLeast)
    .sort(([a, b], [c, d]) => a - c || b - d);
}

/** A loop begun at its first point. */
function fromLeast(loop: number[]): number[] {
  const at = loop.indexOf(loop.reduce((a, b) => Math.min(a, b)));
  return [...loop.slice(at), ...loop.slice(0, at)];
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

/**
 * Lawson's flips. Which of four points lie on one circle is judged on a grid far finer than anything drawn, and of two
 * ways to divide these the one at the first point is taken: so rounding in the last digits divides nothing otherwise.
 */
function makeDelaunay(xy: ArrayLike<number>, h: HalfEdges): void {
  const grid = onGrid(xy, h);
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
    const kept = turnOf(xy, a, d, c);
    const other = turnOf(xy, d, b, c);
    if (kept <= 0 || other <= 0) continue;
    const bad = turnOf(xy, a, b, c) <= 0 || turnOf(xy, b, a, d) <= 0 || isBetterOtherwise(grid, a, b, c, d);
    if (bad) queue.push(...flip(h, i, j));
  }
}

/** Whether four points are better divided from c to d than from a to b. */
function isBetterOtherwise(grid: Float64Array, a: number, b: number, c: number, d: number): boolean {
  for (const [p, q, r] of [
    [a, b, c],
    [b, a, d],
    [a, d, c],
    [d, b, c],
  ])
    if (turnOf(grid, p, q, r) <= 0) return false;
  const [x, y] = [(p: number): number => grid[2 * p], (p: number): number => grid[2 * p + 1]];
  const inside = incircle(x(a), y(a), x(b), y(b), x(c), y(c), x(d), y(d));
  return inside > 0 || (inside === 0 && Math.min(c, d) < Math.min(a, b));
}

const turnOf = (xy: ArrayLike<number>, p: number, q: number, r: number): number =>
  turn(xy[2 * p], xy[2 * p + 1], xy[2 * q], xy[2 * q + 1], xy[2 * r], xy[2 * r + 1]);

/** Steps of the grid over the extent of the region. */
const STEPS = 2 ** 32;

/** The points brought onto a grid that has their first point among its own. */
function onGrid(xy: ArrayLike<number>, h: HalfEdges): Float64Array {
  const out = new Float64Array(xy.length);
  const o = 2 * h.from.reduce((a, b) => Math.min(a, b));
  let extent = 0;
  for (const p of h.from)
    extent = Math.max(extent, Math.abs(xy[2 * p] - xy[o]), Math.abs(xy[2 * p + 1] - xy[o + 1]));
  const step = 2 ** Math.ceil(Math.log2(extent || 1)) / STEPS;
  for (const p of h.from)
    for (const k of [0, 1]) out[2 * p + k] = Math.round((xy[2 * p + k] - xy[o + k]) / step);
  return out;
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
  const grid = onGrid(xy, h);
  const key = (i: number): number => Math.min(h.from[i], h.to(i)) * 0x4000000 + Math.max(h.from[i], h.to(i));
  for (let i = 0; i < h.from.length; i++) {
    if (h.twin[i] <= i) continue;
    const [a, b] = [2 * h.from[i], 2 * h.to(i)];
    inner.push({ i, long: Math.round(Math.hypot(grid[a] - grid[b], grid[a + 1] - grid[b + 1])) });
  }
  inner.sort((p, q) => q.long - p.long || key(p.i) - key(q.i));
  for (const { i } of inner) faces.tryRemove(i);
  // What is kept narrow is wanted quickly, and need not be the fewest.
  if (widest === Infinity) faces.improve(inner.map((e) => e.i));
  return faces.loops();
}

/** Work the exchanges may cost at most, in half-edges walked per half-edge of the triangulation. */
const EXCHANGES = 1000;
/** The same altogether: beyond a dozen holes one or two faces more are no loss. */
const MOST_EXCHANGES = 400_000;

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
    this.remove(i);
    return true;
  }

  private remove(i: number): void {
    const j = this.h.twin[i];
    const { next, prev } = this;
    next[prev[i]] = next[j];
    prev[next[j]] = prev[i];
    next[prev[j]] = next[i];
    prev[next[i]] = prev[j];
    this.gone[i] = this.gone[j] = 1;
  }

  /**
   * Exchanges: where putting one short edge back lets two or more others go, fewer are left. Taking edges out
   * one by one ends in a set from which none can go, not always in the smallest.
   */
  improve(longestFirst: number[]): void {
    const rank = new Int32Array(this.next.length);
    longestFirst.forEach((i, k) => (rank[i] = k));
    const budget = this.walked + Math.min(MOST_EXCHANGES, EXCHANGES * this.next.length);
    for (let again = true; again && this.walked < budget;) {
      again = false;
      if (longestFirst.filter((i) => !this.gone[i]).length < 3) return;
      const standing = new Standing(this.h, this.next, this.gone);
      for (let k = longestFirst.length - 1; k >= 0 && this.walked < budget; k--) {
        const e = longestFirst[k];
        if (!this.gone[e] || !standing.couldSpareTwo(this.intoStart(e), this.intoStart(this.h.twin[e])))
          continue;
        this.putBack(e);
        // The others lie between faces that are as they were, which could not join then either.
        const out = this.inner(e)
          .sort((i, j) => rank[i] - rank[j])
          .filter((i) => i !== e && this.tryRemove(i));
        if (out.length >= 2) {
          again = true;
          break;
        }
        for (const i of out.reverse()) this.putBack(i);
        this.remove(e);
      }
    }
  }

  /** Edges between a face on either side of an edge and another. */
  private inner(e: number): number[] {
    const { twin } = this.h;
    const out = new Set<number>();
    for (const side of [e, twin[e]])
      for (let k = this.next[side]; k !== side; k = this.next[k]) {
        this.walked++;
        if (twin[k] >= 0) out.add(Math.min(k, twin[k]));
      }
    return [...out];
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

/** Faces as they stand between two exchanges: which edge could be put back so that others can go. */
class Standing {
  /** Face of each half-edge, and its place along the face's outline. */
  private readonly face: Int32Array;
  private readonly place: Int32Array;
  /** Per face: the places its edges to other faces start at, and where it has points of each of those faces. */
  private readonly edges: number[][] = [];
  private readonly shared: Array<Map<number, number[]>> = [];

  constructor(
    private readonly h: HalfEdges,
    private readonly next: Int32Array,
    gone: Uint8Array,
  ) {
    const n = next.length;
    this.face = new Int32Array(n).fill(-1);
    this.place = new Int32Array(n);
    const { twin, from } = h;
    const ends = new Set<number>();
    for (let k = 0; k < n; k++) if (!gone[k] && twin[k] >= 0) ends.add(from[k]);
    const at = new Map<number, Array<[face: number, place: number]>>();
    const inner: number[] = [];
    for (let i = 0; i < n; i++) {
      if (gone[i] || this.face[i] >= 0) continue;
      const f = this.edges.push([]) - 1;
      let place = 0;
      this.shared.push(new Map());
      for (let k = i; this.face[k] < 0; k = next[k]) {
        this.face[k] = f;
        this.place[k] = place++;
        if (twin[k] >= 0) inner.push(k);
        if (!ends.has(from[k])) continue;
        const list = at.get(from[k]);
        if (list) list.push([f, this.place[k]]);
        else at.set(from[k], [[f, this.place[k]]]);
      }
    }
    for (const k of inner) this.edges[this.face[k]].push(k);
    for (const list of at.values())
      for (const [f, place] of list)
        for (const [g] of list) {
          if (f === g) continue;
          const places = this.shared[f].get(g);
          if (places) places.push(place);
          else this.shared[f].set(g, [place]);
        }
  }

  /**
   * Whether two edges could go, each for itself, once an edge divides its face again.
   * @param p the half-edge of the face that leads to one end of the edge
   * @param q the one that leads to the other
   */
  couldSpareTwo(p: number, q: number): boolean {
    const f = this.face[p];
    const [a, b] = [this.place[this.next[p]], this.place[this.next[q]]];
    let spared = 0;
    for (const k of this.edges[f]) {
      const s = this.place[k];
      const halves = this.within(s, a, b) && s !== b ? [a, b] : [b, a];
      const other = this.shared[f].get(this.face[this.h.twin[k]])!;
      let touching = 0;
      for (const x of other) if (this.within(x, halves[0], halves[1]) && ++touching > 2) break;
      if (touching === 2 && ++spared > 1) return true;
    }
    return false;
  }

  /** Whether a place lies on the way from one to another along an outline. */
  private within(x: number, from: number, to: number): boolean {
    return from <= to ? x >= from && x <= to : x >= from || x <= to;
  }
}
