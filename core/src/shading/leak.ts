/**
 * Shading that leaks: on what cuts and roundings left of a surface, normals that are not those it had before. A face is
 * left over where all of it lies on the surface there was; its corners are compared with the shading there.
 */
import { areaVectors, sizeOf } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { dot, length, pointOf } from '../mesh/vec3';
import { castNormals } from './castNormals';
import { shadingNormals } from './shadingNormals';

/** Faces with leaked shading, ascending, and the largest error, degrees. */
export interface Leak {
  indices: number[];
  worst: number;
}

/** Shading that differs by less has not leaked, degrees. */
const SAME = 1;
/** On the surface is what is no further off than this share of the size. */
const ON = 1e-5;
/** A face's corners are shaded no further from the face than this, degrees. */
const TURN = 89;
/** Faces that turn from each other by less look the same way, 1 less the cosine. */
const ALIKE = 1e-9;

/**
 * @param formed the piece before its cuts, in the same frame. Time linear in what stayed as it was, and n log m for n
 * corners of other faces and m triangles before.
 */
export function shadingLeak(mesh: PolyMesh, formed: PolyMesh): Leak {
  const leak: Leak = { indices: [], worst: 0 };
  if (mesh === formed) return leak;
  const then = new Float32Array(3 * mesh.corners.length);
  const rest = takeSame(mesh, formed, then);
  const { normals, took } = castNormals(mesh, formed, {
    way: 'nearest',
    reach: ON * sizeOf(formed),
    turn: TURN,
    strength: 1,
    hard: 'keep',
    faces: rest,
  });
  const left = new Uint8Array(faceCount(mesh)).fill(1);
  for (const f of rest)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      if (!took[c]) left[f] = 0;
      then.set(normals.subarray(3 * c, 3 * c + 3), 3 * c);
    }
  const shown = shadingNormals(mesh);
  for (let f = 0; f < left.length; f++) {
    if (!left[f]) continue;
    let least = 1;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const k = 3 * c;
      least = Math.min(least, shown[k] * then[k] + shown[k + 1] * then[k + 1] + shown[k + 2] * then[k + 2]);
    }
    const angle = (Math.acos(Math.max(-1, least)) * 180) / Math.PI;
    if (angle <= SAME) continue;
    leak.indices.push(f);
    leak.worst = Math.max(leak.worst, angle);
  }
  return leak;
}

/**
 * Takes over the normals of faces that are as they were: each corner lies where one lay of a face that looked the same
 * way. @returns the other faces
 */
function takeSame(mesh: PolyMesh, formed: PolyMesh, then: Float32Array): number[] {
  const t = topologyOf(formed);
  const shown = shadingNormals(formed);
  const [areas, before] = [areaVectors(mesh), areaVectors(formed)];
  const known = samePlaces(mesh.positions, formed.positions);
  const rest: number[] = [];
  for (let f = 0; f < faceCount(mesh); f++) {
    const own = pointOf(areas, f);
    const size = length(own);
    let same = true;
    for (let c = mesh.faceStart[f]; same && c < mesh.faceStart[f + 1]; c++) {
      const v = known[mesh.corners[c]];
      same = false;
      for (let i = v < 0 ? 0 : t.vertexStart[v]; v >= 0 && !same && i < t.vertexStart[v + 1]; i++) {
        const d = t.vertexCorners[i];
        const face = pointOf(before, t.faceOfCorner[d]);
        if (dot(own, face) < (1 - ALIKE) * size * length(face)) continue;
        then.set(shown.subarray(3 * d, 3 * d + 3), 3 * c);
        same = true;
      }
    }
    if (!same) rest.push(f);
  }
  return rest;
}

/** Per point of the one list, a point of the other at exactly the same place, or −1. */
function samePlaces(points: ArrayLike<number>, others: ArrayLike<number>): Int32Array {
  // Sums that only equal coordinates are bound to share; points of one sum are told apart one by one.
  const sum = (p: ArrayLike<number>, v: number): number =>
    0.7548776662466927 * p[3 * v] + 0.5698402909980532 * p[3 * v + 1] + 1.3247179572447461 * p[3 * v + 2];
  const first = new Map<number, number>();
  const next = new Int32Array(others.length / 3).fill(-1);
  for (let v = 0; v < next.length; v++) {
    const key = sum(others, v);
    next[v] = first.get(key) ?? -1;
    first.set(key, v);
  }
  const out = new Int32Array(points.length / 3).fill(-1);
  for (let v = 0; v < out.length; v++)
    for (let w = first.get(sum(points, v)) ?? -1; w >= 0; w = next[w])
      if ([0, 1, 2].every((k) => points[3 * v + k] === others[3 * w + k])) {
        out[v] = w;
        break;
      }
  return out;
}
