/**
 * Ear clipping that keeps every point, also those on straight runs: an ear must turn strictly left and hold
 * no other point, not even on its rim. By the two-ears theorem (Meisters 1975), applied to a triangulation
 * without flat triangles, such an ear always exists in a simple polygon. Cubic at worst; used only where
 * earcut leaves points out.
 */
import { orient2d } from 'robust-predicates';

/** Left turns positive, whatever the library's axis convention. */
export const turn = (ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number =>
  -orient2d(ax, ay, bx, by, cx, cy);

/** Triangles (3 indices each, n−2 of them) of the counter-clockwise outline `flat` (x, y pairs). */
export function clipEars(flat: Float64Array): number[] {
  const left = Array.from({ length: flat.length / 2 }, (_, i) => i);
  const out: number[] = [];
  let from = 0;
  while (left.length > 3) {
    const ear = findEar(flat, left, from);
    const n = left.length;
    const k = ear < 0 ? from % n : ear;
    out.push(left[(k + n - 1) % n], left[k], left[(k + 1) % n]);
    left.splice(k, 1);
    from = k % left.length;
  }
  out.push(left[0], left[1], left[2]);
  return out;
}

function findEar(p: Float64Array, left: number[], from: number): number {
  const n = left.length;
  for (let step = 0; step < n; step++) {
    const k = (from + step) % n;
    const a = left[(k + n - 1) % n];
    const b = left[k];
    const c = left[(k + 1) % n];
    if (turn(p[2 * a], p[2 * a + 1], p[2 * b], p[2 * b + 1], p[2 * c], p[2 * c + 1]) <= 0) continue;
    if (left.every((q) => q === a || q === b || q === c || !inTriangle(p, a, b, c, q))) return k;
  }
  return -1;
}

function inTriangle(p: Float64Array, a: number, b: number, c: number, q: number): boolean {
  const side = (i: number, j: number): number =>
    turn(p[2 * i], p[2 * i + 1], p[2 * j], p[2 * j + 1], p[2 * q], p[2 * q + 1]);
  return side(a, b) >= 0 && side(b, c) >= 0 && side(c, a) >= 0;
}
