/** Finds corners where surfaces meet, or where no surface is known. */
import { vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';

/** The corners around vertices where one is not known, or two differ. */
export function whereNormalsDiffer(mesh: PolyMesh, surface: ArrayLike<number>): Uint32Array {
  const { vertexStart, vertexCorners } = topologyOf(mesh);
  const out = new Uint32Array(mesh.corners.length);
  let size = 0;
  for (let v = 0; v < vertexCount(mesh); v++) {
    const [from, to] = [vertexStart[v], vertexStart[v + 1]];
    const a = 3 * vertexCorners[from];
    const [x, y, z] = [surface[a], surface[a + 1], surface[a + 2]];
    let same = from < to && (x !== 0 || y !== 0 || z !== 0);
    for (let i = from + 1; same && i < to; i++) {
      const b = 3 * vertexCorners[i];
      same = surface[b] === x && surface[b + 1] === y && surface[b + 2] === z;
    }
    if (!same) for (let i = from; i < to; i++) out[size++] = vertexCorners[i];
  }
  return out.subarray(0, size);
}
