/** Distances of a drawn cut on its face, on the Card. */
import { boxOfDrawn } from '@urnsmith/core/document/drawnCut';
import { shiftCut } from '../hands/cutDrawing';
import { composed, distancesOnFace } from '../hands/cutState';
import { FaceFields } from '../hands/FaceFields';
import type { ModeOf } from '../state/mode';
import { useApp } from '../state/store';
import { useScene } from '../state/useScene';

export function OnFace({ mode: d }: { mode: ModeOf<'cut'> }) {
  const scene = useScene();
  const c = useApp((s) => s.settings.cut);
  if (!d.frame || !d.sides || !d.hover) return null;
  return (
    <FaceFields
      title="On the face"
      frame={d.frame}
      sides={d.sides}
      middle={d.stage === 'aim' ? d.hover : boxOfDrawn(composed(d, c)).middle}
      distances={distancesOnFace(d, c)}
      onShift={(axis, by) => shiftCut(scene, axis, by)}
    />
  );
}
