/** Split apart: picked faces get points and edges of their own; nothing moves. */
import { faceCorners } from '../mesh/PolyMesh';
import { MeshDraft } from '../mesh/MeshDraft';
import { keepManifold } from '../mesh/makeManifold';
import { topologyOf } from '../mesh/Topology';
import { pointOf } from '../mesh/vec3';
import { maskOf, selectionOf } from '../select/selection';
import { params } from './fields';
import { counted, defineOperation } from './operation';
import { onBox } from './tool';

export const splitApart = defineOperation({
  kind: 'splitApart',
  title: 'Split apart',
  on: ['face'],
  params: params({}),
  example: onBox({ op: 'splitApart', select: { rule: 'facing', direction: [0, 1, 0] } }),
  tools: [{ words: 'separate detach' }],
  says: ({ faces, points }) => `Split ${counted(faces, 'face')} off at ${counted(points, 'point')}.`,
  run(mesh, selection) {
    const t = topologyOf(mesh);
    const picked = maskOf(mesh, selection);
    const draft = new MeshDraft(mesh);
    const copy = new Map<number, number>();
    const own = (v: number): number => {
      // A point only picked faces use stays theirs.
      let shared = false;
      for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
        shared ||= !picked[t.faceOfCorner[t.vertexCorners[i]]];
      if (!shared) return v;
      let p = copy.get(v);
      if (p === undefined) copy.set(v, (p = draft.addPoint(pointOf(mesh.positions, v), v)));
      return p;
    };
    for (const f of selection.indices) {
      const corners = faceCorners(mesh, f);
      draft.dropFace(f);
      draft.addFace({
        loop: corners.map((c) => own(mesh.corners[c])),
        face: f,
        corners,
        edges: corners.map((c) => t.edgeOfCorner[c]),
        inPlace: true,
      });
    }
    const out = draft.finish();
    return {
      mesh: keepManifold(out.mesh, mesh),
      selection: selectionOf(
        'face',
        selection.indices.map((_, i) => out.firstNewFace + i),
      ),
      counts: { faces: selection.indices.length, points: copy.size },
    };
  },
});
