/** The tool in hand. */
import { clsx } from 'clsx';
import { handActions, type Tool } from '../../state/handSlice';
import { useAct, useApp } from '../../state/store';
import { KeyCap } from '../KeyCap';
import { HAND_ICONS } from './handIcons';

const TOOLS: Array<[Tool, string]> = [
  ['select', 'Select'],
  ['move', 'Move'],
  ['turn', 'Turn'],
  ['resize', 'Resize'],
];

export function ToolBar() {
  const act = useAct();
  const tool = useApp((s) => s.hand.tool);
  // On elements they lie among the other tools.
  const atPieces = useApp((s) => s.hand.level === 'piece');
  if (!atPieces) return null;
  return (
    <div className="seg" role="radiogroup" aria-label="Tool">
      {TOOLS.map(([t, title]) => {
        const Icon = HAND_ICONS[`tool-${t}`];
        return (
          <button
            key={t}
            role="radio"
            aria-checked={t === tool}
            className={clsx(t === tool && 'on')}
            onClick={() => act(handActions.toolTaken(t))}
          >
            <span className="@min-[640px]:hidden">
              <Icon size={13} className="shrink-0" aria-hidden />
            </span>
            <span className="@max-[640px]:sr-only">{title}</span>
            <KeyCap of={`tool-${t}`} />
          </button>
        );
      })}
    </div>
  );
}
