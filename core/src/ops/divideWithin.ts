/** Dividing faces by themselves: fan to a middle point, triangles; and triangles paired into quads. */
import { MeshDraft } from '../mesh/MeshDraft';
import { evenly } from '../mesh/layers';
import { faceCorners, faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { keepManifold } from '../mesh/makeManifold';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { cross, dot, pointOf, sub, unit, type Vec3 } from '../mesh/vec3';
import { triangulate } from '../planar/triangulate';
import { selectionOf } from '../select/selection';
import { faceMiddle } from '../select/walks';
import { cornersPicked } from './bounds';
import { angle, params } from './fields';
import { counted, defineOperation } from './operation';
import { onBox } from './tool';

export const fan = defineOperation({
  kind: 'fan',
  title: 'Fan to a middle point',
  on: ['face'],
  params: params({}),
  example: onBox({ op: 'fan', select: { rule: 'facing', direction: [0, 1, 0] } }),
  tools: [{ short: 'Fan' }],
  says: ({ faces, into }) => `Fanned ${counted(faces, 'face')} into ${into}.`,
  faces: (mesh, s) => faceCount(mesh) - s.indices.length + cornersPicked(mesh, s),
  run(mesh, selection) {
    const t = topologyOf(mesh);
    const draft = new MeshDraft(mesh);
    let made = 0;
    for (const f of selection.indices) {
      const corners = faceCorners(mesh, f);
      const middle = draft.addPoint(faceMiddle(mesh, f), evenly(corners.map((c) => mesh.corners[c])));
      draft.dropFace(f);
      corners.forEach((c, k) => {
        const d = corners[(k + 1) % corners.length];
        draft.addFace({
          loop: [mesh.corners[c], mesh.corners[d], middle],
          face: f,
          corners: [c, d, evenly(corners)],
          edges: [t.edgeOfCorner[c], -1, -1],
          inPlace: true,
        });
        made++;
      });
    }
    const out = draft.finish();
    return {
      mesh: out.mesh,
      selection: selectionOf(
        'face',
        Array.from({ length: made }, (_, i) => out.firstNewFace + i),
      ),
      counts: { faces: selection.indices.length, into: made },
    };
  },
});

export const triangulateFaces = defineOperation({
  kind: 'triangulate',
  title: 'Triangulate',
  on: ['face'],
  params: params({}),
  example: onBox({ op: 'triangulate', select: { rule: 'all', of: 'faces' } }),
  tools: [{ words: 'triangles' }],
  says: ({ faces, triangles }) => `Divided ${counted(faces, 'face')} into ${counted(triangles, 'triangle')}.`,
  faces: (mesh, s) => faceCount(mesh) - 3 * s.indices.length + cornersPicked(mesh, s),
  run(mesh, selection) {
    const t = topologyOf(mesh);
    const tri = triangulate(mesh);
    const picked = new Set(selection.indices.filter((f) => mesh.faceStart[f + 1] - mesh.faceStart[f] > 3));
    const draft = new MeshDraft(mesh);
    for (const f of picked) draft.dropFace(f);
    let made = 0;
    tri.face.forEach((f, i) => {
      if (!picked.has(f)) return;
      const corners = Array.from(tri.corners.subarray(3 * i, 3 * i + 3));
      draft.addFace({
        loop: corners.map((c) => mesh.corners[c]),
        face: f,
        corners,
        edges: corners.map((c, k) =>
          nextCorner(mesh, t, c) === corners[(k + 1) % 3] ? t.edgeOfCorner[c] : -1,
        ),
        inPlace: true,
      });
      made++;
    });
    const out = draft.finish();
    return {
      // A new edge may run along one that is there already, where a face spans the ends of it: both stay apart.
      mesh: keepManifold(out.mesh, mesh),
      selection: selectionOf('face', [
        ...selection.indices.filter((f) => !picked.has(f)).map((f) => out.faceOf[f]),
        ...Array.from({ length: made }, (_, i) => out.firstNewFace + i),
      ]),
      counts: { faces: picked.size, triangles: made },
    };
  },
});

const pairSchema = params({ angle: angle('Bend at most', 40, 0, 180) });

export const pairTriangles = defineOperation({
  kind: 'pairTriangles',
  title: 'Pair triangles into quads',
  on: ['face'],
  params: pairSchema,
  example: onBox(
    { op: 'triangulate', select: { rule: 'all', of: 'faces' } },
    { op: 'pairTriangles', select: { rule: 'last' } },
  ),
  tools: [{ short: 'To quads', words: 'triangles quads' }],
  refuses: ['no-pairs'],
  says: ({ quads, triangles }) => `Made ${counted(quads, 'quad')}; ${counted(triangles, 'triangle')} stayed.`,
  run(mesh, selection, p) {
    const t = topologyOf(mesh);
    const free = new Set(selection.indices.filter((f) => mesh.faceStart[f + 1] - mesh.faceStart[f] === 3));
    const limit = Math.cos((p.angle * Math.PI) / 180) - 1e-9;
    const pairs: Array<{ c: number; fault: number }> = [];
    for (const f of free)
      for (const c of faceCorners(mesh, f)) {
        const tw = t.twin[c];
        if (tw < c || !free.has(t.faceOfCorner[tw])) continue;
        if (dot(faceNormal(mesh, f), faceNormal(mesh, t.faceOfCorner[tw])) < limit) continue;
        const fault = squareFault(quadAcross(mesh, c));
        if (fault < Infinity) pairs.push({ c, fault });
      }
    // Squarest first.
    pairs.sort((a, b) => a.fault - b.fault || a.c - b.c);
    const draft = new MeshDraft(mesh);
    let made = 0;
    for (const { c } of pairs) {
      const [f, g] = [t.faceOfCorner[c], t.faceOfCorner[t.twin[c]]];
      if (!free.has(f) || !free.has(g)) continue;
      free.delete(f);
      free.delete(g);
      draft.dropFace(f);
      draft.dropFace(g);
      const corners = quadAcross(mesh, c).corners;
      draft.addFace({
        loop: corners.map((x) => mesh.corners[x]),
        face: f,
        corners,
        edges: corners.map((x) => t.edgeOfCorner[x]),
        inPlace: true,
      });
      made++;
    }
    if (!made)
      throw new OperationError(
        'no-pairs',
        'No two picked triangles lie side by side flat enough to make a quad.',
        { domain: 'face', indices: [...selection.indices] },
        'Pick more triangles, or allow a greater bend.',
      );
    const out = draft.finish();
    return {
      mesh: out.mesh,
      selection: selectionOf(
        'face',
        Array.from({ length: made }, (_, i) => out.firstNewFace + i),
      ),
      counts: { quads: made, triangles: free.size },
    };
  },
});

/** The quad of the two triangles along corner c's side: corners in order, each with the side that stays. */
function quadAcross(mesh: PolyMesh, c: number): { corners: number[]; points: Vec3[] } {
  const t = topologyOf(mesh);
  const tw = t.twin[c];
  const [n1, n2] = [nextCorner(mesh, t, c), nextCorner(mesh, t, tw)];
  const corners = [n1, nextCorner(mesh, t, n1), n2, nextCorner(mesh, t, n2)];
  return { corners, points: corners.map((x) => pointOf(mesh.positions, mesh.corners[x])) };
}

/** How far a quad's corners are from right angles, radians summed; infinite when it is not convex. */
function squareFault({ points }: { points: Vec3[] }): number {
  const normal = unit(cross(sub(points[2], points[0]), sub(points[3], points[1])));
  let fault = 0;
  for (let k = 0; k < 4; k++) {
    const [a, b, d] = [points[(k + 3) % 4], points[k], points[(k + 1) % 4]];
    const [u, v] = [unit(sub(a, b)), unit(sub(d, b))];
    if (dot(cross(v, u), normal) <= 1e-9) return Infinity;
    fault += Math.abs(Math.acos(Math.max(-1, Math.min(1, dot(u, v)))) - Math.PI / 2);
  }
  return fault;
}
