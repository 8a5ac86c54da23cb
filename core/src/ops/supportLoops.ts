/**
 * Support loops: edges at a fixed distance beside picked ones, on both sides or on one. Both sides are a bevel with a
 * square profile; of that, one side is what stays when the loop on the other is dissolved again.
 */
import { faceCorners, type PolyMesh } from '../mesh/PolyMesh';
import { edgesAt, nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { selectionOf } from '../select/selection';
import { facesWithoutArea } from '../mesh/measure';
import { pointOf } from '../mesh/vec3';
import { facesMade, rounded } from './bevelEdges';
import { facesBevelled } from './bounds';
import { dissolve } from './dissolve';
import { choice, length, params } from './fields';
import { mergePoints } from './mergePoints';
import { type OperationResult, defineOperation } from './operation';
import { rowsOf, type Row } from './rows';

const schema = params({
  distance: length('Distance', 1, 0.001, 10000),
  sides: choice('On', ['both', 'left', 'right'], 'both'),
});

export const supportLoops = defineOperation({
  kind: 'supportLoops',
  title: 'Support loops',
  on: ['edge'],
  params: schema,
  faces: (mesh, { indices }) => facesBevelled(mesh, indices, 2),
  run(mesh, selection, p, meshOf, limits) {
    const square = { width: p.distance, segments: 2, profile: 2, clamp: true };
    const both = withClosedEnds(mesh, rounded(mesh, selection.indices, square, 'Set loops beside'));
    if (p.sides === 'both') return both;
    // Which side is left needs runs with a direction, so picks that branch are refused here.
    const rows = rowsOf(mesh, selection);
    const strips = (of: PolyMesh, left: boolean): number[] => stripsBeside(of, mesh, rows, left);
    const unwanted = edgesOfLoop(both.mesh, strips(both.mesh, p.sides !== 'left'));
    if (!unwanted.length) return both;
    const { mesh: out } = dissolve.run(
      both.mesh,
      selectionOf('edge', unwanted),
      { points: true },
      meshOf,
      limits,
    );
    const kept = strips(out, p.sides === 'left').map((c) => topologyOf(out).faceOfCorner[c]);
    return { ...both, mesh: out, selection: selectionOf('face', kept) };
  },
});

/**
 * Where a run ends at a point that stays, the middle of the square profile lies on that point: the two are one, and the
 * face between them is none.
 */
function withClosedEnds(mesh: PolyMesh, both: OperationResult): OperationResult {
  const groups = facesWithoutArea(both.mesh).flatMap((f) => {
    const points = faceCorners(both.mesh, f).map((c) => both.mesh.corners[c]);
    const places = new Map<string, number[]>();
    for (const v of points) {
      const place = placeOf(both.mesh, v);
      places.set(place, [...(places.get(place) ?? []), v]);
    }
    return [...places.values()].filter((g) => g.length > 1);
  });
  if (!groups.length) return both;
  const { mesh: out } = mergePoints(both.mesh, groups, ([v]) => pointOf(both.mesh.positions, v));
  return { ...both, mesh: out, selection: selectionOf('face', facesMade(mesh, out)) };
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

/**
 * Corners at which the strips on one side of runs begin along them. A square profile passes through the picked edge, so
 * its points are found again where they were, to the bit; the far side of a strip is new.
 */
function stripsBeside(out: PolyMesh, before: PolyMesh, rows: Row[], left: boolean): number[] {
  const t = topologyOf(out);
  const ways = new Set<string>();
  for (const { points, closed } of rows) {
    const ends = closed ? [...points, points[0]] : points;
    for (let k = 1; k < ends.length; k++) {
      const [a, b] = left ? [ends[k - 1], ends[k]] : [ends[k], ends[k - 1]];
      ways.add(`${placeOf(before, a)}/${placeOf(before, b)}`);
    }
  }
  const onRun = pointsAt(
    out,
    before,
    rows.flatMap((r) => r.points),
  );
  const strips: number[] = [];
  for (let c = 0; c < out.corners.length; c++) {
    const a = onRun.get(out.corners[c]);
    if (a === undefined) continue;
    const b = onRun.get(out.corners[nextCorner(out, t, c)]);
    const f = t.faceOfCorner[c];
    if (b !== undefined && ways.has(`${a}/${b}`) && out.faceStart[f + 1] - out.faceStart[f] === 4)
      strips.push(c);
  }
  const far = (c: number): number[] => {
    const across = acrossStrip(out, c);
    return [out.corners[across], out.corners[nextCorner(out, t, across)]];
  };
  const old = new Set(pointsAt(before, out, strips.flatMap(far)).values());
  return strips.filter((c) => far(c).every((v) => !old.has(placeOf(out, v))));
}

const placeOf = (mesh: PolyMesh, v: number): string => mesh.positions.subarray(3 * v, 3 * v + 3).join();

/** Points of a mesh that lie, to the bit, where some points of another do; with their places. */
function pointsAt(mesh: PolyMesh, other: PolyMesh, points: number[]): Map<number, string> {
  const places = new Set(points.map((v) => placeOf(other, v)));
  const xs = new Set(points.map((v) => other.positions[3 * v]));
  const found = new Map<number, string>();
  for (let v = 0; 3 * v < mesh.positions.length; v++) {
    // A place is spelt out only where it can be one of them.
    if (!xs.has(mesh.positions[3 * v])) continue;
    const place = placeOf(mesh, v);
    if (places.has(place)) found.set(v, place);
  }
  return found;
}
