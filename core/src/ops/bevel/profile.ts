/** The cross-section of a rounded edge, from scooped through flat and round to square. */
import type { Vec3 } from '../../mesh/vec3';

/**
 * Weights (α, β) of a profile's points: a point is apex + α·(from − apex) + β·(to − apex).
 * @param segments number of segments; the result has segments + 1 entries from (1, 0) to (0, 1)
 * @param profile −1 scooped, 0 flat, 1 round (a circular arc tangent to both faces), 2 square; between, mixed
 * @param angle angle between the two faces' inward directions at the edge, radians in (0, π)
 */
export function profileWeights(segments: number, profile: number, angle: number): Array<[number, number]> {
  return Array.from({ length: segments + 1 }, (_, k) => {
    if (k === 0) return [1, 0];
    if (k === segments) return [0, 1];
    const s = k / segments;
    const flat: [number, number] = [1 - s, s];
    const round = arcWeights(s, angle);
    if (profile <= 0) {
      const scooped: [number, number] = [2 * flat[0] - round[0], 2 * flat[1] - round[1]];
      return mix(flat, scooped, -profile);
    }
    if (profile <= 1) return mix(flat, round, profile);
    const square: [number, number] = [Math.max(0, 1 - 2 * s), Math.max(0, 2 * s - 1)];
    return mix(round, square, profile - 1);
  });
}

const mix = (a: [number, number], b: [number, number], t: number): [number, number] => [
  a[0] + (b[0] - a[0]) * t,
  a[1] + (b[1] - a[1]) * t,
];

/** The point at share s of the arc that touches both unit legs of an angle at their ends. */
function arcWeights(s: number, angle: number): [number, number] {
  const c = Math.cos(angle / 2);
  const n = Math.sin(angle / 2);
  // An almost straight angle leaves an arc of no height: its limit is a parabola.
  if (c < 1e-4) return [(1 - s) * (1 - s), s * s];
  // Legs that lie on each other leave one of no width.
  if (n < 1e-9) return [1 - s, s];
  const from = Math.atan2(n, (-n * n) / c);
  const at = from + (2 * Math.PI - 2 * from) * s;
  const r = n / c;
  const x = 1 / c + r * Math.cos(at);
  const y = r * Math.sin(at);
  return [(x / c + y / n) / 2, (x / c - y / n) / 2];
}

/** A point of the curve between two ends with the given weights. */
export const onProfile = (from: Vec3, apex: Vec3, to: Vec3, [a, b]: [number, number]): Vec3 => [
  apex[0] + a * (from[0] - apex[0]) + b * (to[0] - apex[0]),
  apex[1] + a * (from[1] - apex[1]) + b * (to[1] - apex[1]),
  apex[2] + a * (from[2] - apex[2]) + b * (to[2] - apex[2]),
];
