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
import { dissolveInner } from './dissolveInner';
import { onGrid } from './grid';
import { HalfEdges } from './HalfEdges';
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
  const least = (p: number, q: number, r: number, s: number): number =>
    Math.min(turnOf(grid, p, q, r), turnOf(grid, q, p, s));
  if (least(d, c, a, b) <= 0) return false;
  // Three points on a straight run are no triangle.
  if (least(a, b, c, d) <= 0) return true;
  const [x, y] = [(p: number): number => grid[2 * p], (p: number): number => grid[2 * p + 1]];
  const inside = incircle(x(a), y(a), x(b), y(b), x(c), y(c), x(d), y(d));
  return inside > 0 || (inside === 0 && Math.min(c, d) < Math.min(a, b));
}

const turnOf = (xy: ArrayLike<number>, p: number, q: number, r: number): number =>
  turn(xy[2 * p], xy[2 * p + 1], xy[2 * q], xy[2 * q + 1], xy[2 * r], xy[2 * r + 1]);

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
