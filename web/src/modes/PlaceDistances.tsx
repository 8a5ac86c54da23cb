/** Distances from what hangs on the pointer to the sides of its face, on the model. */
import { sideDistances } from '../hands/cutState';
import { shiftPlaced } from '../hands/placeAgain';
import { SideHandles } from '../hands/SideHandles';
import type { ModeOf } from '../state/mode';
import { useScene } from '../state/useScene';
import type { Stage } from '../viewport/Stage';

export function PlaceDistances({ mode, stage }: { mode: ModeOf<'place'>; stage: Stage }) {
  const scene = useScene();
  const { at, face } = mode;
  if (!at || !face?.sides) return null;
  return (
    <SideHandles
      stage={stage}
      piece={at.host}
      of={mode.piece === null ? 'the hole' : 'the piece'}
      frame={at.frame}
      distances={sideDistances(face.sides, at.place, [0, 0])}
      passes
      onShift={(axis, by) => shiftPlaced(scene, axis, by)}
    />
  );
}
