/**
 * Triangulation of whole meshes, cached by identity: triangles by direct diagonals for triangles and convex
 * quads, earcut on Newell's plane for everything else; where that leaves points on straight runs out, the constrained
 * Delaunay triangulation.
 */
import earcut from 'earcut';
import { type PolyMesh, faceCount, triangleCount } from '../mesh/PolyMesh';
import { OperationError } from '../mesh/errors';
import { areaVectors } from '../mesh/measure';
import { constrainedTriangles } from './constrainedTriangles';

export interface Triangulation {
  /** Corner index per triangle corner, 3T. */
  readonly corners: Uint32Array;
  /** Face per triangle, T. Triangles of a face are consecutive, faces in order. */
  readonly face: Uint32Array;
}

const cache = new WeakMap<PolyMesh, Triangulation>();

export function triangulate(mesh: PolyMesh): Triangulation {
  let t = cache.get(mesh);
  if (!t) cache.set(mesh, (t = build(mesh)));
  return t;
}

function build(mesh: PolyMesh): Triangulation {
  const T = triangleCount(mesh);
  const corners = new Uint32Array(3 * T);
  const face = new Uint32Array(T);
  const areas = areaVectors(mesh);
  const { faceStart } = mesh;
  let at = 0;
  for (let f = 0; f < faceCount(mesh); f++) {
    const s = faceStart[f];
    const n = faceStart[f + 1] - s;
    face.fill(f, at / 3, at / 3 + n - 2);
    if (n === 3) {
      corners[at++] = s;
      corners[at++] = s + 1;
      corners[at++] = s + 2;
    } else if (n === 4) at = quad(mesh, areas, f, corners, at);
    else at = polygon(mesh, areas, f, corners, at);
  }
  return { corners, face };
}

/** Twice the area of triangle (a, b, c) seen along the face's normal; scaled by the normal's length. */
function signed(m: PolyMesh, n: Float64Array, f: number, a: number, b: number, c: number): number {
  const p = m.positions;
  const i = 3 * m.corners[a];
  const j = 3 * m.corners[b];
  const k = 3 * m.corners[c];
  const ax = p[j] - p[i];
  const ay = p[j + 1] - p[i + 1];
  const az = p[j + 2] - p[i + 2];
  const bx = p[k] - p[i];
  const by = p[k + 1] - p[i + 1];
  const bz = p[k + 2] - p[i + 2];
  return (
    (ay * bz - az * by) * n[3 * f] + (az * bx - ax * bz) * n[3 * f + 1] + (ax * by - ay * bx) * n[3 * f + 2]
  );
}

/** Cuts a quad along the diagonal that keeps both triangles facing the right way and best balanced. */
function quad(m: PolyMesh, areas: Float64Array, f: number, out: Uint32Array, at: number): number {
  const s = m.faceStart[f];
  const first = Math.min(signed(m, areas, f, s, s + 1, s + 2), signed(m, areas, f, s, s + 2, s + 3));
  const other = Math.min(signed(m, areas, f, s, s + 1, s + 3), signed(m, areas, f, s + 1, s + 2, s + 3));
  // On a tie (parallelograms, trapezia) keep the first diagonal, so equal quads split alike.
  const order = other > first * (1 + 1e-9) + 1e-300 ? [0, 1, 3, 1, 2, 3] : [0, 1, 2, 0, 2, 3];
  for (let k = 0; k < 6; k++) out[at + k] = s + order[k];
  return at + 6;
}

function polygon(m: PolyMesh, areas: Float64Array, f: number, out: Uint32Array, at: number): number {
  const s = m.faceStart[f];
  const n = m.faceStart[f + 1] - s;
  const nx = areas[3 * f];
  const ny = areas[3 * f + 1];
  const nz = areas[3 * f + 2];
  // Dropping the normal's largest coordinate is an affine map of the plane: exact inputs stay exact.
  const ax = Math.abs(nx);
  const ay = Math.abs(ny);
  const az = Math.abs(nz);
  let i: number;
  let j: number;
  if (ax >= ay && ax >= az) [i, j] = nx > 0 ? [1, 2] : [2, 1];
  else if (ay >= az) [i, j] = ny > 0 ? [2, 0] : [0, 2];
  else [i, j] = nz > 0 ? [0, 1] : [1, 0];
  const flat = new Float64Array(2 * n);
  for (let k = 0; k < n; k++) {
    const v = 3 * m.corners[s + k];
    flat[2 * k] = m.positions[v + i];
    flat[2 * k + 1] = m.positions[v + j];
  }
  const order = earcut(flat as unknown as number[]);
  const count = Math.min(order.length, 3 * (n - 2));
  // earcut hands out all triangles of an outline the same way round; make that ours.
  const turned = windingOf(flat, order) < 0;
  for (let k = 0; k < count; k += 3) {
    out[at + k] = s + order[k];
    out[at + k + 1] = s + order[turned ? k + 2 : k + 1];
    out[at + k + 2] = s + order[turned ? k + 1 : k + 2];
  }
  if (count < 3 * (n - 2)) {
    // earcut skips points on straight runs; every point must keep its triangle or the mesh opens.
    const all = keepingAll(flat);
    for (let k = 0; k < all.length; k++) out[at + k] = s + all[k];
  }
  return at + 3 * (n - 2);
}

/** n − 2 triangles of an outline with each of its points; of one that crosses itself, a fan. */
function keepingAll(flat: Float64Array): number[] {
  const n = flat.length / 2;
  try {
    const sides = Array.from({ length: n }, (_, i): [number, number] => [i, (i + 1) % n]);
    const out = constrainedTriangles(flat, sides);
    if (out.length === 3 * (n - 2)) return out;
  } catch (e) {
    if (!(e instanceof OperationError)) throw e;
  }
  return Array.from({ length: n - 2 }, (_, i) => [0, i + 1, i + 2]).flat();
}

function windingOf(flat: Float64Array, triangles: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < triangles.length; i += 3) {
    const a = 2 * triangles[i];
    const b = 2 * triangles[i + 1];
    const c = 2 * triangles[i + 2];
    sum +=
      (flat[b] - flat[a]) * (flat[c + 1] - flat[a + 1]) - (flat[b + 1] - flat[a + 1]) * (flat[c] - flat[a]);
  }
  return sum;
}
