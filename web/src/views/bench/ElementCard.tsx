/** At element level with no action yet: what the hand can do; and how the tool that moves things does it. */
import type { ElementLevel } from '../../state/handSlice';
import { useApp } from '../../state/store';
import { HandleSettings } from './HandleSettings';

export function ElementCard({ level, acted }: { level: ElementLevel; acted: boolean }) {
  const tool = useApp((s) => s.hand.tool);
  const soft = useApp((s) => s.settings.elements.soft);
  if (tool !== 'select' || soft) return <HandleSettings />;
  if (acted) return null;
  return (
    <>
      <div className="head">
        <b>{level.replace(/^./, (c) => c.toUpperCase())}s</b>
      </div>
      <p className="dim pad">
        Click {level}s to pick them, Shift-click for more. The tools below the model lie as their keys do; the
        last one used has its numbers here and on the model.
      </p>
    </>
  );
}
