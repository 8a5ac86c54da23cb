/** The edits of a step by hand, and the way to more of them. */
import type { StepOfKind } from '@urnsmith/core/steps/index';
import { handActions } from '../../state/handSlice';
import { takeLevel } from '../../state/elements';
import { useAct } from '../../state/store';
import { useBuilt, useScene } from '../../state/useScene';
import { EditList } from './EditList';
import type { StepProps } from './stepProps';

export function HandEdits({ piece, index }: StepProps & { step: StepOfKind<'hand'> }) {
  const scene = useScene();
  const act = useAct();
  const reports = useBuilt(piece.id)?.display?.steps.find((s) => s.index === index)?.actions;
  return (
    <>
      <EditList piece={piece} step={index} reports={reports} />
      <div className="row2">
        <button
          onClick={() => {
            void takeLevel(scene, 'face').then(() =>
              act(handActions.siteTaken({ onResult: true, step: index })),
            );
          }}
        >
          Edit here
        </button>
      </div>
    </>
  );
}
