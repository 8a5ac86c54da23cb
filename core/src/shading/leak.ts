/**
 * Shading that leaks: on what cuts and roundings left of a surface, normals that are not those it had before. A face is
 * left over where all of it lies on the surface there was; its corners are compared with the shading there.
 */
import { sizeOf } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { dot, pointOf } from '../mesh/vec3';
import { castNormals } from './castNormals';
import { shadingNormals } from './cornerNormals';
import type { ShadingFault } from './faults';

/** Shading that differs by less has not leaked, degrees. */
const SAME = 1;
/** On the surface is what is no further off than this share of the size. */
const ON = 1e-5;
/** A face's corners are shaded no further from the face than this, degrees. */
const TURN = 89;

/** @param formed the piece before its cuts, in the same frame. Time n log m for n corners and m triangles. */
export function shadingLeak(mesh: PolyMesh, formed: PolyMesh): ShadingFault {
  const leak: ShadingFault = { kind: 'leak', indices: [], worst: 0 };
  if (mesh === formed) return leak;
  const { normals, missed } = castNormals(mesh, formed, {
    way: 'nearest',
    reach: ON * sizeOf(formed),
    turn: TURN,
    strength: 1,
    hard: 'keep',
    faces: null,
  });
  const shown = shadingNormals(mesh);
  const off = new Set(missed);
  for (let f = 0; f < faceCount(mesh); f++) {
    let least = 1;
    let left = true;
    for (let c = mesh.faceStart[f]; left && c < mesh.faceStart[f + 1]; c++) {
      left = !off.has(mesh.corners[c]);
      least = Math.min(least, dot(pointOf(shown, c), pointOf(normals, c)));
    }
    const angle = (Math.acos(Math.max(-1, least)) * 180) / Math.PI;
    if (!left || angle <= SAME) continue;
    leak.indices.push(f);
    leak.worst = Math.max(leak.worst, angle);
  }
  return leak;
}
