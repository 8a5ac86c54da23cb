/**
 * A mesh flattened for drawing hardware: triangles over vertices that are split wherever a normal, a UV or another number
 * kept at corners differs between corners of one point.
 */
import type { Layer } from '../mesh/layers';
import type { PolyMesh } from '../mesh/PolyMesh';
import { triangulate } from '../planar/triangulate';
import { shadingNormals } from '../shading/shadingNormals';
import { topologyOf } from '../mesh/Topology';

export interface Drawable {
  /** 3 per split vertex, single precision. */
  positions: Float32Array;
  normals: Float32Array;
  /** 2 per split vertex; null when the mesh has no UVs. */
  uvs: Float32Array | null;
  /** Bent normals, 3 per split vertex, and openness, 1; null when the mesh has none. */
  bent: Float32Array | null;
  openness: Float32Array | null;
  /** 3 per triangle. */
  indices: Uint32Array;
  /** Split vertex per mesh corner. */
  vertexOfCorner: Uint32Array;
}

/** Linear in corners times the number of different attribute sets at a point. */
export function drawableOf(mesh: PolyMesh): Drawable {
  const normals = shadingNormals(mesh);
  const { uv, bent, openness } = mesh.layers.corner;
  const kept = [uv, bent, openness].filter((l) => l !== undefined);
  const t = topologyOf(mesh);
  const vertexOfCorner = new Uint32Array(mesh.corners.length);
  // Corner standing for each split vertex; there are at most as many as corners.
  const representative = new Uint32Array(mesh.corners.length);
  let n = 0;
  const V = t.vertexStart.length - 1;
  const same = (a: number, b: number): boolean => {
    const [i, j] = [3 * a, 3 * b];
    if (normals[i] !== normals[j] || normals[i + 1] !== normals[j + 1] || normals[i + 2] !== normals[j + 2])
      return false;
    for (const { size, data } of kept)
      for (let k = 0; k < size; k++) if (data[size * a + k] !== data[size * b + k]) return false;
    return true;
  };
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
  for (let i = 0; i < n; i++) {
    const v = 3 * mesh.corners[representative[i]];
    for (let k = 0; k < 3; k++) positions[3 * i + k] = mesh.positions[v + k];
  }
  const taken = ({ size, data }: Pick<Layer, 'size' | 'data'>): Float32Array => {
    const out = new Float32Array(size * n);
    for (let i = 0; i < n; i++)
      for (let k = 0; k < size; k++) out[size * i + k] = data[size * representative[i] + k];
    return out;
  };
  const tri = triangulate(mesh);
  const indices = new Uint32Array(tri.corners.length);
  for (let i = 0; i < indices.length; i++) indices[i] = vertexOfCorner[tri.corners[i]];
  return {
    positions,
    normals: taken({ size: 3, data: normals }),
    uvs: uv ? taken(uv) : null,
    bent: bent ? taken(bent) : null,
    openness: openness ? taken(openness) : null,
    indices,
    vertexOfCorner,
  };
}
