/** Drift: the angle between a corner's shading normal and its face's true normal. */
import { type PolyMesh, faceCount } from '../mesh/PolyMesh';
import { areaVectors } from '../mesh/measure';
import { shadingNormals } from './shadingNormals';

/** Degrees per corner, 0…180. */
export function drift(mesh: PolyMesh): Float32Array {
  const n = shadingNormals(mesh);
  const a = areaVectors(mesh);
  const out = new Float32Array(mesh.corners.length);
  for (let f = 0; f < faceCount(mesh); f++) {
    const l = Math.hypot(a[3 * f], a[3 * f + 1], a[3 * f + 2]) || 1;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const cos = (n[3 * c] * a[3 * f] + n[3 * c + 1] * a[3 * f + 1] + n[3 * c + 2] * a[3 * f + 2]) / l;
      out[c] = (Math.acos(Math.min(1, Math.max(-1, cos))) * 180) / Math.PI;
    }
  }
  return out;
}
