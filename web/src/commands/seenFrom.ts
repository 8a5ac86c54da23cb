/** First values that suit how the model is looked at: round lengths, and directions in the frame of the piece in hand. */
import { worldMatrix } from '@urnsmith/core/document/placement';
import { invert } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { piecesById } from '../state/selectors';
import { store } from '../state/store';
import { currentStage } from './stage';

/** A round number near a share of the size of what is seen, mm. */
export function roundShare(share: number): number {
  const size = (currentStage()?.rig.distance ?? 100) * share;
  const power = 10 ** Math.floor(Math.log10(size));
  return Number(([1, 2, 5, 10].find((k) => k * power >= size * 0.8)! * power).toPrecision(6));
}

/** A direction of the world in the frame of the piece in hand, unit length. */
function inPiece(x: number, y: number, z: number): Vec3 {
  const back = invert(worldMatrix(piecesById(store.getState()), store.getState().bench.active!));
  const d = [0, 1, 2].map((k) => back[k] * x + back[4 + k] * y + back[8 + k] * z);
  const l = Math.hypot(...d);
  return d.map((q) => Number((q / l).toFixed(9)) + 0) as Vec3;
}

/** The peg's axis; straight up without a peg. */
export const pegAxis = (): Vec3 => {
  const m = store.getState().bench.peg;
  return m ? inPiece(m[4], m[5], m[6]) : inPiece(0, 1, 0);
};

export const towardEye = (): Vec3 => {
  const back = currentStage()?.rig.back;
  return back ? inPiece(back.x, back.y, back.z) : inPiece(0, 0, 1);
};

export const rightOfView = (): Vec3 => {
  const rig = currentStage()?.rig;
  if (!rig) return inPiece(1, 0, 0);
  const [right] = rig.axes();
  return inPiece(right.x, right.y, right.z);
};
