/** Sorts faces without a known surface: flat faces, strips, and facets of a curved sheet. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { unitFaceNormals } from './cornerWeights';
import { FaceRoles } from './faceRoles';
import { softCorners } from './hardEdges';
import { leansOver } from './leans';

/** Faces of one sheet meet at less, degrees. */
const SHEET_ANGLE = 40;

export interface UnknownRoles {
  /** FLAT_FACE, CURVED or STRIP per face; of use where the surface is not known. */
  roles: Uint8Array;
  /** 1 per corner over whose outgoing edge its sheet goes on. */
  soft: Uint8Array;
}

const told = new WeakMap<PolyMesh, UnknownRoles>();

/** Cached. Linear in corners, but for faces with many edges. */
export function unknownRoles(mesh: PolyMesh): UnknownRoles {
  let out = told.get(mesh);
  if (out) return out;
  const soft = softCorners(mesh, SHEET_ANGLE);
  const surface = mesh.layers.corner.surface?.data;
  if (surface) partOthers(mesh, surface, soft);
  out = { roles: new FaceRoles(mesh, soft, true).all(), soft };
  told.set(mesh, out);
  return out;
}

/** Takes edges out of `soft` over which a known surface ends at a face that is not of it. */
function partOthers(mesh: PolyMesh, surface: ArrayLike<number>, soft: Uint8Array): void {
  const t = topologyOf(mesh);
  const { normals } = unitFaceNormals(mesh);
  for (let c = 0; c < soft.length; c++) {
    const d = t.twin[c];
    if (!soft[c] || isZero(surface, c) || !isZero(surface, nextCorner(mesh, t, d))) continue;
    if (!leansOver(mesh, t, surface, normals, c)) soft[c] = soft[d] = 0;
  }
}

export const isZero = (n: ArrayLike<number>, c: number): boolean =>
  n[3 * c] === 0 && n[3 * c + 1] === 0 && n[3 * c + 2] === 0;
