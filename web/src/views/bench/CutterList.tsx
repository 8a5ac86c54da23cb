/** The cutters of a cut: each can rest, be selected, or be taken out. */
import { useScene } from '../../scene/useScene';
import { Eye, EyeOff } from 'lucide-react';
import type { CutStep } from '@urnsmith/core/steps/steps';
import { editStep } from '../../state/actions';
import { bench } from '../../state/benchSlice';
import { useAct, useApp } from '../../state/store';
import type { StepProps } from './stepProps';

export function CutterList({ piece, index, step }: StepProps<CutStep>) {
  const scene = useScene();
  const act = useAct();
  const pieces = useApp((s) => s.document.pieces);
  const edit = (label: string, make: (s: CutStep) => CutStep): boolean =>
    editStep(scene, piece.id, index, label, (s) => make(s as CutStep));
  return (
    <ul className="cutters" aria-label="Cutters">
      {step.cutters.map((id) => {
        const name = pieces.find((p) => p.id === id)?.name ?? id;
        const rests = step.resting?.includes(id) ?? false;
        return (
          <li key={id} className={rests ? 'rests' : ''}>
            <button
              className="link"
              title="Select this cutter to edit it"
              onMouseEnter={() => act(bench.hovered(id))}
              onMouseLeave={() => act(bench.hovered(null))}
              onClick={() => act(bench.selected({ ids: [id] }))}
            >
              <i className="ico ghost" /> {name}
            </button>
            <button
              className="flag set"
              aria-pressed={!rests}
              aria-label={`${rests ? 'Switch on' : 'Switch off'} ${name}`}
              onClick={() =>
                edit(`Switch ${name} ${rests ? 'on' : 'off'}`, (s) => ({
                  ...s,
                  resting: rests ? s.resting!.filter((c) => c !== id) : [...(s.resting ?? []), id],
                }))
              }
            >
              {rests ? <EyeOff size={12} aria-hidden /> : <Eye size={12} aria-hidden />}
            </button>
            <button
              className="flag"
              aria-label={`Take ${name} out of the cut`}
              disabled={step.cutters.length === 1}
              onClick={() =>
                edit(`Take ${name} out of the cut`, (s) => ({
                  ...s,
                  cutters: s.cutters.filter((c) => c !== id),
                  resting: s.resting?.filter((c) => c !== id),
                }))
              }
            >
              ✕
            </button>
          </li>
        );
      })}
    </ul>
  );
}
