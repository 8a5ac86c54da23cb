/** With nothing selected: the grid and snapping, and how to begin. */
import { NumberField } from '../../ui/NumberField';
import { settingActions } from '../../state/settingSlice';
import { useAct, useApp } from '../../state/store';
import { SnapSettings } from './SnapSettings';

export function ToolCard() {
  const act = useAct();
  const gridStep = useApp((s) => s.settings.gridStep);
  const empty = useApp((s) => s.document.pieces.length === 0);
  const angleStep = useApp((s) => s.settings.angleStep);
  return (
    <>
      <div className="head">
        <b>Working grid</b>
      </div>
      <NumberField
        label="Grid step"
        value={gridStep}
        unit="mm"
        minimum={0.01}
        maximum={1000}
        onCommit={(v) => act(settingActions.gridStepSet(v))}
      />
      <NumberField
        label="Angle step"
        value={angleStep}
        unit="°"
        minimum={0.1}
        maximum={180}
        onCommit={(v) => act(settingActions.angleStepSet(v))}
      />
      <SnapSettings />
      <p className="dim pad">Ctrl inverts snapping for one drag.</p>
      <div className="head sub">
        <b>Nothing selected</b>
      </div>
      <p className="dim pad">
        {empty
          ? 'Start with a box or a cylinder. With it selected, “Put holes in it”, or the + of the Cut lane above, hangs a hole on the pointer: click where it should be. Then round the rims, the edges that cuts make.'
          : 'Click a piece to see its build and its numbers, or right-click the stage for a ring of things to add.'}{' '}
        Right-drag turns the view, middle-drag shifts it, the wheel zooms to the pointer.
      </p>
    </>
  );
}
