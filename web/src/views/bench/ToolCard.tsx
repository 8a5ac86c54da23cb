/** With nothing selected: the grid and snapping, and how to begin. */
import { AngleStep, GridStep } from '../../hands/StepSizes';
import { useApp } from '../../state/store';
import { SnapSettings } from './SnapSettings';

export function ToolCard() {
  const empty = useApp((s) => s.document.pieces.length === 0);
  return (
    <>
      <div className="head">
        <b>Working grid</b>
      </div>
      <GridStep />
      <AngleStep />
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
