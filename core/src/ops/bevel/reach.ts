/** The faces a rounding can change: all it could come to on their sheets, and those beside them. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import type { Topology } from '../../mesh/Topology';
import { BoxTree } from '../../spatial/BoxTree';
import { edgesOf } from './layOut';

/** A rail's corner seldom is further from its edge, in widths. */
const WIDTHS = 3;

/** @returns 1 per face */
export function facesInReach(
  mesh: PolyMesh,
  t: Topology,
  rounded: Uint8Array,
  soft: Uint8Array,
  width: number,
): Uint8Array {
  const out = new Uint8Array(mesh.faceStart.length - 1);
  const edges = [...edgesOf(rounded)];
  const reach = WIDTHS * width * widest(mesh, edges);
  const isNear = nearTo(mesh, t, edges, reach);
  const stack: number[] = [];
  const push = (f: number): void => {
    if (out[f]) return;
    out[f] = 1;
    stack.push(f);
  };
  for (const e of edges)
    for (const v of [t.edges[2 * e], t.edges[2 * e + 1]])
      for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) push(t.faceOfCorner[t.vertexCorners[i]]);
  const bridge = mesh.layers.edge.bridge?.data;
  while (stack.length) {
    const f = stack.pop()!;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = t.edgeOfCorner[c];
      if (t.twin[c] >= 0 && soft[e] && (bridge?.[e] || isNear(e))) push(t.faceOfCorner[t.twin[c]]);
    }
  }
  const first = out.slice();
  // Neighbours take over points of a face that is used up, and points put into a line between plates.
  for (let c = 0; c < mesh.corners.length; c++)
    if (first[t.faceOfCorner[c]] && t.twin[c] >= 0) push(t.faceOfCorner[t.twin[c]]);
  while (stack.length) {
    const f = stack.pop()!;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (bridge?.[t.edgeOfCorner[c]] && t.twin[c] >= 0) push(t.faceOfCorner[t.twin[c]]);
  }
  return out;
}

/** The greatest share of the width an edge's mark asks for; 1 without marks. */
function widest(mesh: PolyMesh, edges: number[]): number {
  const share = mesh.layers.edge.round?.data;
  return share ? edges.reduce((most, e) => Math.max(most, share[e]), 1) : 1;
}

/** Whether the box around an edge comes within reach of one around a rounded edge. */
function nearTo(mesh: PolyMesh, t: Topology, edges: number[], reach: number): (e: number) => boolean {
  const p = mesh.positions;
  const boxes = new Float64Array(6 * edges.length);
  const least = (e: number, k: number): number =>
    Math.min(p[3 * t.edges[2 * e] + k], p[3 * t.edges[2 * e + 1] + k]);
  const most = (e: number, k: number): number =>
    Math.max(p[3 * t.edges[2 * e] + k], p[3 * t.edges[2 * e + 1] + k]);
  edges.forEach((e, i) => {
    for (let k = 0; k < 3; k++) {
      boxes[6 * i + k] = least(e, k);
      boxes[6 * i + 3 + k] = most(e, k);
    }
  });
  const tree = new BoxTree(boxes);
  return (e) => {
    const lo = [least(e, 0) - reach, least(e, 1) - reach, least(e, 2) - reach];
    const hi = [most(e, 0) + reach, most(e, 1) + reach, most(e, 2) + reach];
    return tree.someIn(lo, hi);
  };
}
