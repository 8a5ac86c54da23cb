/** Places on single triangles, and the boxes of many. */
import { add, addScaled, cross, dot, scale, sub, type Vec3 } from '../mesh/vec3';

/** The nearest place of a triangle to a point (Ericson 2005, section 5.1.5). */
export function nearestOnTriangle(p: Vec3, a: Vec3, b: Vec3, c: Vec3): Vec3 {
  const [ab, ac, ap] = [sub(b, a), sub(c, a), sub(p, a)];
  const [d1, d2] = [dot(ab, ap), dot(ac, ap)];
  if (d1 <= 0 && d2 <= 0) return a;
  const bp = sub(p, b);
  const [d3, d4] = [dot(ab, bp), dot(ac, bp)];
  if (d3 >= 0 && d4 <= d3) return b;
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return addScaled(a, ab, d1 / (d1 - d3 || 1));
  const cp = sub(p, c);
  const [d5, d6] = [dot(ab, cp), dot(ac, cp)];
  if (d6 >= 0 && d5 <= d6) return c;
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return addScaled(a, ac, d2 / (d2 - d6 || 1));
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0)
    return addScaled(b, sub(c, b), (d4 - d3) / (d4 - d3 + (d5 - d6) || 1));
  const sum = va + vb + vc;
  return add(a, add(scale(ab, vb / sum), scale(ac, vc / sum)));
}

/** s with from + s · d in the triangle, its rim included (Möller & Trumbore 1997); null when there is none. */
export function meetsTriangle(from: Vec3, d: Vec3, a: Vec3, b: Vec3, c: Vec3): number | null {
  const [ab, ac] = [sub(b, a), sub(c, a)];
  const h = cross(d, ac);
  const det = dot(ab, h);
  if (Math.abs(det) < 1e-300) return null;
  const s = sub(from, a);
  const u = dot(s, h) / det;
  const q = cross(s, ab);
  const v = dot(d, q) / det;
  // The rim belongs to it, with room for rounding: a line along a shared edge meets one of the two at least.
  const slack = 1e-12;
  if (u < -slack || v < -slack || u + v > 1 + slack) return null;
  return dot(ac, q) / det;
}

/** 6 bounds per triangle, as a `BoxTree` takes them. @param points three point indices per triangle */
export function boxesOfTriangles(p: Float64Array, points: Uint32Array): Float64Array {
  const boxes = new Float64Array(2 * points.length);
  for (let t = 0; 3 * t < points.length; t++) {
    const [i, j, l] = [3 * points[3 * t], 3 * points[3 * t + 1], 3 * points[3 * t + 2]];
    for (let k = 0; k < 3; k++) {
      const [a, b, c] = [p[i + k], p[j + k], p[l + k]];
      boxes[6 * t + k] = Math.min(a, b, c);
      boxes[6 * t + 3 + k] = Math.max(a, b, c);
    }
  }
  return boxes;
}
