/** Edges by what is told of them: how sharp they are, which cut made them. */
import { CUTS, edgeOrigin, ORIGINS, type Origin } from '../births/cameFrom';
import { cutterCode } from '../births/hash';
import { follows } from '../mesh/layers';
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { nextCorner, topologyOf, type Topology } from '../mesh/Topology';
import { cross, dot, length, pointOf, sub, type Vec3 } from '../mesh/vec3';

const degrees = (x: number): number => (x * Math.PI) / 180;
/** Surfaces that meet at less than this run into each other; cosine. */
const TANGENT = Math.cos(degrees(10));
/** Facets that meet at less than this may stand for one surface; cosine. */
const FACETS = Math.cos(degrees(35));
/** Facets of a surface that is known stand for it as long as they meet at less than this: a prism of eight has edges. */
const KNOWN_FACETS = Math.cos(degrees(38));
/** Facets that meet at less than this do, unless their edge is marked hard; cosine. */
const FINE_FACETS = Math.cos(degrees(25));

/**
 * Edges made by cuts; of the named cutters only, if any are named. Where two surfaces run into each other without an
 * edge to be seen, there is none.
 */
export function rimEdges(mesh: PolyMesh, cutters?: ReadonlyArray<string>): number[] {
  const marks = mesh.layers.edge.cut?.data;
  if (!marks) return [];
  const codes = cutters?.length ? new Set(cutters.map(cutterCode)) : null;
  const t = topologyOf(mesh);
  const out: number[] = [];
  for (let e = 0; e < marks.length; e++)
    if (marks[e] && (!codes || codes.has(marks[e])) && !isTangent(mesh, t, e)) out.push(e);
  return out;
}

/** Rims of cuts, and the rails of those that were rounded. */
export function rimsAndRails(mesh: PolyMesh, cutters?: ReadonlyArray<string>): number[] {
  const rounded = mesh.layers.edge.rounded?.data;
  const rims = rimEdges(mesh, cutters);
  if (!rounded) return rims;
  const t = topologyOf(mesh);
  const ranks = mesh.layers.face.rank?.data;
  const isStrip = (c: number): boolean => follows(ranks?.[t.faceOfCorner[c]]);
  const out = new Set(rims);
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    const d = t.twin[c];
    if (!rounded[e] || d < 0 || isStrip(c) === isStrip(d)) continue;
    if (edgeOrigin(mesh, t, e) === CUTS) out.add(e);
  }
  return [...out].sort((a, b) => a - b);
}

/**
 * Facet edges that only approximate a curved surface, and edges of a rounding: a person would not call them edges.
 */
export function isFacetEdge(mesh: PolyMesh, t: Topology, e: number): boolean {
  if (mesh.layers.edge.hard?.data[e]) return false;
  if (isWithinSurface(mesh, t, e)) return true;
  const c = t.cornerOfEdge[e];
  const cos = t.twin[c] < 0 ? -1 : cosAcross(mesh, t, c);
  return (
    cos > FINE_FACETS || (cos > FACETS && mesh.layers.corner.surface !== undefined && isTangent(mesh, t, e))
  );
}

const cosAcross = (mesh: PolyMesh, t: Topology, c: number): number =>
  dot(faceNormal(mesh, t.faceOfCorner[c]), faceNormal(mesh, t.faceOfCorner[t.twin[c]]));

/** The true surfaces on both sides of an edge have nearly one tangent plane at both its ends. */
function isTangent(mesh: PolyMesh, t: Topology, e: number): boolean {
  const c = t.cornerOfEdge[e];
  const d = t.twin[c];
  if (d < 0 || cosAcross(mesh, t, c) < FACETS) return false;
  const alike = (i: number, j: number): boolean =>
    dot(trueNormal(mesh, t, i), trueNormal(mesh, t, j)) > TANGENT;
  return alike(c, nextCorner(mesh, t, d)) && alike(nextCorner(mesh, t, c), d);
}

/** Normal of the curved surface a corner remembers; of its face where that is flat. */
function trueNormal(mesh: PolyMesh, t: Topology, c: number): Vec3 {
  const kept = mesh.layers.corner.surface;
  const n = kept ? pointOf(kept.data, c) : null;
  return n && length(n) > 0.5 ? n : faceNormal(mesh, t.faceOfCorner[c]);
}

/** Whether edges are convex, as those of a box, or concave, as where two walls meet in a corner. */
export type Turn = 'either' | 'outside' | 'inside';

/**
 * Edges whose faces' normals differ by more than an angle (degrees). Those within a rounding, or between facets of one
 * surface that is known, are none unless they are marked hard.
 */
export function sharpEdges(mesh: PolyMesh, angle: number, side: Turn = 'either'): number[] {
  const t = topologyOf(mesh);
  const hard = mesh.layers.edge.hard?.data;
  const limit = Math.cos((angle * Math.PI) / 180) - 1e-9;
  const out: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (t.twin[c] < 0) continue;
    const a = faceNormal(mesh, t.faceOfCorner[c]);
    const b = faceNormal(mesh, t.faceOfCorner[t.twin[c]]);
    if (a[0] * b[0] + a[1] * b[1] + a[2] * b[2] >= limit) continue;
    if (!hard?.[e] && isWithinSurface(mesh, t, e)) continue;
    if (side === 'either' || (side === 'outside') === turnsOut(mesh, t, e, a, b)) out.push(e);
  }
  return out;
}

/** Sharp edges there were before any cut. */
export function outerEdges(mesh: PolyMesh, angle: number, side: Turn = 'either'): number[] {
  const t = topologyOf(mesh);
  return sharpEdges(mesh, angle, side).filter((e) => edgeOrigin(mesh, t, e) < CUTS);
}

/** Sharp edges that come from one place. */
export function sharpEdgesOf(mesh: PolyMesh, made: Origin, angle: number, side: Turn = 'either'): number[] {
  const t = topologyOf(mesh);
  return sharpEdges(mesh, angle, side).filter((e) => ORIGINS[edgeOrigin(mesh, t, e)] === made);
}

/** An edge of a rounding, or between two facets of one surface that is known; rims of cuts are none. */
export function isWithinSurface(mesh: PolyMesh, t: Topology, e: number): boolean {
  const { rounded, cut } = mesh.layers.edge;
  if (rounded?.data[e] && !cut?.data[e]) return true;
  const surface = mesh.layers.corner.surface?.data;
  const c = t.cornerOfEdge[e];
  const d = t.twin[c];
  if (!surface || d < 0 || cosAcross(mesh, t, c) < KNOWN_FACETS) return false;
  const alike = (i: number, j: number): boolean =>
    surface[3 * i] * surface[3 * j] + surface[3 * i + 1] * surface[3 * j + 1] + surface[3 * i + 2] * surface[3 * j + 2] > TANGENT; // prettier-ignore
  return alike(c, nextCorner(mesh, t, d)) && alike(nextCorner(mesh, t, c), d);
}

/** @param a and b normals of the faces left and right of the edge's half-edge */
function turnsOut(mesh: PolyMesh, t: Topology, e: number, a: Vec3, b: Vec3): boolean {
  const c = t.cornerOfEdge[e];
  const from = pointOf(mesh.positions, mesh.corners[c]);
  const along = sub(pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, c)]), from);
  return dot(cross(a, b), along) > 0;
}
