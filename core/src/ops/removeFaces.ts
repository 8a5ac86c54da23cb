/** Delete and keep: picked faces leave a hole, or are all that stays. */
import { MeshDraft } from '../mesh/MeshDraft';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { OperationError } from '../mesh/errors';
import { keepManifold } from '../mesh/makeManifold';
import { topologyOf } from '../mesh/Topology';
import { maskOf, NOTHING, selectionOf, type Selection } from '../select/selection';
import { params } from './fields';
import { counted, defineOperation } from './operation';

export const deleteFaces = defineOperation({
  kind: 'deleteFaces',
  title: 'Delete faces',
  on: ['face', 'edge', 'vertex'],
  params: params({}),
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
      report: `Deleted ${counted(faces.length, 'face')}.`,
    };
  },
});

export const keepFaces = defineOperation({
  kind: 'keepFaces',
  title: 'Keep only these faces',
  on: ['face'],
  params: params({}),
  run(mesh, selection) {
    const kept = maskOf(mesh, selection);
    const faces = Array.from(kept.keys()).filter((f) => !kept[f]);
    return {
      mesh: without(mesh, faces),
      selection: selectionOf(
        'face',
        selection.indices.map((_, i) => i),
      ),
      report: `Kept ${counted(selection.indices.length, 'face')}.`,
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
