/** Faces taken off as a piece of their own. */
import { listed } from '@urnsmith/core/select/rules';
import type { Piece } from '@urnsmith/core/document/schema';
import { commit, newId, newName } from './actions';
import { bench } from './benchSlice';
import { inHand } from './elements';
import { store } from './store';

/** The new piece is the same base with all its actions, keeping just these faces; the old one loses them. */
export function detachFaces(): void {
  const hand = inHand();
  if (!hand) return;
  const { piece, selection } = hand;
  if (selection.kind !== 'face' || !selection.indices.length) {
    store.dispatch(bench.noticed({ text: 'Pick the faces to take off first.', tone: 'problem' }));
    return;
  }
  const select = listed(selection);
  const actions = piece.actions ?? [];
  const off: Piece = {
    ...piece,
    id: newId(),
    name: newName(`${piece.name ?? piece.id} part`),
    actions: [...actions, { op: 'keepFaces', select }],
  };
  const rest: Piece = { ...piece, actions: [...actions, { op: 'deleteFaces', select }] };
  const pieces = store.getState().document.pieces.flatMap((p) => (p.id === piece.id ? [rest, off] : [p]));
  store.dispatch(bench.following());
  commit(`Take ${selection.indices.length} faces off ${piece.name ?? piece.id}`, pieces);
}
