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

/** Per point of a profile, seen from the row before it and from the row after. */
export type Leans = Readonly<Record<'before' | 'after', Float64Array>>;

/**
 * How far the surface has turned at each point of a profile, as a share of the angle between the walls it runs between:
 * 0 is the normal of the one, 1 that of the other, and i/n the one at point i of an arc. Profiles that touch the walls at
 * an angle start past 0 or before it. Null where the profile is flat.
 * @param angle as for `profileWeights`
 */
export function profileLeans(segments: number, profile: number, angle: number): Leans | null {
  if (Math.abs(profile) < 1e-9) return null;
  const before = new Float64Array(segments + 1);
  if (profile === 1) {
    for (let k = 0; k <= segments; k++) before[k] = k / segments;
    return { before, after: before };
  }
  const turn = Math.PI - angle;
  const [sin, cos] = [Math.sin(turn), Math.cos(turn)];
  const lean = (s: number, past: boolean): number => {
    const [a, b] = profileTangent(s, profile, angle, past);
    return Math.atan2(b * sin, b * cos - a) / turn;
  };
  if (turn < 1e-6) return null;
  const after = before.slice();
  for (let k = 0; k <= segments; k++) {
    before[k] = lean(k / segments, false);
    after[k] = lean(k / segments, true);
  }
  return { before, after };
}

/** The leans of a profile run through from its other end. */
export function reversedLeans({ before, after }: Leans): Leans {
  const turned = (x: Float64Array): Float64Array => x.map((_, k) => 1 - x[x.length - 1 - k]);
  return before === after
    ? { before: turned(before), after: turned(before) }
    : { before: turned(after), after: turned(before) };
}

/** How the weights of `profileWeights` change at a share of the way. @param past seen from what follows */
function profileTangent(s: number, profile: number, angle: number, past: boolean): [number, number] {
  const flat: [number, number] = [-1, 1];
  const round = arcTangent(s, angle);
  if (profile <= 0) return mix(flat, [2 * flat[0] - round[0], 2 * flat[1] - round[1]], -profile);
  if (profile <= 1) return mix(flat, round, profile);
  const first = s < 0.5 - 1e-9 || (s < 0.5 + 1e-9 && !past);
  return mix(round, first ? [-2, 0] : [0, 2], profile - 1);
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

function arcTangent(s: number, angle: number): [number, number] {
  const c = Math.cos(angle / 2);
  const n = Math.sin(angle / 2);
  if (c < 1e-4) return [2 * s - 2, 2 * s];
  if (n < 1e-9) return [-1, 1];
  const from = Math.atan2(n, (-n * n) / c);
  const rate = 2 * Math.PI - 2 * from;
  const at = from + rate * s;
  const r = n / c;
  const x = -r * rate * Math.sin(at);
  const y = r * rate * Math.cos(at);
  return [(x / c + y / n) / 2, (x / c - y / n) / 2];
}

/** A point of the curve between two ends with the given weights. */
export const onProfile = (from: Vec3, apex: Vec3, to: Vec3, [a, b]: [number, number]): Vec3 => [
  apex[0] + a * (from[0] - apex[0]) + b * (to[0] - apex[0]),
  apex[1] + a * (from[1] - apex[1]) + b * (to[1] - apex[1]),
  apex[2] + a * (from[2] - apex[2]) + b * (to[2] - apex[2]),
];
