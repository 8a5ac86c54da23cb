/** Distances of a drawn cut on its face, on the Card: to the sides around it, and from the middle. */
import { boxOfDrawn } from '@urnsmith/core/document/drawnCut';
import { middleOfLoops } from '@urnsmith/core/select/faceSides';
import { shiftCut } from '../hands/cutDrawing';
import { composed, distancesOnFace } from '../hands/cutState';
import { sideOf, shown } from '../hands/SideHandles';
import type { ModeOf } from '../state/mode';
import { useApp } from '../state/store';
import { useScene } from '../state/useScene';
import { NumberField } from '../ui/NumberField';

const RANGE = { unit: 'mm', minimum: -100000, maximum: 100000, step: 0.5 };

export function OnFace({ mode: d }: { mode: ModeOf<'cut'> }) {
  const scene = useScene();
  const c = useApp((s) => s.settings.cut);
  if (!d.frame || !d.sides || !d.hover) return null;
  const at = d.stage === 'aim' ? d.hover : boxOfDrawn(composed(d, c)).middle;
  const middle = middleOfLoops(d.sides);
  return (
    <div role="group" aria-label="On the face">
      <div className="head sub">
        <b>On the face</b>
      </div>
      {distancesOnFace(d, c).map((x) => {
        const side = sideOf(d.frame!, x);
        return (
          <NumberField
            key={`${x.axis}${x.way}`}
            label={`From the ${side}`}
            value={shown(x.value)}
            {...RANGE}
            onCommit={(v) => shiftCut(scene, x.axis, x.way * (x.value - v))}
          />
        );
      })}
      {([0, 1] as const).map((axis) => {
        const side = sideOf(d.frame!, { axis, way: 1, value: 0, from: at, to: at });
        const off = at[axis] - middle[axis];
        return (
          <NumberField
            key={axis}
            label={`From the middle, ${side}`}
            value={shown(off)}
            {...RANGE}
            onCommit={(v) => shiftCut(scene, axis, v - off)}
          />
        );
      })}
    </div>
  );
}
