/** The stage with everything that lies over the model. */
import { useEffect, useRef, useState } from 'react';
import { setStage } from '../../commands/stage';
import { livePieces } from '../../state/selectors';
import { store, useApp } from '../../state/store';
import { Hands } from '../../viewport/Hands';
import type { Outline } from '../../viewport/pointing';
import { Stage } from '../../viewport/Stage';
import { builds, useBuildsVersion } from '../../workers/builds';
import { frameDrawn, stageUpdated } from '../../workers/measure';
import { Compass } from './Compass';
import { ContextRing } from './ContextRing';
import { DimensionHandles } from './DimensionHandles';
import { ElementCounts } from './ElementCounts';
import { LevelBar } from './LevelBar';
import { LookBar } from './LookBar';
import { NextMoves } from './NextMoves';
import { ToolBar } from './ToolBar';
import { useFollowedSelection } from './followedSelection';
import { handsHost } from './handsHost';
import { stageSettings, stagePieces } from './stageContents';
import { keepThumbnail } from './thumbnail';

interface Rect {
  x: number;
  y: number;
  w: number;
  h: number;
}

export function ViewportPane() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const pane = useRef<HTMLElement>(null);
  const [stage, setStageState] = useState<Stage | null>(null);
  const [rubber, setRubber] = useState<Rect | null>(null);
  const [lasso, setLasso] = useState<Outline | null>(null);
  const [said, setSaid] = useState('');
  const [ring, setRing] = useState<{ x: number; y: number } | null>(null);

  useEffect(() => {
    const s = new Stage(canvas.current!);
    setStageState(s);
    setStage(s);
    const stopTelling = s.onFrame(frameDrawn);
    const hands = new Hands(
      s,
      handsHost(s, { rubber: setRubber, lasso: setLasso, say: setSaid, menu: (x, y) => setRing({ x, y }) }),
    );
    const sized = new ResizeObserver(() => {
      const box = pane.current!.getBoundingClientRect();
      s.resize(box.width, box.height);
    });
    sized.observe(pane.current!);
    return () => {
      sized.disconnect();
      stopTelling();
      hands.dispose();
      setStage(null);
      s.dispose();
    };
  }, []);

  useStageContents(stage);
  useFollowedSelection();
  const level = useApp((s) => s.bench.level);
  return (
    <main className="view" ref={pane} aria-label="Stage">
      <canvas ref={canvas} id="stage" tabIndex={-1} aria-label="The model" />
      {rubber && pane.current && (
        <div
          className="rubber"
          style={{
            left: rubber.x - pane.current.getBoundingClientRect().left,
            top: rubber.y - pane.current.getBoundingClientRect().top,
            width: rubber.w,
            height: rubber.h,
          }}
        />
      )}
      {lasso && pane.current && <Lasso outline={lasso} box={pane.current.getBoundingClientRect()} />}
      {stage && level === 'piece' && <DimensionHandles stage={stage} />}
      <div className="ov tl">
        <LevelBar />
        <ToolBar />
        {level === 'piece' ? <Counts /> : <ElementCounts />}
      </div>
      <div className="ov tr">
        <LookBar />
      </div>
      <div className="ov bl">
        <NextMoves />
      </div>
      {stage && <Compass stage={stage} />}
      <ToolLine said={said} />
      {ring && <ContextRing at={ring} onClose={() => setRing(null)} />}
    </main>
  );
}

function Lasso({ outline, box }: { outline: Outline; box: DOMRect }) {
  return (
    <svg className="lasso" aria-hidden>
      <polygon points={outline.map((p) => `${p.x - box.left},${p.y - box.top}`).join(' ')} />
    </svg>
  );
}

/** Keeps the stage in line with the store and the builds, and the scene's picture up to date. */
function useStageContents(stage: Stage | null): void {
  const version = useBuildsVersion();
  const pieces = useApp(livePieces);
  const state = useApp((s) => s.bench);
  const framed = useRef(false);
  useEffect(() => {
    if (!stage) return;
    const s = store.getState();
    const started = performance.now();
    stage.show(stagePieces(s, builds), stageSettings(s, builds));
    stageUpdated(performance.now() - started);
    const drawable = pieces.filter((p) => !('group' in p.base));
    if (!framed.current && drawable.length && drawable.every((p) => builds.get(p.id))) {
      framed.current = true;
      stage.rig.frame(stage.bounds());
      stage.draw();
    }
    if (framed.current || !drawable.length) keepThumbnail(stage);
  }, [stage, version, pieces, state]);
}

function Counts() {
  useBuildsVersion();
  const selected = useApp((s) => s.bench.selected);
  const pieces = useApp(livePieces);
  const ids = selected.length
    ? selected
    : pieces.filter((p) => (p.role ?? 'solid') === 'solid' && !p.hidden).map((p) => p.id);
  const sum = { faces: 0, tris: 0, quads: 0, ngons: 0 };
  for (const id of ids) {
    const c = builds.get(id)?.display?.counts;
    if (!c) continue;
    sum.faces += c.faces;
    sum.tris += c.tris;
    sum.quads += c.quads;
    sum.ngons += c.ngons;
  }
  const n = (x: number): string => x.toLocaleString('en').replace(/,/g, ' ');
  return (
    <div className="count" aria-live="off">
      {selected.length > 0 && <b>{selected.length} selected · </b>}
      {n(sum.faces)} faces <span>{n(sum.tris)} tri</span> <span>{n(sum.quads)} quad</span>{' '}
      <span>{n(sum.ngons)} n-gon</span>
    </div>
  );
}

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
    ['X Y Z', 'hold to an axis'],
    ['Shift', '+ axis: plane'],
    ['Ctrl', 'snap'],
    ['Esc', 'let go'],
  ],
  turn: [
    ['drag', 'a ring'],
    ['X Y Z', 'other axis'],
    ['Ctrl', 'snap'],
    ['Esc', 'let go'],
  ],
  resize: [
    ['drag', 'a handle'],
    ['X Y Z', 'hold to an axis'],
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
const DRAW_NAMES = { knife: 'Knife', face: 'Draw a face', slice: 'Slice', ring: 'Ring cut' };
const NAMES = { select: 'Select', move: 'Move', turn: 'Turn', resize: 'Resize' };

function ToolLine({ said }: { said: string }) {
  const { tool, level, drawing } = useApp((s) => s.bench);
  const lines = drawing ? DRAW_LINES[drawing.tool] : (level === 'piece' ? LINES : ELEMENT_LINES)[tool];
  return (
    <div className="toolline" role="status">
      <b>{drawing ? DRAW_NAMES[drawing.tool] : NAMES[tool]}</b>{' '}
      {said ? (
        <strong className="said">{said}</strong>
      ) : (
        lines.map(([key, text]) => (
          <span key={key}>
            <kbd>{key}</kbd> {text}
          </span>
        ))
      )}
    </div>
  );
}
