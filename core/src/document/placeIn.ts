/** The placement of a piece in another frame, such as a seated grid's, and the way back. */
import { applyMatrix, invert, multiply, transformMatrix, transformOf, type Matrix } from '../mesh/transform';
import type { Vec3 } from '../mesh/vec3';
import { completeTransform, worldMatrix } from './placement';
import type { Piece } from './schema';

type Pieces = ReadonlyMap<string, Piece>;

const within = (byId: Pieces, piece: Piece): Matrix =>
  piece.parent !== undefined && byId.has(piece.parent)
    ? worldMatrix(byId, piece.parent)
    : transformMatrix(completeTransform(undefined));

/** Hides what arithmetic left behind the eighth digit. */
const tidy = (v: readonly number[]): Vec3 => v.map((x) => Number(x.toFixed(8)) + 0) as Vec3;

/** Move, mm, and turn, degrees, of a piece in a frame of the world. */
export function placeIn(frame: Matrix, byId: Pieces, piece: Piece): { move: Vec3; turn: Vec3 } {
  const own = multiply(within(byId, piece), transformMatrix(completeTransform(piece.transform)));
  const { move, turn } = transformOf(multiply(invert(frame), own));
  return { move: tidy(move), turn: tidy(turn) };
}

/** The piece moved or turned so that it stands by these numbers in the frame; its size, and the other of the two, stay. */
export function putIn(frame: Matrix, byId: Pieces, piece: Piece, part: 'move' | 'turn', to: Vec3): Piece {
  const back = invert(within(byId, piece));
  const before = completeTransform(piece.transform);
  if (part === 'move')
    return { ...piece, transform: { ...before, move: tidy(applyMatrix(back, applyMatrix(frame, to))) } };
  const { move } = placeIn(frame, byId, piece);
  const wanted = multiply(frame, transformMatrix({ move, turn: to, size: [1, 1, 1] }));
  return { ...piece, transform: { ...before, turn: tidy(transformOf(multiply(back, wanted)).turn) } };
}
