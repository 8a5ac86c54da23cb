/** The stage with everything that lies over the model. */
import { useEffect, useRef, useState } from 'react';
import type { Piece } from '@urnsmith/core/document/schema';
import { setStage } from '../../commands/commands';
import { commit, preview } from '../../state/actions';
import { bench } from '../../state/benchSlice';
import { livePieces, piecesById } from '../../state/selectors';
import { store, useApp } from '../../state/store';
import { describeDrag, dragPieces, topOnly } from '../../viewport/drag';
import { Hands, type DragValue } from '../../viewport/Hands';
import { Stage } from '../../viewport/Stage';
import { builds, useBuildsVersion } from '../../workers/builds';
import { frameDrawn, stageUpdated } from '../../workers/measure';
import { Compass } from './Compass';
import { ContextRing } from './ContextRing';
import { DimensionHandles } from './DimensionHandles';
import { LookBar } from './LookBar';
import { NextMoves } from './NextMoves';
import { ToolBar } from './ToolBar';
import { handlePlace, stageSettings, stagePieces } from './stageContents';
import { keepThumbnail } from './thumbnail';
import { Vector3 } from 'three';

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
  const [said, setSaid] = useState('');
  const [ring, setRing] = useState<{ x: number; y: number } | null>(null);

  useEffect(() => {
    const s = new Stage(canvas.current!);
    setStageState(s);
    setStage(s);
    const stopTelling = s.onFrame(frameDrawn);
    const hands = new Hands(
      s,
      handsHost({ rubber: setRubber, say: setSaid, menu: (x, y) => setRing({ x, y }) }),
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
      {stage && <DimensionHandles stage={stage} />}
      <div className="ov tl">
        <ToolBar />
        <Counts />
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

interface Voices {
  rubber: (r: Rect | null) => void;
  say: (text: string) => void;
  menu: (x: number, y: number) => void;
}

function handsHost(voices: Voices) {
  let axes: Vector3[] = [];
  let pivot = new Vector3();
  let value: DragValue | null = null;
  let start = new Map<string, Piece>();
  const state = () => store.getState();
  return {
    tool: () => state().bench.tool,
    snap: () => ({ on: state().bench.snap, grid: state().bench.gridStep, angle: state().bench.angleStep }),
    selected: () => state().bench.selected,
    click(piece: string | null, add: boolean) {
      store.dispatch(
        piece
          ? bench.selected({ ids: [piece], mode: add ? 'toggle' : 'set' })
          : bench.selected({ ids: add ? state().bench.selected : [] }),
      );
    },
    box(ids: string[], add: boolean) {
      store.dispatch(bench.selected({ ids, mode: add ? 'add' : 'set' }));
    },
    hover(piece: string | null) {
      if (state().bench.hovered !== piece) store.dispatch(bench.hovered(piece));
    },
    rubber: voices.rubber,
    menu: voices.menu,
    dragStart() {
      const place = handlePlace(state());
      if (!place || !topOnly(piecesById(state()), state().bench.selected).length) return null;
      const m = place.matrix;
      axes = [0, 1, 2].map((k) => new Vector3(m[4 * k], m[4 * k + 1], m[4 * k + 2]).normalize());
      pivot = new Vector3(...place.at);
      start = new Map(state().document.pieces.map((p) => [p.id, p]));
      value = null;
      return axes;
    },
    dragged(v: DragValue) {
      value = v;
      voices.say(describeDrag(v));
      preview(dragPieces(start, state().bench.selected, v, axes, pivot));
    },
    dropped() {
      voices.say('');
      if (!value) return;
      const changed = dragPieces(start, state().bench.selected, value, axes, pivot);
      const ids = Object.keys(changed);
      const verb = { move: 'Move', turn: 'Turn', resize: 'Resize' }[value.tool];
      commit(
        `${verb} ${ids.length === 1 ? (changed[ids[0]].name ?? ids[0]) : `${ids.length} pieces`}`,
        state().document.pieces.map((p) => changed[p.id] ?? p),
      );
    },
    aborted() {
      voices.say('');
      preview(null);
    },
  };
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
const NAMES = { select: 'Select', move: 'Move', turn: 'Turn', resize: 'Resize' };

function ToolLine({ said }: { said: string }) {
  const tool = useApp((s) => s.bench.tool);
  return (
    <div className="toolline" role="status">
      <b>{NAMES[tool]}</b>{' '}
      {said ? (
        <strong className="said">{said}</strong>
      ) : (
        LINES[tool].map(([key, text]) => (
          <span key={key}>
            <kbd>{key}</kbd> {text}
          </span>
        ))
      )}
    </div>
  );
}
