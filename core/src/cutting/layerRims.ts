/** Rims of solids that are made for a cut alone. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { cutterCode } from '../births/hash';

/** The mesh with the rims of some cutters no longer marked as rims. */
export function withoutRimsOf(ids: ReadonlyArray<string>, mesh: PolyMesh): PolyMesh {
  const { cut: marks } = mesh.layers.edge;
  if (!marks) return mesh;
  const codes = new Set(ids.map(cutterCode));
  const data = marks.data.map((x) => (codes.has(x) ? 0 : x));
  return { ...mesh, layers: { ...mesh.layers, edge: { ...mesh.layers.edge, cut: { ...marks, data } } } };
}
