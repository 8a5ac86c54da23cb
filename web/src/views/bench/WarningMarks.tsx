/** Warnings of the piece in hand where they are on the model; one that is pointed at says itself, a click opens its step. */
import { useEffect, useRef, useState } from 'react';
import { TriangleAlert } from 'lucide-react';
import { Vector3 } from 'three';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Warning } from '@urnsmith/core/mesh/errors';
import { applyMatrix, type Matrix } from '@urnsmith/core/mesh/transform';
import { activePiece, piecesById } from '../../state/selectors';
import { handActions } from '../../state/handSlice';
import { hintActions } from '../../state/hintSlice';
import { useAct, useApp } from '../../state/store';
import { useBuilt } from '../../state/useScene';
import type { Stage } from '../../viewport/Stage';
import { showsHandles } from '../../modes';

/** More than these would hide the model. */
const MOST = 12;

interface Mark {
  key: string;
  step: number;
  /** Its number among all lit warnings. */
  at: number;
  message: string;
  place: Vector3;
}

/** A place on a warning's lines: the middle of the stretch in the midst of them, so that it lies on one. */
function placeOf({ lines }: Warning, matrix: Matrix): Vector3 | null {
  if (!lines?.length) return null;
  const i = 6 * Math.floor(lines.length / 12);
  const [a, b] = [lines.subarray(i, i + 3), lines.subarray(i + 3, i + 6)];
  return new Vector3(
    ...applyMatrix(
      matrix,
      [0, 1, 2].map((k) => (a[k] + b[k]) / 2),
    ),
  );
}

export function WarningMarks({ stage }: { stage: Stage }) {
  const piece = useApp(activePiece);
  const byId = useApp(piecesById);
  const chosen = useApp((s) => s.hand.step);
  const shown = useApp((s) => s.hand.level === 'piece' && showsHandles(s));
  const display = useBuilt(piece?.id ?? null)?.display;
  if (!piece || !display || !shown) return null;
  const matrix = worldMatrix(byId, piece.id);
  const marks = display.steps
    .filter((r) => !piece.steps?.[r.index]?.off && (chosen === null || r.index === chosen))
    .flatMap((r) => r.warnings.map((warning) => ({ warning, step: r.index })))
    .flatMap(({ warning, step }, at): Mark[] => {
      const place = placeOf(warning, matrix);
      return place ? [{ key: `${step}/${at}`, step, at, message: warning.message, place }] : [];
    });
  return marks.slice(0, MOST).map((m) => <MarkAt key={m.key} mark={m} stage={stage} />);
}

function MarkAt({ mark, stage }: { mark: Mark; stage: Stage }) {
  const act = useAct();
  const ref = useRef<HTMLDivElement>(null);
  const [pointed, setPointed] = useState(false);
  useEffect(() => {
    const put = (): void => {
      const q = stage.project(mark.place);
      if (!ref.current) return;
      ref.current.style.display = q ? '' : 'none';
      if (q) ref.current.style.transform = `translate(${q.x}px, ${q.y}px)`;
    };
    put();
    return stage.onFrame(put);
  }, [mark.place, stage]);
  const point = (on: boolean) => (): void => {
    setPointed(on);
    act(hintActions.warningPointed(on ? mark.at : null));
  };
  return (
    <div ref={ref} className="warningMark absolute -top-2.5 -left-2.5 flex items-start gap-1.5">
      <button
        className="grid size-5 flex-none place-items-center rounded-full bg-ink-0 p-0 text-ember"
        aria-label={mark.message}
        onPointerEnter={point(true)}
        onPointerLeave={point(false)}
        onFocus={point(true)}
        onBlur={point(false)}
        onClick={() => act(handActions.stepChosen(mark.step))}
      >
        <TriangleAlert size={12} aria-hidden />
      </button>
      {pointed && (
        <span className="w-max max-w-60 rounded-[6px] bg-ink-0/90 px-2 py-1 text-[11.5px] text-porcelain">
          {mark.message}
        </span>
      )}
    </div>
  );
}
