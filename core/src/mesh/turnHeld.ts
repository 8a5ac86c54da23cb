/** Held normals of a face that is moved or bent: they turn as the face does. */
import type { LayerArray } from './layers';
import { cross, dot, length, scale, sub, unit, type Vec3 } from './vec3';

interface Lie {
  middle: Vec3;
  /** Three unit vectors square to each other, the last out of the face. */
  x: Vec3;
  y: Vec3;
  n: Vec3;
}

/**
 * Turns the normals of a face's corners by the rotation that brings the face from where it was to where it is: its normal
 * to its normal, and in its plane by the best fit of its corners (Procrustes in two dimensions; Gower and Dijksterhuis
 * 2004, section 4.6).
 * @param data 3 numbers per corner; those from `at` on are the face's; zeros stay
 * @param loop points of the face, in both lists of positions
 * @returns whether there was a way; a face without area has none
 */
export function turnHeld(
  data: LayerArray,
  at: number,
  loop: ArrayLike<number>,
  before: Float64Array,
  after: Float64Array,
): boolean {
  const [was, now] = [lieOf(loop, before), lieOf(loop, after)];
  if (!was || !now) return false;
  let [along, across] = [0, 0];
  for (let k = 0; k < loop.length; k++) {
    const p = sub(pointAt(before, loop[k]), was.middle);
    const q = sub(pointAt(after, loop[k]), now.middle);
    const [px, py, qx, qy] = [dot(p, was.x), dot(p, was.y), dot(q, now.x), dot(q, now.y)];
    along += px * qx + py * qy;
    across += px * qy - py * qx;
  }
  const long = Math.hypot(along, across) || 1;
  const [cos, sin] = [along / long, across / long];
  for (let c = 3 * at; c < 3 * (at + loop.length); c += 3) {
    const v: Vec3 = [data[c], data[c + 1], data[c + 2]];
    if (v[0] === 0 && v[1] === 0 && v[2] === 0) continue;
    const [x, y, z] = [dot(v, was.x), dot(v, was.y), dot(v, was.n)];
    const [tx, ty] = [cos * x - sin * y, sin * x + cos * y];
    for (let k = 0; k < 3; k++) data[c + k] = tx * now.x[k] + ty * now.y[k] + z * now.n[k];
  }
  return true;
}

/** Lengths that change by less than this share stay. */
const SAME = 1e-9;

/** Whether a face keeps its shape: all its points stay as far from its first and from the next. */
export function isRigid(loop: ArrayLike<number>, before: Float64Array, after: Float64Array): boolean {
  const apart = (p: Float64Array, v: number, w: number): number => length(sub(pointAt(p, v), pointAt(p, w)));
  for (let k = 0; k < loop.length; k++)
    for (const other of [loop[0], loop[(k + 1) % loop.length]]) {
      const [was, now] = [apart(before, loop[k], other), apart(after, loop[k], other)];
      if (Math.abs(was - now) > SAME * Math.max(was, now, 1)) return false;
    }
  return true;
}

const pointAt = (p: Float64Array, v: number): Vec3 => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];

function lieOf(loop: ArrayLike<number>, positions: Float64Array): Lie | null {
  const middle: Vec3 = [0, 0, 0];
  for (let k = 0; k < loop.length; k++)
    for (let a = 0; a < 3; a++) middle[a] += positions[3 * loop[k] + a] / loop.length;
  let area: Vec3 = [0, 0, 0];
  let reach = 0;
  for (let k = 0; k < loop.length; k++) {
    const p = sub(pointAt(positions, loop[k]), middle);
    const q = sub(pointAt(positions, loop[(k + 1) % loop.length]), middle);
    const c = cross(p, q);
    area = [area[0] + c[0], area[1] + c[1], area[2] + c[2]];
    reach = Math.max(reach, dot(p, p));
  }
  if (!(length(area) > 1e-12 * reach)) return null;
  const n = unit(area);
  // The axis the face looks along least gives a direction in it.
  const k = [0, 1, 2].reduce((least, a) => (Math.abs(n[a]) < Math.abs(n[least]) ? a : least), 0);
  const axis: Vec3 = [Number(k === 0), Number(k === 1), Number(k === 2)];
  const x = unit(sub(axis, scale(n, n[k])));
  return { middle, x, y: cross(n, x), n };
}
