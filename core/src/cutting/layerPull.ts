/** The thickness of a recess or a raise, pulled on the model at the floor or the top the first cutter made. */
import { addScaled, distance } from '../mesh/vec3';
import { boundsOf, faceNormal } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { centroid, standing, type Pull } from '../ops/pulls';
import { windingNumber } from './winding';

/** The sides of a face are looked at so far off it, in sizes of the cutter. */
const OFF = 1e-4;
/** Faces looked at: the handle is to stand among them, not in their exact middle. */
const MOST = 400;

/** @returns null where no face of the layer lies within the cutter, or they look all ways */
export function layerPull(
  mesh: PolyMesh,
  cutter: PolyMesh,
  mode: 'recess' | 'raise',
  thickness: number,
): Pull | null {
  const { min, max } = boundsOf(cutter);
  const size = distance(min, max);
  const faces: number[] = [];
  for (let f = 0; f < faceCount(mesh) && faces.length < MOST; f++) {
    const at = centroid(mesh, f);
    if (!at.every((x, k) => x > min[k] && x < max[k])) continue;
    // On a wall the cutter made, one side is out of the cutter.
    const beside = [-OFF, OFF].map((by) => addScaled(at, faceNormal(mesh, f), by * size));
    if (beside.every((p) => windingNumber(cutter, p) > 0.5)) faces.push(f);
  }
  const { middle, normal } = standing(mesh, faces);
  if (!faces.length || !normal) return null;
  const along = mode === 'raise' ? normal : (normal.map((x) => -x) as typeof normal);
  return { key: 'thickness', zero: addScaled(middle, along, -thickness), along, rate: 1 };
}
