/** Solids whose faces have moved along their normals. */
import { selfCrossings } from '../inspect/selfCross';
import { areaVectors, faceNormal } from '../mesh/measure';
import { withPoints } from '../mesh/MeshDraft';
import { displacement } from '../mesh/offset';
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { add, pointOf, type Vec3 } from '../mesh/vec3';
import { markSound } from '../solid/Solid';

/**
 * Every plane moves by its distance, and points go where the planes meet (`displacement`). It has the same faces.
 * @param by per face: how far along its normal, mm; negative inward
 * @returns null where a face would turn over, or faces would go through each other
 */
export function offsetSolid(mesh: PolyMesh, by: (face: number) => number): PolyMesh | null {
  const out = movedPlanes(mesh, by);
  const [before, after] = [areaVectors(mesh), areaVectors(out)];
  for (let f = 0; f < before.length; f += 3)
    if (before[f] * after[f] + before[f + 1] * after[f + 1] + before[f + 2] * after[f + 2] <= 0) return null;
  if (selfCrossings(out).edges.length) return null;
  markSound(out);
  return out;
}

/** The same faces, whatever becomes of them. */
export function movedPlanes(mesh: PolyMesh, by: (face: number) => number): PolyMesh {
  const t = topologyOf(mesh);
  const normals = Array.from({ length: mesh.faceStart.length - 1 }, (_, f) => faceNormal(mesh, f));
  const positions = new Float64Array(mesh.positions.length);
  for (let v = 0; v < positions.length / 3; v++) {
    const planes: Array<{ n: Vec3; h: number }> = [];
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
      const f = t.faceOfCorner[t.vertexCorners[i]];
      planes.push({ n: normals[f], h: by(f) });
    }
    positions.set(add(pointOf(mesh.positions, v), displacement(planes)), 3 * v);
  }
  return withPoints(mesh, positions);
}
