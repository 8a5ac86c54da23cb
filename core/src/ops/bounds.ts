/** How many faces operations would make, told before they run. */
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import type { Selection } from '../select/selection';

/** Corners of the picked faces: what they fall into when each corner gives a face. */
export function cornersPicked(mesh: PolyMesh, { indices }: Selection): number {
  let n = 0;
  for (const f of indices) n += mesh.faceStart[f + 1] - mesh.faceStart[f];
  return n;
}

/** About how many faces there are after edges were bevelled: strips, and a patch at every point of theirs. */
export function facesBevelled(mesh: PolyMesh, edges: ReadonlyArray<number>, segments: number): number {
  const { edges: ends } = topologyOf(mesh);
  const points = new Set<number>();
  for (const e of edges) points.add(ends[2 * e]).add(ends[2 * e + 1]);
  // Where three strips meet, the patch has three quarters of the squares across.
  return faceCount(mesh) + edges.length * segments + Math.floor(points.size * 0.75 * (segments - 1) ** 2);
}
