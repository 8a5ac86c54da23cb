/**
 * Edge rounding (bevel) of any set of edges on any mesh of n-gons.
 *
 * Faces joined across edges that only approximate a surface are one sheet (sheets.ts). The width grows from nothing:
 * the sides of every sheet's outline move inward, measured in the sheet (Fronts.ts), and where their corners come to
 * lie is walked over the facets (walk.ts, places.ts). Rails join them (rails.ts), plates are divided along the rails
 * and lose what lies between rim and rail (divide.ts), and strips of quads take the profile between the two rails of an
 * edge, column by column (strips.ts, curves.ts); corners where three or more strips meet get a grid patch. So faces
 * stay in their planes and new points lie on them.
 *
 * Edges that cannot get in each other's way are rounded each by themselves, as a mesh of what is around them (Unit.ts),
 * and put together (compose.ts).
 *
 * What gets in the way of something else stops there, and only there: its width is capped, caps rise along the rims by
 * half the way, and all is grown again (widths.ts). Caps only fall, so this ends.
 *
 * Ways that lost:
 *  - moving every vertex a fixed distance and clamping by the shortest edge: rims of cuts are full of tiny edges
 *    where facets cross, and the whole bevel froze at their length;
 *  - letting each facet's outline move in its own plane: a corner that reached a facet edge had used its facet up, so
 *    the finer the curve, the less of the width was reached;
 *  - offsetting each face with a polygon clipper: exact for one face, but the two faces of an edge then disagree
 *    about which sides survive, and strips tear.
 */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { topologyOf, type Topology } from '../../mesh/Topology';
import { faceNormal } from '../../mesh/measure';
import { UNWATCHED, type Watch } from '../../watch';
import { dot } from '../../mesh/vec3';
import { isSound, markSound } from '../../solid/Solid';
import { stoppedOf, type BevelGroup } from './groups';
import { edgesOf } from './layOut';
import { besideFoldedFaces, tooWide } from './refusals';
import { BEVEL_DEFAULTS, type BevelOptions } from './options';
import { flatEdges } from './sheets';
import { UnitCache } from './UnitCache';
import { inUnits } from './inUnits';

export interface BevelResult {
  mesh: PolyMesh;
  report: {
    roundedEdges: number;
    groups: BevelGroup[];
    /** Short sides used up on the way. */
    consumedSides: number;
  };
}

/**
 * Rounds the given edges. Open, bridge and flat edges among them are left alone.
 * @param watch asked as the width grows and per face that is assembled
 * @param cache keeps what clusters of edges came to: those whose surroundings are as they were are not rounded again
 * @throws OperationError `bevel-too-wide` when `clamp` is off and the width does not fit.
 */
export function bevel(
  mesh: PolyMesh,
  edges: Iterable<number>,
  options: Partial<BevelOptions> = {},
  watch: Watch = UNWATCHED,
  cache: UnitCache = new UnitCache(),
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
  if (!roundedEdges || o.width <= 0)
    return { mesh, report: { roundedEdges: 0, groups: [], consumedSides: 0 } };
  const folded = besideFolds(t, rounded);
  if (folded.length) throw besideFoldedFaces(mesh, folded);
  const { made, groups, consumedSides } = inUnits(mesh, t, rounded, o, cache, watch);
  if (!o.clamp && stoppedOf(groups, o.width).length) throw tooWide(mesh, groups, o.width);
  // Only new faces were tried: what went through itself before may do so still.
  if (isSound(mesh)) markSound(made);
  return { mesh: made, report: { roundedEdges, groups, consumedSides } };
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
