/** Volume, area, bounds, face normals, Euler characteristic. Units: millimetres and their powers. */
import { shellsOf } from './shells';
import { type PolyMesh, faceCount, vertexCount } from './PolyMesh';
import { TOLERANCE } from './tolerance';
import { topologyOf } from './Topology';
import type { Vec3 } from './vec3';

const normalCache = new WeakMap<PolyMesh, Float64Array>();

/**
 * Area vectors of all faces, 3 numbers each: direction is the face normal, length twice the area.
 * Newell's method (Sutherland, Sproull, Schumacker 1974), taken about the face's first point so that
 * far-away pieces keep their precision.
 */
export function areaVectors(mesh: PolyMesh): Float64Array {
  let out = normalCache.get(mesh);
  if (out) return out;
  const { positions: p, faceStart, corners } = mesh;
  const F = faceCount(mesh);
  out = new Float64Array(3 * F);
  for (let f = 0; f < F; f++) {
    const s = faceStart[f];
    const e = faceStart[f + 1];
    const o = 3 * corners[s];
    const ox = p[o];
    const oy = p[o + 1];
    const oz = p[o + 2];
    let nx = 0;
    let ny = 0;
    let nz = 0;
    let a = 3 * corners[s + 1];
    let ax = p[a] - ox;
    let ay = p[a + 1] - oy;
    let az = p[a + 2] - oz;
    for (let c = s + 2; c < e; c++) {
      a = 3 * corners[c];
      const bx = p[a] - ox;
      const by = p[a + 1] - oy;
      const bz = p[a + 2] - oz;
      nx += ay * bz - az * by;
      ny += az * bx - ax * bz;
      nz += ax * by - ay * bx;
      ax = bx;
      ay = by;
      az = bz;
    }
    out[3 * f] = nx;
    out[3 * f + 1] = ny;
    out[3 * f + 2] = nz;
  }
  normalCache.set(mesh, out);
  return out;
}

/** Faces with no area worth the name beside the size of the mesh or of what it is a part of, mm; ascending. */
export function facesWithoutArea(mesh: PolyMesh, size = sizeOf(mesh)): number[] {
  const areas = areaVectors(mesh);
  const tiny = (2 * TOLERANCE.area * size * size) ** 2;
  const out: number[] = [];
  for (let f = 0; f < faceCount(mesh); f++) {
    const [x, y, z] = [areas[3 * f], areas[3 * f + 1], areas[3 * f + 2]];
    if (!(x * x + y * y + z * z > tiny)) out.push(f);
  }
  return out;
}

/** Unit normal of one face. */
export function faceNormal(mesh: PolyMesh, f: number): Vec3 {
  const a = areaVectors(mesh);
  const l = Math.hypot(a[3 * f], a[3 * f + 1], a[3 * f + 2]) || 1;
  return [a[3 * f] / l, a[3 * f + 1] / l, a[3 * f + 2] / l];
}

/** Area of one face, mm². */
export function faceArea(mesh: PolyMesh, f: number): number {
  const a = areaVectors(mesh);
  return Math.hypot(a[3 * f], a[3 * f + 1], a[3 * f + 2]) / 2;
}

/** Total area, mm². */
export function surfaceArea(mesh: PolyMesh): number {
  let sum = 0;
  for (let f = 0; f < faceCount(mesh); f++) sum += faceArea(mesh, f);
  return sum;
}

/** Enclosed volume, mm³; positive when faces look outward. Only meaningful on closed meshes. */
export function volume(mesh: PolyMesh): number {
  const { positions: p, faceStart, corners } = mesh;
  const c0 = boundsOf(mesh);
  const [cx, cy, cz] = [0, 1, 2].map((k) => (c0.min[k] + c0.max[k]) / 2);
  let six = 0;
  for (let f = 0; f < faceCount(mesh); f++) {
    const s = faceStart[f];
    const o = 3 * corners[s];
    const ox = p[o] - cx;
    const oy = p[o + 1] - cy;
    const oz = p[o + 2] - cz;
    for (let c = s + 1; c + 1 < faceStart[f + 1]; c++) {
      const a = 3 * corners[c];
      const b = 3 * corners[c + 1];
      const ax = p[a] - cx;
      const ay = p[a + 1] - cy;
      const az = p[a + 2] - cz;
      const bx = p[b] - cx;
      const by = p[b + 1] - cy;
      const bz = p[b + 2] - cz;
      six += ox * (ay * bz - az * by) + oy * (az * bx - ax * bz) + oz * (ax * by - ay * bx);
    }
  }
  return six / 6;
}

export interface Bounds {
  min: Vec3;
  max: Vec3;
}

/** Axis-aligned bounds of a box that is placed by an affine matrix (column-major). */
export function boundsIn({ min, max }: Bounds, m: ArrayLike<number>): Bounds {
  const middle: Vec3 = [0, 0, 0];
  const half: Vec3 = [0, 0, 0];
  for (let k = 0; k < 3; k++) {
    middle[k] = m[12 + k];
    for (let j = 0; j < 3; j++) {
      middle[k] += (m[4 * j + k] * (min[j] + max[j])) / 2;
      half[k] += (Math.abs(m[4 * j + k]) * (max[j] - min[j])) / 2;
    }
  }
  return {
    min: [middle[0] - half[0], middle[1] - half[1], middle[2] - half[2]],
    max: [middle[0] + half[0], middle[1] + half[1], middle[2] + half[2]],
  };
}

export const boundsMeet = (a: Bounds, b: Bounds): boolean =>
  a.min.every((_, k) => a.min[k] <= b.max[k] && b.min[k] <= a.max[k]);

/** Axis-aligned bounds; an empty mesh gives zeros. */
export function boundsOf(mesh: PolyMesh): Bounds {
  const p = mesh.positions;
  if (p.length === 0) return { min: [0, 0, 0], max: [0, 0, 0] };
  const min: Vec3 = [Infinity, Infinity, Infinity];
  const max: Vec3 = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p.length; i += 3)
    for (let k = 0; k < 3; k++) {
      if (p[i + k] < min[k]) min[k] = p[i + k];
      if (p[i + k] > max[k]) max[k] = p[i + k];
    }
  return { min, max };
}

/** Length of the bounding box's diagonal, mm: the size tolerances are relative to. */
export function sizeOf(mesh: PolyMesh): number {
  const b = boundsOf(mesh);
  return Math.hypot(b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2]);
}

/** V − E + F. A closed ball gives 2, a closed ring 0. */
export function eulerCharacteristic(mesh: PolyMesh): number {
  return vertexCount(mesh) - topologyOf(mesh).edgeCount + faceCount(mesh);
}

/** Counts of faces by corner number: triangles, quads, n-gons. */
export function faceKinds(mesh: PolyMesh): { triangles: number; quads: number; ngons: number } {
  const k = { triangles: 0, quads: 0, ngons: 0 };
  for (let f = 0; f < faceCount(mesh); f++) {
    const n = mesh.faceStart[f + 1] - mesh.faceStart[f];
    if (n === 3) k.triangles++;
    else if (n === 4) k.quads++;
    else k.ngons++;
  }
  return k;
}

/** Number of separate shells. */
export const shellCount = (mesh: PolyMesh): number => shellsOf(mesh).count;
