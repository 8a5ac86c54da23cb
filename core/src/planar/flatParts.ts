/** Divides polygons that are bent, so that whoever fans them out into triangles gets nearly the same surface. */
import { add, cross, distance, dot, length, sub, unit, type Vec3 } from '../mesh/vec3';

/** Polygons of more corners are divided by the best diagonal first; of fewer, all ways are tried. */
const FEW = 8;

/** A polygon divided, and how wide the thinnest part is. */
interface Divided {
  parts: number[][];
  width: number;
}

/**
 * Parts of a polygon that have four corners at most, or lie in a plane: those whose thinnest is widest.
 * @param within how far from its plane points may lie
 * @returns places in the polygon, per part; one part where nothing has to be divided, or nothing can be
 */
export function flatParts(polygon: ReadonlyArray<Vec3>, within: number): number[][] {
  return divided(polygon, [...polygon.keys()], within).parts;
}

function divided(polygon: ReadonlyArray<Vec3>, part: number[], within: number): Divided {
  const n = part.length;
  const whole = areaOf(polygon, part);
  const single = { parts: [part], width: length(whole) / longestOf(polygon, part) };
  if (n < 5 || bendOf(polygon, part) <= within) return single;
  let best: Divided | null = null;
  let first: [number[], number[]] | null = null;
  let widest = 0;
  for (let i = 0; i < n; i++)
    for (let j = i + 2; j < n && (i > 0 || j < n - 1); j++) {
      const [a, b] = [part.slice(i, j + 1), [...part.slice(j), ...part.slice(0, i + 1)]];
      const [p, q] = [a, b].map((x) => areaOf(polygon, x));
      // A diagonal that leaves the polygon turns a part over.
      if (dot(p, whole) <= 0 || dot(q, whole) <= 0) continue;
      const width = Math.min(length(p) / longestOf(polygon, a), length(q) / longestOf(polygon, b));
      if (n > FEW) {
        if (width > widest) [first, widest] = [[a, b], width];
        continue;
      }
      if (best && width <= best.width) continue;
      const both = [a, b].map((x) => divided(polygon, x, within));
      const least = Math.min(...both.map((x) => x.width));
      if (!best || least > best.width) best = { parts: both.flatMap((x) => x.parts), width: least };
    }
  if (first) {
    const both = first.map((x) => divided(polygon, x, within));
    best = { parts: both.flatMap((x) => x.parts), width: Math.min(...both.map((x) => x.width)) };
  }
  return best ?? single;
}

/** Newell's sum. */
function areaOf(polygon: ReadonlyArray<Vec3>, part: ReadonlyArray<number>): Vec3 {
  const o = polygon[part[0]];
  let sum: Vec3 = [0, 0, 0];
  for (let k = 1; k + 1 < part.length; k++)
    sum = add(sum, cross(sub(polygon[part[k]], o), sub(polygon[part[k + 1]], o)));
  return sum;
}

function bendOf(polygon: ReadonlyArray<Vec3>, part: ReadonlyArray<number>): number {
  const n = unit(areaOf(polygon, part));
  let [low, high] = [Infinity, -Infinity];
  for (const k of part) {
    const h = dot(n, sub(polygon[k], polygon[part[0]]));
    [low, high] = [Math.min(low, h), Math.max(high, h)];
  }
  return high - low;
}

function longestOf(polygon: ReadonlyArray<Vec3>, part: ReadonlyArray<number>): number {
  return part.reduce(
    (most, k, i) => Math.max(most, distance(polygon[k], polygon[part[(i + 1) % part.length]])),
    0,
  );
}
