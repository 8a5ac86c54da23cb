/** Thicken once: an open sheet becomes a closed plate, its rims walled. */
import { faceNormal } from '../mesh/measure';
import { faceCount } from '../mesh/PolyMesh';
import { scale } from '../mesh/vec3';
import { keepManifold } from '../mesh/makeManifold';
import { thickened } from '../mesh/thickened';
import { selectionOf } from '../select/selection';
import { cornersPicked } from './bounds';
import { length, params, share } from './fields';
import { splitApart } from './splitApart';
import { counted, defineOperation, runOperation } from './operation';
import { centroid } from './pulls';
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
  tools: [{ words: 'shell thickness hollow wall' }],
  pulls(mesh, { indices: [f] }, p) {
    const n = faceNormal(mesh, f);
    // The wall that goes further.
    const out = p.side > 0;
    const share = (1 + Math.abs(p.side)) / 2;
    return [{ key: 'thickness', zero: centroid(mesh, f), along: scale(n, out ? 1 : -1), rate: 1 / share }];
  },
  says: ({ faces, rims }) => `Thickened ${counted(faces, 'face')}, with ${counted(rims, 'rim face')}.`,
  faces: (mesh, s) => faceCount(mesh) + s.indices.length + cornersPicked(mesh, s),
  run(whole, picked, p) {
    // The picked faces become bodies of their own, each sheet of them with its own points.
    const { mesh, selection } = runOperation(splitApart, whole, picked, {});
    const outer = ((1 + p.side) / 2) * p.thickness;
    const { out, walls } = thickened(mesh, selection.indices, outer - p.thickness, outer);
    const made = out.mesh.faceStart.length - 1 - out.firstNewFace;
    return {
      // Plates that touch in a point or an edge stay bodies of their own.
      mesh: keepManifold(out.mesh, whole),
      selection: selectionOf(
        'face',
        Array.from({ length: made }, (_, i) => out.firstNewFace + i),
      ),
      counts: { faces: selection.indices.length, rims: walls },
    };
  },
});
