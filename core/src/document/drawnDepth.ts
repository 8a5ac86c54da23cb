/** The depth of a cutter under the face it goes in by: how far its lower end is from there, and the cutter made deeper. */
import { PRIMITIVES, type Primitive } from '../primitives';
import { applyMatrix, transformMatrix } from '../mesh/transform';
import { addScaled, dot, unit, type Vec3 } from '../mesh/vec3';
import type { Anchor } from '../select/anchor';
import { completeTransform } from './placement';
import type { Piece } from './schema';

/** Directions nearer to each other than this, as a cosine, are the same. */
const ALONG = 1 - 1e-6;

const upOf = (piece: Piece): Vec3 => {
  const m = transformMatrix(completeTransform(piece.transform));
  return unit([m[4], m[5], m[6]]);
};

/** The anchor to the face a cutter goes in by, square to it and out of it along its Y; null where it has none. */
export function entryOf(piece: Piece): Anchor | null {
  const up = upOf(piece);
  const square = (a: Anchor): boolean =>
    a.hold === 'distance' && a.to[0].of === 'faces' && dot(a.facing, up) > ALONG;
  return piece.anchors?.find(square) ?? null;
}

/**
 * How far a cutter's lower end lies under the face it goes in by, mm.
 * @param positions of its mesh, in its own frame
 */
export function depthOf(piece: Piece, entry: Anchor, positions: ArrayLike<number>): number {
  const m = transformMatrix(completeTransform(piece.transform));
  let least = Infinity;
  for (let i = 0; i < positions.length; i += 3)
    least = Math.min(
      least,
      dot(applyMatrix(m, [positions[i], positions[i + 1], positions[i + 2]]), entry.facing),
    );
  return dot(entry.to[0].at, entry.facing) - least;
}

/** The cutter so much deeper, mm, its upper end where it was; null where its base has no height, or none would be left. */
export function deeper(piece: Piece, entry: Anchor, by: number): Piece | null {
  if (piece.actions?.length || !('primitive' in piece.base)) return null;
  const base = piece.base as Primitive & { height?: number; origin?: string };
  if (base.height === undefined) return null;
  const t = completeTransform(piece.transform);
  const height = Number((base.height + by / Math.abs(t.size[1])).toFixed(9));
  const { minimum = 0, maximum = Infinity } = PRIMITIVES[base.primitive].schema.properties.height as {
    minimum?: number;
    maximum?: number;
  };
  if (!(height >= minimum && height <= maximum)) return null;
  const share = base.origin === 'foot' ? 1 : 0.5;
  const move = addScaled(t.move, entry.facing, -by * share);
  return { ...piece, base: { ...base, height } as Primitive, transform: { ...t, move } };
}
