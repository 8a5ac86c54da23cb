/**
 * Faces that are not convex, in triangles, those of a face with holes together: the middle of a face with a bay may lie
 * outside of it, and what is divided from there would cross itself. The triangles are constrained Delaunay, so that none
 * has all its points on one stretch of a curved border.
 */
import { MeshDraft } from '../mesh/MeshDraft';
import { keepManifold } from '../mesh/makeManifold';
import { areaVectors } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { cross, dot, pointOf, sub, type Vec3 } from '../mesh/vec3';
import { divideRegion } from '../planar/divideRegion';
import { frameFrom, toPlane } from '../planar/frame';
import { triangulate } from '../planar/triangulate';
import { bridgedRegions } from '../solid/Solid';

export function withoutWideFaces(mesh: PolyMesh): PolyMesh {
  const region = bridgedRegions(mesh);
  const area = areaVectors(mesh);
  const wide = new Set<number>();
  for (let f = 0; f < faceCount(mesh); f++)
    if (region[f] !== f || !isConvex(mesh, f, areaOf(area, f))) wide.add(region[f]);
  if (!wide.size) return mesh;
  const tri = triangulate(mesh);
  const trianglesOf = new Map<number, number[]>();
  tri.face.forEach((f, t) => {
    if (!wide.has(region[f])) return;
    const list = trianglesOf.get(region[f]);
    if (list) list.push(t);
    else trianglesOf.set(region[f], [t]);
  });
  const draft = new MeshDraft(mesh);
  for (let f = 0; f < faceCount(mesh); f++) if (wide.has(region[f])) draft.dropFace(f);
  for (const [r, triangles] of trianglesOf) {
    const frame = frameFrom([0, 0, 0], areaOf(area, r));
    const local = new Map<number, number>();
    const corners: number[] = [];
    const ids = triangles.flatMap((t) =>
      [0, 1, 2].map((k) => {
        const c = tri.corners[3 * t + k];
        let i = local.get(mesh.corners[c]);
        if (i === undefined) local.set(mesh.corners[c], (i = corners.push(c) - 1));
        return i;
      }),
    );
    const xy = corners.flatMap((c) => toPlane(frame, pointOf(mesh.positions, mesh.corners[c])));
    for (const loop of divideRegion(xy, ids, 3)) {
      const own = loop.map((i) => corners[i]);
      draft.addFace({ loop: own.map((c) => mesh.corners[c]), face: r, corners: own, inPlace: true });
    }
  }
  return keepManifold(draft.finish().mesh, mesh);
}

const areaOf = (area: Float64Array, f: number): Vec3 => [area[3 * f], area[3 * f + 1], area[3 * f + 2]];

/** All corners turn the way the face does, or not at all. */
function isConvex(mesh: PolyMesh, f: number, n: Vec3): boolean {
  const corners = mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]);
  if (corners.length === 3) return true;
  const at = (k: number): Vec3 => pointOf(mesh.positions, corners[k % corners.length]);
  const slack = -1e-9 * dot(n, n);
  for (let k = 0; k < corners.length; k++)
    if (dot(cross(sub(at(k + 1), at(k)), sub(at(k + 2), at(k + 1))), n) < slack) return false;
  return true;
}
