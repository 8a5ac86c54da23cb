/** Edges and corners of a host that a cutter can hold its distance from, as faces are (anchors.ts). */
import { faceNormal } from '../mesh/measure';
import { faceCorners, type PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { add, cross, distance, dot, length, lerp, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { selectionOf, type Selection } from '../select/selection';

/** The cutter that is to be held, in the host's frame. */
export interface Held {
  /** Its origin. */
  at: Vec3;
  /** Along which it cuts; distances are held square to it. Of unit length. */
  axis: Vec3;
  /** Directions it is held along already, of unit length. */
  along: ReadonlyArray<Vec3>;
}

/** Faces that meet at less are seen as one surface; cosine. */
const SEEN = Math.cos((30 * Math.PI) / 180);
/** Directions this near to each other are one, as the sine of the angle between. */
const ALIKE = 0.02;

/**
 * The corner or the edge of some faces near a place, whichever is within reach and nearer, and the direction a distance from it is
 * held along: from the cutter to it, square to the cutter. Null where there is none, or no direction is left.
 */
export function spotAt(
  mesh: PolyMesh,
  faces: ReadonlyArray<number>,
  place: Vec3,
  reach: number,
  held: Held,
): { selection: Selection; facing: Vec3 } | null {
  const t = topologyOf(mesh);
  const seen = (c: number): boolean => {
    const d = t.twin[c];
    return d < 0 || dot(faceNormal(mesh, t.faceOfCorner[c]), faceNormal(mesh, t.faceOfCorner[d])) < SEEN;
  };
  let edge: { e: number; way: Vec3; far: number } | null = null;
  let corner: { v: number; far: number } | null = null;
  /** Edges that are seen run on from it in more than one line. */
  const isCorner = (v: number): boolean => {
    const ways: Vec3[] = [];
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
      for (const c of [t.vertexCorners[i], prevCorner(mesh, t, t.vertexCorners[i])]) {
        if (!seen(c)) continue;
        const other = mesh.corners[c] === v ? mesh.corners[nextCorner(mesh, t, c)] : mesh.corners[c];
        ways.push(unit(sub(pointOf(mesh.positions, other), pointOf(mesh.positions, v))));
      }
    return ways.some((w) => length(cross(w, ways[0])) > ALIKE);
  };
  for (const c of faces.flatMap((f) => faceCorners(mesh, f))) {
    const [a, b] = [c, nextCorner(mesh, t, c)].map((k) => pointOf(mesh.positions, mesh.corners[k]));
    const far = distance(place, a);
    if (far <= reach && far < (corner?.far ?? Infinity) && isCorner(mesh.corners[c]))
      corner = { v: mesh.corners[c], far };
    if (!seen(c)) continue;
    const way = sub(b, a);
    const share = Math.min(1, Math.max(0, dot(sub(place, a), way) / (dot(way, way) || 1)));
    const off = distance(place, lerp(a, b, share));
    if (off <= reach && off < (edge?.far ?? Infinity))
      edge = { e: t.edgeOfCorner[c], way: unit(way), far: off };
  }
  if (corner) {
    const facing = towards(sub(pointOf(mesh.positions, corner.v), held.at), held);
    return facing && { selection: selectionOf('vertex', [corner.v]), facing };
  }
  if (!edge) return null;
  const [a] = [t.edges[2 * edge.e]];
  const to = sub(pointOf(mesh.positions, a), held.at);
  const square = cross(edge.way, held.axis);
  // An edge that runs as the cutter does is a point to it.
  const facing =
    length(square) < ALIKE ? towards(to, held) : scale(unit(square), dot(square, to) < 0 ? -1 : 1);
  return facing && { selection: selectionOf('edge', [edge.e]), facing };
}

/** The free direction of the host's three, made square to the cutter, that a vector goes furthest along. */
function towards(way: Vec3, { axis, along }: Held): Vec3 | null {
  let best: Vec3 | null = null;
  let most = 0;
  for (const k of [0, 1, 2]) {
    const d: Vec3 = [Number(k === 0), Number(k === 1), Number(k === 2)];
    const square = add(d, scale(axis, -dot(d, axis)));
    if (length(square) < 0.5) continue;
    const u = unit(square);
    if (along.some((x) => length(cross(x, u)) < ALIKE)) continue;
    const x = dot(way, u);
    if (Math.abs(x) > most) [best, most] = [scale(u, Math.sign(x)), Math.abs(x)];
  }
  return best;
}
