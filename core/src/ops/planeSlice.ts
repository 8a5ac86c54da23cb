/**
 * Plane slice: divides picked faces along a plane; keeps both sides, or one, with or without a lid over the cut, or
 * both sides apart from each other.
 */
import { MeshDraft } from '../mesh/MeshDraft';
import { faceCount, vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { sizeOf } from '../mesh/measure';
import { TOLERANCE } from '../mesh/tolerance';
import { keepManifold } from '../mesh/makeManifold';
import { edgeBetween, topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { dot, length as norm, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { dividePolygon } from '../planar/dividePolygon';
import { maskOf, selectionOf } from '../select/selection';
import { FaceDivider } from './divideFaces';
import { choice, flag, params, vector, planeNormal } from './fields';
import { type OperationResult, counted, defineOperation, runOperation } from './operation';
import { withoutTouching } from './mergePoints';
import { openRuns } from './openRuns';
import { splitApart } from './splitApart';
import { onBox } from './tool';

const schema = params({
  point: vector('Through', [0, 0, 0]),
  normal: vector('Facing', [0, 1, 0], 1, ''),
  keep: choice('Keep', ['both', 'front', 'back', 'apart'], 'both'),
  cap: flag('Close the cut', false),
});

export const planeSlice = defineOperation({
  kind: 'planeSlice',
  title: 'Slice by a plane',
  on: ['face'],
  params: schema,
  example: onBox({
    op: 'planeSlice',
    select: { rule: 'all', of: 'faces' },
    point: [0, 5, 0],
    keep: 'back',
    cap: true,
  }),
  tools: [
    {
      title: 'Slice by a stroke across the piece',
      short: 'Slice',
      at: ['face', 'edge', 'vertex'],
      draws: 'slice',
      words: 'cut section plane halve',
      ring: { bare: 7 },
    },
  ],
  refuses: ['nothing-left', 'plane-misses', 'no-direction'],
  says: ({ edges, gone, lids, apart }) =>
    gone !== undefined
      ? `Took ${counted(gone, 'face')} away${lids ? ` and closed the cut with ${counted(lids, 'face')}` : ''}.`
      : apart !== undefined
        ? `Sliced apart along ${counted(apart, 'edge')}.`
        : `Sliced with ${counted(edges, 'edge')}.`,
  run(mesh, selection, p): OperationResult {
    const n = planeNormal(p.normal);
    const picked = maskOf(mesh, selection);
    const divided = divideAlong(mesh, picked, p.point, n);
    if (p.keep === 'both') {
      if (!divided.lines.length) refuse();
      // A bent face may be divided along an edge that is there already.
      const whole = keepManifold(divided.mesh, mesh);
      const t = topologyOf(whole);
      const lines = divided.lines.map(([a, b]) => edgeBetween(whole, t, a, b)).filter((e) => e >= 0);
      return {
        mesh: whole,
        selection: selectionOf('edge', lines),
        counts: { edges: lines.length },
      };
    }
    const back = p.keep === 'back';
    const gone: number[] = [];
    const { mesh: m } = divided;
    for (let f = 0; f < faceCount(m); f++)
      if (divided.picked[f] && sideOf(m, f, p.point, n) < 0 !== back) gone.push(f);
    if (p.keep === 'apart') return apart(m, divided.lines, gone, p.cap, p.point, n);
    if (!gone.length) refuse();
    if (gone.length === faceCount(m))
      throw new OperationError(
        'nothing-left',
        'The plane would remove the whole piece.',
        undefined,
        'Move the plane, or keep the other side.',
      );
    const draft = new MeshDraft(m);
    for (const f of gone) draft.dropFace(f);
    const cut = draft.finish();
    const ends = divided.lines.map(([a, b]): [number, number] => [cut.point(a), cut.point(b)]);
    const lidded = p.cap ? addLids(cut.mesh, ends, back ? n : scale(n, -1)) : { mesh: cut.mesh, lids: [] };
    // Where what is left touches in a point only, each part gets its own; faces keep their numbers.
    const capped = { ...lidded, mesh: keepManifold(lidded.mesh, m) };
    const t = topologyOf(capped.mesh);
    const rim = ends
      .map(([a, b]) => (a < 0 || b < 0 ? -1 : edgeBetween(capped.mesh, t, a, b)))
      .filter((e) => e >= 0);
    return {
      mesh: capped.mesh,
      selection: capped.lids.length ? selectionOf('face', capped.lids) : selectionOf('edge', rim),
      counts: { gone: gone.length, lids: capped.lids.length },
    };
  },
});

function refuse(): never {
  throw new OperationError(
    'plane-misses',
    'The plane does not pass through any picked face.',
    undefined,
    'Move the plane, or pick more faces.',
  );
}

/** How far in front of a plane the point of a face lies that is farthest from it. */
export function sideOf(mesh: PolyMesh, f: number, at: Vec3, n: Vec3): number {
  let most = 0;
  for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
    const d = dot(sub(pointOf(mesh.positions, mesh.corners[c]), at), n);
    if (Math.abs(d) > Math.abs(most)) most = d;
  }
  return most;
}

/** Divides picked faces along a plane. */
export function divideAlong(mesh: PolyMesh, picked: Uint8Array, at: Vec3, n: Vec3) {
  const t = topologyOf(mesh);
  const eps = sizeOf(mesh) * TOLERANCE.straight;
  const height = new Float64Array(vertexCount(mesh));
  for (let v = 0; v < height.length; v++) {
    const d = dot(sub(pointOf(mesh.positions, v), at), n);
    height[v] = Math.abs(d) <= eps ? 0 : d;
  }
  const divider = new FaceDivider(mesh);
  const onPlane: Array<[number, number]> = [];
  for (let f = 0; f < picked.length; f++) {
    if (!picked[f]) continue;
    const s = mesh.faceStart[f];
    const size = mesh.faceStart[f + 1] - s;
    const points: number[] = [];
    for (let k = 0; k < size; k++) {
      const a = mesh.corners[s + k];
      const b = mesh.corners[s + ((k + 1) % size)];
      if (height[a] === 0 && height[b] === 0) onPlane.push([a, b]);
      if (height[a] * height[b] < 0) {
        const e = t.edgeOfCorner[s + k];
        const [p, q] = [height[t.edges[2 * e]], height[t.edges[2 * e + 1]]];
        points.push(divider.pointOnEdge(e, p / (p - q)));
      } else if (height[a] === 0 && passes(mesh, height, s, size, k)) points.push(a);
    }
    if (points.length < 2) continue;
    const along = lineThrough(points.map((p) => divider.draft.at(p)));
    points.sort((p, q) => dot(divider.draft.at(p), along) - dot(divider.draft.at(q), along));
    for (let k = 0; k + 1 < points.length; k += 2) divider.divide(f, { from: points[k], to: points[k + 1] });
  }
  const out = divider.finish();
  const result = Uint8Array.from(out.sourceFace, (f: number) => picked[f]);
  return {
    mesh: out.mesh,
    picked: result,
    lines: [...out.lines, ...onPlane.map(([a, b]): [number, number] => [out.point(a), out.point(b)])],
  };
}

/** At a corner on the plane the outline changes sides; of a run of such corners, the last counts. */
function passes(mesh: PolyMesh, height: Float64Array, s: number, size: number, k: number): boolean {
  const h = (i: number): number => height[mesh.corners[s + ((i + size) % size)]];
  if (h(k + 1) === 0) return false;
  let back = k - 1;
  while (h(back) === 0 && back > k - size) back--;
  return h(back) * h(k + 1) < 0;
}

function lineThrough(points: Vec3[]): Vec3 {
  let far = points[1];
  for (const p of points) if (norm(sub(p, points[0])) > norm(sub(far, points[0]))) far = p;
  return unit(sub(far, points[0]));
}

/** Lids over the open runs that consist of these edges. */
function addLids(
  mesh: PolyMesh,
  ends: Array<[number, number]>,
  facing: Vec3,
): { mesh: PolyMesh; lids: number[] } {
  const t = topologyOf(mesh);
  const edges = new Set<number>();
  for (const [a, b] of ends) {
    if (a < 0 || b < 0) continue;
    const e = edgeBetween(mesh, t, a, b);
    if (e >= 0 && t.edgeUse[e] === 1) edges.add(e);
  }
  const outlines = openRuns(mesh, edges)
    .filter((r) => r.closed)
    .map((r) => [...r.points].reverse());
  if (!outlines.length) return { mesh, lids: [] };
  // Rims that cross each other, of a piece that goes through itself, are closed each for itself.
  for (const loops of [dividePolygon(outlines, mesh.positions, facing), outlines]) {
    const draft = new MeshDraft(mesh);
    // A rim that touches itself in a point has a lid on each side of it.
    const lids = loops.flatMap((loop) => withoutTouching(loop, (v) => v));
    for (const loop of lids) draft.addFace({ loop, face: -1 });
    const out = draft.finish();
    if (closes(out.mesh, out.firstNewFace))
      return { mesh: out.mesh, lids: lids.map((_, i) => out.firstNewFace + i) };
  }
  return { mesh, lids: [] };
}

/** All edges of the faces from one on have two faces. */
function closes(mesh: PolyMesh, first: number): boolean {
  const { twin } = topologyOf(mesh);
  for (let c = mesh.faceStart[first]; c < mesh.corners.length; c++) if (twin[c] < 0) return false;
  return true;
}

function apart(
  mesh: PolyMesh,
  lines: Array<[number, number]>,
  faces: number[],
  cap: boolean,
  at: Vec3,
  n: Vec3,
) {
  if (!faces.length || faces.length === faceCount(mesh)) refuse();
  const split = runOperation(splitApart, mesh, selectionOf('face', faces), {});
  let out = split.mesh;
  if (cap) {
    // Both rims lie on the plane; a lid over each looks away from its own side.
    const eps = sizeOf(out) * TOLERANCE.straight;
    const onPlane = (v: number): boolean => Math.abs(dot(sub(pointOf(out.positions, v), at), n)) <= eps;
    const open = [...topologyOf(out).edgeUse.entries()].flatMap(([e, use]) =>
      use === 1 && onPlane(topologyOf(out).edges[2 * e]) && onPlane(topologyOf(out).edges[2 * e + 1])
        ? [e]
        : [],
    );
    const picked = new Set(split.selection.indices);
    const t = topologyOf(out);
    for (const side of [true, false]) {
      const mine = open.filter((e) => picked.has(t.faceOfCorner[t.cornerOfEdge[e]]) === side);
      const ends = mine.map((e): [number, number] => [t.edges[2 * e], t.edges[2 * e + 1]]);
      out = addLids(out, ends, side ? n : scale(n, -1)).mesh;
    }
  }
  return {
    mesh: keepManifold(out, mesh),
    selection: selectionOf('face', split.selection.indices),
    counts: { apart: lines.length },
  };
}
