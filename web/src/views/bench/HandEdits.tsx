/** The edits of a step by hand: each opens with its numbers, is taken away, or has its picks made anew. */
import { useCallback, useState } from 'react';
import { ChevronDown, ChevronRight, CircleX, Trash2 } from 'lucide-react';
import type { Action } from '@urnsmith/core/document/actions';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import type { StepOfKind } from '@urnsmith/core/steps/steps';
import { editStep, preview } from '../../state/actions';
import { bench } from '../../state/benchSlice';
import { saidOf, takeLevel } from '../../state/elements';
import { pickAnew } from '../../state/pickAnew';
import { useAct } from '../../state/store';
import { useBuilt, useScene } from '../../scene/useScene';
import { ActionFields } from './ActionFields';
import type { StepProps } from './stepProps';

type Hand = StepOfKind<'hand'>;

export function HandEdits({ piece, index, step }: StepProps & { step: Hand }) {
  const scene = useScene();
  const act = useAct();
  const reports = useBuilt(piece.id)?.display?.steps.find((s) => s.index === index)?.actions;
  const [open, setOpen] = useState<number | null>(null);
  const edited = (actions: Action[], label: string): void => {
    editStep(scene, piece.id, index, label, (s) => ({ ...s, actions }) as Hand);
  };
  const withChange = useCallback(
    (change: Record<string, unknown>): Hand => ({
      ...step,
      actions: step.actions.map((a, i) => (i === open ? { ...a, ...change } : a)),
    }),
    [step, open],
  );
  const show = useCallback(
    (change: Record<string, unknown>) =>
      preview(scene, {
        [piece.id]: { ...piece, steps: piece.steps!.map((s, i) => (i === index ? withChange(change) : s)) },
      }),
    [scene, piece, index, withChange],
  );
  const put = useCallback(
    (change: Record<string, unknown>) =>
      void editStep(scene, piece.id, index, 'Change an edit by hand', () => withChange(change)),
    [scene, piece.id, index, withChange],
  );
  return (
    <>
      <ol className="edits" aria-label="Edits">
        {step.actions.map((action, i) => {
          const { title } = OPERATIONS[action.op];
          const report = reports?.[i];
          const wrong = report?.fault?.message ?? report?.warnings?.[0]?.message;
          return (
            <li key={i} data-edit={i}>
              <div className="flex items-center gap-1 pl-2 pr-3">
                <button
                  className="quiet flex min-w-0 flex-1 items-center gap-1 text-left"
                  aria-expanded={open === i}
                  onClick={() => setOpen(open === i ? null : i)}
                >
                  {open === i ? (
                    <ChevronDown size={13} aria-hidden />
                  ) : (
                    <ChevronRight size={13} aria-hidden />
                  )}
                  <span className="flex-1 truncate">{title}</span>
                  {wrong && <CircleX size={13} className="text-ember" aria-label="needs a look" />}
                </button>
                <button
                  className="quiet"
                  aria-label={`Remove ${title}`}
                  onClick={() =>
                    edited(
                      step.actions.filter((_, k) => k !== i),
                      `Remove ${title} by hand`,
                    )
                  }
                >
                  <Trash2 size={13} aria-hidden />
                </button>
              </div>
              {open === i && (
                <>
                  <ActionFields action={action} onShow={show} onPut={put} />
                  {report && !report.fault && <p className="dim pad">{saidOf(action, report)}</p>}
                </>
              )}
              {wrong && (
                <p className="pad text-ember" role="status">
                  {wrong}{' '}
                  <button className="underline" onClick={() => void pickAnew(scene, piece, index, i)}>
                    Pick anew
                  </button>
                </p>
              )}
            </li>
          );
        })}
      </ol>
      <div className="row2">
        <button
          onClick={() => {
            void takeLevel(scene, 'face').then(() => act(bench.siteTaken({ onResult: true, step: index })));
          }}
        >
          Edit here
        </button>
        {open !== null && <button onClick={() => void pickAnew(scene, piece, index, open)}>Pick anew</button>}
      </div>
    </>
  );
}
