/** Fill: closes picked open runs with a face, or with a grid of quads (Coons 1967) between four sides. */
import { MeshDraft, type Source } from '../mesh/MeshDraft';
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { keepManifold } from '../mesh/makeManifold';
import { OperationError } from '../mesh/errors';
import { TOLERANCE } from '../mesh/tolerance';
import { cross, dot, pointOf, sub, type Vec3 } from '../mesh/vec3';
import { areaVectors, sizeOf } from '../mesh/measure';
import { bestPlane } from './arrange';
import { selectionOf } from '../select/selection';
import { edgeLoop, shellFaces } from '../select/walks';
import { choice, count, params } from './fields';
import { type CompleteParams, counted, defineOperation } from './operation';
import { openRuns } from './openRuns';
import { onBox } from './tool';

const schema = params({
  with: choice('Fill with', ['face', 'grid'], 'face'),
  /** Quads along the first side of a grid; 0 chooses a side as near to square as can be. */
  span: count('Quads along a side', 0, 0, 10000),
  turn: count('Start further on by', 0, 0, 10000),
});
type Params = CompleteParams<typeof schema>;

export const fill = defineOperation({
  kind: 'fill',
  title: 'Fill',
  on: ['edge', 'vertex', 'face'],
  params: schema,
  example: onBox(
    { op: 'deleteFaces', select: { rule: 'facing', direction: [0, 1, 0] } },
    { op: 'fill', select: { rule: 'open' } },
  ),
  tools: [
    { at: ['edge', 'vertex'], words: 'cap hole close face' },
    {
      id: 'fillGrid',
      title: 'Fill with a grid',
      short: 'Fill: grid',
      at: ['edge'],
      words: 'patch quads hole',
      start: () => ({ with: 'grid' }),
    },
  ],
  shows: { span: (p) => p.with === 'grid', turn: (p) => p.with === 'grid' },
  refuses: ['no-hole', 'flat-sheet', 'odd-hole'],
  says: ({ holes, faces }) => `Filled ${counted(holes, 'hole')} with ${counted(faces, 'face')}.`,
  run(mesh, selection, p) {
    const t = topologyOf(mesh);
    const edges = new Set<number>();
    const indices = selection.kind === 'edge' ? selection.indices : edgesAmong(mesh, selection);
    // One edge of a rim stands for the whole rim.
    for (const e of indices)
      if (t.edgeUse[e] === 1) for (const x of edgeLoop(mesh, e).edges) if (t.edgeUse[x] === 1) edges.add(x);
    const runs = openRuns(mesh, edges).filter((r) => r.closed);
    if (!runs.length)
      throw new OperationError(
        'no-hole',
        'No closed run of open edges is picked, so there is no hole to fill.',
        { domain: selection.kind, indices: [...selection.indices] },
        'Pick the edges around a hole.',
      );
    const draft = new MeshDraft(mesh);
    let faces = 0;
    for (const run of runs) {
      const loop = [...run.points].reverse();
      if (closesFlatSheet(mesh, run.points, run.edges[0]))
        throw new OperationError(
          'flat-sheet',
          'That would close a flat sheet with a face lying back to back on it, enclosing nothing.',
          { domain: 'edge', indices: [...run.edges] },
          'Thicken the sheet instead.',
        );
      if (p.with === 'face') {
        draft.addFace({
          loop,
          face: beside(mesh, run.edges[0]),
          corners: loop.map(() => -1),
          made: { role: 'lid' },
        });
        faces++;
      } else faces += grid(draft, loop, p);
    }
    const out = draft.finish();
    return {
      // A patch may touch faces that are there; each keeps its own points then.
      mesh: keepManifold(out.mesh, mesh),
      selection: selectionOf(
        'face',
        Array.from({ length: faces }, (_, i) => out.firstNewFace + i),
      ),
      counts: { holes: runs.length, faces },
    };
  },
});

/** The run is the outer rim of a sheet all in one plane. */
function closesFlatSheet(mesh: PolyMesh, rim: number[], edge: number): boolean {
  const { n, at } = bestPlane(mesh, rim);
  const eps = sizeOf(mesh) * TOLERANCE.straight;
  const shell = shellFaces(mesh, [beside(mesh, edge)]);
  const sum: Vec3 = [0, 0, 0];
  const area = areaVectors(mesh);
  for (const f of shell)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (Math.abs(dot(sub(pointOf(mesh.positions, mesh.corners[c]), at), n)) > eps) return false;
  for (const f of shell) for (let k = 0; k < 3; k++) sum[k] += area[3 * f + k];
  // The rim runs with the faces; about an inner hole it turns the other way.
  let turn = 0;
  for (let k = 0; k < rim.length; k++) {
    const [a, b] = [rim[k], rim[(k + 1) % rim.length]].map((v) => sub(pointOf(mesh.positions, v), at));
    turn += dot(cross(a, b), sum);
  }
  return turn > 0;
}

const beside = (mesh: PolyMesh, e: number): number => {
  const t = topologyOf(mesh);
  return t.faceOfCorner[t.cornerOfEdge[e]];
};

function edgesAmong(mesh: PolyMesh, s: { kind: string; indices: ReadonlyArray<number> }): number[] {
  const t = topologyOf(mesh);
  const points = new Set<number>();
  if (s.kind === 'vertex') for (const v of s.indices) points.add(v);
  else
    for (const f of s.indices)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) points.add(mesh.corners[c]);
  const out: number[] = [];
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeUse[e] === 1 && points.has(t.edges[2 * e]) && points.has(t.edges[2 * e + 1])) out.push(e);
  return out;
}

/** A patch of quads over a closed run of an even number of points. */
function grid(draft: MeshDraft, loop: number[], p: Params): number {
  const n = loop.length;
  if (n % 2 || n < 4)
    throw new OperationError(
      'odd-hole',
      `A grid of quads needs an even number of edges around the hole; this one has ${n}.`,
      undefined,
      'Fill it with one face, or divide one of its edges.',
    );
  const half = n / 2;
  const a = p.span > 0 ? Math.min(half - 1, p.span) : Math.floor(half / 2);
  const b = half - a;
  const at = (k: number): number => loop[(k + p.turn) % n];
  // Sides: bottom 0…a, right a…a+b, top back a+b…2a+b, left back to 0.
  const ids: number[][] = Array.from({ length: b + 1 }, () => new Array<number>(a + 1).fill(-1));
  for (let i = 0; i <= a; i++) {
    ids[0][i] = at(i);
    ids[b][i] = at(2 * a + b - i);
  }
  for (let j = 0; j <= b; j++) {
    ids[j][a] = at(a + j);
    ids[j][0] = j === 0 ? at(0) : at(n - j);
  }
  const P = (j: number, i: number): Vec3 => draft.at(ids[j][i]);
  for (let j = 1; j < b; j++)
    for (let i = 1; i < a; i++) {
      const [u, v] = [i / a, j / b];
      const to = [0, 1, 2].map(
        (k) =>
          (1 - v) * P(0, i)[k] + v * P(b, i)[k] + (1 - u) * P(j, 0)[k] + u * P(j, a)[k] -
          ((1 - u) * (1 - v) * P(0, 0)[k] + u * (1 - v) * P(0, a)[k] + (1 - u) * v * P(b, 0)[k] + u * v * P(b, a)[k]),
      ) as Vec3; // prettier-ignore
      const from: Source = {
        of: [ids[0][i], ids[b][i], ids[j][0], ids[j][a]],
        by: [(1 - v) / 2, v / 2, (1 - u) / 2, u / 2],
      };
      ids[j][i] = draft.addPoint(to, from);
    }
  for (let j = 0; j < b; j++)
    for (let i = 0; i < a; i++)
      draft.addFace({ loop: [ids[j][i], ids[j][i + 1], ids[j + 1][i + 1], ids[j + 1][i]], face: -1 });
  return a * b;
}
