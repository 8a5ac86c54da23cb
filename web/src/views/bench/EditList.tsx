/** Edits by hand as a list: pointed at, what one made is lit; each opens with its numbers, rests, moves or goes. */
import { useCallback, useEffect, useState } from 'react';
import { createPortal } from 'react-dom';
import { clsx } from 'clsx';
import { ArrowDown, ArrowUp, ChevronDown, ChevronRight, CircleX, Eye, EyeOff, Trash2 } from 'lucide-react';
import { keysOf, type Action, type ActionReport } from '@urnsmith/core/actions/actions';
import type { Edits } from '@urnsmith/core/actions/revise';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { editPiece, preview } from '../../state/actions';
import { hintActions } from '../../state/hintSlice';
import { editsIn, redoEdits, revisedEdits, withEdits, withOne, type EditsOf } from '../../state/edits';
import { saidOf } from '../../state/elements';
import { pickAnew } from '../../state/pickAnew';
import { useAct, useApp } from '../../state/store';
import { useScene } from '../../state/useScene';
import { ActionFields } from './ActionFields';
import { ActionHandles } from './ActionHandles';
import { beadOf } from '../../state/beads';

/** With more edits than this, the list scrolls. */
const MANY = 8;

interface EditListProps extends EditsOf {
  reports: ReadonlyArray<ActionReport> | undefined;
}

export function EditList({ piece, step, reports }: EditListProps) {
  const scene = useScene();
  const act = useAct();
  // While a hand is at a number the piece is a preview; what is done over are the edits that are stored.
  const stored = useApp((s) => s.document.pieces.find((p) => p.id === piece.id)) ?? piece;
  const of = { piece: stored, step };
  const actions = editsIn({ piece, step });
  const keys = keysOf(actions);
  const [open, setOpen] = useState<number | null>(null);
  const maker = step === null ? piece.id : beadOf(piece.id, piece.steps![step], step);
  const all = actions.map((_, k) => k);
  const redo = (order: number[], label: string): void => {
    setOpen(null);
    void redoEdits(scene, of, order.map((k) => ({ of: k })), label); // prettier-ignore
  };
  const swapped = (i: number, k: number): number[] => all.map((x) => (x === i ? k : x === k ? i : x));
  return (
    <ol
      className={clsx('edits', actions.length > MANY && 'max-h-60 overflow-y-auto')}
      aria-label="Edits"
      onMouseLeave={() => act(hintActions.beadPointed(null))}
    >
      {actions.map((action, i) => {
        const { title } = OPERATIONS[action.op];
        const report = reports?.[i];
        const wrong = report?.fault?.message ?? report?.warnings?.[0]?.message;
        const isOpen = open === i;
        return (
          <li
            key={keys[i]}
            data-edit={i}
            onMouseEnter={() => act(hintActions.beadPointed(`${maker}#${keys[i]}`))}
          >
            <div className="flex items-center gap-1 pl-2 pr-3">
              <button
                className={clsx(
                  'quiet flex min-w-0 flex-1 items-center gap-1 text-left',
                  action.off && 'text-ash line-through',
                )}
                aria-expanded={isOpen}
                onClick={() => setOpen(isOpen ? null : i)}
              >
                {isOpen ? <ChevronDown size={13} aria-hidden /> : <ChevronRight size={13} aria-hidden />}
                <span className="flex-1 truncate">{title}</span>
                {wrong && <CircleX size={13} className="text-ember" aria-label="needs a look" />}
              </button>
              {isOpen && (
                <>
                  <button
                    className="quiet"
                    disabled={i === 0}
                    aria-label={`Move ${title} up`}
                    title="Before the edit above"
                    onClick={() => redo(swapped(i, i - 1), `Move ${title} up`)}
                  >
                    <ArrowUp size={13} aria-hidden />
                  </button>
                  <button
                    className="quiet"
                    disabled={i === actions.length - 1}
                    aria-label={`Move ${title} down`}
                    title="After the edit below"
                    onClick={() => redo(swapped(i, i + 1), `Move ${title} down`)}
                  >
                    <ArrowDown size={13} aria-hidden />
                  </button>
                </>
              )}
              <button
                className="quiet"
                aria-pressed={!action.off}
                aria-label={`${action.off ? 'Switch on' : 'Switch off'} ${title}`}
                onClick={() =>
                  void redoEdits(
                    scene,
                    of,
                    withOne(actions, i, { off: action.off ? undefined : true }),
                    `Switch ${title} ${action.off ? 'on' : 'off'}`,
                  )
                }
              >
                {action.off ? <EyeOff size={13} aria-hidden /> : <Eye size={13} aria-hidden />}
              </button>
              <button
                className="quiet"
                aria-label={`Remove ${title}`}
                onClick={() => redo(all.filter((k) => k !== i), `Remove ${title} by hand`)} // prettier-ignore
              >
                <Trash2 size={13} aria-hidden />
              </button>
            </div>
            {isOpen && <OpenEdit of={of} index={i} action={action} report={report} />}
            {(wrong || isOpen) && (
              <p className={clsx('pad', wrong && 'text-ember')} role="status">
                {wrong}{' '}
                <button className="underline" onClick={() => void pickAnew(scene, of, i)}>
                  Pick anew
                </button>
              </p>
            )}
          </li>
        );
      })}
    </ol>
  );
}

interface OpenEditProps {
  of: EditsOf;
  index: number;
  action: Action;
  report: ActionReport | undefined;
}

/**
 * The numbers of an edit; while a hand is at one, those after stay on what they were on.
 * @param of the edits that are stored @param action as it is shown
 */
function OpenEdit({ of, index, action, report }: OpenEditProps) {
  const scene = useScene();
  const { piece, step } = of;
  const [lasting, setLasting] = useState<Edits | null>(null);
  useEffect(() => {
    let gone = false;
    const at = { piece, step };
    void revisedEdits(scene, at, withOne(editsIn(at), index, {})).then((edits) => {
      if (!gone) setLasting(edits);
    });
    return () => {
      gone = true;
    };
  }, [scene, piece, step, index]);
  const show = useCallback(
    (change: Record<string, unknown>) => {
      if (!lasting) return;
      const actions = lasting.actions.map((a, i) => (i === index ? { ...a, ...change } : a));
      preview(scene, { [piece.id]: withEdits({ piece, step }, { ...lasting, actions }) });
    },
    [scene, piece, step, index, lasting],
  );
  const put = useCallback(
    (change: Record<string, unknown>) => {
      const at = { piece, step };
      const label = 'Change an edit by hand';
      preview(scene, null);
      if (!lasting) return void redoEdits(scene, at, withOne(editsIn(at), index, change), label);
      const actions = lasting.actions.map((a, i) => (i === index ? { ...a, ...change } : a));
      editPiece(scene, piece.id, label, (p) => withEdits({ piece: p, step }, { ...lasting, actions }));
    },
    [scene, piece, step, index, lasting],
  );
  return (
    <>
      {scene.stage &&
        createPortal(
          <ActionHandles stage={scene.stage} {...{ piece, action, report }} onShow={show} onPut={put} />,
          scene.stage.canvas.parentElement!,
        )}
      <ActionFields action={action} onShow={show} onPut={put} />
      {report && !report.fault && !report.off && <p className="dim pad">{saidOf(action, report)}</p>}
    </>
  );
}
