/** Distances from a drawn cut to the sides of its face, on the model. */
import { shiftCut } from '../hands/cutDrawing';
import { distancesOnFace } from '../hands/cutState';
import type { ModeOf } from '../state/mode';
import { useApp } from '../state/store';
import { useScene } from '../state/useScene';
import { SideHandles } from '../hands/SideHandles';
import type { Stage } from '../viewport/Stage';

export function CutDistances({ mode, stage }: { mode: ModeOf<'cut'>; stage: Stage }) {
  const scene = useScene();
  const settings = useApp((s) => s.settings.cut);
  if (!mode.frame || !mode.host) return null;
  return (
    <SideHandles
      stage={stage}
      piece={mode.host}
      of="the drawing"
      frame={mode.frame}
      distances={distancesOnFace(mode, settings)}
      passes
      onShift={(axis, by) => shiftCut(scene, axis, by)}
    />
  );
}
