/** Finds the triangle of a face a point lies in (or nearest to) and its barycentric weights there. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { cross, length, pointOf, sub } from '../mesh/vec3';
import { triangulate, type Triangulation } from './triangulate';
import type { Blend } from '../mesh/layers';

const firstTriangle = new WeakMap<Triangulation, Uint32Array>();

function triangleStarts(mesh: PolyMesh, t: Triangulation): Uint32Array {
  let s = firstTriangle.get(t);
  if (s) return s;
  s = new Uint32Array(mesh.faceStart.length);
  for (let f = 0; f + 1 < s.length; f++) s[f + 1] = s[f] + mesh.faceStart[f + 1] - mesh.faceStart[f] - 2;
  firstTriangle.set(t, s);
  return s;
}

/**
 * Writes the three corners and weights of the best triangle among `faces` into item `slot` of the blend.
 * @param near a vertex the point is likely close to: its triangles are tried first
 * @param likely triangles of the faces it likely lies in: they are tried before all others
 */
export function locateInFace(
  mesh: PolyMesh,
  faces: ReadonlyArray<number>,
  [x, y, z]: readonly [number, number, number],
  blend: Blend,
  slot: number,
  near = -1,
  likely: ReadonlyArray<number> = [],
): void {
  const t = triangulate(mesh);
  const starts = triangleStarts(mesh, t);
  const { corners } = mesh;
  let best = -Infinity;
  /** True when the point lies in triangle i. */
  const attempt = (i: number): boolean => {
    const w = barycentric(mesh, t.corners, i, x, y, z);
    if (!w) return false;
    const worst = Math.min(w[0], w[1], w[2]);
    if (worst <= best) return false;
    best = worst;
    writeClamped(blend, slot, t.corners, i, w);
    return worst >= -1e-12;
  };
  for (const i of likely) if (attempt(i)) return;
  if (near >= 0)
    for (const f of faces)
      for (let i = starts[f]; i < starts[f + 1]; i++)
        if (
          (corners[t.corners[3 * i]] === near ||
            corners[t.corners[3 * i + 1]] === near ||
            corners[t.corners[3 * i + 2]] === near) &&
          attempt(i)
        )
          return;
  for (const f of faces) for (let i = starts[f]; i < starts[f + 1]; i++) if (attempt(i)) return;
  if (best === -Infinity) {
    blend.index[3 * slot] = mesh.faceStart[faces[0]];
    blend.weight[3 * slot] = 1;
  }
}

/**
 * Corners and weights by which a flat face's linear layers go on beyond its rim: those of the point in the face's
 * largest triangle, not held within it.
 */
export function extendFace(
  mesh: PolyMesh,
  face: number,
  [x, y, z]: readonly [number, number, number],
  blend: Blend,
  slot: number,
): void {
  const t = triangulate(mesh);
  const starts = triangleStarts(mesh, t);
  let best = starts[face];
  let largest = -1;
  for (let i = starts[face]; i < starts[face + 1]; i++) {
    const [a, b, c] = [0, 1, 2].map((k) => pointOf(mesh.positions, mesh.corners[t.corners[3 * i + k]]));
    const area = length(cross(sub(b, a), sub(c, a)));
    if (area > largest) [best, largest] = [i, area];
  }
  const w = barycentric(mesh, t.corners, best, x, y, z) ?? [1, 0, 0];
  for (let k = 0; k < 3; k++) {
    blend.index[3 * slot + k] = t.corners[3 * best + k];
    blend.weight[3 * slot + k] = w[k];
  }
}

function writeClamped(b: Blend, slot: number, corners: Uint32Array, i: number, w: number[]): void {
  let clamped = w.map((v) => Math.max(0, v));
  let sum = clamped[0] + clamped[1] + clamped[2];
  if (!(sum > 0)) {
    // So far off a sliver that what they add up to is lost in their size.
    const most = Math.max(...w);
    clamped = w.map((v) => Number(v === most));
    sum = clamped[0] + clamped[1] + clamped[2];
  }
  for (let k = 0; k < 3; k++) {
    b.index[3 * slot + k] = corners[3 * i + k];
    b.weight[3 * slot + k] = clamped[k] / sum;
  }
}

/** Weights of the foot of (x, y, z) in triangle i of three corners each; null when it has no area to speak of. */
export function barycentric(
  m: PolyMesh,
  corners: ArrayLike<number>,
  i: number,
  x: number,
  y: number,
  z: number,
): [number, number, number] | null {
  const p = m.positions;
  const a = 3 * m.corners[corners[3 * i]];
  const b = 3 * m.corners[corners[3 * i + 1]];
  const c = 3 * m.corners[corners[3 * i + 2]];
  const e0 = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const e1 = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const q = [x - p[a], y - p[a + 1], z - p[a + 2]];
  const d00 = e0[0] * e0[0] + e0[1] * e0[1] + e0[2] * e0[2];
  const d01 = e0[0] * e1[0] + e0[1] * e1[1] + e0[2] * e1[2];
  const d11 = e1[0] * e1[0] + e1[1] * e1[1] + e1[2] * e1[2];
  const q0 = q[0] * e0[0] + q[1] * e0[1] + q[2] * e0[2];
  const q1 = q[0] * e1[0] + q[1] * e1[1] + q[2] * e1[2];
  const det = d00 * d11 - d01 * d01;
  if (!(det > 1e-14 * d00 * d11)) return null;
  const v = (d11 * q0 - d01 * q1) / det;
  const w = (d00 * q1 - d01 * q0) / det;
  // A sliver far away: the numbers say nothing of where in it the point is.
  return Number.isFinite(v + w) ? [1 - v - w, v, w] : null;
}
