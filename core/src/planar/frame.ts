/** A plane with 2D axes, for polygon work. */
import { type Vec3, cross, dot, unit } from '../mesh/vec3';

export interface Frame {
  origin: Vec3;
  u: Vec3;
  v: Vec3;
  normal: Vec3;
}

/** Parts of a unit normal that differ by less count as equal. */
const ALIKE = 1e-9;

/** A right-handed frame whose v×… looks along `normal` (u × v = normal). */
export function frameFrom(origin: Vec3, normal: Vec3): Frame {
  const n = unit(normal);
  const ax = Math.abs(n[0]);
  const ay = Math.abs(n[1]);
  const az = Math.abs(n[2]);
  // Rounding in the last digits must not turn the axes.
  const least = Math.min(ax, ay, az) + ALIKE;
  const side: Vec3 = ax <= least ? [1, 0, 0] : ay <= least ? [0, 1, 0] : [0, 0, 1];
  const u = unit(cross(side, n));
  return { origin, u, v: cross(n, u), normal: n };
}

/** 2D coordinates of a point in the frame. */
export function toPlane(f: Frame, p: Vec3): [number, number] {
  const d: Vec3 = [p[0] - f.origin[0], p[1] - f.origin[1], p[2] - f.origin[2]];
  return [dot(d, f.u), dot(d, f.v)];
}
