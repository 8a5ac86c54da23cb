/**
 * Soft selection: how much each point follows what is picked. By straight distance (a grid of cells the size of the
 * reach) or along the surface (Dijkstra over edges, corrected across triangles as in fast marching: Kimmel & Sethian
 * 1998), with a falloff.
 */
import { vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { triangulate } from '../planar/triangulate';
import { Heap } from '../spatial/Heap';

export const FALLOFFS = ['smooth', 'dome', 'linear', 'sharp', 'even'] as const;
export type Falloff = (typeof FALLOFFS)[number];

/** Share at a distance 0…1 of the reach: 1 at the middle, 0 at the end (even: 1 throughout). */
export function falloffAt(kind: Falloff, x: number): number {
  if (x >= 1) return 0;
  switch (kind) {
    case 'smooth':
      return (1 - x) * (1 - x) * (1 + 2 * x);
    case 'dome':
      return Math.sqrt(1 - x * x);
    case 'linear':
      return 1 - x;
    case 'sharp':
      return (1 - x) * (1 - x);
    case 'even':
      return 1;
  }
}

export interface Soft {
  /** mm */
  reach: number;
  falloff: Falloff;
  along: 'straight' | 'surface';
}

/** Weight per point, 0…1; picked ones have 1. */
export function softWeights(mesh: PolyMesh, points: ReadonlyArray<number>, soft: Soft): Float64Array {
  const out = new Float64Array(vertexCount(mesh));
  for (const v of points) out[v] = 1;
  if (!(soft.reach > 0)) return out;
  const far =
    soft.along === 'surface'
      ? surfaceDistance(mesh, points, soft.reach)
      : straightDistance(mesh, points, soft.reach);
  for (let v = 0; v < out.length; v++)
    if (out[v] !== 1 && far[v] < soft.reach) out[v] = falloffAt(soft.falloff, far[v] / soft.reach);
  return out;
}

/** Distance to the nearest picked point, exact within the reach and infinite beyond. */
function straightDistance(mesh: PolyMesh, points: ReadonlyArray<number>, reach: number): Float64Array {
  const p = mesh.positions;
  const out = new Float64Array(vertexCount(mesh)).fill(Infinity);
  const cells = new Map<number, number[]>();
  const cell = (x: number): number => Math.floor(x / reach);
  const key = (i: number, j: number, k: number): number =>
    ((i & 0x1ffff) * 0x20000 + (j & 0x1ffff)) * 0x20000 + (k & 0x1ffff);
  for (const v of points) {
    const k = key(cell(p[3 * v]), cell(p[3 * v + 1]), cell(p[3 * v + 2]));
    const list = cells.get(k);
    if (list) list.push(v);
    else cells.set(k, [v]);
  }
  const { min, max } = spanOf(p, points);
  for (let v = 0; v < out.length; v++) {
    const x = p[3 * v];
    const y = p[3 * v + 1];
    const z = p[3 * v + 2];
    if (x < min[0] - reach || x > max[0] + reach || y < min[1] - reach || y > max[1] + reach) continue;
    if (z < min[2] - reach || z > max[2] + reach) continue;
    const [ci, cj, ck] = [cell(x), cell(y), cell(z)];
    let least = reach * reach;
    for (let i = ci - 1; i <= ci + 1; i++)
      for (let j = cj - 1; j <= cj + 1; j++)
        for (let k = ck - 1; k <= ck + 1; k++)
          for (const w of cells.get(key(i, j, k)) ?? NONE) {
            const d = (p[3 * w] - x) ** 2 + (p[3 * w + 1] - y) ** 2 + (p[3 * w + 2] - z) ** 2;
            if (d < least) least = d;
          }
    if (least < reach * reach) out[v] = Math.sqrt(least);
  }
  return out;
}

function spanOf(p: Float64Array, points: ReadonlyArray<number>): { min: number[]; max: number[] } {
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  for (const v of points)
    for (let k = 0; k < 3; k++) {
      min[k] = Math.min(min[k], p[3 * v + k]);
      max[k] = Math.max(max[k], p[3 * v + k]);
    }
  return { min, max };
}
const NONE: ReadonlyArray<number> = [];

/** Distance along the surface from the nearest picked point, infinite beyond the reach. */
export function surfaceDistance(mesh: PolyMesh, points: ReadonlyArray<number>, reach: number): Float64Array {
  const p = mesh.positions;
  const out = new Float64Array(vertexCount(mesh)).fill(Infinity);
  const done = new Uint8Array(out.length);
  const around = trianglesAround(mesh);
  const heap = new Heap<[number, number]>(([, d]) => d);
  for (const v of points) {
    out[v] = 0;
    heap.push([v, 0]);
  }
  const span = (a: number, b: number): number =>
    Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2]);
  const offer = (v: number, d: number): void => {
    if (d >= out[v] || d > reach) return;
    out[v] = d;
    heap.push([v, d]);
  };
  for (let top = heap.pop(); top; top = heap.pop()) {
    const v = top[0];
    if (done[v]) continue;
    done[v] = 1;
    for (let i = around.start[v]; i < around.start[v + 1]; i += 2) {
      const [a, b] = [around.others[i], around.others[i + 1]];
      if (!done[a]) offer(a, out[v] + span(v, a));
      if (!done[b]) offer(b, out[v] + span(v, b));
      if (done[a] && !done[b]) offer(b, across(span(v, a), span(v, b), span(a, b), out[v], out[a]));
      if (done[b] && !done[a]) offer(a, across(span(v, b), span(v, a), span(a, b), out[v], out[b]));
    }
  }
  return out;
}

/**
 * Distance at the third corner of a triangle from those at two, as if a straight front ran over it.
 * @param base length between the two known corners; `fromV`, `fromA` lengths to the third
 */
function across(base: number, fromV: number, fromA: number, atV: number, atA: number): number {
  const direct = Math.min(atV + fromV, atA + fromA);
  if (!(base > 0)) return direct;
  // The source unfolded into the triangle's plane, below the known side; the third corner above it.
  const sx = (atV * atV - atA * atA + base * base) / (2 * base);
  const sy2 = atV * atV - sx * sx;
  const tx = (fromV * fromV - fromA * fromA + base * base) / (2 * base);
  const ty2 = fromV * fromV - tx * tx;
  if (sy2 < 0 || ty2 < 0) return direct;
  const [sy, ty] = [Math.sqrt(sy2), Math.sqrt(ty2)];
  // The straight way must pass between the two known corners.
  const x = sx + ((tx - sx) * sy) / (sy + ty || 1);
  if (x < 0 || x > base) return direct;
  return Math.min(direct, Math.hypot(tx - sx, ty + sy));
}

function trianglesAround(mesh: PolyMesh): { start: Uint32Array; others: Uint32Array } {
  const { corners } = triangulate(mesh);
  const start = new Uint32Array(vertexCount(mesh) + 1);
  for (const c of corners) start[mesh.corners[c] + 1] += 2;
  for (let v = 0; v + 1 < start.length; v++) start[v + 1] += start[v];
  const at = start.slice();
  const others = new Uint32Array(2 * corners.length);
  for (let i = 0; i < corners.length; i += 3)
    for (let k = 0; k < 3; k++) {
      const v = mesh.corners[corners[i + k]];
      others[at[v]++] = mesh.corners[corners[i + ((k + 1) % 3)]];
      others[at[v]++] = mesh.corners[corners[i + ((k + 2) % 3)]];
    }
  return { start, others };
}
