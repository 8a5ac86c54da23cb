/** Edges by what is told of them: how sharp they are, which cut made them. */
import { cutterCode } from '../births/hash';
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { topologyOf } from '../mesh/Topology';

/** Edges made by cuts; of the named cutters only, if any are named. */
export function rimEdges(mesh: PolyMesh, cutters?: ReadonlyArray<string>): number[] {
  const marks = mesh.layers.edge.cut?.data;
  if (!marks) return [];
  const codes = cutters?.length ? new Set(cutters.map(cutterCode)) : null;
  const out: number[] = [];
  for (let e = 0; e < marks.length; e++) if (marks[e] && (!codes || codes.has(marks[e]))) out.push(e);
  return out;
}

/** Edges whose faces' normals differ by more than an angle (degrees). */
export function sharpEdges(mesh: PolyMesh, angle: number): number[] {
  const t = topologyOf(mesh);
  const limit = Math.cos((angle * Math.PI) / 180) - 1e-9;
  const out: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (t.twin[c] < 0) continue;
    const a = faceNormal(mesh, t.faceOfCorner[c]);
    const b = faceNormal(mesh, t.faceOfCorner[t.twin[c]]);
    if (a[0] * b[0] + a[1] * b[1] + a[2] * b[2] < limit) out.push(e);
  }
  return out;
}
