/** Whether a straight line between two places on a face's outline runs inside the face. */
import { orient2d } from 'robust-predicates';
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { dot, pointOf, type Vec3 } from '../mesh/vec3';
import { frameFrom } from './frame';

type Flat = [number, number];

export function chordInside(mesh: PolyMesh, f: number, a: Vec3, b: Vec3): boolean {
  const frame = frameFrom([0, 0, 0], faceNormal(mesh, f));
  const flat = (p: Vec3): Flat => [dot(p, frame.u), dot(p, frame.v)];
  const outline: Flat[] = [];
  for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
    outline.push(flat(pointOf(mesh.positions, mesh.corners[c])));
  return segmentInside(outline, flat(a), flat(b));
}

/** The segment's inside crosses no side, and its middle lies inside the outline. */
export function segmentInside(outline: ReadonlyArray<Flat>, a: Flat, b: Flat): boolean {
  for (let k = 0; k < outline.length; k++) {
    const [p, q] = [outline[k], outline[(k + 1) % outline.length]];
    const [s, t] = [side(a, b, p), side(a, b, q)];
    const [u, v] = [side(p, q, a), side(p, q, b)];
    if (s * t < 0 && u * v < 0) return false;
  }
  return inside(outline, [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]);
}

const side = (a: Flat, b: Flat, p: Flat): number => Math.sign(orient2d(a[0], a[1], b[0], b[1], p[0], p[1]));

/** Even–odd rule (Shimrat 1962). */
export function inside(outline: ReadonlyArray<Flat>, [x, y]: Flat): boolean {
  let odd = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [xi, yi] = outline[i];
    const [xj, yj] = outline[j];
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) odd = !odd;
  }
  return odd;
}
