/** Duplicate in place: picked faces once more, loose, where they are. */
import { faceCorners, faceCount } from '../mesh/PolyMesh';
import { MeshDraft } from '../mesh/MeshDraft';
import { keepManifold } from '../mesh/makeManifold';
import { topologyOf } from '../mesh/Topology';
import { pointOf } from '../mesh/vec3';
import { selectionOf } from '../select/selection';
import { params } from './fields';
import { counted, defineOperation } from './operation';
import { onBox } from './tool';

export const copyFaces = defineOperation({
  kind: 'copyFaces',
  title: 'Duplicate faces',
  on: ['face'],
  params: params({}),
  example: onBox({ op: 'copyFaces', select: { rule: 'facing', direction: [0, 1, 0] } }),
  tools: [{ short: 'Duplicate', words: 'copy clone', ring: { face: 3 } }],
  says: ({ faces }) => `Duplicated ${counted(faces, 'face')}.`,
  faces: (mesh, s) => faceCount(mesh) + s.indices.length,
  run(mesh, selection) {
    const t = topologyOf(mesh);
    const draft = new MeshDraft(mesh);
    const copy = new Map<number, number>();
    for (const f of selection.indices) {
      const corners = faceCorners(mesh, f);
      const loop = corners.map((c) => {
        const v = mesh.corners[c];
        let p = copy.get(v);
        if (p === undefined) copy.set(v, (p = draft.addPoint(pointOf(mesh.positions, v), v)));
        return p;
      });
      draft.addFace({
        loop,
        face: f,
        corners,
        edges: corners.map((c) => t.edgeOfCorner[c]),
        inPlace: true,
        made: { role: 'copy' },
      });
    }
    const out = draft.finish();
    return {
      mesh: keepManifold(out.mesh, mesh),
      selection: selectionOf(
        'face',
        selection.indices.map((_, i) => out.firstNewFace + i),
      ),
      counts: { faces: selection.indices.length },
    };
  },
});
