/** The tool in hand. */
import { clsx } from 'clsx';
import { bench, type Tool } from '../../state/benchSlice';
import { useAct, useApp } from '../../state/store';

const TOOLS: Array<[Tool, string, string]> = [
  ['select', 'Select', 'A'],
  ['move', 'Move', 'M'],
  ['turn', 'Turn', 'T'],
  ['resize', 'Resize', 'Y'],
];

export function ToolBar() {
  const act = useAct();
  const tool = useApp((s) => s.bench.tool);
  return (
    <div className="seg" role="radiogroup" aria-label="Tool">
      {TOOLS.map(([t, title, key]) => (
        <button
          key={t}
          role="radio"
          aria-checked={t === tool}
          className={clsx(t === tool && 'on')}
          onClick={() => act(bench.toolTaken(t))}
        >
          {title}
          <kbd>{key}</kbd>
        </button>
      ))}
    </div>
  );
}
