/** Faces without a width worth the name. */
import { faceArea } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { distance, pointOf } from '../src/mesh/vec3';

/** The number of faces thinner than a length, mm: twice their area over their longest side. */
export function thinner(m: PolyMesh, than: number): number {
  let count = 0;
  for (let f = 0; f < faceCount(m); f++) {
    const loop = Array.from(m.corners.subarray(m.faceStart[f], m.faceStart[f + 1]));
    const sides = loop.map((v, i) =>
      distance(pointOf(m.positions, v), pointOf(m.positions, loop[(i + 1) % loop.length])),
    );
    if ((2 * faceArea(m, f)) / Math.max(...sides) < than) count++;
  }
  return count;
}
