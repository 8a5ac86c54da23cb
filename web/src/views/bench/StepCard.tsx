/** A step of a build: its fields, as its kind declares them. */
import { useScene } from '../../state/useScene';
import { BookmarkPlus, Trash2 } from 'lucide-react';
import { lendable } from '@urnsmith/core/document/presets';
import { laneOf, LANES, STEPS } from '@urnsmith/core/steps/index';
import { editStep, inLane, removeStep } from '../../state/actions';
import { panelActions } from '../../state/panelSlice';
import { useAct, useApp } from '../../state/store';
import { CheckField, ListField } from '../../ui/fields';
import { stepTitle } from '../../state/beads';
import { StepFields } from './StepFields';
import { StepOutcome } from './StepOutcome';
import type { StepProps } from './stepProps';

export function StepCard({ piece, index, step }: StepProps) {
  const scene = useScene();
  const act = useAct();
  const pieces = useApp((s) => s.document.pieces);
  const title = stepTitle(step, pieces);
  return (
    <section aria-label={`Step ${title}`}>
      <div className="head">
        <b>{title}</b>
        <span className={`tag ${step.kind}`}>{STEPS[step.kind].title}</span>
      </div>
      <StepFields piece={piece} index={index} step={step} />
      <ListField
        label="Lane"
        value={laneOf(step)}
        options={LANES}
        onChange={(lane) =>
          editStep(scene, piece.id, index, `Put ${title} in the ${lane} lane`, (s) => inLane(s, lane))
        }
      />
      <StepOutcome piece={piece} index={index} />
      <div className="row2">
        <CheckField
          checked={!step.off}
          onChange={(on) =>
            editStep(scene, piece.id, index, `Switch ${title} ${on ? 'on' : 'off'}`, (s) => ({
              ...s,
              off: !on,
            }))
          }
        >
          in use
        </CheckField>
        {lendable(step) && (
          <button className="quiet" onClick={() => act(panelActions.dialogOpened('presets'))}>
            <BookmarkPlus size={13} aria-hidden /> Preset
          </button>
        )}
        <button className="quiet" onClick={() => removeStep(scene, piece.id, index, `Remove ${title}`)}>
          <Trash2 size={13} aria-hidden /> Remove step
        </button>
      </div>
    </section>
  );
}
