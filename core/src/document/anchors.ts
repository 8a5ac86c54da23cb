/**
 * Anchors: what a cutter holds to on its host, as a shop drawing has it: its distance from a face, edge or point, the
 * middle between two, its place on a face, and how deep it goes; held on two opposite sides, it stretches between them.
 * An anchor remembers where that was when the cutter was last placed; as far as it has moved since along what is held,
 * the cutter moves too, and it turns with the face it has its place on. So a cutter that is dragged just has another
 * distance.
 */
import { familyOf } from '../births/births';
import { warn, type Warning } from '../mesh/errors';
import { faceNormal } from '../mesh/measure';
import { faceCount, faceLoop, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { add, addScaled, dot, length, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { bornOf, findBorn } from '../select/born';
import type { Selection } from '../select/selection';
import { treeOf } from '../spatial/TriangleTree';
import type { Anchor, Anchored, AnchorTarget } from '../select/anchor';
import { reaching, SAME_WAY, STILL, stretched, type Span } from './anchorSize';
import { spotAt, type Held } from './anchorSpot';
import { axesOf, turnedWithFace, type Axes } from './anchorTurn';
import type { Piece } from './schema';

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
  return { of, picks, at: middleAlong(pointsOf(mesh, selection), axesOf(facing)) };
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
  const warnings: Warning[] = [];
  const name = piece.name ?? piece.id;
  const { transform: t, turned } = turnedWithFace(host, piece);
  let shift: Vec3 = [0, 0, 0];
  const held: Vec3[] = [];
  const distances: Array<{ facing: Vec3; by: number }> = [];
  const spans: Span[] = [];
  let lost = false;
  /** The place on the face that a distance is held from too; it gives way to whatever else is held. */
  const isPlace = (a: Anchor): boolean =>
    a.hold === 'centre' &&
    piece.anchors!.some((d) => d.hold === 'distance' && dot(d.facing, a.facing) > 1 - SAME_WAY);
  const follow = (before: Anchor): Anchor => {
    const { anchor: a, axes } = turned(before);
    const now = a.to.map((target) => found(host, target, axes));
    if (now.some((at) => at === null)) {
      lost = true;
      return a;
    }
    const moved = scale(a.to.reduce((sum: Vec3, { at }, i) => add(sum, sub(now[i]!, at)), [0, 0, 0]), 1 / a.to.length); // prettier-ignore
    const [u, v, normal] = axes;
    for (const along of a.hold === 'centre' ? [u, v] : [normal]) {
      const rest = held.reduce((d, h) => addScaled(d, h, -dot(d, h)), along);
      const amount = dot(moved, along) - dot(shift, along);
      if (length(rest) < SAME_WAY) {
        const across =
          a.hold === 'distance' && distances.find((d) => dot(d.facing, a.facing) < -1 + SAME_WAY);
        if (across) spans.push({ facing: across.facing, longer: across.by + dot(moved, a.facing) });
        else if (Math.abs(amount) > STILL && !isPlace(before))
          warnings.push(warn('anchored-twice', `“${name}” cannot hold all of its anchors: two of them ask for different places along one direction.`)); // prettier-ignore
        continue;
      }
      const way = unit(rest);
      shift = addScaled(shift, way, amount / length(rest));
      if (a.hold === 'distance') distances.push({ facing: a.facing, by: dot(moved, a.facing) });
      held.push(way);
    }
    // From here on its place is measured along the axes that belong to the new facing.
    const placed = a === before ? now : a.to.map((target) => found(host, target, axesOf(a.facing)));
    return { ...a, to: a.to.map((target, i) => ({ ...target, at: placed[i]! })) };
  };
  const all = piece.anchors ?? [];
  const followed = new Map<Anchor, Anchor>();
  for (const a of [...all.filter((a) => !isPlace(a)), ...all.filter(isPlace)]) followed.set(a, follow(a));
  const anchors = piece.anchors && all.map((a) => followed.get(a)!);
  if (lost)
    warnings.push(warn('anchor-lost', `What “${name}” was anchored to is not there any more; it stays where it was.`)); // prettier-ignore
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
function found(mesh: PolyMesh, { of, picks }: AnchorTarget, axes: Axes): Vec3 | null {
  const { selection } = findBorn(mesh, { of, picks });
  if (!selection.indices.length) return null;
  return middleAlong(pointsOf(mesh, selection), axes);
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

/** The middle of the least box around points that stands along some axes: holes do not move it. */
function middleAlong(points: Vec3[], axes: Axes): Vec3 {
  return axes.reduce(
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
