/** Places and neighbours of single elements. */
import { vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { pointOf, type Vec3 } from '../mesh/vec3';
import type { ElementKind } from './selection';

/** Edges at every point. */
export function valences(mesh: PolyMesh): Uint32Array {
  const { edges } = topologyOf(mesh);
  const out = new Uint32Array(vertexCount(mesh));
  for (const v of edges) out[v]++;
  return out;
}

/** The mean of an element's points, mm. */
export function middleOf(mesh: PolyMesh, k: ElementKind, i: number): Vec3 {
  if (k === 'vertex') return pointOf(mesh.positions, i);
  if (k === 'edge') {
    const { edges } = topologyOf(mesh);
    const [a, b] = [pointOf(mesh.positions, edges[2 * i]), pointOf(mesh.positions, edges[2 * i + 1])];
    return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
  }
  const sum: Vec3 = [0, 0, 0];
  const n = mesh.faceStart[i + 1] - mesh.faceStart[i];
  for (let c = mesh.faceStart[i]; c < mesh.faceStart[i + 1]; c++)
    for (let a = 0; a < 3; a++) sum[a] += mesh.positions[3 * mesh.corners[c] + a] / n;
  return sum;
}
