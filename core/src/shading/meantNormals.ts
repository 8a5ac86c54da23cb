/**
 * The normals a mesh should be shaded with, as far as that can be told: the true ones where the surface is known (layer
 * `surface`), the face's own where it is flat, and elsewhere those of a surface fitted to the points around.
 */
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { unitFaceNormals } from './cornerWeights';
import { CURVED, FLAT_FACE } from './faceRoles';
import { fittedNormals } from './fittedNormals';
import { singularCorners } from './singularCorners';
import { unknownRoles } from './unknownRoles';

export interface MeantNormals {
  /** Unit normal per corner, 3 numbers each. */
  normals: Float32Array;
  /** 1 per corner at which the surface has no one normal; null where there are none. */
  singular: Uint8Array | null;
  /** Per face: FLAT_FACE, CURVED or STRIP. */
  roles: Uint8Array;
}

/** Linear in corners. @param shown what corners of strips of an unknown surface have, which are not judged */
export function meantNormals(mesh: PolyMesh, shown: Float32Array): MeantNormals {
  const { faceStart } = mesh;
  const F = faceCount(mesh);
  const surface = mesh.layers.corner.surface?.data;
  const normals = new Float32Array(3 * mesh.corners.length);
  const roles = new Uint8Array(F);
  let own: Float64Array | null = null;
  let unknown = false;
  if (surface) normals.set(surface);
  for (let f = 0; f < F; f++)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const s = 3 * c;
      if (normals[s] !== 0 || normals[s + 1] !== 0 || normals[s + 2] !== 0) roles[f] = CURVED;
      else {
        own ??= unitFaceNormals(mesh).normals;
        unknown = true;
        for (let k = 0; k < 3; k++) normals[s + k] = own[3 * f + k];
      }
    }
  if (unknown) judgeUnknown(mesh, normals, roles, shown);
  return { normals, singular: singularCorners(mesh), roles };
}

/** Sets what faces are of which no corner is known, and the normals of those that are part of a curved sheet. */
function judgeUnknown(mesh: PolyMesh, normals: Float32Array, roles: Uint8Array, shown: Float32Array): void {
  const { roles: told, soft } = unknownRoles(mesh);
  const wanted: number[] = [];
  for (let f = 0; f < roles.length; f++) {
    // Where some corners are known, the others are the face's own.
    if (roles[f] === CURVED) continue;
    roles[f] = told[f];
    if (told[f] === FLAT_FACE) continue;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      if (told[f] === CURVED) wanted.push(c);
      else for (let k = 0; k < 3; k++) normals[3 * c + k] = shown[3 * c + k];
    }
  }
  if (wanted.length) fittedNormals(mesh, soft, wanted, shown, normals);
}
