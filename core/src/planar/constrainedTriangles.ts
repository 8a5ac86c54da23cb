/**
 * The constrained Delaunay triangulation of a polygon with holes. Unlike ear clipping it keeps every point, also
 * those on straight runs, and never leaves a gap.
 */
import Constrainautor from '@kninnug/constrainautor';
import { OperationError } from '../mesh/errors';
import { delaunay } from './delaunay';
import { turn } from './turn';

export interface Triangles {
  /** 3 point indices per triangle, counter-clockwise. */
  corners: number[];
  /** Per side, which starts at the corner of its number: the side on its other side, or −1 on the outline. */
  across: Int32Array;
}

/**
 * @param xy 2D position per point
 * @param sides point pairs along the outlines, the inside to their left
 * @param lines further point pairs that must be edges of triangles
 * @returns 3 point indices per triangle of the inside, counter-clockwise
 * @throws OperationError `crossing-outline`
 */
export const constrainedTriangles = (
  xy: Float64Array,
  sides: Array<[number, number]>,
  lines: Array<[number, number]> = [],
): number[] => trianglesWithin(xy, sides, lines).corners;

/** The same, with what lies beside what. */
export function trianglesWithin(
  xy: Float64Array,
  sides: Array<[number, number]>,
  lines: Array<[number, number]> = [],
): Triangles {
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
  const directed = new Set<number>();
  for (const [a, b] of sides) directed.add(a * n + b);
  const next = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1);
  // The library may hand out its triangles either way round.
  const flipped = windsClockwise(del.coords, triangles);
  /** 1 on the outline with the inside on this side, 2 with it on the other, 3 on both. */
  const outline = new Uint8Array(triangles.length);
  for (let h = 0; h < triangles.length; h++) {
    const [a, b] = [triangles[h], triangles[next(h)]];
    if (a >= n || b >= n) continue;
    const [on, back] = flipped ? [b * n + a, a * n + b] : [a * n + b, b * n + a];
    outline[h] = Number(directed.has(on)) + 2 * Number(directed.has(back));
  }
  /** Per triangle: its number among those inside, from 1 on; 0 outside. */
  const inside = new Int32Array(triangles.length / 3);
  const stack: number[] = [];
  const enter = (t: number): void => {
    if (!inside[t]) inside[t] = stack.push(t);
  };
  for (let h = 0; h < triangles.length; h++) if (outline[h] & 1) enter(Math.floor(h / 3));
  while (stack.length) {
    const t = stack.pop()!;
    for (let h = 3 * t; h < 3 * t + 3; h++)
      if (halfedges[h] >= 0 && !outline[h]) enter(Math.floor(halfedges[h] / 3));
  }
  let count = 0;
  for (let t = 0; t < inside.length; t++) if (inside[t]) inside[t] = ++count;
  const corners: number[] = new Array(3 * count);
  const across = new Int32Array(3 * count).fill(-1);
  // Turned the other way round, a triangle's sides come in the opposite order too.
  const place = (h: number): number => {
    const k = h % 3;
    return 3 * (inside[(h - k) / 3] - 1) + (flipped ? 2 - k : k);
  };
  for (let t = 0; t < inside.length; t++) {
    if (!inside[t]) continue;
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      corners[place(h)] = triangles[flipped ? next(h) : h];
      const g = halfedges[h];
      if (g >= 0 && !outline[h] && inside[Math.floor(g / 3)]) across[place(h)] = place(g);
    }
  }
  return { corners, across };
}

/** Four far points around, so that no point of the polygon lies on the hull. */
function withFrame(xy: Float64Array): Float64Array {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < xy.length; i += 2) {
    x0 = Math.min(x0, xy[i]);
    x1 = Math.max(x1, xy[i]);
    y0 = Math.min(y0, xy[i + 1]);
    y1 = Math.max(y1, xy[i + 1]);
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
