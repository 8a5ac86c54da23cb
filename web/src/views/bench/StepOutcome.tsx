/** The outcome of a step: how much it covered, and where it could not do what was asked. */
import { useEffect } from 'react';
import { TriangleAlert } from 'lucide-react';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Warning } from '@urnsmith/core/mesh/errors';
import { counted } from '@urnsmith/core/ops/operation';
import { formatNumber } from '@urnsmith/core/document/expression';
import type { EdgeGroup } from '@urnsmith/core/steps/define';
import { laneOf, type Step } from '@urnsmith/core/steps/index';
import { editStep, shiftStep } from '../../state/actions';
import { useBuilt, useScene } from '../../state/useScene';
import { hintActions } from '../../state/hintSlice';
import { useAct } from '../../state/store';
import { bringIntoView } from './bringIntoView';

export function StepOutcome({ piece, index }: { piece: Piece; index: number }) {
  const act = useAct();
  const report = useBuilt(piece.id)?.display?.steps.find((r) => r.index === index);
  useEffect(() => () => void act(hintActions.warningPointed(null)), [act]);
  if (!report) return null;
  const { warnings, groups } = report;
  const edges = groups?.reduce((n, g) => n + g.edges, 0) ?? 0;
  return (
    <>
      {groups && (
        <p className="dim px-3 py-1 text-[12px]">
          {counted(edges, 'edge')} in {counted(groups.length, 'run')}
        </p>
      )}
      {report.says && <p className="dim px-3 py-1 text-[12px]">{report.says}</p>}
      {warnings.length > 0 && (
        <ul className="m-0 list-none px-1.5 py-0.5" aria-label="Warnings">
          {warnings.map((w, k) => (
            <li key={k}>
              <WarningRow warning={w} piece={piece} at={k} />
            </li>
          ))}
        </ul>
      )}
      {groups && <WaysOut piece={piece} index={index} groups={groups} />}
    </>
  );
}

/** Remedies for a rounding that stopped short. */
function WaysOut({ piece, index, groups }: { piece: Piece; index: number; groups: EdgeGroup[] }) {
  const scene = useScene();
  const short = groups.filter((g) => g.stops.length > 0);
  if (!short.length) return null;
  const least = Math.min(...short.map((g) => g.least));
  // A little under what was reached, on a number that can be read.
  const width = Number((Math.floor(least * 0.999 * 1000) / 1000).toPrecision(3));
  const lane = laneOf(piece.steps![index]);
  const before = piece.steps!.slice(0, index).some((s) => laneOf(s) === lane);
  return (
    <div className="tools" role="group" aria-label="Ways out">
      {width > 0 && (
        <button
          onClick={() =>
            editStep(
              scene,
              piece.id,
              index,
              `Round ${formatNumber(width)} mm wide`,
              (s) => ({ ...s, width }) as Step,
            )
          }
        >
          Use {formatNumber(width)} mm
        </button>
      )}
      {before && <button onClick={() => shiftStep(scene, piece.id, index, -1)}>Move it earlier</button>}
    </div>
  );
}

function WarningRow({ warning, piece, at }: { warning: Warning; piece: Piece; at: number }) {
  const scene = useScene();
  const act = useAct();
  const point = (): void => void act(hintActions.warningPointed(at));
  const leave = (): void => void act(hintActions.warningPointed(null));
  return (
    <button
      className="quiet flex w-full items-start gap-1.5 px-1.5 py-1 text-left text-[12px] leading-[1.35] whitespace-normal"
      title={warning.lines && 'Bring it into view'}
      disabled={!warning.lines}
      onPointerEnter={point}
      onPointerLeave={leave}
      onFocus={point}
      onBlur={leave}
      onClick={() => warning.lines && bringIntoView(scene, piece, warning.lines)}
    >
      <TriangleAlert className="mt-0.5 flex-none text-ember" size={12} aria-hidden />
      {warning.message}
    </button>
  );
}
