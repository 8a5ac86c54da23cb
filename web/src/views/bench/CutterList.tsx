/** The cutters of a cut: each can rest, be selected, or be taken out. */
import { clsx } from 'clsx';
import { useScene } from '../../scene/useScene';
import { Eye, EyeOff } from 'lucide-react';
import type { CutStep } from '@urnsmith/core/steps/steps';
import { editStep } from '../../state/actions';
import { bench } from '../../state/benchSlice';
import { useAct, useApp } from '../../state/store';
import type { StepProps } from './stepProps';
import { PieceIcon } from './PieceIcon';

export function CutterList({ piece, index, step }: StepProps<CutStep>) {
  const scene = useScene();
  const act = useAct();
  const pieces = useApp((s) => s.document.pieces);
  const edit = (label: string, make: (s: CutStep) => CutStep): boolean =>
    editStep(scene, piece.id, index, label, (s) => make(s as CutStep));
  return (
    <ul className="cutters px-3 pt-0.5 pb-1.5" aria-label="Cutters">
      {step.cutters.map((id) => {
        const name = pieces.find((p) => p.id === id)?.name ?? id;
        const rests = step.resting?.includes(id) ?? false;
        return (
          <li key={id} className="mb-0.75 flex items-center rounded-[6px] bg-ink-2 px-1 py-0.25">
            <button
              className={clsx(
                'flex-1 gap-1.75 overflow-hidden px-1 py-0.75 whitespace-nowrap',
                rests && 'text-ash line-through',
              )}
              title="Select this cutter to edit it"
              onMouseEnter={() => act(bench.hovered(id))}
              onMouseLeave={() => act(bench.hovered(null))}
              onClick={() => act(bench.selected({ ids: [id] }))}
            >
              <PieceIcon role="cutter" /> {name}
            </button>
            <button
              className="rounded-[4px] p-0.75 text-cream"
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
              className="rounded-[4px] p-0.75 text-ash"
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
