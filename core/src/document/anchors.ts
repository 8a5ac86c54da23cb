/**
 * Anchors: what a cutter holds to on its host, as a shop drawing has it: its distance from a face, edge or point, the
 * middle between two, the centre of a face, and how deep it goes; held on two opposite sides, it stretches between them. An anchor remembers where that was when the cutter was
 * last placed; as far as it has moved since along what is held, the cutter moves too. So a cutter that is dragged just
 * has another distance.
 */
import { familyOf } from '../births/births';
import { warn, type Warning } from '../mesh/errors';
import { boundsOf, faceNormal, sizeOf } from '../mesh/measure';
import { faceCount, faceLoop, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { transformMatrix } from '../mesh/transform';
import { add, addScaled, dot, length, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { frameFrom } from '../planar/frame';
import { bornOf, findBorn } from '../select/born';
import type { Selection } from '../select/selection';
import { treeOf } from '../spatial/TriangleTree';
import type { Anchor, Anchored, AnchorTarget } from '../select/anchor';
import { spotAt, type Held } from './anchorSpot';
import { completeTransform } from './placement';
import type { Piece } from './schema';

/** Directions this near to those held before add nothing. */
const SAME_WAY = 1e-6;
/** A place that has not moved so far, mm, has not moved. */
const STILL = 1e-9;

/**
 * The face at a place on a mesh, with all of its family in the same plane, to anchor to; and what lies opposite: the
 * furthest face of those that look the other way, null when there is none.
 * @param near takes a corner or an edge within so many mm instead, for a cutter to hold its distance from
 */
export function targetAt(
  mesh: PolyMesh,
  point: Vec3,
  near?: { reach: number; held: Held },
): { target: AnchorTarget; facing: Vec3; opposite: AnchorTarget | null } | null {
  const hit = treeOf(mesh).nearest(point);
  if (!hit) return null;
  const around = inPlaneWith(mesh, hit.face);
  const spot = near && spotAt(mesh, around.indices, point, near.reach, near.held);
  if (spot)
    return { target: targetOf(mesh, spot.selection, spot.facing), facing: spot.facing, opposite: null };
  const facing = faceNormal(mesh, hit.face);
  const target = targetOf(mesh, around, facing);
  let [far, furthest] = [-1, -Infinity];
  for (let f = 0; f < faceCount(mesh); f++) {
    if (dot(faceNormal(mesh, f), facing) > -FLAT) continue;
    const away = -dot(pointOf(mesh.positions, mesh.corners[mesh.faceStart[f]]), facing);
    if (away > furthest) [far, furthest] = [f, away];
  }
  return { target, facing, opposite: far < 0 ? null : targetOf(mesh, inPlaneWith(mesh, far), facing) };
}

const FLAT = 1 - 1e-9;

function inPlaneWith(mesh: PolyMesh, face: number): Selection {
  const facing = faceNormal(mesh, face);
  const family = familyOf(mesh, face);
  const indices: number[] = [];
  for (let f = 0; f < faceCount(mesh); f++) {
    const kin = family !== 0 && familyOf(mesh, f) === family && dot(faceNormal(mesh, f), facing) > FLAT;
    if (f === face || kin) indices.push(f);
  }
  return { kind: 'face', indices };
}

/** @param facing along which it will be held */
function targetOf(mesh: PolyMesh, selection: Selection, facing: Vec3): AnchorTarget {
  const { of, picks } = bornOf(mesh, selection);
  return { of, picks, at: middleIn(pointsOf(mesh, selection), facing) };
}

/** All of a piece that where it is anchored depends on, beside its host. */
export const anchorKey = ({ transform, anchors, reach }: Piece): string =>
  JSON.stringify([transform, anchors, reach]);

/**
 * The placement of an anchored piece on its host.
 * @param host in its own frame, as it is before the piece cuts it
 * @param mesh of the piece, in its own frame
 */
export function anchored(host: PolyMesh, piece: Piece, mesh: PolyMesh): Anchored {
  const t = completeTransform(piece.transform);
  const warnings: Warning[] = [];
  const name = piece.name ?? piece.id;
  let shift: Vec3 = [0, 0, 0];
  const held: Vec3[] = [];
  const distances: Array<{ facing: Vec3; by: number }> = [];
  const spans: Span[] = [];
  const anchors = piece.anchors?.map((a): Anchor => {
    const now = a.to.map((target) => found(host, target, a.facing));
    if (now.some((at) => at === null)) {
      warnings.push(warn('anchor-lost', `What “${name}” was anchored to is not there any more; it stays where it was.`)); // prettier-ignore
      return a;
    }
    const moved = scale(a.to.reduce((sum: Vec3, { at }, i) => add(sum, sub(now[i]!, at)), [0, 0, 0]), 1 / a.to.length); // prettier-ignore
    const { u, v, normal } = frameFrom(now[0]!, a.facing);
    for (const along of a.hold === 'centre' ? [u, v] : [normal]) {
      const rest = held.reduce((d, h) => addScaled(d, h, -dot(d, h)), along);
      const amount = dot(moved, along) - dot(shift, along);
      if (length(rest) < SAME_WAY) {
        const across =
          a.hold === 'distance' && distances.find((d) => dot(d.facing, a.facing) < -1 + SAME_WAY);
        if (across) spans.push({ facing: across.facing, longer: across.by + dot(moved, a.facing) });
        else if (Math.abs(amount) > STILL)
          warnings.push(warn('anchored-twice', `“${name}” cannot hold all of its anchors: two of them ask for different places along one direction.`)); // prettier-ignore
        continue;
      }
      const way = unit(rest);
      shift = addScaled(shift, way, amount / length(rest));
      if (a.hold === 'distance') distances.push({ facing: a.facing, by: dot(moved, a.facing) });
      held.push(way);
    }
    return { ...a, to: a.to.map((target, i) => ({ ...target, at: now[i]! })) };
  });
  let moved = length(shift) > STILL ? { ...t, move: add(t.move, shift) } : t;
  for (const span of spans) {
    const longer = stretched(moved, mesh, span);
    if (longer) moved = longer;
    else
      warnings.push(warn('anchored-twice', `“${name}” cannot be stretched between the two sides it holds to: it lies askew to them, or nothing is left of it.`)); // prettier-ignore
  }
  const transform = piece.reach ? reaching(host, moved, mesh, piece.reach) : moved;
  if (!transform)
    warnings.push(warn('reach-nothing', `“${name}” meets no wall to go through; it is as deep as it was.`));
  return { transform: transform ?? moved, ...(anchors && { anchors }), warnings };
}

/** The middle of what an anchor holds to, on a mesh; null when it is gone. */
function found(mesh: PolyMesh, { of, picks }: AnchorTarget, facing: Vec3): Vec3 | null {
  const { selection } = findBorn(mesh, { of, picks });
  if (!selection.indices.length) return null;
  return middleIn(pointsOf(mesh, selection), facing);
}

function pointsOf(mesh: PolyMesh, { kind, indices }: Selection): Vec3[] {
  const { edges } = topologyOf(mesh);
  const ids =
    kind === 'vertex'
      ? indices
      : kind === 'edge'
        ? indices.flatMap((e) => [edges[2 * e], edges[2 * e + 1]])
        : indices.flatMap((f) => [...faceLoop(mesh, f)]);
  return [...new Set(ids)].map((v) => pointOf(mesh.positions, v));
}

/** The middle of the least box around points that stands along a direction: holes do not move it. */
function middleIn(points: Vec3[], facing: Vec3): Vec3 {
  const { u, v, normal } = frameFrom([0, 0, 0], facing);
  return [u, v, normal].reduce(
    (sum: Vec3, axis) => {
      const along = points.map((p) => dot(p, axis));
      const [low, high] = along.reduce(
        ([lo, hi], x) => [Math.min(lo, x), Math.max(hi, x)],
        [Infinity, -Infinity],
      );
      return addScaled(sum, axis, (low + high) / 2);
    },
    [0, 0, 0],
  );
}

type Placed = ReturnType<typeof completeTransform>;

/** Held on two opposite sides, a piece is as much longer as these have come apart. */
interface Span {
  /** The side that has moved it already: its end there stays. */
  facing: Vec3;
  longer: number;
}

/** The placement with its size along one axis such that its length along a direction is greater. Null where it cannot be. */
function stretched(t: Placed, mesh: PolyMesh, { facing, longer }: Span): Placed | null {
  if (Math.abs(longer) <= STILL) return t;
  const m = transformMatrix(t);
  const columns = [0, 1, 2].map((k): Vec3 => [m[4 * k], m[4 * k + 1], m[4 * k + 2]]);
  const k = columns.findIndex((c) => Math.abs(dot(unit(c), facing)) > 1 - SAME_WAY);
  if (k < 0) return null;
  const { min, max } = boundsOf(mesh);
  const before = length(columns[k]) * (max[k] - min[k]);
  const f = (before + longer) / before;
  if (!(f > 0) || !Number.isFinite(f)) return null;
  const end = dot(columns[k], facing) > 0 ? max[k] : min[k];
  const size = [...t.size] as Vec3;
  size[k] *= f;
  return { ...t, size, move: addScaled(t.move, columns[k], end * (1 - f)) };
}

/** The placement with its size along Y such that the lower end comes out; the upper end stays. Null where there is no wall. */
function reaching(host: PolyMesh, t: Placed, mesh: PolyMesh, reach: 'through' | 'next'): Placed | null {
  const { min, max } = boundsOf(mesh);
  const [low, high] = [min[1], max[1]];
  const m = transformMatrix(t);
  const y: Vec3 = [m[4], m[5], m[6]];
  const stretch = length(y);
  if (!(high > low) || !(stretch > 0)) return null;
  const up = scale(y, 1 / stretch);
  const top = addScaled(t.move, up, stretch * high);
  const over = Math.max(1, sizeOf(host) / 100);
  let depth: number;
  if (reach === 'through') {
    depth = -Infinity;
    for (let v = 0; v < host.positions.length / 3; v++)
      depth = Math.max(depth, dot(sub(top, pointOf(host.positions, v)), up));
    depth += over;
  } else {
    const hits: number[] = [];
    for (let from = 0; hits.length < 3;) {
      const hit = treeOf(host).meets(addScaled(top, up, -from), scale(up, -1));
      if (!hit) break;
      const at = dot(sub(top, hit.at), up);
      if (!hits.length || at > hits[hits.length - 1] + 1e-6) hits.push(at);
      from = at + 1e-7 * (1 + Math.abs(at));
    }
    // Begun inside the host, the first thing met is where its wall ends.
    const inside = hits.length > 0 && hits.length % 2 === 1 && hits.length < 3;
    const [out, next] = inside ? [hits[0], hits[1]] : [hits[1], hits[2]];
    if (out === undefined) return null;
    depth = out + Math.min(over, ((next ?? Infinity) - out) / 2);
  }
  if (!(depth > 0)) return null;
  const f = depth / (stretch * (high - low));
  return {
    ...t,
    size: [t.size[0], t.size[1] * f, t.size[2]],
    move: addScaled(t.move, up, stretch * high * (1 - f)),
  };
}
