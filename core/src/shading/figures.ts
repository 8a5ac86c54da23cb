/**
 * How much of a mesh is shaded wrong. What should look flat may hardly drift; a facet or a strip may drift as far as the
 * surface turns there, and no further.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { shadingNormals } from './shadingNormals';
import { drift } from './drift';
import { CURVED, FaceRoles, FLAT_FACE, softWhereShared, STRIP } from './faceRoles';

/** Degrees a face may drift beyond what it is allowed. */
export const DRIFT_LIMIT = 2;

export interface ShadingFigures {
  /** Share of the area whose faces are shaded wrong, 0…1. */
  share: number;
  /** Faces that are. */
  wrong: number[];
  /** How many faces should look flat, are of a curved surface, are strips between wider ones. */
  flat: number;
  curved: number;
  strips: number;
  /** The most any corner drifts beyond what its face is allowed, degrees. */
  worst: number;
  /** Per corner, drift beyond what its face is allowed, degrees. */
  excess: Float32Array;
  /** The role of each face: FLAT_FACE, CURVED or STRIP. */
  roles: Uint8Array;
}

/** @param perCorner drift, where it is known already. Linear in corners. */
export function shadingFigures(mesh: PolyMesh, perCorner = drift(mesh)): ShadingFigures {
  const shown = shadingNormals(mesh);
  const faces = new FaceRoles(mesh, softWhereShared(mesh, shown));
  const roles = faces.all();
  const excess = new Float32Array(mesh.corners.length);
  const wrong: number[] = [];
  const counts = [0, 0, 0];
  let worst = 0;
  let area = 0;
  let bad = 0;
  for (let f = 0; f < roles.length; f++) {
    counts[roles[f]]++;
    let most = 0;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      // The allowed turn of a face is computed only where it drifts at all.
      const free =
        perCorner[c] > DRIFT_LIMIT && roles[f] !== FLAT_FACE ? faces.allowed(f, c, shown, roles) : 0;
      excess[c] = roles[f] === FLAT_FACE || free ? Math.max(0, perCorner[c] - free) : 0;
      most = Math.max(most, excess[c]);
    }
    worst = Math.max(worst, most);
    const own = faces.areaOf(f);
    area += own;
    if (most <= DRIFT_LIMIT) continue;
    wrong.push(f);
    bad += own;
  }
  const share = area > 0 ? bad / area : 0;
  return {
    share,
    wrong,
    flat: counts[FLAT_FACE],
    curved: counts[CURVED],
    strips: counts[STRIP],
    worst,
    excess,
    roles,
  };
}
