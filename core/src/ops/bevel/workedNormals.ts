/** The normals of a rounding's rows, worked out from the walls there are. */
import { addScaled, cross, dot, length, scale, unit, type Vec3 } from '../../mesh/vec3';
import type { NormalList } from './madeFaces';

/**
 * @param wallAt the unit normal of a wall, by its number in the list
 * @returns 3 numbers per normal
 */
export function workedNormals(list: NormalList, wallAt: (wall: number) => Vec3): Float64Array {
  const { right, left, lean, start, of, by, given } = list;
  const out = new Float64Array(3 * right.length);
  const walls: Array<Vec3 | undefined> = [];
  const wall = (i: number): Vec3 => (walls[i] ??= wallAt(i));
  for (let i = 0; i < right.length; i++) {
    if (right[i] >= 0) out.set(turned(wall(right[i]), wall(left[i]), lean[i]), 3 * i);
    else if (right[i] === -2) out.set(given.subarray(left[i], left[i] + 3), 3 * i);
    else {
      let sum: Vec3 = [0, 0, 0];
      for (let k = start[i]; k < start[i + 1]; k++) {
        const n = 3 * of[k];
        sum = addScaled(sum, [out[n], out[n + 1], out[n + 2]], by[k]);
      }
      out.set(unit(sum), 3 * i);
    }
  }
  return out;
}

/**
 * From a to b by a share of the angle between them, or past either (Shoemake 1985, Animating rotation with quaternion
 * curves, section 3.3). Where they are opposite there is no one way, and none is taken.
 */
export function turned(a: Vec3, b: Vec3, share: number): Vec3 {
  const sin = length(cross(a, b));
  const cos = dot(a, b);
  if (sin < 1e-9) return a;
  const angle = Math.atan2(sin, cos);
  return addScaled(scale(a, Math.sin((1 - share) * angle) / sin), b, Math.sin(share * angle) / sin);
}
