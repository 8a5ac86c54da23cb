/** How large what is picked is: what first values of tools are taken from. */
import type { Selection } from './selection';

/** The part of a mesh that is needed. */
export interface Outlines {
  positions: ArrayLike<number>;
  faceStart: ArrayLike<number>;
  corners: ArrayLike<number>;
  edgeOfCorner: ArrayLike<number>;
  edges: ArrayLike<number>;
}

/**
 * A length near what there is to work with, mm: the side of a square as large as the picked faces, the lower quartile of
 * the faces beside picked edges, or of the edges at picked points. Time linear in the mesh.
 * @param each faces are meant one by one
 * @returns Infinity where nothing is picked
 */
export function pickedSize(m: Outlines, { kind, indices }: Selection, each = false): number {
  if (!indices.length) return Infinity;
  if (kind === 'face') {
    const areas = indices.map((f) => areaOf(m, f));
    return Math.sqrt(each ? quartile(areas) : areas.reduce((a, b) => a + b));
  }
  const on = new Map(indices.map((i) => [i, Infinity]));
  const least = (i: number, size: number): void => {
    if (size < (on.get(i) ?? 0)) on.set(i, size);
  };
  if (kind === 'edge')
    for (let f = 0; f + 1 < m.faceStart.length; f++) {
      const own: number[] = [];
      for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++)
        if (on.has(m.edgeOfCorner[c])) own.push(m.edgeOfCorner[c]);
      if (!own.length) continue;
      const size = Math.sqrt(areaOf(m, f));
      for (const e of own) least(e, size);
    }
  else
    for (let e = 0; 2 * e < m.edges.length; e++) {
      const [a, b] = [m.edges[2 * e], m.edges[2 * e + 1]];
      if (!on.has(a) && !on.has(b)) continue;
      const p = m.positions;
      const size = Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2]);
      least(a, size);
      least(b, size);
    }
  return quartile([...on.values()]);
}

/**
 * The shortest distance between two points that no edge joins, mm; null where there are no such two. By a sweep along x:
 * time n log n where points are spread out.
 */
export function shortestGap(m: Outlines, points: ReadonlyArray<number>): number | null {
  const { positions: p, edges } = m;
  const picked = new Set(points);
  const joined = new Set<string>();
  for (let e = 0; 2 * e < edges.length; e++) {
    const [a, b] = [edges[2 * e], edges[2 * e + 1]];
    if (picked.has(a) && picked.has(b)) joined.add(a < b ? `${a},${b}` : `${b},${a}`);
  }
  const order = [...picked].sort((a, b) => p[3 * a] - p[3 * b]);
  let least = Infinity;
  order.forEach((a, i) => {
    for (let j = i + 1; j < order.length && p[3 * order[j]] - p[3 * a] < least; j++) {
      const b = order[j];
      if (joined.has(a < b ? `${a},${b}` : `${b},${a}`)) continue;
      least = Math.min(
        least,
        Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2]),
      );
    }
  });
  return least < Infinity ? least : null;
}

function quartile(list: number[]): number {
  return [...list].sort((a, b) => a - b)[list.length >> 2];
}

/** Area of a polygon by Newell's method. */
function areaOf({ positions: p, faceStart, corners }: Outlines, f: number): number {
  const [from, to] = [faceStart[f], faceStart[f + 1]];
  let [x, y, z] = [0, 0, 0];
  for (let c = from; c < to; c++) {
    const [a, b] = [3 * corners[c], 3 * corners[c + 1 < to ? c + 1 : from]];
    x += (p[a + 1] - p[b + 1]) * (p[a + 2] + p[b + 2]);
    y += (p[a + 2] - p[b + 2]) * (p[a] + p[b]);
    z += (p[a] - p[b]) * (p[a + 1] + p[b + 1]);
  }
  return Math.hypot(x, y, z) / 2;
}
