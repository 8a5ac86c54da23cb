/**
 * The normals of the curved surface a mesh stands for, to be carried over a cut: where a corner's shading
 * normal differs from its face's own, the shading normal; zero where the face is flat there.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { areaVectors } from '../mesh/measure';
import { cornerNormals } from './cornerNormals';

/**
 * 3 numbers per corner, at the corners around the given vertices only; zero elsewhere. A cut needs them where it
 * passes: farther away the faces around a vertex are what they were, and so is the normal they make.
 */
export function surfaceNormals(mesh: PolyMesh, vertices: ReadonlyArray<number>): Float32Array {
  const corners = cornersAround(mesh, vertices);
  const out = cornerNormals(mesh, {}, corners);
  const area = areaVectors(mesh);
  const { faceOfCorner } = topologyOf(mesh);
  for (const corner of corners) {
    const f = 3 * faceOfCorner[corner];
    const c = 3 * corner;
    const [x, y, z] = [area[f], area[f + 1], area[f + 2]];
    const l = Math.sqrt(x * x + y * y + z * z) * (1 - 1e-9);
    if (out[c] * x + out[c + 1] * y + out[c + 2] * z >= l) out.fill(0, c, c + 3);
  }
  return out;
}

function cornersAround(mesh: PolyMesh, vertices: ReadonlyArray<number>): Uint32Array {
  const { vertexStart, vertexCorners } = topologyOf(mesh);
  const out = new Uint32Array(vertices.reduce((n, v) => n + vertexStart[v + 1] - vertexStart[v], 0));
  let at = 0;
  for (const v of vertices)
    for (let i = vertexStart[v]; i < vertexStart[v + 1]; i++) out[at++] = vertexCorners[i];
  return out;
}
