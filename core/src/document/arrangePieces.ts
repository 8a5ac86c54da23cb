/** Placing whole pieces: settling a placement into the mesh, moving a pivot, repeating an offset. */
import { applyMatrix, invert, multiply, transformMatrix, transformOf, type Matrix } from '../mesh/transform';
import type { Vec3 } from '../mesh/vec3';
import type { Action } from '../actions/actions';
import { completeTransform, worldMatrix } from './placement';
import type { Piece } from './schema';

const inParent = (byId: ReadonlyMap<string, Piece>, p: Piece, world: Matrix): Matrix =>
  p.parent ? multiply(invert(worldMatrix(byId, p.parent)), world) : world;

/** The piece placed in the world; kept inside its parent. */
export function placedAt(byId: ReadonlyMap<string, Piece>, p: Piece, world: Matrix): Piece {
  return { ...p, transform: transformOf(inParent(byId, p, world)) };
}

/** Sizes along the axes differ: steps measured in millimetres would come out uneven. */
export function isUneven(p: Piece): boolean {
  const [x, y, z] = completeTransform(p.transform).size.map(Math.abs);
  return Math.max(x, y, z) > Math.min(x, y, z) * (1 + 1e-9);
}

/**
 * Turns the parts of a placement into the mesh, by an action on all its points; what is nested in the piece stays
 * where it is in the world. A size that mirrors turns the faces over, so that they look outward again.
 * @param parts which of turn and size (and move) to settle
 */
export function settlePlacement(
  pieces: ReadonlyArray<Piece>,
  id: string,
  parts: ReadonlyArray<'move' | 'turn' | 'size'>,
): Piece[] {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const piece = byId.get(id)!;
  const t = completeTransform(piece.transform);
  const none = { move: [0, 0, 0] as Vec3, turn: [0, 0, 0] as Vec3, size: [1, 1, 1] as Vec3 };
  const kept = { ...t, ...Object.fromEntries(parts.map((k) => [k, none[k]])) };
  // The rest of the placement, without the kept part, goes into the points.
  const settled = multiply(invert(transformMatrix(kept)), transformMatrix(t));
  const actions: Action[] = [...((piece.actions ?? []) as Action[]), ...matrixActions(settled)];
  const after = { ...piece, actions, transform: kept };
  const next = new Map(byId).set(id, after);
  return pieces.map((p) => {
    if (p.id === id) return after;
    return p.parent === id ? placedAt(next, p, worldMatrix(byId, p.id)) : p;
  });
}

/**
 * Puts a piece's pivot, the origin of its frame, at a place in the world; nothing of it moves, nor what is nested in it.
 */
export function pivotMoved(pieces: ReadonlyArray<Piece>, id: string, to: Vec3): Piece[] {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const piece = byId.get(id)!;
  const world = worldMatrix(byId, id);
  const local = applyMatrix(invert(world), to);
  const [x, y, z] = local;
  const placed = placedAt(byId, piece, multiply(world, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1]));
  const shift: Action = {
    op: 'transform',
    select: all,
    about: 'point',
    point: [0, 0, 0],
    move: local.map((q) => -q),
  };
  const after =
    'group' in piece.base ? placed : { ...placed, actions: [...((piece.actions ?? []) as Action[]), shift] };
  const next = new Map(byId).set(id, after);
  return pieces.map((p) => {
    if (p.id === id) return after;
    return p.parent === id ? placedAt(next, p, worldMatrix(byId, p.id)) : p;
  });
}

const all = { rule: 'all' as const, of: 'points' as const };

function matrixActions(m: Matrix): Action[] {
  const { move, turn, size } = transformOf(m);
  const out: Action[] = [
    { op: 'transform', select: all, about: 'point', point: [0, 0, 0], move, turn, size },
  ];
  if (size[0] * size[1] * size[2] < 0) out.push({ op: 'turnOver', select: { rule: 'all', of: 'faces' } });
  return out;
}

/** The matrix that leads from one piece's place to another's. */
export function offsetBetween(byId: ReadonlyMap<string, Piece>, from: string, to: string): Matrix {
  return multiply(worldMatrix(byId, to), invert(worldMatrix(byId, from)));
}
