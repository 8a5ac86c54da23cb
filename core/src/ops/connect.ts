/**
 * Connect: new edges between picked points, or between the middles of picked edges, across the faces they share; two
 * points that share none are connected straight over all faces between them.
 */
import { edgeBetween, topologyOf } from '../mesh/Topology';
import { OperationError, warn } from '../mesh/errors';
import { chordInside } from '../planar/chordInside';
import { maskOf, selectionOf } from '../select/selection';
import { FaceDivider } from './divideFaces';
import { params } from './fields';
import { knife } from './knife';
import { type OperationResult, counted, defineOperation, runOperation } from './operation';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { pointOf, scale, unit, type Vec3 } from '../mesh/vec3';
import { onSheet } from './tool';

export const connect = defineOperation({
  kind: 'connect',
  title: 'Connect',
  on: ['vertex', 'edge'],
  params: params({}),
  example: onSheet({ op: 'connect', select: { points: [0, 2] } }),
  tools: [{ at: ['edge', 'vertex'], ring: { edge: 4, point: 0 }, next: { point: 1 } }],
  refuses: ['nothing-to-connect', 'no-way-across', 'cuts-nothing'],
  says: ({ edges }) => `Connected with ${counted(edges, 'edge')}.`,
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
    if (!out.lines.length && selection.kind === 'vertex' && selection.indices.length === 2)
      return acrossFaces(mesh, selection.indices[0], selection.indices[1]);
    if (!out.lines.length)
      throw new OperationError(
        'nothing-to-connect',
        'No two picked elements lie across a face from each other.',
        { domain: selection.kind, indices: [...selection.indices] },
        'Pick points or edges of the same face that are not neighbours, or just two points on one side of the piece.',
      );
    const after = topologyOf(out.mesh);
    return {
      mesh: out.mesh,
      selection: selectionOf(
        'edge',
        out.lines.map(([a, b]) => edgeBetween(out.mesh, after, a, b)).filter((e) => e >= 0),
      ),
      counts: { edges: out.lines.length },
      warnings: refused
        ? [warn('left-out', `${counted(refused, 'line')} would leave the face, and was left out.`)]
        : undefined,
    };
  },
});

/**
 * Two points with faces between them: the straight way as seen along the mean of their normals, over every face
 * turned that way.
 */
function acrossFaces(mesh: PolyMesh, a: number, b: number): OperationResult {
  const t = topologyOf(mesh);
  const n: Vec3 = [0, 0, 0];
  for (const v of [a, b])
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
      faceNormal(mesh, t.faceOfCorner[t.vertexCorners[i]]).forEach((x, k) => (n[k] += x));
  const line = [pointOf(mesh.positions, a), pointOf(mesh.positions, b)];
  const all = selectionOf('face', [...Array(faceCount(mesh)).keys()]);
  const refuse = (): never => {
    throw new OperationError(
      'no-way-across',
      'No straight way leads from one point to the other over faces turned the same way.',
      { domain: 'vertex', indices: [a, b] },
      'Pick points on one side of the piece, or cut with the knife.',
    );
  };
  if (n.every((x) => x === 0) || edgeBetween(mesh, t, a, b) >= 0) refuse();
  let cut: OperationResult;
  try {
    cut = runOperation(knife, mesh, all, { lines: [line], view: unit(scale(n, -1)) });
  } catch (e) {
    if (e instanceof OperationError && e.code === 'cuts-nothing') refuse();
    throw e;
  }
  return { ...cut, counts: { edges: cut.selection.indices.length } };
}
