/**
 * The normals of the surface a mesh stands for, to be carried over a cut or a rounding: those that are known, and where
 * none is, the shading there is instead where it differs from the face's own.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { areaVectors } from '../mesh/measure';
import { builtNormals } from './builtNormals';

/**
 * 3 numbers per corner; what is not known is told at the corners around the given vertices only. A cut needs it where it
 * passes: farther away the faces around a vertex are what they were, and so is the normal they make.
 */
export function surfaceNormals(mesh: PolyMesh, vertices: ReadonlyArray<number>): Float32Array {
  const known = mesh.layers.corner.surface?.data;
  const out = new Float32Array(3 * mesh.corners.length);
  if (known) out.set(known);
  const corners = openCorners(mesh, known, vertices);
  if (!corners.length) return out;
  const shown = builtNormals(mesh, {}, corners);
  const area = areaVectors(mesh);
  const { faceOfCorner } = topologyOf(mesh);
  for (const corner of corners) {
    const c = 3 * corner;
    if (out[c] !== 0 || out[c + 1] !== 0 || out[c + 2] !== 0) continue;
    const f = 3 * faceOfCorner[corner];
    const [x, y, z] = [area[f], area[f + 1], area[f + 2]];
    const l = Math.sqrt(x * x + y * y + z * z) * (1 - 1e-9);
    if (shown[c] * x + shown[c + 1] * y + shown[c + 2] * z < l) out.set(shown.subarray(c, c + 3), c);
  }
  return out;
}

/** All corners around those of some vertices at which one is not known. */
function openCorners(
  mesh: PolyMesh,
  known: ArrayLike<number> | undefined,
  vertices: ReadonlyArray<number>,
): Uint32Array {
  const { vertexStart, vertexCorners } = topologyOf(mesh);
  const out = new Uint32Array(vertices.reduce((n, v) => n + vertexStart[v + 1] - vertexStart[v], 0));
  let at = 0;
  for (const v of vertices) {
    const [from, to] = [vertexStart[v], vertexStart[v + 1]];
    let open = !known;
    for (let i = from; !open && i < to; i++) {
      const c = 3 * vertexCorners[i];
      open = known![c] === 0 && known![c + 1] === 0 && known![c + 2] === 0;
    }
    if (open) for (let i = from; i < to; i++) out[at++] = vertexCorners[i];
  }
  return out.subarray(0, at);
}
