/** The fault of the piece in hand, with a button that helps. */
import { CircleX } from 'lucide-react';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Fault } from '@urnsmith/core/mesh/errors';
import { editStep } from '../../state/actions';
import { handActions } from '../../state/handSlice';
import { useAct } from '../../state/store';
import { useScene, useBuilt } from '../../state/useScene';

export function FaultBox({ piece }: { piece: Piece }) {
  const built = useBuilt(piece.id);
  const failed = built?.display?.steps.find((s) => s.fault);
  const action = built?.actions.find((a) => a.fault);
  const fault = built?.fault ?? action?.fault ?? failed?.fault;
  if (!fault) return null;
  return (
    <div className="faultBox" role="alert">
      <p>
        <CircleX size={14} aria-hidden /> {fault.message}
      </p>
      {fault.fix && <p className="dim">{fault.fix}</p>}
      <Help piece={piece} fault={fault} step={failed?.index} />
    </div>
  );
}

function Help({ piece, fault, step }: { piece: Piece; fault: Fault; step?: number }) {
  const scene = useScene();
  const act = useAct();
  const other = fault.piece && fault.piece !== piece.id ? fault.piece : null;
  return (
    <div className="row2">
      {fault.code === 'stopped' && (
        <button onClick={() => scene.builds.again(piece.id)}>Build it again</button>
      )}
      {other && <button onClick={() => act(handActions.selected({ ids: [other] }))}>Go to that piece</button>}
      {fault.code === 'bevel-too-wide' && step !== undefined && (
        <button
          onClick={() =>
            editStep(scene, piece.id, step, 'Stop where strips meet', (s) => ({ ...s, clamp: true }))
          }
        >
          Stop where strips meet
        </button>
      )}
      {step !== undefined && (
        <button
          onClick={() => editStep(scene, piece.id, step, 'Switch the step off', (s) => ({ ...s, off: true }))}
        >
          Switch the step off
        </button>
      )}
    </div>
  );
}
