/** World matrices of pieces: each piece's transform inside its parent's. */
import { multiply, transformMatrix, type Matrix, type Transform } from '../mesh/transform';
import type { Piece, PieceTransform } from './schema';

/** The transform with its defaults. */
export const completeTransform = (t: PieceTransform | undefined): Transform => ({
  move: (t?.move ?? [0, 0, 0]) as Transform['move'],
  turn: (t?.turn ?? [0, 0, 0]) as Transform['turn'],
  size: (t?.size ?? [1, 1, 1]) as Transform['size'],
});

/** The matrix from a piece's own frame to the world. */
export function worldMatrix(byId: ReadonlyMap<string, Piece>, id: string): Matrix {
  const p = byId.get(id)!;
  const own = transformMatrix(completeTransform(p.transform));
  return p.parent !== undefined && byId.has(p.parent) ? multiply(worldMatrix(byId, p.parent), own) : own;
}
