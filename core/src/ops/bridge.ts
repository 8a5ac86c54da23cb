/**
 * Bridge: joins two open rims, or the borders of two islands of picked faces (which are taken away), with quads;
 * rims of unequal count get triangles where they must. In segments, turned on by a number of points.
 */
import { MeshDraft, between } from '../mesh/MeshDraft';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { keepManifold } from '../mesh/makeManifold';
import { facesWithoutArea } from '../mesh/measure';
import { nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { add, lerp, pointOf, scale, type Vec3 } from '../mesh/vec3';
import { islandsOf, maskOf, pointsOf, selectionOf, type Selection } from '../select/selection';
import { edgeLoop } from '../select/walks';
import { bestStart } from './alignRims';
import { cornersPicked } from './bounds';
import { count, params } from './fields';
import { type CompleteParams, type OperationResult, counted, defineOperation } from './operation';
import { openRuns } from './openRuns';
import { counter } from './pulls';
import { onSheet } from './tool';

const schema = params({
  segments: count('Segments', 1, 1, 256),
  turn: count('Turn on by', 0, -10000, 10000),
});
type Params = CompleteParams<typeof schema>;

export const bridge = defineOperation({
  kind: 'bridge',
  title: 'Bridge',
  on: ['edge', 'face'],
  params: schema,
  example: onSheet(
    { op: 'deleteFaces', select: { rule: 'within', of: 'faces', min: [-9, -1, -20], max: [9, 1, 20] } },
    { op: 'bridge', select: { rule: 'within', of: 'edges', min: [-11, -1, -19], max: [11, 1, 19] } },
  ),
  tools: [{ at: ['face', 'edge'], words: 'connect tunnel loft', ring: { face: 2 } }],
  pulls(mesh, selection) {
    const points = pointsOf(mesh, selection).map((v) => pointOf(mesh.positions, v));
    const middle = scale(points.reduce(add), 1 / points.length);
    return [counter('segments', middle)];
  },
  refuses: ['not-two-rims', 'rims-differ', 'rims-touch', 'rims-joined'],
  says: ({ faces }) => `Bridged with ${counted(faces, 'face')}.`,
  // Each edge of a rim gives a row; a rim has no more edges than the mesh.
  faces: (mesh, s, p) =>
    faceCount(mesh) + (p.segments - 1) * (s.kind === 'edge' ? s.indices.length : cornersPicked(mesh, s)),
  run(mesh, selection, p) {
    const draft = new MeshDraft(mesh);
    if (selection.kind === 'face')
      return bridged(mesh, draft, selection, rimsOfIslands(mesh, selection, draft), p);
    const { picked, whole } = rimsOfEdges(mesh, selection);
    if (whole) {
      const out = bridged(mesh, draft, selection, whole, p);
      // Sheets side by side: all round their rims, some faces would lie on a line. The picked edges are meant then.
      if (!facesWithoutArea(out.mesh).length) return out;
    }
    return bridged(mesh, new MeshDraft(mesh), selection, picked, p);
  },
});

function bridged(
  mesh: PolyMesh,
  draft: MeshDraft,
  selection: Selection,
  rims: ReadonlyArray<Rim>,
  p: Params,
): OperationResult {
  if (rims.length !== 2)
    throw new OperationError(
      'not-two-rims',
      `Bridging needs two rims; ${rims.length === 0 ? 'none is' : `${rims.length} are`} picked.`,
      { domain: selection.kind, indices: [...selection.indices] },
      'Pick two open rims, or faces in two separate places.',
    );
  const [from, to] = rims;
  if (from.closed !== to.closed)
    throw new OperationError(
      'rims-differ',
      'One rim is closed and the other is not.',
      undefined,
      'Pick two rims of the same sort.',
    );
  const points = [...from.points, ...to.points];
  const seen = new Set<number>();
  const twice = points.filter((v) => seen.size === seen.add(v).size);
  if (twice.length)
    throw new OperationError(
      'rims-touch',
      'The two rims touch, so there is nothing to bridge between them there.',
      { domain: 'vertex', indices: [...new Set(twice)] },
      'Pick rims that lie apart.',
    );
  const matched = align(draft, from, [...to.points].reverse(), p.turn);
  refuseNear(mesh, draft, from.points, matched);
  const made = build(draft, from.points, matched, from.closed, p.segments);
  const out = draft.finish();
  return {
    // Where the bridge runs along an edge that is there already, the two stay apart.
    mesh: keepManifold(out.mesh, mesh),
    selection: selectionOf(
      'face',
      Array.from({ length: made }, (_, i) => out.firstNewFace + i),
    ),
    counts: { faces: made },
  };
}

/** Where an edge joins the rims already, a bridge would run along it and be the third face there. */
function refuseNear(mesh: PolyMesh, draft: MeshDraft, a: number[], b: number[]): void {
  const t = topologyOf(mesh);
  const across = new Set(b);
  const near: number[] = [];
  for (const v of a)
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
      const c = t.vertexCorners[i];
      if (draft.isGone(t.faceOfCorner[c])) continue;
      for (const d of [c, prevCorner(mesh, t, c)])
        if (across.has(mesh.corners[d === c ? nextCorner(mesh, t, c) : d])) near.push(t.edgeOfCorner[d]);
    }
  if (near.length)
    throw new OperationError(
      'rims-joined',
      'The two rims are joined by edges already, so a bridge between them would lie on faces that are there.',
      { domain: 'edge', indices: [...new Set(near)] },
      'Delete the faces between them instead.',
    );
}

interface Rim {
  /** In the direction of the faces beside it. */
  points: number[];
  closed: boolean;
}

/** The runs of picked open edges; and where a single edge of each rim is picked, those rims whole. */
function rimsOfEdges(mesh: PolyMesh, s: Selection): { picked: Rim[]; whole: Rim[] | null } {
  const t = topologyOf(mesh);
  const open = s.indices.filter((e) => t.edgeUse[e] === 1);
  const picked = openRuns(mesh, new Set(open));
  if (!picked.every((r) => r.edges.length === 1)) return { picked, whole: null };
  const all = new Set<number>();
  for (const e of open) for (const x of edgeLoop(mesh, e).edges) all.add(x);
  const whole = openRuns(mesh, all);
  return { picked, whole: whole.length === 2 && whole.every((r) => r.closed) ? whole : null };
}

function rimsOfIslands(mesh: PolyMesh, s: Selection, draft: MeshDraft): Rim[] {
  const t = topologyOf(mesh);
  const on = maskOf(mesh, s);
  for (const f of s.indices) draft.dropFace(f);
  return islandsOf(mesh, s).flatMap((faces) => {
    const next = new Map<number, number>();
    for (const f of faces)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        if (t.twin[c] < 0 || !on[t.faceOfCorner[t.twin[c]]])
          // The faces that stay run the other way along the border.
          next.set(mesh.corners[nextCorner(mesh, t, c)], mesh.corners[c]);
    const rims: Rim[] = [];
    while (next.size) {
      const start = next.keys().next().value!;
      const points: number[] = [];
      for (let v: number | undefined = start; v !== undefined && next.has(v);) {
        points.push(v);
        const w: number = next.get(v)!;
        next.delete(v);
        v = w;
      }
      rims.push({ points, closed: true });
    }
    return rims;
  });
}

/** The other rim, started where the sum of distances is least, then turned on. */
function align(draft: MeshDraft, from: Rim, other: number[], turn: number): number[] {
  if (!from.closed) return other;
  const places = (list: number[]): Vec3[] => list.map((v) => draft.at(v));
  const n = other.length;
  const s = (((bestStart(places(from.points), places(other)) + turn) % n) + n) % n;
  return [...other.slice(s), ...other.slice(0, s)];
}

function build(draft: MeshDraft, a: number[], b: number[], closed: boolean, segments: number): number {
  if (a.length !== b.length) return buildUneven(draft, a, b, closed);
  const rows: number[][] = [a];
  for (let s = 1; s < segments; s++)
    rows.push(
      a.map((p, k) =>
        draft.addPoint(lerp(draft.at(p), draft.at(b[k]), s / segments), between(p, b[k], s / segments)),
      ),
    );
  rows.push(b);
  let made = 0;
  const n = a.length;
  for (let s = 0; s < segments; s++)
    for (let k = 0; k + (closed ? 0 : 1) < n; k++) {
      const j = (k + 1) % n;
      draft.addFace({ loop: [rows[s][j], rows[s][k], rows[s + 1][k], rows[s + 1][j]], face: -1 });
      made++;
    }
  return made;
}

/** Walks both rims at once, going on along the one that lags behind. */
function buildUneven(draft: MeshDraft, a: number[], b: number[], closed: boolean): number {
  const [n, m] = [a.length - (closed ? 0 : 1), b.length - (closed ? 0 : 1)];
  const at = (list: number[], k: number): number => list[k % list.length];
  let [i, j, made] = [0, 0, 0];
  while (i < n || j < m) {
    const [u, v] = [(i + 1) / n, (j + 1) / m];
    if (i < n && j < m && Math.abs(u - v) < 0.5 / Math.max(n, m)) {
      draft.addFace({ loop: [at(a, i + 1), at(a, i), at(b, j), at(b, j + 1)], face: -1 });
      i++;
      j++;
    } else if (j >= m || (i < n && u <= v)) {
      draft.addFace({ loop: [at(a, i + 1), at(a, i), at(b, j)], face: -1 });
      i++;
    } else {
      draft.addFace({ loop: [at(a, i), at(b, j), at(b, j + 1)], face: -1 });
      j++;
    }
    made++;
  }
  return made;
}
