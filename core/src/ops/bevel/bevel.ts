/**
 * Edge rounding (bevel) of any set of edges on any mesh of n-gons.
 *
 * The width grows from nothing (see fronts.ts): every face outline moves its rounded sides inward in the face's
 * own plane, so original faces stay in their planes and new points lie on them. Strips of quads take the profile
 * between the moved sides, and every corner where three or more strips meet gets a grid patch.
 *
 * Ways that lost:
 *  - moving every vertex a fixed distance and clamping by the shortest edge: rims of cuts are full of tiny edges
 *    where facets cross, and the whole bevel froze at their length;
 *  - offsetting each face with a polygon clipper: exact for one face, but the two faces of an edge then disagree
 *    about which sides survive, and strips tear;
 *  - one global straight skeleton in 3D: events of unrelated rims had to be ordered against each other, for
 *    cost that grew with their product.
 */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { isClosed, topologyOf, type Topology } from '../../mesh/Topology';
import { faceNormal, sizeOf } from '../../mesh/measure';
import { partOf as stretch, UNWATCHED, type Watch } from '../../watch';
import { TOLERANCE } from '../../mesh/tolerance';
import { OperationError } from '../../mesh/errors';
import { dot } from '../../mesh/vec3';
import { keepManifold } from '../../mesh/makeManifold';
import { edgesOfPart, partOf, putBack } from '../../mesh/part';
import { bridgedRegions, markSound } from '../../solid/Solid';
import { assembleBevel } from './assemble';
import { BEVEL_DEFAULTS, type BevelOptions, type Growth } from './growth';
import { Fronts } from './fronts';
import { edgesOf, flatEdges, groupVertices, laySides, speedOf } from './layOut';
import { besideFoldedFaces, TouchingOutlines, tooBent, tooWide } from './refusals';
import { outlinesOf } from './outlines';
import { Planner } from './sectors';

export { BEVEL_DEFAULTS, type BevelOptions };

export interface BevelResult {
  mesh: PolyMesh;
  report: {
    roundedEdges: number;
    groups: BevelGroup[];
    /** Short sides used up on the way. */
    consumedSides: number;
  };
}

/** Rounded edges that are connected and grow together. */
export interface BevelGroup {
  /** Of the mesh that was given. */
  edges: number[];
  /** The width they reached, mm. */
  reached: number;
}

/** Groups that had to stop before the full width. */
export const stoppedOf = (groups: ReadonlyArray<BevelGroup>, width: number): BevelGroup[] =>
  groups.filter((g) => g.reached < width * (1 - TOLERANCE.bevelEvent));

/** Least width any of them reached; the width asked for where there are none. */
export const leastWidth = (groups: ReadonlyArray<BevelGroup>, width: number): number =>
  groups.reduce((least, g) => Math.min(least, g.reached), width);

/**
 * Rounds the given edges. Open, bridge and flat edges among them are left alone.
 * @param watch asked as the width grows and per face that is assembled
 * @throws OperationError `bevel-too-wide` when `clamp` is off and the width does not fit.
 */
export function bevel(
  mesh: PolyMesh,
  edges: Iterable<number>,
  options: Partial<BevelOptions> = {},
  watch: Watch = UNWATCHED,
): BevelResult {
  const o = { ...BEVEL_DEFAULTS, ...options };
  const t = topologyOf(mesh);
  const flat = flatEdges(mesh, t);
  const rounded = new Uint8Array(t.edgeCount);
  let roundedEdges = 0;
  for (const e of edges) {
    if (rounded[e] || flat[e] || t.twin[t.cornerOfEdge[e]] < 0 || isFolded(mesh, t, e)) continue;
    rounded[e] = 1;
    roundedEdges++;
  }
  if (!roundedEdges || o.width <= 0) {
    const { mesh: same, report } = unchanged(mesh);
    return { mesh: same, report };
  }
  const folded = besideFolds(t, rounded);
  if (folded.length) throw besideFoldedFaces(mesh, folded);
  const picked = facesAround(mesh, t, rounded);
  const { mesh: out, report } =
    picked.count * 2 < picked.faces.length
      ? onPart(mesh, picked.faces, rounded, flat, o, watch)
      : grownWhole(mesh, rounded, flat, o, { size: sizeOf(mesh), rim: isClosed(mesh) ? 0 : null, watch });
  return { mesh: markSound(out), report };
}

/**
 * All faces that can change: those with a corner at a rounded edge, and their neighbours, which take over points of a
 * face that is used up; each with what is joined to it across bridges.
 */
function facesAround(mesh: PolyMesh, t: Topology, rounded: Uint8Array): { faces: Uint8Array; count: number } {
  const faces = new Uint8Array(mesh.faceStart.length - 1);
  for (const e of edgesOf(rounded))
    for (const v of [t.edges[2 * e], t.edges[2 * e + 1]])
      for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
        faces[t.faceOfCorner[t.vertexCorners[i]]] = 1;
  const region = mesh.layers.edge.bridge ? bridgedRegions(mesh) : null;
  const withBridged = (): void => {
    if (!region) return;
    const reached = new Uint8Array(faces.length);
    faces.forEach((x, f) => x && (reached[region[f]] = 1));
    region.forEach((r, f) => (faces[f] = reached[r]));
  };
  withBridged();
  const first = faces.slice();
  for (let c = 0; c < mesh.corners.length; c++)
    if (first[t.faceOfCorner[c]] && t.twin[c] >= 0) faces[t.faceOfCorner[t.twin[c]]] = 1;
  withBridged();
  return { faces, count: faces.reduce((n, x) => n + x, 0) };
}

/** Bevels the faces that can change as a mesh of their own; the rest is only copied. */
function onPart(
  mesh: PolyMesh,
  faces: Uint8Array,
  rounded: Uint8Array,
  flat: Uint8Array,
  o: BevelOptions,
  watch: Watch,
): BevelResult {
  const part = partOf(mesh, faces);
  const edgeOf = edgesOfPart(mesh, part);
  const rim = isClosed(mesh) ? openEdges(part.mesh) : null;
  const here = (of: Uint8Array): Uint8Array => Uint8Array.from(edgeOf, (e: number) => of[e]);
  try {
    const {
      mesh: made,
      own,
      report,
    } = grownWhole(part.mesh, here(rounded), here(flat), o, { size: sizeOf(mesh), rim, watch });
    const back = own.map((v) => (v < 0 ? -1 : part.vertexOf[v]));
    const groups = report.groups.map((g) => ({ ...g, edges: g.edges.map((k) => edgeOf[k]) }));
    return { mesh: keepManifold(putBack(mesh, faces, made, back), mesh), report: { ...report, groups } };
  } catch (e) {
    if (e instanceof OperationError && e.elements?.domain === 'edge')
      e.elements.indices = e.elements.indices.map((k) => edgeOf[k]);
    throw e;
  }
}

interface Whole {
  /** Size of the piece, mm. */
  size: number;
  /** How many open edges there are and must be after; null where rounding may change that. */
  rim: number | null;
  watch: Watch;
}

type Grown = BevelResult & { own: Int32Array };

function grownWhole(
  mesh: PolyMesh,
  rounded: Uint8Array,
  flat: Uint8Array,
  o: BevelOptions,
  whole: Whole,
): Grown {
  const t = topologyOf(mesh);
  const groups = groupVertices(mesh, t, rounded);
  const caps = new Float64Array(groups.count).fill(o.width);
  for (let attempt = 0; ; attempt++) {
    try {
      return grown(mesh, t, o, { rounded, flat, groups, caps }, whole);
    } catch (e) {
      if (!(e instanceof TouchingOutlines) || attempt > 24) throw e;
      // Slides led by two faces are a mean, so outlines can graze a little early: give their groups less.
      for (const [g, reached] of e.groups) caps[g] = attempt > 8 ? 0 : reached * (attempt < 4 ? 0.98 : 0.7);
    }
  }
}

const unchanged = (mesh: PolyMesh): Grown => ({
  mesh,
  own: Int32Array.from({ length: mesh.positions.length / 3 }, (_, v) => v),
  report: { roundedEdges: 0, groups: [], consumedSides: 0 },
});

function openEdges(mesh: PolyMesh): number {
  const { edgeUse } = topologyOf(mesh);
  return edgeUse.reduce((n, use) => n + Number(use === 1), 0);
}

/** Rounded edges that end where two faces run the same way along an edge: there, inside and outside change places. */
function besideFolds(t: Topology, rounded: Uint8Array): number[] {
  const atFold = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeUse[e] > 1 && t.twin[t.cornerOfEdge[e]] < 0) {
      atFold.add(t.edges[2 * e]);
      atFold.add(t.edges[2 * e + 1]);
    }
  if (!atFold.size) return [];
  return [...edgesOf(rounded)].filter((e) => atFold.has(t.edges[2 * e]) || atFold.has(t.edges[2 * e + 1]));
}

/** Its two faces lie back to back: there is no inside to round towards. */
function isFolded(mesh: PolyMesh, t: Topology, e: number): boolean {
  const c = t.cornerOfEdge[e];
  return dot(faceNormal(mesh, t.faceOfCorner[c]), faceNormal(mesh, t.faceOfCorner[t.twin[c]])) < -1 + 1e-12;
}

interface Prepared {
  rounded: Uint8Array;
  flat: Uint8Array;
  groups: { ofVertex: Int32Array; count: number };
  /** Width each group may reach at most. */
  caps: Float64Array;
}

function grown(mesh: PolyMesh, t: Topology, o: BevelOptions, prepared: Prepared, whole: Whole): Grown {
  const { rounded, flat, groups, caps } = prepared;
  const roundedEdges = rounded.reduce((n, x) => n + x, 0);
  const { size } = whole;
  const speed = speedOf(mesh);
  const planner = new Planner(mesh, t, rounded, flat, groups.ofVertex, speed);
  for (let v = 0; v < groups.ofVertex.length; v++) {
    if (v % 512 === 0) whole.watch((0.05 * v) / groups.ofVertex.length);
    if (groups.ofVertex[v] >= 0) planner.addVertex(v);
  }
  const regions = outlinesOf(mesh, t);
  whole.watch(0.07);
  const laid = laySides(mesh, t, rounded, regions, planner, groups.ofVertex, speed);
  const { nodes } = planner.plan;
  if (!nodes.every((n) => [...n.at, ...n.velocity].every(Number.isFinite))) throw tooBent(mesh, rounded);
  const fronts = new Fronts(
    nodes,
    laid.sides,
    regions.length,
    caps,
    o.width,
    size,
    stretch(whole.watch, 0.1, 0.5),
  );
  const outcome = fronts.grow();
  const grouped = Array.from(outcome.reached, (reached): BevelGroup => ({ edges: [], reached }));
  const groupOf = (e: number): number => groups.ofVertex[t.edges[2 * e]];
  for (const e of edgesOf(rounded)) grouped[groupOf(e)].edges.push(e);
  if (!o.clamp && stoppedOf(grouped, o.width).length)
    throw tooWide(mesh, t, rounded, groups.ofVertex, outcome.reached, o.width);
  const stuck = (e: number): boolean => outcome.reached[groupOf(e)] <= TOLERANCE.kernel * size;
  const free = [...edgesOf(rounded)].filter((e) => !stuck(e));
  if (free.length < roundedEdges) {
    // Groups that cannot grow at all stay sharp.
    const kept = new Uint8Array(rounded.length);
    for (const e of free) kept[e] = 1;
    const rest = free.length ? grownWhole(mesh, kept, flat, o, whole) : unchanged(mesh);
    const left = grouped.filter((g) => stuck(g.edges[0])).map((g) => ({ ...g, reached: 0 }));
    return { ...rest, report: { ...rest.report, groups: [...rest.report.groups, ...left] } };
  }
  const growth: Growth = {
    mesh,
    t,
    options: o,
    rounded,
    plan: planner.plan,
    regions,
    touched: laid.touched,
    loops: laid.loops,
    fronts,
    fixedNode: (v) => planner.fixedNode(v),
    size,
    watch: stretch(whole.watch, 0.5, 1),
    refuseRegion: (r) => {
      const around = laid.loops[r]!.flatMap((l) => l.nodes.map((n) => nodes[n].group)).filter((g) => g >= 0);
      return new TouchingOutlines(new Map(around.map((g) => [g, outcome.reached[g]])));
    },
  };
  const { mesh: result, own } = assembleBevel(growth);
  if (!result.positions.every(Number.isFinite)) throw tooBent(mesh, rounded);
  // On degenerate input (leaves of no thickness) strips can overlap: a closed mesh must never come out torn.
  if (whole.rim !== null && openEdges(result) !== whole.rim)
    throw new TouchingOutlines(new Map([...outcome.reached].map((r, g) => [g, r])));
  return {
    mesh: result,
    own,
    report: { roundedEdges, groups: grouped, consumedSides: outcome.consumedSides },
  };
}
