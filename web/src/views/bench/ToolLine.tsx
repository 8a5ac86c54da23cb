/** What the hand can do with the tool it holds, or how far a drag has come. */
import { memo } from 'react';
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
    ['Esc', 'let go'],
  ],
  turn: [
    ['drag', 'a ring'],
    ['Ctrl', 'snap'],
    ['Esc', 'let go'],
  ],
  resize: [
    ['drag', 'a handle'],
    ['Shift', 'hold to one axis'],
    ['Alt', 'to the plane in view'],
    ['Ctrl', 'snap'],
    ['Esc', 'let go'],
  ],
} as const;
const ELEMENT_LINES = {
  ...LINES,
  select: [
    ['click', 'pick'],
    ['Shift', 'add, take away'],
    ['twice', 'loop'],
    ['Alt twice', 'ring'],
    ['drag', 'box'],
    ['Alt drag', 'lasso'],
    ['Ctrl drag', 'paint'],
  ],
} as const;
const DRAW_LINES = {
  knife: [
    ['click', 'set points'],
    ['Shift', 'another line'],
    ['Ctrl', 'by the angle step'],
    ['Delete', 'point back'],
    ['Enter', 'cut'],
    ['Esc', 'put away'],
  ],
  face: [
    ['click', 'set corners'],
    ['first corner', 'done'],
    ['Ctrl', 'grid step'],
    ['Delete', 'corner back'],
    ['Enter', 'done'],
    ['Esc', 'put away'],
  ],
  slice: [
    ['drag', 'across the piece'],
    ['again', 'move the plane'],
    ['Esc', 'put away'],
  ],
  ring: [
    ['point', 'shows the loop'],
    ['click', 'cut'],
    ['Shift', 'slid to the pointer'],
    ['Esc', 'put away'],
  ],
} as const;
const CUT_LINES = {
  aim: [
    ['drag', 'the outline on a face'],
    ['Ctrl', 'turns snapping the other way'],
    ['Esc', 'put away'],
  ],
  outline: [
    ['let go', 'to the depth'],
    ['Esc', 'back'],
  ],
  free: [
    ['click', 'set corners'],
    ['first corner', 'done'],
    ['Delete', 'corner back'],
    ['Enter', 'to the depth'],
    ['Esc', 'back'],
  ],
  depth: [
    ['move', 'the depth'],
    ['click', 'cut'],
    ['Enter', 'cut'],
    ['Esc', 'back'],
  ],
} as const;
const PLACE_LINES = [
  ['move', 'seats it on faces'],
  ['R', 'turn'],
  ['click', 'set down'],
  ['Esc', 'done'],
] as const;
const ANCHOR_LINES = [
  ['click', 'a face of the host'],
  ['Esc', 'cancel'],
] as const;
const RIM_LINES = [
  ['click', 'a rim or its wall: in or out'],
  ['Esc', 'done'],
] as const;
const DRAW_NAMES = { knife: 'Knife', face: 'Draw a face', slice: 'Slice', ring: 'Ring cut' };
const NAMES = { select: 'Select', move: 'Move', turn: 'Turn', resize: 'Resize' };

export const ToolLine = memo(function ToolLine({ said }: { said: string }) {
  const tool = useApp((s) => s.bench.tool);
  const drawing = useApp((s) => s.bench.drawing?.tool);
  const picks = useApp((s) => s.bench.picked.length);
  const atPieces = useApp((s) => s.bench.level === 'piece');
  const cut = useApp((s) => {
    const stage = s.bench.cutDrawing?.stage;
    return stage === 'outline' && s.bench.cutSettings.shape === 'free' ? 'free' : stage;
  });
  const places = useApp((s) => s.bench.placing !== null);
  const holes = useApp((s) => s.bench.placing?.piece === null);
  const anchors = useApp((s) => s.bench.anchoring !== null);
  const rims = useApp((s) => s.bench.rimsOf !== null);
  const lines: ReadonlyArray<readonly [string, string]> = anchors
    ? ANCHOR_LINES
    : rims
      ? RIM_LINES
      : places
        ? PLACE_LINES
        : cut
          ? CUT_LINES[cut]
          : drawing
            ? [
                ...(drawing === 'ring' && picks ? ([['Enter', `cuts the ${picks} picked`]] as const) : []),
                ...DRAW_LINES[drawing],
              ]
            : (atPieces ? LINES : ELEMENT_LINES)[tool];
  const name = anchors
    ? 'Anchor'
    : rims
      ? 'Rims'
      : places
        ? holes
          ? 'Holes'
          : 'Place again'
        : cut
          ? 'Draw a cut'
          : drawing
            ? DRAW_NAMES[drawing]
            : NAMES[tool];
  return (
    <div
      data-over
      className="toolline scaled pointer-events-none absolute inset-x-2.5 bottom-2 mx-auto flex w-fit flex-wrap items-center justify-center gap-x-3 gap-y-4 overflow-hidden rounded-[20px] bg-ink-0/84 px-3 py-1.25 whitespace-nowrap text-mist h-7"
      role="status"
    >
      <b className="text-porcelain">{name}</b>{' '}
      {said ? (
        <strong className="min-w-30 text-cream">{said}</strong>
      ) : (
        lines.map(([key, text]) => (
          <span key={key}>
            <kbd>{key}</kbd> {text}
          </span>
        ))
      )}
    </div>
  );
});
