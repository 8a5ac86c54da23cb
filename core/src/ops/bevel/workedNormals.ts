/** The normals of a rounding's rows, worked out from the walls there are. */
import type { Vec3 } from '../../mesh/vec3';
import type { NormalList } from './madeFaces';
import { GIVEN } from './rowNormals';

/** Walls that differ by less are one; sine of the angle. */
const SAME = 1e-9;

/**
 * A row turns from its right wall to its left one by a share of the angle between them, or past either (Shoemake 1985,
 * Animating rotation with quaternion curves, section 3.3). Where walls look opposite ways there is no one way to turn.
 * @param wallAt the unit normal of a wall, by its number in the list
 * @returns 3 numbers per normal
 */
export function workedNormals(list: NormalList, wallAt: (wall: number) => Vec3): Float64Array {
  const { right, left, lean, start, of, by, given } = list;
  const out = new Float64Array(3 * right.length);
  const walls: Array<Vec3 | undefined> = [];
  const wall = (i: number): Vec3 => (walls[i] ??= wallAt(i));
  let [last, angle, sin] = [-1, 0, 0];
  for (let i = 0; i < right.length; i++) {
    let [x, y, z] = [0, 0, 0];
    if (right[i] >= 0) {
      const [a, b] = [wall(right[i]), wall(left[i])];
      // Rows of one column follow each other.
      if (last < 0 || right[last] !== right[i] || left[last] !== left[i]) {
        const [cx, cy, cz] = [
          a[1] * b[2] - a[2] * b[1],
          a[2] * b[0] - a[0] * b[2],
          a[0] * b[1] - a[1] * b[0],
        ];
        sin = Math.sqrt(cx * cx + cy * cy + cz * cz);
        angle = Math.atan2(sin, a[0] * b[0] + a[1] * b[1] + a[2] * b[2]);
        last = i;
      }
      const s = lean[i] === 0 || sin < SAME ? 1 : lean[i] === 1 ? 0 : Math.sin((1 - lean[i]) * angle) / sin;
      const t = lean[i] === 0 || sin < SAME ? 0 : lean[i] === 1 ? 1 : Math.sin(lean[i] * angle) / sin;
      x = s * a[0] + t * b[0];
      y = s * a[1] + t * b[1];
      z = s * a[2] + t * b[2];
    } else if (right[i] === GIVEN) [x, y, z] = given.subarray(left[i], left[i] + 3);
    else {
      for (let k = start[i]; k < start[i + 1]; k++) {
        const n = 3 * of[k];
        x += by[k] * out[n];
        y += by[k] * out[n + 1];
        z += by[k] * out[n + 2];
      }
      const l = Math.sqrt(x * x + y * y + z * z) || 1;
      x /= l;
      y /= l;
      z /= l;
    }
    out[3 * i] = x;
    out[3 * i + 1] = y;
    out[3 * i + 2] = z;
  }
  return out;
}
