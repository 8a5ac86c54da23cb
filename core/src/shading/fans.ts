/** Corners around vertices in smooth fans: runs of faces over whose common edges the shading goes on. */
import { vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';

/**
 * Calls back for every fan, once. Linear in corners.
 * @param parts 1 per corner at whose vertex the shading does not go on over the corner's outgoing edge
 * @param visit gets the corners in order, the first `size` of an array that is written anew for the next fan
 * @param only corners to visit, whole vertices at a time (all corners around each)
 */
export function eachFan(
  mesh: PolyMesh,
  parts: Uint8Array,
  visit: (fan: Int32Array, size: number) => void,
  only?: Uint32Array,
): void {
  const t = topologyOf(mesh);
  const { faceStart } = mesh;
  const { faceOfCorner: faceOf, twin } = t;
  const n = mesh.corners.length;
  const done = new Uint8Array(n);
  let most = 0;
  for (let v = 0; v < vertexCount(mesh); v++) most = Math.max(most, t.vertexStart[v + 1] - t.vertexStart[v]);
  const fan = new Int32Array(most);
  const count = only ? only.length : n;
  for (let i = 0; i < count; i++) {
    const c0 = only ? only[i] : i;
    if (done[c0]) continue;
    // Go back to the fan's first corner: across the outgoing edge until it parts, is open or comes round again.
    let first = c0;
    for (;;) {
      const d = twin[first];
      if (d < 0 || parts[first]) break;
      const f = faceOf[d];
      const back = d + 1 === faceStart[f + 1] ? faceStart[f] : d + 1;
      if (back === c0) break;
      first = back;
    }
    let size = 0;
    for (let c = first; ;) {
      fan[size++] = c;
      done[c] = 1;
      const f = faceOf[c];
      const into = c === faceStart[f] ? faceStart[f + 1] - 1 : c - 1;
      const d = twin[into];
      if (d < 0 || parts[d] || done[d]) break;
      c = d;
    }
    visit(fan, size);
  }
}
