/** The line of help: what the current tool can do, or how far a drag has come. */
import { memo } from 'react';
import { modeHelp, modeTitle } from '../../modes';
import type { HelpLine } from '../../modes/define';
import { useApp } from '../../state/store';

const LINES = {
  select: [
    ['click', 'select'],
    ['Shift', 'add'],
    ['drag', 'box'],
    ['right-drag', 'turn the view'],
    ['right-click', 'ring'],
  ],
  move: [
    ['drag', 'a handle or the piece'],
    ['Shift', 'hold to one axis'],
    ['Alt', 'to the plane in view'],
    ['Ctrl', 'snap'],
    ['Esc', 'cancel'],
  ],
  turn: [
    ['drag', 'a ring'],
    ['Ctrl', 'snap'],
    ['Esc', 'cancel'],
  ],
  resize: [
    ['drag', 'a handle'],
    ['Shift', 'hold to one axis'],
    ['Alt', 'to the plane in view'],
    ['Ctrl', 'snap'],
    ['Esc', 'cancel'],
  ],
} as const;
const ELEMENT_LINES = {
  ...LINES,
  select: [
    ['click', 'pick'],
    ['Shift', 'add, take away'],
    ['double-click', 'loop'],
    ['Alt double-click', 'ring'],
    ['drag', 'box'],
    ['Alt drag', 'lasso'],
    ['Ctrl drag', 'paint'],
  ],
} as const;
const NAMES = { select: 'Select', move: 'Move', turn: 'Turn', resize: 'Resize' };

const sameHelp = (a: ReadonlyArray<HelpLine> | null, b: ReadonlyArray<HelpLine> | null): boolean =>
  a === b || String(a) === String(b);

export const ToolLine = memo(function ToolLine({ said }: { said: string }) {
  const tool = useApp((s) => s.hand.tool);
  const atPieces = useApp((s) => s.hand.level === 'piece');
  const title = useApp(modeTitle) ?? NAMES[tool];
  const help = useApp(modeHelp, sameHelp) ?? (atPieces ? LINES : ELEMENT_LINES)[tool];
  return (
    <div
      data-over
      className="toolline scaled pointer-events-none absolute inset-x-2.5 bottom-2 mx-auto flex w-fit flex-wrap items-center justify-center gap-x-3 gap-y-4 overflow-hidden rounded-[20px] bg-ink-0/84 px-3 py-1.25 whitespace-nowrap text-mist h-7"
      role="status"
    >
      <b className="text-porcelain">{title}</b>{' '}
      {said ? (
        <strong className="min-w-30 text-cream">{said}</strong>
      ) : (
        help.map(([key, text]) => (
          <span key={key}>
            <kbd>{key}</kbd> {text}
          </span>
        ))
      )}
    </div>
  );
});
