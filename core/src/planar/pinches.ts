/**
 * Divides an outline at places where it nearly touches itself, so that the parts without width can be removed. Two near
 * points become the ends of a side; a point near a side becomes the tip of a triangle on it.
 */
import { dot, distance, sub, type Vec3 } from '../mesh/vec3';

/** Longer outlines are not looked at: all pairs of a point and a side are. */
const MOST = 1024;

/** @returns parts of the outline as lists of its places; one where it is nowhere near to itself */
export function pinchedParts(points: ReadonlyArray<Vec3>, reach: number): number[][] {
  const whole = points.map((_, i) => i);
  if (points.length < 6 || points.length > MOST) return [whole];
  const open = [whole];
  const out: number[][] = [];
  for (let part = open.pop(); part; part = open.pop()) {
    const pieces = part.length < 4 ? null : (atPoints(part, points, reach) ?? atSide(part, points, reach));
    if (pieces) open.push(...pieces);
    else out.push(part);
  }
  return out;
}

/** Divided between two of its places that are near, but for neighbours. */
function atPoints(part: number[], points: ReadonlyArray<Vec3>, reach: number): number[][] | null {
  const n = part.length;
  for (let i = 0; i < n; i++)
    for (let k = i + 2; k < n; k++) {
      if (i === 0 && k === n - 1) continue;
      const [a, b] = [points[part[i]], points[part[k]]];
      if (Math.abs(a[0] - b[0]) > reach || distance(a, b) > reach) continue;
      // Bridges of a ring have both their ends twice.
      if (distance(a, b) === 0) continue;
      return [part.slice(i, k + 1), [...part.slice(k), ...part.slice(0, i + 1)]];
    }
  return null;
}

/** Divided at a place that is near to the inside of a side. */
function atSide(part: number[], points: ReadonlyArray<Vec3>, reach: number): number[][] | null {
  const n = part.length;
  for (let s = 0; s < n; s++) {
    const [a, b] = [points[part[s]], points[part[(s + 1) % n]]];
    const way = sub(b, a);
    const l = Math.sqrt(dot(way, way));
    if (l <= 4 * reach) continue;
    for (let j = 2; j < n; j++) {
      const i = (s + j) % n;
      const from = sub(points[part[i]], a);
      const x = dot(from, way) / l;
      if (x < 2 * reach || x > l - 2 * reach || dot(from, from) - x * x > reach * reach) continue;
      const turned = [...part.slice(s), ...part.slice(0, s)];
      // turned: a, b, …, i, …; the triangle and what is on either side of it.
      return [[turned[0], turned[1], turned[j]], turned.slice(1, j + 1), [...turned.slice(j), turned[0]]].filter((p) => p.length > 2); // prettier-ignore
    }
  }
  return null;
}
