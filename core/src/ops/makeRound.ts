/** Make round: the borders of picked faces, or picked loops, become circles. */
import { withPoints } from '../mesh/MeshDraft';
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { addScaled, cross, dot, pointOf, sub, unit } from '../mesh/vec3';
import { islandsOf, type Selection } from '../select/selection';
import { movedRows } from './changed';
import { flag, length, params } from './fields';
import { type CompleteParams, counted, defineOperation } from './operation';
import { bestPlane } from './arrange';
import { rowsOf } from './rows';
import { onSheet } from './tool';

const roundSchema = params({
  radius: length('Radius', 0, 0),
  flat: flag('In one plane', true),
  even: flag('Evenly spaced', true),
});
type RoundParams = CompleteParams<typeof roundSchema>;

/** A radius of 0 keeps the mean distance of each border from its middle. */
export const makeRound = defineOperation({
  kind: 'makeRound',
  title: 'Make round',
  on: ['face', 'edge', 'vertex'],
  params: roundSchema,
  example: onSheet({
    op: 'makeRound',
    select: { rule: 'within', of: 'faces', min: [-10, -1, -10], max: [10, 1, 10] },
  }),
  tools: [{ words: 'circle circular arc round' }],
  refuses: ['no-loop', 'no-row', 'closed-row'],
  says: ({ loops }) => `Made ${counted(loops, 'loop')} round.`,
  run(mesh, selection, p) {
    const positions = mesh.positions.slice();
    const rows =
      selection.kind === 'face'
        ? bordersOf(mesh, selection)
        : rowsOf(mesh, selection)
            .filter((r) => r.closed)
            .map((r) => r.points);
    if (!rows.length)
      throw new OperationError(
        'no-loop',
        'No closed loop is picked, so nothing can be made round.',
        { domain: selection.kind, indices: [...selection.indices] },
        'Pick faces, or a closed loop of edges.',
      );
    for (const points of rows) roundRow(mesh, points, p, positions);
    return {
      mesh: withPoints(mesh, positions),
      selection,
      counts: { loops: movedRows(mesh, positions, rows) },
    };
  },
});

/** The border of every island of faces, in order. */
function bordersOf(mesh: PolyMesh, s: Selection): number[][] {
  const t = topologyOf(mesh);
  return islandsOf(mesh, s).flatMap((faces) => {
    const mine = new Set(faces);
    const edges: number[] = [];
    for (const f of faces)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        if (t.twin[c] < 0 || !mine.has(t.faceOfCorner[t.twin[c]])) edges.push(t.edgeOfCorner[c]);
    return rowsOf(mesh, { kind: 'edge', indices: edges })
      .filter((r) => r.closed)
      .map((r) => r.points);
  });
}

function roundRow(mesh: PolyMesh, points: number[], p: RoundParams, out: Float64Array): void {
  const { at, n } = bestPlane(mesh, points);
  const from = points.map((v) => sub(pointOf(mesh.positions, v), at));
  const flat = from.map((d) => addScaled(d, n, -dot(d, n)));
  const radius = p.radius > 0 ? p.radius : flat.reduce((r, d) => r + Math.sqrt(dot(d, d)), 0) / flat.length;
  const u = unit(flat[0]);
  const w = cross(n, u);
  const angles = unwrapped(flat.map((d) => Math.atan2(dot(d, w), dot(d, u))));
  const sense = Math.sign(angles[angles.length - 1] - angles[0]) || 1;
  // Evenly spaced, the whole ring is turned so that its points travel least.
  const step = (sense * 2 * Math.PI) / points.length;
  const start = angles.reduce((s, a, k) => s + a - k * step, 0) / points.length;
  points.forEach((v, k) => {
    const a = p.even ? start + k * step : angles[k];
    const to = addScaled(addScaled(at, u, radius * Math.cos(a)), w, radius * Math.sin(a));
    out.set(p.flat ? to : addScaled(to, n, dot(from[k], n)), 3 * v);
  });
}

function unwrapped(angles: number[]): number[] {
  const out = [angles[0]];
  for (let k = 1; k < angles.length; k++) {
    let a = angles[k];
    while (a - out[k - 1] > Math.PI) a -= 2 * Math.PI;
    while (a - out[k - 1] < -Math.PI) a += 2 * Math.PI;
    out.push(a);
  }
  return out;
}
