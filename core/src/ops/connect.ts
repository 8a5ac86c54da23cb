/** Connect: new edges between picked points, or between the middles of picked edges, across the faces they share. */
import { edgeBetween, topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { chordInside } from '../planar/chordInside';
import { maskOf, selectionOf } from '../select/selection';
import { FaceDivider } from './divideFaces';
import { params } from './fields';
import { counted, type Operation } from './operation';
import { faceCount } from '../mesh/PolyMesh';

export const connect: Operation = {
  kind: 'connect',
  title: 'Connect',
  on: ['vertex', 'edge'],
  params: params({}),
  run(mesh, selection) {
    const t = topologyOf(mesh);
    const divider = new FaceDivider(mesh);
    const on = maskOf(mesh, selection);
    let refused = 0;
    const joined = new Set<string>();
    for (let f = 0; f < faceCount(mesh); f++) {
      const points: number[] = [];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        if (selection.kind === 'vertex') {
          if (on[mesh.corners[c]]) points.push(mesh.corners[c]);
        } else if (on[t.edgeOfCorner[c]]) points.push(divider.pointOnEdge(t.edgeOfCorner[c], 0.5));
      if (points.length < 2) continue;
      const pairs = points.length === 2 ? 1 : points.length;
      for (let k = 0; k < pairs; k++) {
        const [a, b] = [points[k], points[(k + 1) % points.length]];
        // One new edge between two points, even if several faces have both.
        const pair = `${Math.min(a, b)}-${Math.max(a, b)}`;
        if (joined.has(pair) || (selection.kind === 'vertex' && edgeBetween(mesh, t, a, b) >= 0)) continue;
        if (chordInside(mesh, f, divider.draft.at(a), divider.draft.at(b))) {
          divider.divide(f, { from: a, to: b });
          joined.add(pair);
        } else refused++;
      }
    }
    const out = divider.finish();
    if (!out.lines.length)
      throw new OperationError(
        'nothing-to-connect',
        'No two picked elements lie across a face from each other.',
        { domain: selection.kind, indices: [...selection.indices] },
        'Pick points or edges of the same face that are not neighbours.',
      );
    const after = topologyOf(out.mesh);
    return {
      mesh: out.mesh,
      selection: selectionOf(
        'edge',
        out.lines.map(([a, b]) => edgeBetween(out.mesh, after, a, b)).filter((e) => e >= 0),
      ),
      report: `Connected with ${counted(out.lines.length, 'edge')}.`,
      warning: refused ? `${counted(refused, 'line')} would leave the face, and was left out.` : undefined,
    };
  },
};
