/** First values that suit how the model is looked at: round lengths, and directions in the frame of the piece in hand. */
import type { OpenScene } from '../scene/OpenScene';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { invert } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { piecesById } from '../state/selectors';

/** A round number near a share of the size of what is seen, mm. */
export function roundShare(scene: OpenScene, share: number): number {
  const size = (scene.stage?.rig.distance ?? 100) * share;
  const power = 10 ** Math.floor(Math.log10(size));
  return Number(([1, 2, 5, 10].find((k) => k * power >= size * 0.8)! * power).toPrecision(6));
}

/** A direction of the world in the frame of the piece in hand, unit length. */
function inPiece(scene: OpenScene, x: number, y: number, z: number): Vec3 {
  const back = invert(worldMatrix(piecesById(scene.store.getState()), scene.store.getState().bench.active!));
  const d = [0, 1, 2].map((k) => back[k] * x + back[4 + k] * y + back[8 + k] * z);
  const l = Math.hypot(...d);
  return d.map((q) => Number((q / l).toFixed(9)) + 0) as Vec3;
}

/** The peg's axis; straight up without a peg. */
export const pegAxis = (scene: OpenScene): Vec3 => {
  const m = scene.store.getState().bench.peg;
  return m ? inPiece(scene, m[4], m[5], m[6]) : inPiece(scene, 0, 1, 0);
};

export const towardEye = (scene: OpenScene): Vec3 => {
  const back = scene.stage?.rig.back;
  return back ? inPiece(scene, back.x, back.y, back.z) : inPiece(scene, 0, 0, 1);
};

export const rightOfView = (scene: OpenScene): Vec3 => {
  const rig = scene.stage?.rig;
  if (!rig) return inPiece(scene, 1, 0, 0);
  const [right] = rig.axes();
  return inPiece(scene, right.x, right.y, right.z);
};
