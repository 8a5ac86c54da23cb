/** Closed lines drawn inside single faces. */
import { MeshDraft } from '../mesh/MeshDraft';
import { vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { dot, type Vec3 } from '../mesh/vec3';
import { dividePolygon } from '../planar/dividePolygon';
import { frameFrom } from '../planar/frame';
import type { Cut } from './knifeLine';

/** Closed lines inside single faces: the inside becomes a face, the rest is bridged. */
export function islandLoops(before: Cut, loops: Array<{ face: number; points: Vec3[] }>): Cut {
  const { mesh } = before;
  const draft = new MeshDraft(mesh);
  const rings: Array<[number, number]> = [];
  for (const { face, points } of loops) {
    const n = faceNormal(mesh, face);
    const source = mesh.corners[mesh.faceStart[face]];
    let ids = points.map((x) => draft.addPoint(x, source));
    const frame = frameFrom([0, 0, 0], n);
    const area = points.reduce((s, a, k) => {
      const b = points[(k + 1) % points.length];
      return s + dot(a, frame.u) * dot(b, frame.v) - dot(b, frame.u) * dot(a, frame.v);
    }, 0);
    if (area < 0) ids = ids.reverse();
    const outer = Array.from(mesh.corners.subarray(mesh.faceStart[face], mesh.faceStart[face + 1]));
    const positions = new Float64Array(3 * (vertexCount(mesh) + draftSize(ids, mesh)));
    positions.set(mesh.positions);
    for (const id of ids) positions.set(draft.at(id), 3 * id);
    draft.dropFace(face);
    for (const loop of dividePolygon([outer, [...ids].reverse()], positions, n))
      draft.addFace({ loop, face, inPlace: true });
    draft.addFace({ loop: ids, face, inPlace: true });
    ids.forEach((id, k) => rings.push([id, ids[(k + 1) % ids.length]]));
  }
  const out = draft.finish();
  const at = (x: [number, number]): [number, number] => [out.point(x[0]), out.point(x[1])];
  return {
    mesh: out.mesh,
    lines: [...before.lines.map(at), ...rings.map(at)],
    sourceFace: out.sourceFace.map((f) => before.sourceFace[f]),
  };
}

const draftSize = (ids: number[], mesh: PolyMesh): number => Math.max(...ids) + 1 - vertexCount(mesh);
