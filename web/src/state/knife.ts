/** The knife in hand: its line is drawn click by click, and cuts when it is finished. */
import { Matrix4, Vector3 } from 'three';
import type { Stage } from '../viewport/Stage';
import { bench } from './benchSlice';
import { act, inHand } from './elements';
import { store } from './store';

export function takeKnife(): void {
  if (inHand()) store.dispatch(bench.knifeDrawn([]));
}

export function putKnifeAway(): void {
  store.dispatch(bench.knifeDrawn(null));
}

/** Cuts along the line as it is seen now. */
export async function finishKnife(stage: Stage, closed = false): Promise<void> {
  const { knife, elements } = store.getState().bench;
  const cage = stage.cage.cage;
  store.dispatch(bench.knifeDrawn(null));
  if (!knife || knife.length < 2 || !cage) return;
  const back = stage.rig.back.clone();
  const inverse = new Matrix4().copy(stage.cage.group.matrix).invert();
  const view = back.negate().transformDirection(inverse);
  const eye = new Vector3().setFromMatrixPosition(stage.rig.camera.matrixWorld).applyMatrix4(inverse);
  const faces = {
    kind: 'face' as const,
    indices: Array.from({ length: cage.shape.faceStart.length - 1 }, (_, f) => f),
  };
  await act(
    'knife',
    {
      path: knife,
      view: view.toArray(),
      ...(stage.rig.parallel ? {} : { eye: eye.toArray() }),
      ...(closed ? { closed } : {}),
      ...(elements.through ? { through: true } : {}),
    },
    faces,
  );
}
