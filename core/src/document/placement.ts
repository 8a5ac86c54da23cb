/** World matrices of pieces: each piece's transform inside its parent's. */
import { multiply, transformMatrix, type Matrix, type Transform } from '../mesh/transform';
import type { Piece } from './schema';
import type { PieceTransform } from '../schema/transform';

/** The transform with its defaults. */
export const completeTransform = (t: PieceTransform | undefined): Transform => ({
  move: (t?.move ?? [0, 0, 0]) as Transform['move'],
  turn: (t?.turn ?? [0, 0, 0]) as Transform['turn'],
  size: (t?.size ?? [1, 1, 1]) as Transform['size'],
});

/** The matrix from a piece's own frame to the world. */
export function worldMatrix(byId: ReadonlyMap<string, Piece>, id: string): Matrix {
  let out: Matrix | null = null;
  for (let p = byId.get(id); p; p = p.parent === undefined ? undefined : byId.get(p.parent)) {
    const own = transformMatrix(completeTransform(p.transform));
    out = out ? multiply(own, out) : own;
  }
  return out!;
}
