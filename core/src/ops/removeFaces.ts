/** Delete and keep: picked faces leave a hole, or are all that stays. */
import { MeshDraft } from '../mesh/MeshDraft';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { OperationError } from '../mesh/errors';
import { keepManifold } from '../mesh/makeManifold';
import { topologyOf } from '../mesh/Topology';
import { maskOf, NOTHING, selectionOf, type Selection } from '../select/selection';
import { params } from './fields';
import { counted, defineOperation } from './operation';
import { onBox } from './tool';

export const deleteFaces = defineOperation({
  kind: 'deleteFaces',
  title: 'Delete faces',
  on: ['face', 'edge', 'vertex'],
  params: params({}),
  example: onBox({ op: 'deleteFaces', select: { rule: 'facing', direction: [0, 1, 0] } }),
  tools: [
    {
      id: 'remove',
      title: 'Delete faces; of edges and points, join the faces around',
      short: 'Delete, dissolve',
      at: ['face'],
      words: 'erase dissolve',
      ring: { face: 5 },
    },
    {
      id: 'removeOther',
      title: 'Dissolve faces, delete around edges and points',
      at: ['edge', 'vertex'],
      words: 'dissolve erase',
      keyOnly: true,
    },
  ],
  refuses: ['nothing-left'],
  says: ({ faces }) => `Deleted ${counted(faces, 'face')}.`,
  run(mesh, selection) {
    const faces = touchedFaces(mesh, selection);
    if (faces.length === faceCount(mesh))
      throw new OperationError(
        'nothing-left',
        'That would leave no face of the piece.',
        undefined,
        'Delete the piece instead, or pick fewer faces.',
      );
    return {
      mesh: without(mesh, faces),
      selection: NOTHING,
      counts: { faces: faces.length },
    };
  },
});

export const keepFaces = defineOperation({
  kind: 'keepFaces',
  title: 'Keep only these faces',
  on: ['face'],
  params: params({}),
  example: onBox({ op: 'keepFaces', select: { faces: [0, 1] } }),
  tools: [],
  refuses: ['nothing-left'],
  says: ({ faces }) => `Kept ${counted(faces, 'face')}.`,
  run(mesh, selection) {
    const kept = maskOf(mesh, selection);
    const faces = Array.from(kept.keys()).filter((f) => !kept[f]);
    return {
      mesh: without(mesh, faces),
      selection: selectionOf(
        'face',
        selection.indices.map((_, i) => i),
      ),
      counts: { faces: selection.indices.length },
    };
  },
});

/** Picked edges and points take all faces beside them along. */
function touchedFaces(mesh: PolyMesh, s: Selection): number[] {
  if (s.kind === 'face') return [...s.indices];
  const t = topologyOf(mesh);
  const on = maskOf(mesh, s);
  const out = new Set<number>();
  for (let c = 0; c < mesh.corners.length; c++)
    if (on[s.kind === 'edge' ? t.edgeOfCorner[c] : mesh.corners[c]]) out.add(t.faceOfCorner[c]);
  return [...out];
}

function without(mesh: PolyMesh, faces: ReadonlyArray<number>): PolyMesh {
  const draft = new MeshDraft(mesh);
  for (const f of faces) draft.dropFace(f);
  // Where the hole leaves faces touching in a point only, each part gets its own.
  return keepManifold(draft.finish().mesh, mesh);
}
