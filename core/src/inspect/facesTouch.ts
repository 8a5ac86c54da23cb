/** Finds whether faces lie on others of the same mesh, back to back in one plane. */
import { type PolyMesh, faceCount } from '../mesh/PolyMesh';
import { faceNormal, sizeOf } from '../mesh/measure';
import { TOLERANCE } from '../mesh/tolerance';
import { dot, pointOf, type Vec3 } from '../mesh/vec3';
import { inside } from '../planar/chordInside';
import { frameFrom, toPlane, type Frame } from '../planar/frame';
import { triangulate } from '../planar/triangulate';

/** Linear in faces, plus pairs that face each other in one plane. */
export function facesTouch(mesh: PolyMesh, faces: ReadonlySet<number>): boolean {
  const reach = TOLERANCE.kernel * sizeOf(mesh);
  const cells = new Map<number, number[]>();
  for (const f of faces) {
    const [cell] = cellsOf(faceNormal(mesh, f), 0);
    cells.set(cell, [...(cells.get(cell) ?? []), f]);
  }
  for (let g = 0; g < faceCount(mesh); g++) {
    if (faces.has(g)) continue;
    const m = faceNormal(mesh, g);
    const o = firstPoint(mesh, g);
    for (const cell of cellsOf([-m[0], -m[1], -m[2]], NEARLY))
      for (const f of cells.get(cell) ?? []) {
        if (dot(faceNormal(mesh, f), m) > -1 + NEARLY) continue;
        if (Math.abs(dot(m, firstPoint(mesh, f)) - dot(m, o)) <= reach && overlap(mesh, f, g)) return true;
      }
  }
  return false;
}

const NEARLY = 1e-9;
const CELL = 1 / 64;

/** Cells of directions in which a unit vector, known to `within`, may lie. */
function cellsOf(n: Vec3, within: number): number[] {
  const spans = n.map((x) => [...new Set([-within, within].map((d) => Math.floor((x + d + 1) / CELL)))]);
  return spans[0].flatMap((x) => spans[1].flatMap((y) => spans[2].map((z) => (x * 256 + y) * 256 + z)));
}

const firstPoint = (mesh: PolyMesh, f: number): Vec3 =>
  pointOf(mesh.positions, mesh.corners[mesh.faceStart[f]]);

/** The middle of some triangle of one lies inside the other. */
function overlap(mesh: PolyMesh, f: number, g: number): boolean {
  const frame = frameFrom(firstPoint(mesh, f), faceNormal(mesh, f));
  const [a, b] = [outline(mesh, f, frame), outline(mesh, g, frame)];
  return (
    middles(mesh, f, frame).some((p) => inside(b, p)) || middles(mesh, g, frame).some((p) => inside(a, p))
  );
}

function outline(mesh: PolyMesh, f: number, frame: Frame): Array<[number, number]> {
  const corners = mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]);
  return Array.from(corners, (v) => toPlane(frame, pointOf(mesh.positions, v)));
}

function middles(mesh: PolyMesh, f: number, frame: Frame): Array<[number, number]> {
  const t = triangulate(mesh);
  const out: Array<[number, number]> = [];
  for (let i = mesh.faceStart[f] - 2 * f; t.face[i] === f; i++) {
    const [a, b, c] = [0, 1, 2].map((k) =>
      toPlane(frame, pointOf(mesh.positions, mesh.corners[t.corners[3 * i + k]])),
    );
    out.push([(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3]);
  }
  return out;
}
