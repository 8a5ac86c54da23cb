/** The place of a cutter on the face it holds to: what runs around that face, and how far its sides are. */
import { Matrix4, Vector3 } from 'three';
import { entryOf } from '@urnsmith/core/document/drawnDepth';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { applyMatrix, invert, multiply, type Matrix } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import type { FaceSides, FlatLoops } from '@urnsmith/core/select/faceSides';
import { sideDistances, type SideDistance } from './cutState';
import { frameAlong } from './facePlane';

export interface Standing {
  /** Of the face, in the world: Y out of it. */
  frame: Matrix;
  sides: FlatLoops;
  /** The middle of the cutter on the face, and half its size there, in X and Z of the frame. */
  middle: [number, number];
  half: [number, number];
  distances: SideDistance[];
}

/**
 * @param sides of the face, in the host's frame
 * @param positions of the cutter's mesh, in its own frame
 */
export function standingOf(
  byId: ReadonlyMap<string, Piece>,
  piece: Piece,
  host: Piece,
  { loops }: FaceSides,
  positions: ArrayLike<number>,
): Standing | null {
  const entry = entryOf(piece);
  if (!entry) return null;
  const own = new Matrix4().fromArray(worldMatrix(byId, host.id));
  const up = new Vector3(...entry.facing).transformDirection(own);
  const frame = frameAlong(byId, host.id, up, new Vector3(...entry.to[0].at).applyMatrix4(own));
  const fromHost = multiply(invert(frame), own.toArray() as Matrix);
  const sides = loops.map((loop) =>
    loop.map((p): [number, number] => {
      const [x, , z] = applyMatrix(fromHost, p);
      return [x, z];
    }),
  );
  const fromPiece = multiply(invert(frame), worldMatrix(byId, piece.id));
  const [low, high]: [Vec3, Vec3] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (let i = 0; i < positions.length; i += 3)
    applyMatrix(fromPiece, [positions[i], positions[i + 1], positions[i + 2]]).forEach((x, k) => {
      low[k] = Math.min(low[k], x);
      high[k] = Math.max(high[k], x);
    });
  const middle: [number, number] = [(low[0] + high[0]) / 2, (low[2] + high[2]) / 2];
  const half: [number, number] = [(high[0] - low[0]) / 2, (high[2] - low[2]) / 2];
  const measured: [number, number] = isRound(piece) ? [0, 0] : half;
  return { frame, sides, middle, half, distances: sideDistances(sides, middle, measured) };
}

/** Round cutters are dimensioned to their centre, as in a shop drawing. */
const isRound = ({ base, steps }: Piece): boolean =>
  'primitive' in base && (base.primitive === 'cylinder' || base.primitive === 'prism') && !steps?.length;

/** A piece moved along an axis of a face it stands on by so much, mm in the world. @param axis 0 for X, 1 for Z */
export function shiftedOnFace(
  byId: ReadonlyMap<string, Piece>,
  piece: Piece,
  frame: Matrix,
  axis: 0 | 1,
  by: number,
): Piece {
  const k = 8 * axis;
  const parent = piece.parent === undefined ? null : new Matrix4().fromArray(worldMatrix(byId, piece.parent));
  const way = new Vector3(frame[k], frame[k + 1], frame[k + 2]).multiplyScalar(by);
  // A direction, so the parent's place does not count.
  if (parent) {
    const zero = new Vector3().applyMatrix4(parent.clone().invert());
    way.applyMatrix4(parent.invert()).sub(zero);
  }
  const [x, y, z] = piece.transform?.move ?? [0, 0, 0];
  const move = [x + way.x, y + way.y, z + way.z].map((c) => Number(c.toFixed(6)) + 0) as Vec3;
  return { ...piece, transform: { ...piece.transform, move } };
}
