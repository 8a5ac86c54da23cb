/** The edits by hand of a base, or of a step: numbers changed, left out, taken away, put elsewhere, whichever of them. */
import type { Action } from '@urnsmith/core/actions/actions';
import { withKeys } from '@urnsmith/core/actions/actions';
import type { Edits, Redone } from '@urnsmith/core/actions/revise';
import type { Piece } from '@urnsmith/core/document/schema';
import type { OpenScene } from './OpenScene';
import { editPiece } from './actions';
import { panelActions } from './panelSlice';
import { editsOfStep } from '@urnsmith/core/steps/index';

/** The owner of edits: a base, or the step with this index in the piece's list. */
export interface EditsOf {
  piece: Piece;
  step: number | null;
}

export function editsIn({ piece, step }: EditsOf): Action[] {
  if (step === null) return piece.actions ?? [];
  return editsOfStep(piece.steps?.[step]) ?? [];
}

export const withEdits = ({ piece, step }: EditsOf, edits: Edits): Piece =>
  step === null
    ? { ...piece, ...edits }
    : ({
        ...piece,
        steps: piece.steps!.map((s, i) => (i === step ? { ...s, actions: edits.actions } : s)),
      } as Piece);

/** All of them as they are, but for changes to one. */
export const withOne = (actions: Action[], one: number, change: Record<string, unknown>): Redone[] =>
  actions.map((_, of) => (of === one ? { of, change } : { of }));

/** The edits as they would be with some done over; null when the piece is not being built. */
export async function revisedEdits(
  scene: OpenScene,
  of: EditsOf,
  order: ReadonlyArray<Redone>,
): Promise<Edits | null> {
  if (of.step !== null) {
    // Their picks are by birth as they are.
    const named = withKeys(editsIn(of));
    return { actions: order.map((o) => ({ ...named[o.of], ...o.change })) };
  }
  const reply = await scene.builds.ask(of.piece.id, { kind: 'revise', order });
  if (reply && 'edits' in reply) return reply.edits;
  const text = reply && 'fault' in reply ? reply.fault.message : 'The piece is still being built; try again.';
  scene.store.dispatch(panelActions.noticed({ text, tone: 'problem' }));
  return null;
}

/** Does edits over as one entry of the history. */
export async function redoEdits(
  scene: OpenScene,
  of: EditsOf,
  order: ReadonlyArray<Redone>,
  label: string,
): Promise<void> {
  const edits = await revisedEdits(scene, of, order);
  const now = scene.store.getState().document.pieces.find((p) => p.id === of.piece.id);
  if (!edits || now !== of.piece) return;
  editPiece(scene, of.piece.id, label, (p) => {
    const { actions, ...rest } = withEdits({ ...of, piece: p }, edits);
    return actions?.length ? { ...rest, actions } : rest;
  });
}
