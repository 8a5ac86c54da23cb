/**
 * The normals of the curved surface a mesh stands for, to be carried over a cut: where a corner's shading
 * normal differs from its face's own, the shading normal; zero where the face is flat there.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceCount } from '../mesh/PolyMesh';
import { areaVectors } from '../mesh/measure';
import { shadingNormals } from './cornerNormals';

const cache = new WeakMap<PolyMesh, Float32Array>();

/** 3 numbers per corner. Cached by identity. */
export function surfaceNormals(mesh: PolyMesh): Float32Array {
  let out = cache.get(mesh);
  if (out) return out;
  const shading = shadingNormals(mesh);
  const a = areaVectors(mesh);
  out = new Float32Array(shading.length);
  for (let f = 0; f < faceCount(mesh); f++) {
    const x = a[3 * f];
    const y = a[3 * f + 1];
    const z = a[3 * f + 2];
    const l = Math.sqrt(x * x + y * y + z * z) * (1 - 1e-9);
    for (let c = 3 * mesh.faceStart[f]; c < 3 * mesh.faceStart[f + 1]; c += 3) {
      if (shading[c] * x + shading[c + 1] * y + shading[c + 2] * z >= l) continue;
      out[c] = shading[c];
      out[c + 1] = shading[c + 1];
      out[c + 2] = shading[c + 2];
    }
  }
  cache.set(mesh, out);
  return out;
}
