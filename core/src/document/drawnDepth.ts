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

/** A base that is straight along Y between two ends. */
interface Straight {
  height: number;
  /** Its lower end, along its Y from its origin, mm. */
  low: number;
}

function straightBase({ base, actions }: Piece): Straight | null {
  if (actions?.length || !('primitive' in base)) return null;
  const { height, origin } = base as { height?: number; origin?: string };
  return height === undefined ? null : { height, low: origin === 'foot' ? 0 : -height / 2 };
}

/** How far a cutter's lower end lies under the face it goes in by, mm; null where its base has no two ends. */
export function depthOf(piece: Piece, entry: Anchor): number | null {
  const base = straightBase(piece);
  if (!base) return null;
  const end = applyMatrix(transformMatrix(completeTransform(piece.transform)), [0, base.low, 0]);
  return dot(entry.to[0].at, entry.facing) - dot(end, entry.facing);
}

/** The cutter so much deeper, mm, its upper end where it was; null where its base has no height, or none would be left. */
export function deeper(piece: Piece, entry: Anchor, by: number): Piece | null {
  const before = straightBase(piece);
  if (!before) return null;
  const base = piece.base as Primitive;
  const t = completeTransform(piece.transform);
  const height = Number((before.height + by / Math.abs(t.size[1])).toFixed(9));
  const { minimum = 0, maximum = Infinity } = PRIMITIVES[base.primitive].schema.properties.height as {
    minimum?: number;
    maximum?: number;
  };
  if (!(height >= minimum && height <= maximum)) return null;
  const move = addScaled(t.move, entry.facing, by * (before.low ? -0.5 : -1));
  return { ...piece, base: { ...base, height } as Primitive, transform: { ...t, move } };
}
