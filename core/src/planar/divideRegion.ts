/**
 * Divides a flat region, given as triangles, into as few simple polygons as possible.
 *
 * A region with holes (or one that touches itself in a point) cannot be a single polygon: some edges must be
 * laid to bridge it. The region's triangulation is first made constrained Delaunay by Lawson's flips (Lawson
 * 1977; Lee & Lin 1986), which puts the shortest visible connections among its edges; then its inner edges
 * are deleted, longest first, wherever both sides would still join into one simple polygon.
 *
 * Ways that lost: a chain outer→hole→hole→outer of least total length needs one edge fewer now and then but
 * leaves spiral polygons that wind around every hole; straight cut lines (trapezoid decomposition) lay an edge
 * per reflex corner, dozens for a round hole; earcut's own key-hole bridges visit vertices twice.
 */
import { incircle } from 'robust-predicates';
import { turn } from './clipEars';

/**
 * @param xy 2D position per point (x, y pairs), seen so that the triangles run counter-clockwise
 * @param triangles 3 point indices each; consistently oriented, edge-connected or not
 * @returns loops of point indices, counter-clockwise, each visiting a point at most once
 */
export function divideRegion(xy: ArrayLike<number>, triangles: ArrayLike<number>): number[][] {
  const h = new HalfEdges(triangles);
  makeDelaunay(xy, h);
  return dissolveInner(xy, h);
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
    const open = new Map<number, number[]>();
    for (let i = 0; i < n; i++) this.next[i] = i % 3 === 2 ? i - 2 : i + 1;
    let top = 0;
    for (let i = 0; i < n; i++) top = Math.max(top, this.from[i] + 1);
    for (let i = 0; i < n; i++) {
      const a = this.from[i];
      const b = this.from[this.next[i]];
      const back = open.get(b * top + a);
      if (back?.length) {
        const j = back.pop()!;
        this.twin[i] = j;
        this.twin[j] = i;
      } else {
        const list = open.get(a * top + b);
        if (list) list.push(i);
        else open.set(a * top + b, [i]);
      }
    }
  }

  to(i: number): number {
    return this.from[this.next[i]];
  }
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

function dissolveInner(xy: ArrayLike<number>, h: HalfEdges): number[][] {
  const n = h.from.length;
  const prev = new Int32Array(n);
  for (let i = 0; i < n; i++) prev[h.next[i]] = i;
  const inner: Array<{ i: number; long: number }> = [];
  for (let i = 0; i < n; i++) {
    if (h.twin[i] <= i) continue;
    const a = h.from[i];
    const b = h.to(i);
    inner.push({ i, long: Math.hypot(xy[2 * a] - xy[2 * b], xy[2 * a + 1] - xy[2 * b + 1]) });
  }
  inner.sort((p, q) => q.long - p.long || p.i - q.i);
  const gone = new Uint8Array(n);
  let top = 0;
  for (let i = 0; i < n; i++) top = Math.max(top, h.from[i] + 1);
  const stamp = new Int32Array(top).fill(-1);
  for (const { i } of inner) {
    const j = h.twin[i];
    if (!joinsSimply(h, i, j, stamp)) continue;
    // Unlink both halves: the loops become one.
    h.next[prev[i]] = h.next[j];
    prev[h.next[j]] = prev[i];
    h.next[prev[j]] = h.next[i];
    prev[h.next[i]] = prev[j];
    gone[i] = gone[j] = 1;
  }
  const loops: number[][] = [];
  for (let i = 0; i < n; i++) {
    if (gone[i]) continue;
    const loop: number[] = [];
    for (let k = i; !gone[k]; k = h.next[k]) {
      loop.push(h.from[k]);
      gone[k] = 1;
    }
    loops.push(loop);
  }
  return loops;
}

/** Two faces may join over an edge if its ends are the only points they share. */
function joinsSimply(h: HalfEdges, i: number, j: number, stamp: Int32Array): boolean {
  for (let k = h.next[i]; k !== i; k = h.next[k]) {
    if (k === j) return false;
    stamp[h.from[k]] = i;
  }
  const a = h.from[i];
  const b = h.from[j];
  for (let k = h.next[j]; k !== j; k = h.next[k]) {
    const v = h.from[k];
    if (v !== a && v !== b && stamp[v] === i) return false;
  }
  return true;
}
