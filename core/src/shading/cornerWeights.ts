/** How much the face of a corner counts in the normal of its fan. */
import { type PolyMesh, faceCount } from '../mesh/PolyMesh';
import { areaVectors } from '../mesh/measure';

/** By corner angle: Thürmer & Wüthrich 1998. By area: Gouraud's sum with the area vectors themselves (Max 1999, section 1). */
export type NormalWeight = 'angle' | 'area' | 'both' | 'squared';

export interface FaceNormals {
  normals: Float64Array;
  areas: Float64Array;
}

export function unitFaceNormals(mesh: PolyMesh): FaceNormals {
  const a = areaVectors(mesh);
  const F = faceCount(mesh);
  const normals = new Float64Array(3 * F);
  const areas = new Float64Array(F);
  for (let f = 0; f < F; f++) {
    const l = Math.sqrt(a[3 * f] * a[3 * f] + a[3 * f + 1] * a[3 * f + 1] + a[3 * f + 2] * a[3 * f + 2]);
    areas[f] = l / 2;
    const s = l > 0 ? 1 / l : 0;
    normals[3 * f] = a[3 * f] * s;
    normals[3 * f + 1] = a[3 * f + 1] * s;
    normals[3 * f + 2] = a[3 * f + 2] * s;
  }
  return { normals, areas };
}

/** The weight of each corner: its angle in radians, the area of its face in mm², their product, or the area squared. */
export function cornerWeights(
  mesh: PolyMesh,
  faces: FaceNormals,
  kind: NormalWeight,
  faceOf: Uint32Array,
  only?: Uint32Array,
): Float64Array {
  const out = new Float64Array(mesh.corners.length);
  const { faceStart } = mesh;
  const areaWeight = (area: number): number => (kind === 'squared' ? area * area : area);
  const weigh = (f: number, s: number, e: number, c: number): void => {
    const angle = cornerAngle(mesh, faces.normals, f, c === s ? e - 1 : c - 1, c, c + 1 === e ? s : c + 1);
    out[c] = kind === 'angle' ? angle : angle * faces.areas[f];
  };
  if (only)
    for (const c of only) {
      const f = faceOf[c];
      if (kind === 'area' || kind === 'squared') out[c] = areaWeight(faces.areas[f]);
      else weigh(f, faceStart[f], faceStart[f + 1], c);
    }
  else
    for (let f = 0; f < faceCount(mesh); f++) {
      const s = faceStart[f];
      const e = faceStart[f + 1];
      if (kind === 'area' || kind === 'squared') out.fill(areaWeight(faces.areas[f]), s, e);
      else for (let c = s; c < e; c++) weigh(f, s, e, c);
    }
  return out;
}

/** Inner angle at corner b of its face, radians in (0, 2π); past π at reflex corners. */
function cornerAngle(m: PolyMesh, n: Float64Array, f: number, a: number, b: number, c: number): number {
  const p = m.positions;
  const i = 3 * m.corners[a];
  const j = 3 * m.corners[b];
  const k = 3 * m.corners[c];
  const ux = p[k] - p[j];
  const uy = p[k + 1] - p[j + 1];
  const uz = p[k + 2] - p[j + 2];
  const vx = p[i] - p[j];
  const vy = p[i + 1] - p[j + 1];
  const vz = p[i + 2] - p[j + 2];
  const sin =
    (uy * vz - uz * vy) * n[3 * f] + (uz * vx - ux * vz) * n[3 * f + 1] + (ux * vy - uy * vx) * n[3 * f + 2];
  const angle = Math.atan2(sin, ux * vx + uy * vy + uz * vz);
  return angle < 0 ? angle + 2 * Math.PI : angle;
}
