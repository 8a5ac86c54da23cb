/**
 * The constrained Delaunay triangulation of a polygon with holes. Unlike ear clipping it keeps every point, also
 * those on straight runs, and never leaves a gap.
 */
import Constrainautor from '@kninnug/constrainautor';
import { OperationError } from '../mesh/errors';
import { delaunay } from './delaunay';
import { turn } from './turn';

/**
 * @param xy 2D position per point
 * @param sides point pairs along the outlines, the inside to their left
 * @param lines further point pairs that must be edges of triangles
 * @returns 3 point indices per triangle of the inside, counter-clockwise
 * @throws OperationError `crossing-outline`
 */
export function constrainedTriangles(
  xy: Float64Array,
  sides: Array<[number, number]>,
  lines: Array<[number, number]> = [],
): number[] {
  const n = xy.length / 2;
  const del = delaunay(withFrame(xy));
  try {
    new Constrainautor(del, lines.length ? [...sides, ...lines] : sides);
  } catch {
    // The library meets two sides that cross.
    throw new OperationError(
      'crossing-outline',
      'The outline of a face crosses itself, so it cannot be divided.',
      undefined,
      'Move the points so that no sides cross.',
    );
  }
  const { triangles, halfedges } = del;
  const inside = new Uint8Array(triangles.length / 3);
  const directed = new Set(sides.map(([a, b]) => a * n + b));
  const blocked = (a: number, b: number): boolean =>
    a < n && b < n && (directed.has(a * n + b) || directed.has(b * n + a));
  const next = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1);
  // The library may hand out its triangles either way round.
  const flipped = windsClockwise(del.coords, triangles);
  const stack: number[] = [];
  for (let h = 0; h < triangles.length; h++) {
    const [a, b] = [triangles[h], triangles[next(h)]];
    if (a >= n || b >= n || !directed.has(flipped ? b * n + a : a * n + b)) continue;
    const t = Math.floor(h / 3);
    if (!inside[t]) {
      inside[t] = 1;
      stack.push(t);
    }
  }
  while (stack.length) {
    const t = stack.pop()!;
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const o = Math.floor(halfedges[h] / 3);
      if (halfedges[h] < 0 || inside[o] || blocked(triangles[h], triangles[next(h)])) continue;
      inside[o] = 1;
      stack.push(o);
    }
  }
  const out: number[] = [];
  for (let t = 0; t < inside.length; t++) {
    if (!inside[t]) continue;
    const [a, b, c] = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]];
    if (flipped) out.push(a, c, b);
    else out.push(a, b, c);
  }
  return out;
}

/** Four far points around, so that no point of the polygon lies on the hull. */
function withFrame(xy: Float64Array): Float64Array {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < xy.length; i += 2) {
    [x0, x1] = [Math.min(x0, xy[i]), Math.max(x1, xy[i])];
    [y0, y1] = [Math.min(y0, xy[i + 1]), Math.max(y1, xy[i + 1])];
  }
  const r = Math.max(x1 - x0, y1 - y0);
  const out = new Float64Array(xy.length + 8);
  out.set(xy);
  out.set([x0 - r, y0 - r, x1 + r, y0 - r, x1 + r, y1 + r, x0 - r, y1 + r], xy.length);
  return out;
}

function windsClockwise(xy: ArrayLike<number>, triangles: ArrayLike<number>): boolean {
  const [a, b, c] = [triangles[0], triangles[1], triangles[2]];
  return turn(xy[2 * a], xy[2 * a + 1], xy[2 * b], xy[2 * b + 1], xy[2 * c], xy[2 * c + 1]) < 0;
}
