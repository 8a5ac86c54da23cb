/**
 * Mirror once: copies picked faces to the other side of a plane and welds them where they meet on it. Faces that pass
 * through the plane are cut there, and the side with less of their area makes way for the image of the other.
 */
import { MeshDraft } from '../mesh/MeshDraft';
import { faceCount, faceCorners, type PolyMesh } from '../mesh/PolyMesh';
import { faceArea, sizeOf } from '../mesh/measure';
import { keepManifold } from '../mesh/makeManifold';
import { topologyOf } from '../mesh/Topology';
import { addScaled, dot, pointOf, sub, type Vec3 } from '../mesh/vec3';
import { TOLERANCE } from '../mesh/tolerance';
import { maskOf, selectionOf, type Selection } from '../select/selection';
import { flag, length, params, vector, planeNormal } from './fields';
import { counted, defineOperation } from './operation';
import { divideAlong, sideOf } from './planeSlice';
import { onBox } from './tool';

const schema = params({
  point: vector('Through', [0, 0, 0]),
  normal: vector('Facing', [1, 0, 0], 1, ''),
  cut: flag('Cut at the plane', true),
  weld: flag('Weld on the plane', true),
  near: length('Welds nearer than', 0.001, 0, 1000),
});

export const mirrorOnce = defineOperation({
  kind: 'mirrorOnce',
  title: 'Mirror once',
  on: ['face'],
  params: schema,
  example: onBox({ op: 'mirrorOnce', select: { rule: 'all', of: 'faces' }, point: [20, 0, 0] }),
  tools: [{ words: 'symmetry flip reflect' }],
  refuses: ['no-direction'],
  says: ({ faces, points, gone }) =>
    [
      `Mirrored ${counted(faces, 'face')}`,
      ...(points === undefined ? [] : [`welded ${counted(points, 'point')}`]),
      ...(gone ? [`took ${counted(gone, 'face')} away beyond the plane`] : []),
    ].join(', ') + '.',
  // Each picked face may be cut in two, of which one part stays.
  faces: (mesh, s) => faceCount(mesh) + 2 * s.indices.length,
  run(whole, picks, p) {
    const n = planeNormal(p.normal);
    const { mesh, faces, gone } = p.cut
      ? oneSide(whole, picks, p.point, n)
      : { mesh: whole, faces: Array.from(picks.indices), gone: 0 };
    const t = topologyOf(mesh);
    const draft = new MeshDraft(mesh);
    const reach = Math.max(p.near, sizeOf(mesh) * TOLERANCE.weld);
    const image = new Map<number, number>();
    let welded = 0;
    const mirrored = (v: number): number => {
      let to = image.get(v);
      if (to !== undefined) return to;
      const at = pointOf(mesh.positions, v);
      const far = dot(sub(at, p.point), n);
      if (p.weld && Math.abs(far) <= reach && isOnOneSide(mesh, v, p.point, n, reach)) {
        // Exactly on the plane, so that both halves share it.
        if (far !== 0) draft.movePoint(v, addScaled(at, n, -far));
        to = v;
        welded++;
      } else to = draft.addPoint(addScaled(at, n, -2 * far), v);
      image.set(v, to);
      return to;
    };
    for (const f of faces) {
      const corners = faceCorners(mesh, f).reverse();
      const loop = corners.map((c) => mirrored(mesh.corners[c]));
      // A face in the plane would be its own image.
      if (loop.every((v) => v < draft.vertexCount && image.get(v) === v)) {
        draft.dropFace(f);
        continue;
      }
      draft.addFace({
        loop,
        face: f,
        corners,
        edges: corners.map((_, k) => t.edgeOfCorner[corners[(k + 1) % corners.length]]),
        made: { role: 'image' },
      });
    }
    const out = draft.finish();
    const made = out.mesh.faceStart.length - 1 - out.firstNewFace;
    return {
      // Faces that meet just in a point or an edge of the plane keep their own.
      mesh: keepManifold(out.mesh, mesh),
      selection: selectionOf(
        'face',
        Array.from({ length: made }, (_, i) => out.firstNewFace + i),
      ),
      counts: { faces: made, ...(p.weld && { points: welded }), ...(gone > 0 && { gone }) },
    };
  },
});

/** Picked faces cut at a plane, without those on the side that has less of their area. */
function oneSide(
  whole: PolyMesh,
  picks: Selection,
  at: Vec3,
  n: Vec3,
): { mesh: PolyMesh; faces: number[]; gone: number } {
  const uncut = { mesh: whole, faces: Array.from(picks.indices), gone: 0 };
  const reach = sizeOf(whole) * TOLERANCE.straight;
  const { mesh, picked } = divideAlong(whole, maskOf(whole, picks), at, n);
  const sides = Array.from(picked, (on, f) => (on ? sideOf(mesh, f, at, n) : 0));
  const area = (front: boolean): number => sides.reduce((sum, h, f) => sum + (Math.abs(h) > reach && h > 0 === front ? faceArea(mesh, f) : 0), 0); // prettier-ignore
  const [front, back] = [area(true), area(false)];
  if (!front || !back) return uncut;
  const isGone = (f: number): boolean => Math.abs(sides[f]) > reach && sides[f] > 0 !== front >= back;
  const draft = new MeshDraft(mesh);
  const faces: number[] = [];
  let left = 0;
  for (let f = 0; f < picked.length; f++) {
    if (picked[f] && isGone(f)) draft.dropFace(f);
    else {
      if (picked[f]) faces.push(left);
      left++;
    }
  }
  return { mesh: keepManifold(draft.finish().mesh, mesh), faces, gone: picked.length - left };
}

/** All faces around a point lie on one side of the plane, or in it: nothing is in the way of its image. */
function isOnOneSide(mesh: PolyMesh, v: number, at: Vec3, n: Vec3, reach: number): boolean {
  const t = topologyOf(mesh);
  let [over, under] = [false, false];
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
    const f = t.faceOfCorner[t.vertexCorners[i]];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const d = dot(sub(pointOf(mesh.positions, mesh.corners[c]), at), n);
      over ||= d > reach;
      under ||= d < -reach;
    }
  }
  return !(over && under);
}
