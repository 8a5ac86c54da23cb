/** Where a change makes a mesh pass through itself. */
import { warn, type Warning } from '../mesh/errors';
import type { ElementMaps } from '../mesh/lineage';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { deepCrossings } from './inspectMesh';

/** Says how many edges pass through faces that did not before; null for none. Time by what lies around what changed. */
export function newCrossings(before: PolyMesh, after: PolyMesh, maps: ElementMaps): Warning | null {
  const changed = new Uint8Array(faceCount(after));
  const source = new Uint8Array(faceCount(before)).fill(1);
  let some = false;
  for (let f = 0; f < changed.length; f++) {
    const [old, ...others] = maps.face.isMade(f) ? [] : maps.face.of(f);
    if (old !== undefined && !others.length && isSame(before, old, after, f)) source[old] = 0;
    else some = true;
    if (old === undefined || source[old]) changed[f] = 1;
  }
  if (!some) return null;
  const now = deepCrossings(after, changed);
  if (!now.length) return null;
  const more = now.length - deepCrossings(before, source).length;
  if (more <= 0) return null;
  return warn(
    'crosses',
    `${more} ${more === 1 ? 'edge passes' : 'edges pass'} through other faces now.`,
    'edge',
    now,
  );
}

/** Whether a face still has the same points in the same places. */
function isSame(a: PolyMesh, f: number, b: PolyMesh, g: number): boolean {
  const [s, t] = [a.faceStart[f], b.faceStart[g]];
  const n = a.faceStart[f + 1] - s;
  if (b.faceStart[g + 1] - t !== n) return false;
  for (let k = 0; k < n; k++)
    for (let i = 0; i < 3; i++)
      if (a.positions[3 * a.corners[s + k] + i] !== b.positions[3 * b.corners[t + k] + i]) return false;
  return true;
}
