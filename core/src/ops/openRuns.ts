/** The runs open edges form: holes and rims, point after point in the direction of the faces beside them. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf } from '../mesh/Topology';

export interface OpenRun {
  /** In the direction of the faces; a hole's lid runs the other way. */
  points: number[];
  edges: number[];
  closed: boolean;
}

/** @param among only these edges; by default all open ones */
export function openRuns(mesh: PolyMesh, among?: ReadonlySet<number>): OpenRun[] {
  const t = topologyOf(mesh);
  const leaving = new Map<number, number[]>();
  const arriving = new Map<number, number>();
  for (let e = 0; e < t.edgeCount; e++) {
    if (t.edgeUse[e] !== 1 || (among && !among.has(e))) continue;
    const c = t.cornerOfEdge[e];
    const [a, b] = [mesh.corners[c], mesh.corners[nextCorner(mesh, t, c)]];
    const list = leaving.get(a);
    if (list) list.push(c);
    else leaving.set(a, [c]);
    arriving.set(b, (arriving.get(b) ?? 0) + 1);
  }
  const runs: OpenRun[] = [];
  const take = (start: number): void => {
    const points = [start];
    const edges: number[] = [];
    for (let v = start; ;) {
      const list = leaving.get(v);
      if (!list?.length) break;
      const c = list.pop()!;
      edges.push(t.edgeOfCorner[c]);
      v = mesh.corners[nextCorner(mesh, t, c)];
      if (v === start) {
        runs.push({ points, edges, closed: true });
        return;
      }
      // Where rims touch in a point, what has been walked since the last visit is a hole of its own.
      const seen = points.indexOf(v);
      if (seen >= 0) {
        runs.push({ points: points.splice(seen), edges: edges.splice(seen), closed: true });
      }
      points.push(v);
    }
    if (edges.length) runs.push({ points, edges, closed: false });
  };
  // Ends of broken runs first, then what is left are closed ones.
  for (const [v, list] of leaving) while (list.length > (arriving.get(v) ?? 0)) take(v);
  for (const [v, list] of leaving) while (list.length) take(v);
  return runs;
}
