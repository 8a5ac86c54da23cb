/** Thicken once: an open sheet becomes a closed plate, its rims walled. */
import { faceCorners, faceCount } from '../mesh/PolyMesh';
import { MeshDraft } from '../mesh/MeshDraft';
import { faceNormal } from '../mesh/measure';
import { displacement } from '../mesh/offset';
import { keepManifold } from '../mesh/makeManifold';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { add, pointOf, scale } from '../mesh/vec3';
import { maskOf, selectionOf } from '../select/selection';
import { cornersPicked } from './bounds';
import { length, params, share } from './fields';
import { splitApart } from './splitApart';
import { counted, defineOperation, runOperation } from './operation';
import { onSheet } from './tool';

const schema = params({
  thickness: length('Thickness', 2, 1e-4, 1e6),
  /** −1 all inward, 1 all outward. */
  side: share('Outward', -1, -1, 1),
});

export const thicken = defineOperation({
  kind: 'thicken',
  title: 'Thicken once',
  on: ['face'],
  params: schema,
  example: onSheet({ op: 'thicken', select: { rule: 'all', of: 'faces' }, thickness: 2 }),
  tools: [{ words: 'shell thickness' }],
  says: ({ faces, rims }) => `Thickened ${counted(faces, 'face')}, with ${counted(rims, 'rim face')}.`,
  faces: (mesh, s) => faceCount(mesh) + s.indices.length + cornersPicked(mesh, s),
  run(whole, picked, p) {
    // The picked faces become bodies of their own, each sheet of them with its own points.
    const { mesh, selection } = runOperation(splitApart, whole, picked, {});
    const t = topologyOf(mesh);
    const on = maskOf(mesh, selection);
    const draft = new MeshDraft(mesh);
    const outer = ((1 + p.side) / 2) * p.thickness;
    const under = new Map<number, number>();
    const over = new Map<number, number>();
    for (const f of selection.indices)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const v = mesh.corners[c];
        if (under.has(v)) continue;
        const planes = [];
        for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
          planes.push({ n: faceNormal(mesh, t.faceOfCorner[t.vertexCorners[i]]), h: 1 });
        }
        const d = displacement(planes);
        const at = pointOf(mesh.positions, v);
        under.set(v, draft.addPoint(add(at, scale(d, outer - p.thickness)), v));
        over.set(v, outer === 0 ? v : draft.addPoint(add(at, scale(d, outer)), v));
      }
    const walls: number[][] = [];
    for (const f of selection.indices) {
      const corners = faceCorners(mesh, f);
      draft.dropFace(f);
      const edges = corners.map((c) => t.edgeOfCorner[c]);
      draft.addFace({
        loop: corners.map((c) => over.get(mesh.corners[c])!),
        face: f,
        corners,
        edges,
        inPlace: outer === 0,
      });
      const back = [...corners].reverse();
      draft.addFace({
        loop: back.map((c) => under.get(mesh.corners[c])!),
        face: f,
        corners: back,
        edges: back.map(() => -1),
        made: { role: 'back' },
      });
      for (const c of corners)
        if (t.twin[c] < 0 || !on[t.faceOfCorner[t.twin[c]]]) {
          const d = nextCorner(mesh, t, c);
          const [a, b] = [mesh.corners[c], mesh.corners[d]];
          walls.push([over.get(b)!, over.get(a)!, under.get(a)!, under.get(b)!]);
          draft.addFace({
            loop: walls[walls.length - 1],
            face: f,
            corners: [d, c, c, d],
            edges: [-1, -1, -1, -1],
            made: { role: 'wall', other: t.twin[c] < 0 ? -1 : t.faceOfCorner[t.twin[c]] },
          });
        }
    }
    const out = draft.finish();
    const made = out.mesh.faceStart.length - 1 - out.firstNewFace;
    return {
      // Plates that touch in a point or an edge stay bodies of their own.
      mesh: keepManifold(out.mesh, whole),
      selection: selectionOf(
        'face',
        Array.from({ length: made }, (_, i) => out.firstNewFace + i),
      ),
      counts: { faces: selection.indices.length, rims: walls.length },
    };
  },
});
