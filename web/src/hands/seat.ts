/** How a piece sits on a face: the same there as on the next one. */
import { Matrix4, Vector3 } from 'three';
import { namedOperands } from '@urnsmith/core/document/graph';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { transformOf, type Matrix } from '@urnsmith/core/mesh/transform';
import type { OpenScene } from '../state/OpenScene';
import { piecesById } from '../state/selectors';
import type { Stage } from '../viewport/Stage';
import { frameAlong } from './facePlane';

/** Its turn and size to the frame of the face it sits on, and how high its origin stands over that, mm. */
export interface Seat {
  rel: Matrix;
  up: number;
}

/** How far a piece reaches below its origin, against a direction, mm in the world. */
function footOf(scene: OpenScene, piece: Piece, world: Matrix4, out: Vector3): number {
  const positions = scene.builds.get(piece.id)?.display?.positions;
  if (!positions?.length) return 0;
  const origin = new Vector3().setFromMatrixPosition(world).dot(out);
  const at = new Vector3();
  let least = Infinity;
  for (let i = 0; i < positions.length; i += 3)
    least = Math.min(least, at.fromArray(positions, i).applyMatrix4(world).dot(out));
  return Number((origin - least).toFixed(6)) + 0;
}

/** How a piece sits on the face below or around it; one that is on none stands on it by its lowest place. */
export function seatOf(scene: OpenScene, stage: Stage, piece: Piece): Seat {
  const byId = piecesById(scene.store.getState());
  const world = new Matrix4().fromArray(worldMatrix(byId, piece.id));
  const out = new Vector3().setFromMatrixColumn(world, 1).normalize();
  const origin = new Vector3().setFromMatrixPosition(world);
  const hostId = piece.parent ?? [...byId.values()].find((p) => namedOperands(p).includes(piece.id))?.id;
  const frame = frameAlong(byId, hostId ?? piece.id, out, origin);
  const size = new Vector3(...transformOf(world.toArray() as Matrix).size);
  const turned = new Matrix4().extractRotation(new Matrix4().fromArray(frame)).invert().multiply(new Matrix4().extractRotation(world)); // prettier-ignore
  return {
    rel: turned.scale(size).toArray() as Matrix,
    up: hostId ? heightOver(stage, hostId, piece.id, origin, out, frame) : footOf(scene, piece, world, out),
  };
}

/** How high a place stands over the face around it, found just beside the piece. */
function heightOver(
  stage: Stage,
  host: string,
  piece: string,
  origin: Vector3,
  out: Vector3,
  frame: Matrix,
): number {
  const span = stage.bounds([piece]).getSize(new Vector3());
  const far = 2 * stage.bounds([host, piece]).getSize(new Vector3()).length();
  const heights: number[] = [];
  for (let k = 0; k < 8; k++) {
    const angle = (k * Math.PI) / 4;
    const dir = new Vector3(Math.cos(angle), 0, Math.sin(angle)).transformDirection(
      new Matrix4().fromArray(frame),
    );
    const reach = 0.55 * Math.abs(span.dot(new Vector3(Math.abs(dir.x), Math.abs(dir.y), Math.abs(dir.z))));
    const from = origin.clone().addScaledVector(dir, reach).addScaledVector(out, far);
    const [hit] = stage.along(host, from, out.clone().negate());
    if (hit !== undefined) heights.push(hit - far);
  }
  heights.sort((a, b) => a - b);
  return heights.length ? Number(heights[heights.length >> 1].toFixed(6)) + 0 : 0;
}
