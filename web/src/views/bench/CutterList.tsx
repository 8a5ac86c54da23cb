/** The cutters of a cut: each can rest, be selected, or be taken out; those that do nothing are marked. */
import { useState } from 'react';
import { counted } from '@urnsmith/core/ops/operation';
import { clsx } from 'clsx';
import { Eye, EyeOff } from 'lucide-react';
import type { IdleCutter } from '@urnsmith/core/cutting/idle';
import { useBuilt, useScene } from '../../state/useScene';
import type { CutStep } from '@urnsmith/core/steps/index';
import { cuttersNear } from '../../hands/cutterHere';
import { commit, editStep, notice, tellIdle } from '../../state/actions';
import { handActions } from '../../state/handSlice';
import { hintActions } from '../../state/hintSlice';
import { piecesById, settledPieces } from '../../state/selectors';
import { useAct, useApp } from '../../state/store';
import type { StepProps } from './stepProps';
import { idleWord } from './idleWords';
import { PieceIcon } from './PieceIcon';

/** With more cutters than this, the list scrolls and can be searched. */
const MANY = 8;

const MEANS: Record<IdleCutter['why'], string> = {
  misses: 'It does not touch the piece',
  within: 'It lies within another cutter, or within the piece it is added to',
  hollow: 'It lies entirely inside the piece and leaves a closed hollow',
  short: 'It lies inside the piece and does not reach its surface',
};

export function CutterList({ piece, index, step }: StepProps<CutStep>) {
  const scene = useScene();
  const act = useAct();
  const byId = useApp(piecesById);
  const [sought, setSought] = useState('');
  const [near, setNear] = useState<string[] | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [last, setLast] = useState<string | null>(null);
  const report = useBuilt(piece.id)?.display?.steps.find((r) => r.index === index);
  const idle = new Map((report?.idle ?? []).map((x) => [x.operand, x]));
  const nameOf = (id: string): string => byId.get(id)?.name ?? id;
  // Cutters with warnings come first.
  const shown = (near?.filter((id) => step.cutters.includes(id)) ?? [...step.cutters])
    .filter((id) => nameOf(id).toLowerCase().includes(sought.trim().toLowerCase()))
    .sort((a, b) => Number(idle.has(b)) - Number(idle.has(a)));
  const useless = step.cutters.filter((id) => {
    const told = idle.get(id);
    return told && told.why !== 'hollow' && !told.parts;
  });
  const edit = (label: string, make: (s: CutStep) => CutStep): boolean =>
    editStep(scene, piece.id, index, label, (s) => make(s as CutStep));
  const without =
    (gone: ReadonlySet<string>) =>
    (s: CutStep): CutStep => ({
      ...s,
      cutters: s.cutters.filter((c) => !gone.has(c)),
      resting: s.resting?.filter((c) => !gone.has(c)),
    });
  const takeOut = (ids: string[], what: string): void => {
    const gone = new Set(ids);
    const after = settledPieces(scene.store.getState()).map((p) =>
      p.id === piece.id
        ? { ...p, steps: p.steps!.map((s, i) => (i === index ? without(gone)(s as CutStep) : s)) }
        : p,
    );
    if (commit(scene, `Take ${ids.length} ${what} out of the cut`, after)) tellIdle(scene, ids);
    setChosen(new Set());
  };
  const rest = (ids: ReadonlyArray<string>, rests: boolean, what: string): boolean =>
    edit(`Switch ${what} ${rests ? 'off' : 'on'}`, (s) => ({
      ...s,
      resting: [...(s.resting ?? []).filter((c) => !ids.includes(c)), ...(rests ? ids : [])],
    }));
  const some = step.cutters.filter((id) => chosen.has(id));
  /** A click selects; with Ctrl it chooses one more or less, with Shift all from the last one chosen. */
  const click = (id: string, e: React.MouseEvent): void => {
    if (!e.shiftKey && !e.ctrlKey && !e.metaKey) return void act(handActions.selected({ ids: [id] }));
    const from = e.shiftKey && last !== null ? shown.indexOf(last) : -1;
    const to = shown.indexOf(id);
    const range = from < 0 ? [id] : shown.slice(Math.min(from, to), Math.max(from, to) + 1);
    const next = new Set(chosen);
    if (from < 0 && next.has(id)) next.delete(id);
    else for (const x of range) next.add(x);
    setChosen(next);
    setLast(id);
  };
  const takeNear = (): void => {
    const found = near ? null : cuttersNear(scene, step.cutters);
    if (!near && !found)
      notice(scene, 'Point at a place on the model first, then come here.', false, 'problem');
    setNear(found);
  };
  return (
    <div className="px-3 pt-0.5 pb-1.5">
      {step.cutters.length > MANY && (
        <input
          className="mb-1 w-full rounded-[6px] bg-ink-0 px-2 py-1 text-porcelain"
          placeholder={`Find among ${step.cutters.length} cutters`}
          aria-label="Find a cutter"
          value={sought}
          onChange={(e) => setSought(e.currentTarget.value)}
          onKeyDown={(e) => e.stopPropagation()}
        />
      )}
      {step.cutters.length > MANY && (
        <div className="tools !px-0 !pt-0" role="group" aria-label="Which cutters">
          <button
            className={clsx(near && '!bg-cream !text-ink-0')}
            aria-pressed={near !== null}
            title="The few nearest to where the pointer last was on the model"
            onClick={takeNear}
          >
            near the pointer
          </button>
        </div>
      )}
      {some.length > 0 && (
        <div className="tools !px-0 !pt-0" role="group" aria-label="Chosen cutters">
          <button onClick={() => act(handActions.selected({ ids: some }))}>Select {some.length}</button>
          <button
            onClick={() =>
              rest(some, !some.every((c) => step.resting?.includes(c)), counted(some.length, 'cutter'))
            }
          >
            {some.every((c) => step.resting?.includes(c)) ? 'Switch on' : 'Switch off'}
          </button>
          <button
            disabled={some.length === step.cutters.length}
            onClick={() => takeOut(some, some.length === 1 ? 'cutter' : 'cutters')}
          >
            Take out
          </button>
          <button aria-label="Choose none" onClick={() => setChosen(new Set())}>
            ✕
          </button>
        </div>
      )}
      {useless.length > 0 && useless.length < step.cutters.length && (
        <p className="pb-1 text-mist">
          {useless.length} of {step.cutters.length} do nothing.{' '}
          <button className="inline px-0.5 py-0 underline" onClick={() => takeOut(useless, 'idle cutters')}>
            Take them out
          </button>
        </p>
      )}
      <ul
        className={clsx('cutters', step.cutters.length > MANY && 'max-h-60 overflow-y-auto')}
        aria-label="Cutters"
      >
        {shown.map((id) => {
          const name = nameOf(id);
          const rests = step.resting?.includes(id) ?? false;
          const why = rests ? undefined : idle.get(id);
          return (
            <li
              key={id}
              className={clsx(
                'mb-0.75 flex items-center rounded-[6px] px-1 py-0.25',
                chosen.has(id) ? 'bg-ink-3 outline outline-1 outline-cream' : 'bg-ink-2',
              )}
            >
              <button
                className={clsx(
                  'flex-1 gap-1.75 overflow-hidden px-1 py-0.75 whitespace-nowrap',
                  rests && 'text-ash line-through',
                )}
                aria-pressed={chosen.has(id)}
                title={
                  why && !why.parts
                    ? MEANS[why.why]
                    : 'Select this cutter to edit it; Ctrl and Shift choose several'
                }
                onMouseEnter={() => act(hintActions.hovered(id))}
                onMouseLeave={() => act(hintActions.hovered(null))}
                onClick={(e) => click(id, e)}
              >
                <PieceIcon role="cutter" /> {name}
                {why && <em className="pl-1 text-[11.5px] text-ember not-italic">{idleWord(why)}</em>}
              </button>
              <button
                className="rounded-[4px] p-0.75 text-cream"
                aria-pressed={!rests}
                aria-label={`${rests ? 'Switch on' : 'Switch off'} ${name}`}
                onClick={() => rest([id], !rests, name)}
              >
                {rests ? <EyeOff size={12} aria-hidden /> : <Eye size={12} aria-hidden />}
              </button>
              <button
                className="rounded-[4px] p-0.75 text-ash"
                aria-label={`Take ${name} out of the cut`}
                disabled={step.cutters.length === 1}
                onClick={() => edit(`Take ${name} out of the cut`, without(new Set([id])))}
              >
                ✕
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
