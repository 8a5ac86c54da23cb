/**
 * A mesh flattened for drawing hardware: triangles over vertices that are split wherever normal or UV differ
 * between corners of one point.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { triangulate } from '../planar/triangulate';
import { shadingNormals } from '../shading/cornerNormals';
import { topologyOf } from '../mesh/Topology';

export interface Drawable {
  /** 3 per split vertex, single precision. */
  positions: Float32Array;
  normals: Float32Array;
  /** 2 per split vertex; null when the mesh has no UVs. */
  uvs: Float32Array | null;
  /** 3 per triangle. */
  indices: Uint32Array;
  /** Split vertex per mesh corner. */
  vertexOfCorner: Uint32Array;
}

/** Linear in corners times the number of different attribute sets at a point. */
export function drawableOf(mesh: PolyMesh): Drawable {
  const normals = shadingNormals(mesh);
  const uv = mesh.layers.corner.uv?.data ?? null;
  const t = topologyOf(mesh);
  const vertexOfCorner = new Uint32Array(mesh.corners.length);
  // Corner standing for each split vertex; there are at most as many as corners.
  const representative = new Uint32Array(mesh.corners.length);
  let n = 0;
  const V = t.vertexStart.length - 1;
  const same = (a: number, b: number): boolean =>
    normals[3 * a] === normals[3 * b] &&
    normals[3 * a + 1] === normals[3 * b + 1] &&
    normals[3 * a + 2] === normals[3 * b + 2] &&
    (!uv || (uv[2 * a] === uv[2 * b] && uv[2 * a + 1] === uv[2 * b + 1]));
  for (let v = 0; v < V; v++) {
    const first = n;
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
      const c = t.vertexCorners[i];
      let k = first;
      while (k < n && !same(representative[k], c)) k++;
      if (k === n) representative[n++] = c;
      vertexOfCorner[c] = k;
    }
  }
  const positions = new Float32Array(3 * n);
  const outNormals = new Float32Array(3 * n);
  const uvs = uv ? new Float32Array(2 * n) : null;
  for (let i = 0; i < n; i++) {
    const c = representative[i];
    const v = 3 * mesh.corners[c];
    for (let k = 0; k < 3; k++) {
      positions[3 * i + k] = mesh.positions[v + k];
      outNormals[3 * i + k] = normals[3 * c + k];
    }
    if (uvs && uv) {
      uvs[2 * i] = uv[2 * c];
      uvs[2 * i + 1] = uv[2 * c + 1];
    }
  }
  const tri = triangulate(mesh);
  const indices = new Uint32Array(tri.corners.length);
  for (let i = 0; i < indices.length; i++) indices[i] = vertexOfCorner[tri.corners[i]];
  return { positions, normals: outNormals, uvs, indices, vertexOfCorner };
}
