/** Numbers of an edit by hand on the model: of the last one, or of one that was opened again. */
import { useState } from 'react';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Action, ActionReport } from '@urnsmith/core/actions/actions';
import type { Piece } from '@urnsmith/core/document/schema';
import { addScaled } from '@urnsmith/core/mesh/vec3';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { useBuilt, useScene } from '../../state/useScene';
import { preview } from '../../state/actions';
import { paramsOf, previewLast, retune } from '../../state/elements';
import { activePiece, piecesById } from '../../state/selectors';
import { actionsAt, siteOf } from '../../state/site';
import { useApp } from '../../state/store';
import type { Stage } from '../../viewport/Stage';
import { ModelHandle } from '../../hands/ModelHandle';
import type { NumberSchema } from './ModelHandles';
import { showsHandles } from '../../modes';

interface ActionHandlesProps {
  stage: Stage;
  piece: Piece;
  action: Action;
  report: ActionReport | undefined;
  onShow: (change: Record<string, unknown>) => void;
  onPut: (change: Record<string, unknown>) => void;
}

export function ActionHandles({ stage, piece, action, report, onShow, onPut }: ActionHandlesProps) {
  const scene = useScene();
  const operation = OPERATIONS[action.op];
  const values = paramsOf(action);
  // A handle stays under the hand where its number is not allowed.
  const [known, setKnown] = useState({ op: action.op, pulls: report?.pulls });
  if (report?.op === action.op && !report.fault && report.pulls !== known.pulls)
    setKnown({ op: action.op, pulls: report.pulls });
  if (known.op !== action.op) return null;
  return known.pulls?.map(({ key, zero, along, rate }) => {
    const schema = operation.params.properties[key] as NumberSchema;
    const value = values[key] as number;
    const label = (schema.title ?? key).toLowerCase();
    return (
      <ModelHandle
        key={`${action.op} ${key}`}
        {...{ stage, label, value, along, rate }}
        piece={piece.id}
        frame={() => worldMatrix(piecesById(scene.store.getState()), piece.id)}
        title={`${label} of ${operation.title}`}
        unit={schema.unit}
        minimum={schema.minimum}
        maximum={schema.maximum}
        whole={schema.type === 'integer'}
        at={rate ? addScaled(zero, along, value / rate) : zero}
        onShow={(v) => {
          onShow({ [key]: v });
          return true;
        }}
        // Let go where it cannot be, it is as it was.
        onPut={(v) => (v === null || report?.fault ? preview(scene, null) : onPut({ [key]: v }))}
      />
    );
  });
}

/** Handles of the last edit at the current site. */
export function LastActionHandles({ stage }: { stage: Stage }) {
  const scene = useScene();
  const piece = useApp(activePiece);
  const shown = useApp((s) => s.hand.tool === 'select' && s.hand.level !== 'piece' && showsHandles(s));
  const onResult = useApp((s) => s.hand.onResult);
  const step = useApp((s) => s.hand.step);
  const built = useBuilt(piece?.id ?? null);
  const action = piece && actionsAt(piece, siteOf({ onResult, step }, piece)).at(-1);
  if (!shown || !action || action.off || piece.locked) return null;
  return (
    <ActionHandles
      {...{ stage, piece, action }}
      report={built?.actions.at(-1)}
      onShow={(change) => previewLast(scene, change)}
      onPut={(change) => retune(scene, change)}
    />
  );
}
