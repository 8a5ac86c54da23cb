/** Sheets of faces made into plates: each face and a copy of it turned over, at two distances along their normals. */
import { MeshDraft, type DraftResult } from './MeshDraft';
import { faceNormal } from './measure';
import { displacement } from './offset';
import { faceCorners, type PolyMesh } from './PolyMesh';
import { nextCorner, topologyOf } from './Topology';
import { add, pointOf, scale, type Vec3 } from './vec3';

/** The displacement of a point that moves all planes around it outward by 1 mm. */
export function planesMove(mesh: PolyMesh, v: number): Vec3 {
  const t = topologyOf(mesh);
  const planes = [];
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
    planes.push({ n: faceNormal(mesh, t.faceOfCorner[t.vertexCorners[i]]), h: 1 });
  return displacement(planes);
}

/**
 * Every plane moves by the distance (`displacement`); rims of the sheets get walls.
 * @param faces those of whole sheets: no other face may share a point with them
 * @param shift by how much a point goes to move the planes around it by 1 mm
 * @param inner @param outer where the two sides come to lie, along the normals, mm
 */
export function thickened(
  mesh: PolyMesh,
  faces: ArrayLike<number>,
  inner: number,
  outer: number,
  shift: (vertex: number) => Vec3 = (v) => planesMove(mesh, v),
): { out: DraftResult; walls: number } {
  const t = topologyOf(mesh);
  const on = new Uint8Array(mesh.faceStart.length - 1);
  for (let i = 0; i < faces.length; i++) on[faces[i]] = 1;
  const draft = new MeshDraft(mesh);
  const under = new Map<number, number>();
  const over = new Map<number, number>();
  for (let k = 0; k < faces.length; k++)
    for (let c = mesh.faceStart[faces[k]]; c < mesh.faceStart[faces[k] + 1]; c++) {
      const v = mesh.corners[c];
      if (under.has(v)) continue;
      const d = shift(v);
      const at = pointOf(mesh.positions, v);
      under.set(v, draft.addPoint(add(at, scale(d, inner)), v));
      over.set(v, outer === 0 ? v : draft.addPoint(add(at, scale(d, outer)), v));
    }
  let walls = 0;
  for (let k = 0; k < faces.length; k++) {
    const f = faces[k];
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
        walls++;
        draft.addFace({
          loop: [over.get(b)!, over.get(a)!, under.get(a)!, under.get(b)!],
          face: f,
          corners: [d, c, c, d],
          edges: [-1, -1, -1, -1],
          made: { role: 'wall', other: t.twin[c] < 0 ? -1 : t.faceOfCorner[t.twin[c]] },
        });
      }
  }
  return { out: draft.finish(), walls };
}
