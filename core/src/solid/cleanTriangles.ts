/**
 * Cleans the kernel's triangles of what has no width: points nearer than the kernel's input precision become one,
 * triangles that lie back to back go in pairs, and the point of a triangle that has shrunk to a line is put into the
 * triangle on its long side (an edge flip), so that the surface stays closed throughout (cf. Botsch & Kobbelt 2001,
 * "A robust procedure to eliminate degenerate faces from triangle meshes").
 */
import { distance } from '../planar/thinFaces';
import type { Groups } from './Groups';

/** Group of a triangle that is gone. */
export const GONE = 0xffffffff;

/** Partner of each half-edge 3t + k, for triangles in and around groups that were cut; −1 where none is known. */
export type Twins = Int32Array;

export const nextSide = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1);

/**
 * Works on `g.triVerts` and `g.groupOf`; groups it changes count as touched.
 * @param p restored positions
 * @param reach width below which there is none
 * @param to points that become another
 * @param always find the partners of half-edges even if nothing is thin
 */
export function cleanTriangles(
  g: Groups,
  p: Float64Array,
  reach: number,
  to: ReadonlyMap<number, number>,
  always: boolean,
): Twins | null {
  const all = touchedTriangles(g);
  if (!to.size && !always && !all.some((t) => longSide(g, p, t, reach) >= 0)) return null;
  const { twins, near } = partners(g, all);
  // A flip can bring points together that had no edge in common: look again.
  let welds = to;
  for (let round = 0, changed = true; changed && round < 32; round++) {
    if (welds.size) weld(g, welds, twins, near);
    dropFlaps(g, twins, near);
    changed = flipThin(g, p, reach, twins, near);
    welds = pointsToWeld(g, p, reach, near);
    changed ||= welds.size > 0;
  }
  return twins;
}

const isTouched = (g: Groups, t: number): boolean => g.groupOf[t] !== GONE && g.touched[g.groupOf[t]] === 1;

/**
 * Ends of edges shorter than `reach` become one point, unless one operand owns both.
 * @param among triangles to look at; all of groups that were cut when left out
 */
export function pointsToWeld(
  g: Groups,
  p: Float64Array,
  reach: number,
  among: ArrayLike<number> | null = null,
): Map<number, number> {
  const to = new Map<number, number>();
  const find = (v: number): number => {
    let r = v;
    while (to.has(r)) r = to.get(r)!;
    return r;
  };
  const owner = (v: number): number => (g.sourceOperand[v] < 0 ? 1e9 : g.sourceOperand[v]);
  const count = among?.length ?? g.groupOf.length;
  for (let i = 0; i < count; i++) {
    const t = among ? among[i] : i;
    if (!isTouched(g, t)) continue;
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const u = g.triVerts[h];
      const v = g.triVerts[nextSide(h)];
      // Far most edges are long: the coordinate differences tell without a root.
      if (Math.abs(p[3 * u] - p[3 * v]) > reach || Math.abs(p[3 * u + 1] - p[3 * v + 1]) > reach) continue;
      const [a, b] = [find(u), find(v)];
      if (a === b || distance(p, a, b) > reach) continue;
      if (owner(a) === owner(b) && g.sourceVertex[a] !== g.sourceVertex[b]) continue;
      const keepA = owner(a) !== owner(b) ? owner(a) < owner(b) : a < b;
      if (keepA) to.set(b, a);
      else to.set(a, b);
    }
  }
  for (const v of [...to.keys()]) to.set(v, find(v));
  return to;
}

function touchedTriangles(g: Groups): number[] {
  const out: number[] = [];
  for (let t = 0; t < g.groupOf.length; t++) if (isTouched(g, t)) out.push(t);
  return out;
}

/** Partners of the half-edges of all triangles that have a point in common with one of those given; and these triangles. */
function partners(g: Groups, touched: ReadonlyArray<number>): { twins: Twins; near: number[] } {
  const { triVerts: tv } = g;
  const marked = new Uint8Array(g.pointCount);
  for (const t of touched) marked[tv[3 * t]] = marked[tv[3 * t + 1]] = marked[tv[3 * t + 2]] = 1;
  const twins = new Int32Array(tv.length).fill(-1);
  const near: number[] = [];
  const open = new Map<number, number>();
  for (let t = 0; t < g.groupOf.length; t++) {
    if (!marked[tv[3 * t]] && !marked[tv[3 * t + 1]] && !marked[tv[3 * t + 2]]) continue;
    near.push(t);
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const [a, b] = [tv[h], tv[nextSide(h)]];
      const back = open.get(b * g.pointCount + a);
      if (back === undefined) open.set(a * g.pointCount + b, h);
      else {
        pair(twins, h, back);
        open.delete(b * g.pointCount + a);
      }
    }
  }
  return { twins, near };
}

function pair(twins: Twins, a: number, b: number): void {
  if (a >= 0) twins[a] = b;
  if (b >= 0) twins[b] = a;
}

function weld(g: Groups, to: ReadonlyMap<number, number>, twins: Twins, near: ReadonlyArray<number>): void {
  const { triVerts: tv, groupOf } = g;
  for (const t of near) {
    if (groupOf[t] === GONE) continue;
    let changed = false;
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const v = to.get(tv[h]);
      if (v === undefined) continue;
      tv[h] = v;
      changed = true;
    }
    if (!changed) continue;
    g.touched[groupOf[t]] = 1;
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      if (tv[h] !== tv[nextSide(h)]) continue;
      // An edge has gone: what lay on the two other sides meets.
      const i = nextSide(h);
      pair(twins, twins[i], twins[nextSide(i)]);
      groupOf[t] = GONE;
      break;
    }
  }
}

/** Takes out pairs of triangles that lie back to back. */
function dropFlaps(g: Groups, twins: Twins, near: ReadonlyArray<number>): void {
  const { triVerts: tv, groupOf } = g;
  const apex = (h: number): number => tv[nextSide(nextSide(h))];
  const queue: number[] = [];
  for (const t of near)
    if (groupOf[t] !== GONE)
      for (let h = 3 * t; h < 3 * t + 3; h++) if (twins[h] > h && apex(h) === apex(twins[h])) queue.push(h);
  while (queue.length) {
    const h = queue.pop()!;
    const x = twins[h];
    const [t, u] = [Math.floor(h / 3), Math.floor(x / 3)];
    if (x < 0 || groupOf[t] === GONE || groupOf[u] === GONE) continue;
    const [h1, x1] = [nextSide(h), nextSide(x)];
    const [h2, x2] = [nextSide(h1), nextSide(x1)];
    if (tv[h2] !== tv[x2]) continue;
    g.touched[groupOf[t]] = g.touched[groupOf[u]] = 1;
    groupOf[t] = groupOf[u] = GONE;
    // h1 runs against x2, h2 against x1.
    for (const [i, j] of [
      [h1, x2],
      [h2, x1],
    ]) {
      // prettier-ignore
      if (twins[i] === j) continue;
      const outside = twins[i];
      pair(twins, outside, twins[j]);
      if (outside >= 0) queue.push(outside);
    }
  }
}

/** The longest half-edge of a triangle whose third point lies on it, within `reach` but between its ends; else −1. */
function longSide(g: Groups, p: Float64Array, t: number, reach: number): number {
  const tv = g.triVerts;
  const k = longest(p, tv[3 * t], tv[3 * t + 1], tv[3 * t + 2], reach);
  return k < 0 ? -1 : 3 * t + k;
}

/** The same of three points: 0 for the side from the first to the second, and so on. */
function longest(p: Float64Array, first: number, second: number, third: number, reach: number): number {
  const [a, b, c] = [3 * first, 3 * second, 3 * third];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[b], p[c + 1] - p[b + 1], p[c + 2] - p[b + 2]];
  const [wx, wy, wz] = [p[a] - p[c], p[a + 1] - p[c + 1], p[a + 2] - p[c + 2]];
  const sides = [ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz, wx * wx + wy * wy + wz * wz];
  const long = sides[0] >= sides[1] && sides[0] >= sides[2] ? 0 : sides[1] >= sides[2] ? 1 : 2;
  const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  if (sides[0] <= reach * reach || sides[1] <= reach * reach || sides[2] <= reach * reach) return -1;
  return x * x + y * y + z * z <= reach * reach * sides[long] ? long : -1;
}

/** @returns whether anything was flipped */
function flipThin(
  g: Groups,
  p: Float64Array,
  reach: number,
  twins: Twins,
  near: ReadonlyArray<number>,
): boolean {
  const { triVerts: tv, groupOf } = g;
  const queue = near.filter((t) => isTouched(g, t) && longSide(g, p, t, reach) >= 0);
  let flipped = false;
  // No flip is made that would be taken back, so this ends; the bound is for bad numbers.
  let budget = 100 + 40 * queue.length;
  while (queue.length && budget-- > 0) {
    const first = queue.pop()!;
    const h = groupOf[first] === GONE ? -1 : longestOfPath(g, p, reach, twins, first);
    const x = h < 0 ? -1 : twins[h];
    if (x < 0) continue;
    const [t, u] = [Math.floor(h / 3), Math.floor(x / 3)];
    if (t !== first) queue.push(first);
    if (tv[nextSide(nextSide(h))] === tv[nextSide(nextSide(x))]) {
      dropFlaps(g, twins, [t]);
      flipped = true;
      continue;
    }
    if (wouldFlipBack(tv, p, h, x, reach)) continue;
    flipped = true;
    g.touched[groupOf[t]] = g.touched[groupOf[u]] = 1;
    groupOf[t] = groupOf[u];
    g.idOf[t] = g.idOf[u];
    flip(tv, twins, h, x);
    queue.push(t, u);
  }
  return flipped;
}

/** Whether a flip makes a triangle that is thin over the very edge the flip lays: four points nearly on one line. */
function wouldFlipBack(tv: Uint32Array, p: Float64Array, h: number, x: number, reach: number): boolean {
  const [a, c] = [tv[h], tv[x]];
  const [b, d] = [tv[nextSide(nextSide(h))], tv[nextSide(nextSide(x))]];
  return longest(p, b, d, a, reach) === 0 || longest(p, d, b, c, reach) === 0;
}

/**
 * From a thin triangle over longest sides to thin neighbours with a longer one still (Rivara 1997): the longest side at
 * the end, or −1 if the triangle is not thin.
 */
function longestOfPath(g: Groups, p: Float64Array, reach: number, twins: Twins, t: number): number {
  const long = (h: number): number => distance(p, g.triVerts[h], g.triVerts[nextSide(h)]);
  let h = longSide(g, p, t, reach);
  while (h >= 0 && twins[h] >= 0) {
    const on = longSide(g, p, Math.floor(twins[h] / 3), reach);
    if (on < 0 || long(on) <= long(h)) break;
    h = on;
  }
  return h;
}

/** The edge shared by two triangles turned the other way. h: a → c with b behind it, x: c → a with d. */
function flip(tv: Uint32Array, twins: Twins, h: number, x: number): void {
  const [t, u] = [3 * Math.floor(h / 3), 3 * Math.floor(x / 3)];
  const [h1, x1] = [nextSide(h), nextSide(x)];
  const [h2, x2] = [nextSide(h1), nextSide(x1)];
  const [a, c, b, d] = [tv[h], tv[h1], tv[h2], tv[x2]];
  // The four sides in (b, a, d) and (d, c, b).
  const place = new Map([[h2, t], [x1, t + 1], [x2, u], [h1, u + 1]]); // prettier-ignore
  const partner = [...place.keys()].map((side) => twins[side]);
  tv.set([b, a, d], t);
  tv.set([d, c, b], u);
  [...place.values()].forEach((to, i) => {
    twins[to] = -1;
    pair(twins, to, partner[i] < 0 ? -1 : (place.get(partner[i]) ?? partner[i]));
  });
  pair(twins, t + 2, u + 2);
}
