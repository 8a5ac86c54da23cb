/**
 * A face drawn point by point. Points that lie on points of the mesh are those points; sides that run along open
 * edges join on to them, and turn the face the way their neighbours are turned; else it faces who drew it.
 */
import { Type } from 'typebox';
import { MeshDraft } from '../mesh/MeshDraft';
import { keepManifold } from '../mesh/makeManifold';
import { sizeOf } from '../mesh/measure';
import { makeMesh, vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { edgeBetween, nextCorner, topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { TOLERANCE } from '../mesh/tolerance';
import { add, cross, dot, length, sub, type Vec3 } from '../mesh/vec3';
import { frameFrom, toPlane } from '../planar/frame';
import { selectionOf } from '../select/selection';
import { PointGrid } from '../spatial/PointGrid';
import { params, vector } from './fields';
import { layBeside } from './layBeside';
import { counted, defineOperation } from './operation';
import { onSheet } from './tool';

const triple = Type.Tuple([Type.Number(), Type.Number(), Type.Number()]);
const schema = params({
  points: Type.Array(triple, { title: 'Points', maxItems: 1000, default: [] }),
  view: vector('Looking along', [0, -1, 0], 1, ''),
});

export const drawFace = defineOperation({
  kind: 'drawFace',
  title: 'Draw a face',
  on: ['face'],
  params: schema,
  example: onSheet({
    op: 'drawFace',
    select: { rule: 'all', of: 'faces' },
    points: [
      [0, 5, 0],
      [0, 5, 9],
      [9, 5, 0],
    ],
  }),
  tools: [
    {
      title: 'Draw a face point by point',
      short: 'Draw a face',
      at: ['face', 'edge', 'vertex'],
      draws: 'face',
    },
  ],
  shows: { points: false, view: false },
  refuses: ['short-outline', 'crossed-outline', 'edge-taken', 'cannot-face'],
  says: ({ corners }) => `Drew a face with ${counted(corners, 'corner')}.`,
  run(mesh, _, p) {
    const normal = outlineNormal(p.points);
    const reach = Math.max(sizeOf(mesh), ...p.points.map(length)) * TOLERANCE.kernel;
    const grid = new PointGrid(mesh.positions, reach);
    for (let v = 0; v < vertexCount(mesh); v++) grid.add(v);
    const draft = new MeshDraft(mesh);
    const loop = p.points.map((at) => grid.nearest(at) ?? draft.addPoint(at, -1));
    const turned = turnsOver(mesh, loop) ?? dot(normal, p.view) > 0;
    draft.addFace({ loop: turned ? [...loop].reverse() : loop, face: -1 });
    const out = draft.finish();
    layBeside(mesh, out.mesh, [out.firstNewFace]);
    return {
      mesh: keepManifold(out.mesh, mesh),
      selection: selectionOf('face', [out.firstNewFace]),
      counts: { corners: loop.length },
    };
  },
});

/** A piece's mesh of one drawn face. */
export function drawnSheet(points: ReadonlyArray<Vec3>, view: Vec3): PolyMesh {
  const normal = outlineNormal(points);
  const loop = dot(normal, view) > 0 ? [...points].reverse() : points;
  return makeMesh(
    Float64Array.from(loop.flat()),
    Uint32Array.of(0, loop.length),
    Uint32Array.from(loop.keys()),
  );
}

/**
 * Normal of an outline (Newell), its length twice the area.
 * @throws OperationError `short-outline`, `flat-outline`, `crossed-outline`
 */
function outlineNormal(points: ReadonlyArray<Vec3>): Vec3 {
  const refuse = (code: string, message: string, fix: string): never => {
    throw new OperationError(code, message, undefined, fix);
  };
  const n = points.length;
  if (n < 3) refuse('short-outline', 'A face needs at least three points.', 'Click where its corners are.');
  const normal = points.reduce<Vec3>((s, a, k) => add(s, cross(sub(a, points[0]), sub(points[(k + 1) % n], points[0]))), [0, 0, 0]); // prettier-ignore
  const round = points.reduce((s, a, k) => s + length(sub(points[(k + 1) % n], a)), 0);
  if (length(normal) < round * round * 1e-9)
    refuse(
      'flat-outline',
      'The points lie on one line, so the face has no area.',
      'Set one beside the line.',
    );
  const frame = frameFrom(points[0], normal);
  const flat = points.map((x) => toPlane(frame, x));
  for (let i = 0; i < n; i++)
    for (let j = i + 1; j < n; j++) {
      const beside = j === i + 1 || (i === 0 && j === n - 1);
      if (!beside && crosses(flat[i], flat[(i + 1) % n], flat[j], flat[(j + 1) % n]))
        refuse(
          'crossed-outline',
          'The outline crosses or touches itself.',
          'Set the points in order around the face.',
        );
    }
  return normal;
}

type Flat = [number, number];
const side = (a: Flat, b: Flat, c: Flat): number =>
  Math.sign((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]));
const within = (a: Flat, b: Flat, c: Flat): boolean =>
  [0, 1].every((k) => Math.min(a[k], b[k]) <= c[k] && c[k] <= Math.max(a[k], b[k]));

function crosses(a: Flat, b: Flat, c: Flat, d: Flat): boolean {
  const [s1, s2, s3, s4] = [side(a, b, c), side(a, b, d), side(c, d, a), side(c, d, b)];
  if (s1 * s2 < 0 && s3 * s4 < 0) return true;
  return (
    (s1 === 0 && within(a, b, c)) ||
    (s2 === 0 && within(a, b, d)) ||
    (s3 === 0 && within(c, d, a)) ||
    (s4 === 0 && within(c, d, b))
  );
}

/**
 * Whether the outline has to be turned over to fit the faces it joins; null where it joins none.
 * @throws OperationError `edge-taken` along an edge that has two faces, `cannot-face` between faces turned both ways
 */
function turnsOver(mesh: PolyMesh, loop: ReadonlyArray<number>): boolean | null {
  const t = topologyOf(mesh);
  const n = vertexCount(mesh);
  let same: boolean | null = null;
  loop.forEach((a, k) => {
    const b = loop[(k + 1) % loop.length];
    const e = a < n && b < n ? edgeBetween(mesh, t, a, b) : -1;
    if (e < 0) return;
    const where = { domain: 'edge' as const, indices: [e] };
    if (t.edgeUse[e] > 1)
      throw new OperationError(
        'edge-taken',
        'A side of the face runs along an edge that already has two faces.',
        where,
        'Keep to open edges, or delete a face there first.',
      );
    const c = t.cornerOfEdge[e];
    const along = mesh.corners[c] === a && mesh.corners[nextCorner(mesh, t, c)] === b;
    if (same !== null && same !== along)
      throw new OperationError(
        'cannot-face',
        'The faces beside are turned opposite ways, so the new one cannot fit all of them.',
        where,
        'Turn one side over first.',
      );
    same = along;
  });
  return same;
}
