/** Places of a piece brought into view. */
import { Box3, Vector3 } from 'three';
import type { Piece } from '@urnsmith/core/document/schema';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { applyMatrix } from '@urnsmith/core/mesh/transform';
import type { OpenScene } from '../../state/OpenScene';
import { piecesById } from '../../state/selectors';

/** Brings lines of a piece into view. @param around space on every side, as a share of how long they are */
export function bringIntoView(scene: OpenScene, piece: Piece, lines: Float64Array, around = 1): void {
  const { stage } = scene;
  if (!stage) return;
  const matrix = worldMatrix(piecesById(scene.store.getState()), piece.id);
  const box = new Box3();
  for (let i = 0; i < lines.length; i += 3)
    box.expandByPoint(new Vector3(...applyMatrix(matrix, lines.subarray(i, i + 3))));
  stage.bringIntoView(box.expandByScalar(around * box.getSize(new Vector3()).length()));
}
