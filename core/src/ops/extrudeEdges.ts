/**
 * Extrude edges: open picked edges draw a strip of quads out of the rim. UVs are laid beside the layout, so nothing
 * comes to lie on top of what is there.
 */
import { MeshDraft } from '../mesh/MeshDraft';
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { OperationError, warn } from '../mesh/errors';
import { add, cross, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { selectionOf } from '../select/selection';
import { choice, length, params, vector } from './fields';
import { layBeside } from './layBeside';
import { type CompleteParams, counted, defineOperation } from './operation';
import { sideOf } from './pulls';
import { onSheet } from './tool';

const schema = params({
  distance: length('Distance', 10),
  along: choice('Along', ['outward', 'normal', 'axis'], 'outward'),
  axis: vector('Axis', [0, 1, 0], 1, ''),
});
type Params = CompleteParams<typeof schema>;

export const extrudeEdges = defineOperation({
  kind: 'extrudeEdges',
  title: 'Extrude edges',
  on: ['edge'],
  params: schema,
  example: onSheet({ op: 'extrudeEdges', select: { rule: 'open' }, distance: 5 }),
  tools: [{ id: 'extrude', start: (hand) => ({ distance: hand.share(0.05) }) }],
  pulls(mesh, selection, p) {
    const t = topologyOf(mesh);
    const e = selection.indices.find((x) => t.edgeUse[x] === 1) ?? selection.indices[0];
    const zero = sideOf(mesh, t.cornerOfEdge[e]).middle;
    return [{ key: 'distance', zero, along: directionOf(mesh, e, p), rate: 1 }];
  },
  shows: { axis: (p) => p.along === 'axis' },
  refuses: ['no-open-edge'],
  says: ({ edges }) => `Drew a strip out of ${counted(edges, 'edge')}.`,
  run(mesh, selection, p) {
    const t = topologyOf(mesh);
    const open = selection.indices.filter((e) => t.edgeUse[e] === 1);
    if (!open.length)
      throw new OperationError(
        'no-open-edge',
        'None of the picked edges is open, so no strip can be drawn out of them.',
        { domain: 'edge', indices: [...selection.indices] },
        'Pick edges of a rim, or extrude faces.',
      );
    const moves = new Map<number, Vec3[]>();
    for (const e of open)
      for (const v of [t.edges[2 * e], t.edges[2 * e + 1]])
        moves.set(v, [...(moves.get(v) ?? []), directionOf(mesh, e, p)]);
    const draft = new MeshDraft(mesh);
    const out = new Map<number, number>();
    for (const [v, list] of moves) {
      const d = unit(list.reduce(add));
      // Between two edges the point goes farther, so that both strips keep their width.
      const share =
        list.length > 1 ? 1 / Math.max(0.2, list[0][0] * d[0] + list[0][1] * d[1] + list[0][2] * d[2]) : 1;
      out.set(v, draft.addPoint(add(pointOf(mesh.positions, v), scale(d, p.distance * share)), v));
    }
    for (const e of open) {
      const c = t.cornerOfEdge[e];
      const d = nextCorner(mesh, t, c);
      const [a, b] = [mesh.corners[c], mesh.corners[d]];
      draft.addFace({
        loop: [b, a, out.get(a)!, out.get(b)!],
        face: t.faceOfCorner[c],
        corners: [d, c, c, d],
        edges: [e, -1, -1, -1],
        made: { role: 'wall' },
      });
    }
    const result = draft.finish();
    layBeside(
      mesh,
      result.mesh,
      open.map((_, i) => result.firstNewFace + i),
    );
    const after = topologyOf(result.mesh);
    const closed = selection.indices.filter((e) => !open.includes(e));
    const rim = open.map((_, i) => after.edgeOfCorner[result.mesh.faceStart[result.firstNewFace + i] + 2]);
    return {
      mesh: result.mesh,
      selection: selectionOf('edge', rim),
      counts: { edges: open.length },
      warnings: closed.length
        ? [warn('not-open', `${counted(closed.length, 'edge')} stayed: not open.`, 'edge', closed)]
        : undefined,
    };
  },
});

/** Unit direction: outward in the edge's face, along its normal, or along the axis. */
function directionOf(mesh: PolyMesh, e: number, p: Params): Vec3 {
  if (p.along === 'axis') return unit(p.axis);
  const t = topologyOf(mesh);
  const c = t.cornerOfEdge[e];
  const n = faceNormal(mesh, t.faceOfCorner[c]);
  if (p.along === 'normal') return n;
  const side = sub(
    pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, c)]),
    pointOf(mesh.positions, mesh.corners[c]),
  );
  return unit(cross(side, n));
}
