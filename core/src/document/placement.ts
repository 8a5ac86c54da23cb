/** Matrices of pieces: each piece's transform stands inside its parent's. */
import { IDENTITY, invert, multiply, transformMatrix, type Matrix, type Transform } from '../mesh/transform';
import type { Piece } from './schema';
import type { PieceTransform } from '../schema/transform';

/** The transform with its defaults. */
export const completeTransform = (t: PieceTransform | undefined): Transform => ({
  move: (t?.move ?? [0, 0, 0]) as Transform['move'],
  turn: (t?.turn ?? [0, 0, 0]) as Transform['turn'],
  size: (t?.size ?? [1, 1, 1]) as Transform['size'],
});

/** The matrix from a piece's own frame to the world. */
export const worldMatrix = (byId: ReadonlyMap<string, Piece>, id: string): Matrix => matrixUpTo(byId, id);

/** The matrix from a piece's own frame to that of one that carries it; to the world where none is given. */
function matrixUpTo(byId: ReadonlyMap<string, Piece>, id: string, carrier?: string): Matrix {
  let out: Matrix = IDENTITY;
  let inner = true;
  for (
    let p = byId.get(id);
    p && p.id !== carrier;
    p = p.parent === undefined ? undefined : byId.get(p.parent)
  ) {
    const own = transformMatrix(completeTransform(p.transform));
    out = inner ? own : multiply(own, out);
    inner = false;
  }
  return out;
}

/**
 * The matrix from a piece's own frame to another's. It is made only of the placements between the two, up to the first
 * parent they share, so moving what carries both leaves it the same to the bit. Where the other piece has a placement
 * of its own in between, the product is rounded to 1e-11 mm: moving both by the same distance leaves it the same too.
 * @throws RangeError where the other piece is flattened by a size of zero
 */
export function matrixBetween(byId: ReadonlyMap<string, Piece>, from: string, to: string): Matrix {
  const carriers = new Set(carriersOf(byId, to));
  const shared = carriersOf(byId, from).find((id) => carriers.has(id));
  const up = matrixUpTo(byId, from, shared);
  return shared === to ? up : multiply(invert(matrixUpTo(byId, to, shared)), up).map(rounded);
}

const rounded = (x: number, at: number): number => {
  const steps = at < 12 ? 1e14 : 1e11;
  return Math.round(x * steps) / steps + 0;
};

/** The piece, its parent, that one's parent, and so on. */
function carriersOf(byId: ReadonlyMap<string, Piece>, id: string): string[] {
  const out: string[] = [];
  for (let p = byId.get(id); p; p = p.parent === undefined ? undefined : byId.get(p.parent)) out.push(p.id);
  return out;
}
