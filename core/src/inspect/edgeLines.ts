/** Line segments along edges, for lighting them up. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';

/** Six numbers per edge: its two ends, in the mesh's frame. */
export function edgeLines(mesh: PolyMesh, edges: ArrayLike<number>): Float64Array {
  const t = topologyOf(mesh);
  const out = new Float64Array(6 * edges.length);
  for (let i = 0; i < edges.length; i++)
    for (let k = 0; k < 2; k++) {
      const v = t.edges[2 * edges[i] + k];
      for (let a = 0; a < 3; a++) out[6 * i + 3 * k + a] = mesh.positions[3 * v + a];
    }
  return out;
}
