/** Edges that stay sharp when a mesh is smoothed. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';

/** The mesh with some edges sharp for so many levels, or for as many as they were if that is more. */
export function withCrease(mesh: PolyMesh, edges: ReadonlyArray<number>, levels: number): PolyMesh {
  const data = new Float32Array(topologyOf(mesh).edgeCount);
  data.set(mesh.layers.edge.crease?.data ?? []);
  for (const e of edges) data[e] = Math.max(data[e], levels);
  return { ...mesh, layers: { ...mesh.layers, edge: { ...mesh.layers.edge, crease: { size: 1, data } } } };
}
