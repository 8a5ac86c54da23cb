/** Held normals that a change could not keep. */
import { warn, type Warning } from './errors';
import type { LayerArray } from './layers';
import type { ElementMaps } from './lineage';
import { faceCount, type PolyMesh } from './PolyMesh';

/** Says how many held normals went on faces that are still there; null for none. Linear. */
export function heldLost(before: PolyMesh, after: PolyMesh, maps: ElementMaps): Warning | null {
  const [was, now] = [before, after].map((m) => m.layers.corner.normal?.data);
  if (!was) return null;
  const held = (data: LayerArray | undefined, m: PolyMesh, f: number): number => {
    let n = 0;
    for (let c = m.faceStart[f]; data && c < m.faceStart[f + 1]; c++)
      if (data[3 * c] !== 0 || data[3 * c + 1] !== 0 || data[3 * c + 2] !== 0) n++;
    return n;
  };
  const faces: number[] = [];
  let lost = 0;
  for (let f = 0; f < faceCount(after); f++) {
    if (maps.face.isMade(f) || held(now, after, f)) continue;
    const n = Math.max(0, ...maps.face.of(f).map((old) => held(was, before, old)));
    if (!n) continue;
    lost += n;
    faces.push(f);
  }
  return lost
    ? warn('held-lost', `${lost} held ${lost === 1 ? 'normal was' : 'normals were'} let go, as their faces changed.`, 'face', faces) // prettier-ignore
    : null;
}
