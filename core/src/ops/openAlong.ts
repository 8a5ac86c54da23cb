/** Opens the mesh along picked edges: points where the opening passes through fall into one for each side. */
import { MeshDraft } from '../mesh/MeshDraft';
import { faceCorners, faceCount } from '../mesh/PolyMesh';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { pointOf } from '../mesh/vec3';
import { maskOf, selectionOf } from '../select/selection';
import { params } from './fields';
import { counted, defineOperation } from './operation';
import { onSheet } from './tool';

export const openAlong = defineOperation({
  kind: 'openAlong',
  title: 'Open along edges',
  on: ['edge'],
  params: params({}),
  example: onSheet({
    op: 'openAlong',
    select: { rule: 'within', of: 'edges', min: [-1, -1, -20], max: [1, 1, 20] },
  }),
  tools: [{ short: 'Open along' }],
  refuses: ['nothing-opens'],
  says: ({ points }) => `Opened ${counted(points, 'point')}.`,
  run(mesh, selection) {
    const t = topologyOf(mesh);
    const opening = maskOf(mesh, selection);
    // Corners around a point that hang together without crossing an opening edge.
    const fan = Int32Array.from({ length: mesh.corners.length }, (_, c) => c);
    const find = (c: number): number => {
      while (fan[c] !== c) c = fan[c] = fan[fan[c]];
      return c;
    };
    for (let c = 0; c < fan.length; c++) {
      if (t.twin[c] < 0 || opening[t.edgeOfCorner[c]]) continue;
      const [a, b] = [find(c), find(nextCorner(mesh, t, t.twin[c]))];
      if (a !== b) fan[Math.max(a, b)] = Math.min(a, b);
    }
    const draft = new MeshDraft(mesh);
    const first = new Map<number, number>();
    const pointOfFan = new Map<number, number>();
    for (let c = 0; c < fan.length; c++) {
      const root = find(c);
      if (pointOfFan.has(root)) continue;
      const v = mesh.corners[c];
      // The first fan keeps the point; the others get their own.
      if (!first.has(v)) first.set(v, root);
      pointOfFan.set(root, first.get(v) === root ? v : draft.addPoint(pointOf(mesh.positions, v), v));
    }
    let opened = 0;
    for (let f = 0; f < faceCount(mesh); f++) {
      const corners = faceCorners(mesh, f);
      const loop = corners.map((c) => pointOfFan.get(find(c))!);
      if (loop.every((p, k) => p === mesh.corners[corners[k]])) continue;
      draft.dropFace(f);
      draft.addFace({ loop, face: f, corners, edges: corners.map((c) => t.edgeOfCorner[c]), inPlace: true });
    }
    for (const p of pointOfFan.values()) if (p >= draft.vertexCount) opened++;
    if (!opened)
      throw new OperationError(
        'nothing-opens',
        'The picked edges do not part anything: an opening needs two edges in a row, or one that reaches a rim.',
        { domain: 'edge', indices: [...selection.indices] },
        'Pick more edges in a row.',
      );
    const out = draft.finish();
    const after = topologyOf(out.mesh);
    // The new rims are the open sides that stand for opened edges.
    const rims: number[] = [];
    for (let c = 0; c < out.mesh.corners.length; c++) {
      const f = after.faceOfCorner[c];
      const before = mesh.faceStart[out.sourceFace[f]] + c - out.mesh.faceStart[f];
      if (after.twin[c] < 0 && opening[t.edgeOfCorner[before]] && t.twin[before] >= 0)
        rims.push(after.edgeOfCorner[c]);
    }
    return {
      mesh: out.mesh,
      selection: selectionOf('edge', rims),
      counts: { points: opened },
    };
  },
});
