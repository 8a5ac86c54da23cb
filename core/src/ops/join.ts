/** Joins meshes into one; shells stay separate, layers are filled with zeros where a mesh lacks them. */
import { type PolyMesh, EMPTY_MESH, cornerCount, faceCount, makeMesh, vertexCount } from '../mesh/PolyMesh';
import { concatLayers } from '../mesh/layers';
import { topologyOf } from '../mesh/Topology';

/** Example: `joinMeshes([box, cylinder])`. */
export function joinMeshes(meshes: ReadonlyArray<PolyMesh>): PolyMesh {
  if (!meshes.length) return EMPTY_MESH;
  if (meshes.length === 1) return meshes[0];
  const total = (count: (m: PolyMesh) => number): number => meshes.reduce((n, m) => n + count(m), 0);
  const positions = new Float64Array(3 * total(vertexCount));
  const faceStart = new Uint32Array(total(faceCount) + 1);
  const corners = new Uint32Array(total(cornerCount));
  let v = 0;
  let f = 0;
  let c = 0;
  for (const m of meshes) {
    positions.set(m.positions, 3 * v);
    for (let i = 1; i <= faceCount(m); i++) faceStart[f + i] = c + m.faceStart[i];
    for (let i = 0; i < m.corners.length; i++) corners[c + i] = m.corners[i] + v;
    v += vertexCount(m);
    f += faceCount(m);
    c += m.corners.length;
  }
  const counts = {
    vertex: vertexCount,
    edge: (m: PolyMesh) => topologyOf(m).edgeCount,
    corner: cornerCount,
    face: faceCount,
  };
  const layers = (d: keyof typeof counts) =>
    concatLayers(meshes.map((m) => m.layers[d]), meshes.map(counts[d])); // prettier-ignore
  return makeMesh(positions, faceStart, corners, {
    vertex: layers('vertex'),
    edge: layers('edge'),
    corner: layers('corner'),
    face: layers('face'),
  });
}
