/** First values that suit how the model is looked at: round lengths, and directions in the frame of a piece in hand. */
import type { OpenScene } from '../state/OpenScene';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { invert } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { pickedSize, shortestGap } from '@urnsmith/core/select/pickedSize';
import { inHand } from '../state/inHand';
import { piecesById } from '../state/selectors';

/** The view is at most about this many times as large as the piece. */
const ROOM = 5;

/** A round number near a share of the size of what is seen, mm, and no more than suits what is picked. */
export function roundShare(scene: OpenScene, share: number, each = false): number {
  const seen = scene.stage?.rig.distance ?? 100;
  const size = Math.min(seen, ROOM * sizeInHand(scene, each)) * share;
  const power = 10 ** Math.floor(Math.log10(size));
  return Number(([1, 2, 5, 10].find((k) => k * power >= size * 0.8)! * power).toPrecision(6));
}

/** How large what is picked is, mm; Infinity where nothing is. */
function sizeInHand(scene: OpenScene, each: boolean): number {
  const hand = inHand(scene);
  const cage = hand && scene.builds.get(hand.piece.id)?.cage;
  if (!cage) return Infinity;
  const size = pickedSize({ ...cage.shape, positions: cage.positions }, hand.selection, each);
  return size > 0 ? size : Infinity;
}

/** The shortest distance between two picked points that no edge joins, mm; null where there are no such two. */
export function gapOf(scene: OpenScene): number | null {
  const hand = inHand(scene);
  const cage = hand && scene.builds.get(hand.piece.id)?.cage;
  if (!cage || hand.selection.kind !== 'vertex') return null;
  return shortestGap({ ...cage.shape, positions: cage.positions }, hand.selection.indices);
}

/** A direction of the world in the frame of a piece, unit length. */
function inPiece(scene: OpenScene, id: string, x: number, y: number, z: number): Vec3 {
  const back = invert(worldMatrix(piecesById(scene.store.getState()), id));
  const d = [0, 1, 2].map((k) => back[k] * x + back[4 + k] * y + back[8 + k] * z);
  const l = Math.hypot(...d);
  return d.map((q) => Number((q / l).toFixed(9)) + 0) as Vec3;
}

/** The peg's axis; straight up without a peg. */
export const pegAxis = (scene: OpenScene, id: string): Vec3 => {
  const m = scene.store.getState().view.peg;
  return m ? inPiece(scene, id, m[4], m[5], m[6]) : inPiece(scene, id, 0, 1, 0);
};

export const towardEye = (scene: OpenScene, id: string): Vec3 => {
  const back = scene.stage?.rig.back;
  return back ? inPiece(scene, id, back.x, back.y, back.z) : inPiece(scene, id, 0, 0, 1);
};

export const rightOfView = (scene: OpenScene, id: string): Vec3 => {
  const rig = scene.stage?.rig;
  if (!rig) return inPiece(scene, id, 1, 0, 0);
  const [right] = rig.axes();
  return inPiece(scene, id, right.x, right.y, right.z);
};
