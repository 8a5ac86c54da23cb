/**
 * Support loops: edges at a fixed distance beside picked ones, on both sides or on one. Both sides are a bevel with a
 * square profile; of that, one side is what stays when the loop on the other is dissolved again.
 */
import { faceCorners, type PolyMesh } from '../mesh/PolyMesh';
import { facesMade, oldFaceOf, stripsMade } from '../mesh/lineage';
import { edgeBetween, edgesAt, nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { selectionOf, type Selection } from '../select/selection';
import { facesWithoutArea, sizeOf } from '../mesh/measure';
import { OperationError } from '../mesh/errors';
import { TOLERANCE } from '../mesh/tolerance';
import { distance, pointOf, type Vec3 } from '../mesh/vec3';
import type { BevelOptions } from './bevel/options';
import { lieOnSurface } from './bevel/sheets';
import { rounded } from './bevelEdges';
import { facesBevelled } from './bounds';
import { dissolve } from './dissolve';
import { choice, length, params } from './fields';
import { mergePoints } from './mergePoints';
import { type Limits, type MeshOf, type OperationResult, counted, defineOperation } from './operation';
import { speedOf } from './bevel/layOut';
import { sideOf } from './pulls';
import { rowsOf, type Row } from './rows';
import { onBox } from './tool';

const schema = params({
  distance: length('Distance', 1, 0.001, 10000),
  sides: choice('On', ['both', 'left', 'right'], 'both'),
});

export const supportLoops = defineOperation({
  kind: 'supportLoops',
  title: 'Support loops',
  on: ['edge'],
  params: schema,
  example: onBox({ op: 'supportLoops', select: { rule: 'sharp', angle: 30 }, distance: 1 }),
  tools: [{ start: (hand) => ({ distance: hand.share(0.01) }), words: 'holding edges control loops' }],
  pulls(mesh, { indices }, p) {
    const t = topologyOf(mesh);
    const e = indices.find((x) => t.twin[t.cornerOfEdge[x]] >= 0);
    if (e === undefined) return [];
    const c = t.cornerOfEdge[e];
    const side = sideOf(mesh, p.sides === 'right' ? t.twin[c] : c);
    return [{ key: 'distance', zero: side.middle, along: side.inward, rate: 1 / speedOf(mesh)(e) }];
  },
  refuses: ['bevel-bent', 'bevel-folded', 'bevel-too-wide', 'crossing-outline', 'no-row', 'cannot-dissolve'],
  says: ({ edges }) => `Set loops beside ${counted(edges, 'edge')}.`,
  faces: (mesh, { indices }) => facesBevelled(mesh, indices, 2),
  run(mesh, selection, p, meshOf, limits) {
    const along = loopsBeside(mesh, selection, p, 'edges', meshOf, limits);
    if (!along.warnings?.length || lieOnSurface(mesh, topologyOf(mesh), selection.indices)) return along;
    // Facets of a curved wall are in the way: over them as over a sheet of paper, if that gets all the way.
    try {
      const over = loopsBeside(mesh, selection, p, 'surface', meshOf, limits);
      return over.warnings?.length ? along : over;
    } catch (e) {
      if (e instanceof OperationError) return along;
      throw e;
    }
  },
});

function loopsBeside(
  mesh: PolyMesh,
  selection: Selection,
  p: { distance: number; sides: 'both' | 'left' | 'right' },
  follow: BevelOptions['follow'],
  meshOf: MeshOf,
  limits: Limits,
): OperationResult {
  const square = { width: p.distance, segments: 2, profile: 2, clamp: true, follow, mayFold: true };
  const both = withClosedEnds(rounded(mesh, selection.indices, square));
  if (p.sides === 'both') return both;
  // Telling left from right needs runs with a direction, so picks that branch are refused here.
  const left = leftFaces(mesh, rowsOf(mesh, selection));
  const unwanted = edgesOfLoop(both.mesh, stripsBeside(both.mesh, left, p.sides !== 'left'));
  if (!unwanted.length) return both;
  const { mesh: out } = dissolve.run(
    both.mesh,
    selectionOf('edge', unwanted),
    { points: true },
    meshOf,
    limits,
  );
  const kept = stripsMade(out).filter((s) => isLeft(out, left, s) === (p.sides === 'left'));
  return {
    ...both,
    mesh: out,
    selection: selectionOf(
      'face',
      kept.map((s) => s.face),
    ),
  };
}

/**
 * Where a run ends at a point that stays, the middle of the square profile lies on that point: the two are one, and the
 * face between them is none.
 */
function withClosedEnds(both: OperationResult): OperationResult {
  const near = TOLERANCE.weld * sizeOf(both.mesh);
  const at = (v: number): Vec3 => pointOf(both.mesh.positions, v);
  const groups = facesWithoutArea(both.mesh).flatMap((f) => {
    const points = faceCorners(both.mesh, f).map((c) => both.mesh.corners[c]);
    const groups = points.map((v) => points.filter((w) => distance(at(v), at(w)) <= near));
    return groups.filter((g, k) => g.length > 1 && g[0] === points[k]);
  });
  if (!groups.length) return both;
  const { mesh: out } = mergePoints(both.mesh, groups, ([v]) => at(v));
  return { ...both, mesh: out, selection: selectionOf('face', facesMade(out, ['strip', 'corner'])) };
}

/** The far sides of strips, and the sides between two of them that would dangle without those. */
function edgesOfLoop(mesh: PolyMesh, strips: number[]): number[] {
  const t = topologyOf(mesh);
  const out = new Set(strips.map((c) => t.edgeOfCorner[acrossStrip(mesh, c)]));
  const sides = strips.flatMap((c) => [nextCorner(mesh, t, c), prevCorner(mesh, t, c)]);
  const ends = strips.map((c) => acrossStrip(mesh, c)).flatMap((c) => [c, nextCorner(mesh, t, c)]);
  const far = new Set(ends.map((c) => mesh.corners[c]));
  const between = sides.map((c) => t.edgeOfCorner[c]);
  for (const e of between) {
    const v = [t.edges[2 * e], t.edges[2 * e + 1]].find((x) => far.has(x))!;
    if (edgesAt(mesh, v).every((x) => x === e || out.has(x))) out.add(e);
  }
  return [...out];
}

/** The corner of a strip's far side, from the corner of its side on the run. */
const acrossStrip = (mesh: PolyMesh, c: number): number => {
  const t = topologyOf(mesh);
  return nextCorner(mesh, t, nextCorner(mesh, t, c));
};

/** The face on the left of each edge of some runs. */
function leftFaces(mesh: PolyMesh, rows: Row[]): Map<number, number> {
  const t = topologyOf(mesh);
  const out = new Map<number, number>();
  for (const { points, closed } of rows) {
    const ends = closed ? [...points, points[0]] : points;
    for (let k = 1; k < ends.length; k++) {
      const e = edgeBetween(mesh, t, ends[k - 1], ends[k]);
      const c = t.cornerOfEdge[e];
      out.set(e, t.faceOfCorner[mesh.corners[c] === ends[k - 1] ? c : t.twin[c]]);
    }
  }
  return out;
}

const isLeft = (mesh: PolyMesh, left: Map<number, number>, s: { face: number; edge: number }): boolean =>
  oldFaceOf(mesh, s.face) === left.get(s.edge);

/** Corners at which the strips on one side of runs begin along them: there the strip of the other side is beyond. */
function stripsBeside(out: PolyMesh, left: Map<number, number>, onLeft: boolean): number[] {
  const t = topologyOf(out);
  const all = stripsMade(out);
  const edgeOf = new Map(all.map((s) => [s.face, s.edge]));
  return all
    .filter((s) => isLeft(out, left, s) === onLeft && out.faceStart[s.face + 1] - out.faceStart[s.face] === 4)
    .flatMap(({ face, edge }) =>
      faceCorners(out, face).filter((c) => t.twin[c] >= 0 && edgeOf.get(t.faceOfCorner[t.twin[c]]) === edge),
    );
}
