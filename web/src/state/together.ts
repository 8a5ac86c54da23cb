/** Edits of several pieces at once: what is typed for one goes to all that are selected with it and are like it. */
import { useMemo } from 'react';
import type { OpenScene } from './OpenScene';
import { lendable, type Preset } from '@urnsmith/core/document/presets';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Step } from '@urnsmith/core/steps/index';
import { commit, newStepId, notice, preview } from './actions';
import { piecesById, settledPieces } from './selectors';
import { useApp } from './store';

/** The pieces selected with a piece, itself first; locked ones are left out. */
export function useSelectedWith(piece: Piece): Piece[] {
  const selected = useApp((s) => s.hand.selected);
  // Alone, it is not rendered again for what happens to others.
  const byId = useApp((s) => (s.hand.selected.length > 1 ? piecesById(s) : null));
  return useMemo(() => {
    const others = selected.flatMap((id) => (id === piece.id ? [] : (byId?.get(id) ?? [])));
    return [piece, ...others.filter((p) => !p.locked)];
  }, [piece, selected, byId]);
}

/** Pieces whose base is an unedited primitive of the same kind as the first one's. */
export const sameBase = ([first, ...others]: Piece[]): Piece[] => {
  const kind = 'primitive' in first.base ? first.base.primitive : null;
  return [
    first,
    ...others.filter((p) => 'primitive' in p.base && p.base.primitive === kind && !p.actions?.length),
  ];
};

/** A step in the list of a piece. */
export interface StepOf {
  piece: Piece;
  index: number;
}

/** Matching steps in other pieces: of the same kind, and the same number of that kind before it. */
export function sameSteps([first, ...others]: Piece[], index: number): StepOf[] {
  const step = first.steps![index];
  const before = first.steps!.slice(0, index).filter((s) => s.kind === step.kind).length;
  const like = others.flatMap((piece): StepOf[] => {
    const all = (piece.steps ?? []).flatMap((s, k) => (s.kind === step.kind ? [k] : []));
    return before < all.length ? [{ piece, index: all[before] }] : [];
  });
  return [{ piece: first, index }, ...like];
}

export const withStep = (piece: Piece, index: number, make: (s: Step) => Step): Piece => ({
  ...piece,
  steps: piece.steps!.map((s, i) => (i === index ? make(s) : s)),
});

type Make = (p: Piece) => Piece;
/** Why a piece cannot be as it would be, in a sentence. */
type Refuse = (p: Piece) => string | null;

/** Changes all pieces as one action; where one of them cannot take it, none is changed and a notice says so. */
export function editTogether(
  scene: OpenScene,
  pieces: Piece[],
  label: string,
  make: Make,
  refuse: Refuse = () => null,
): boolean {
  const after = new Map(pieces.map((p) => [p.id, make(p)]));
  for (const p of after.values()) {
    const fault = refuse(p);
    if (!fault) continue;
    preview(scene, null);
    notice(scene, pieces.length > 1 ? `${p.name ?? p.id}: ${fault}` : fault, false, 'problem');
    return false;
  }
  const whole = pieces.length > 1 ? `${label}, ${pieces.length} at once` : label;
  return commit(
    scene,
    whole,
    settledPieces(scene.store.getState()).map((p) => after.get(p.id) ?? p),
  );
}

/** The same, only shown. */
export function previewTogether(
  scene: OpenScene,
  pieces: Piece[],
  make: Make,
  refuse: Refuse = () => null,
): void {
  const after = pieces.map(make);
  if (after.some((p) => refuse(p))) return;
  preview(scene, Object.fromEntries(after.map((p) => [p.id, p])));
}

/**
 * The steps of the last selected piece, added to the others: the one on the Card, or all. Steps that work with other
 * pieces, or on what was picked by hand, stay its own.
 */
export function giveSteps(scene: OpenScene): void {
  const { selected, active, step: chosen } = scene.store.getState().hand;
  const byId = piecesById(scene.store.getState());
  const from = active === null ? undefined : byId.get(active);
  const others = selected.flatMap((id) => (id === active ? [] : (byId.get(id) ?? [])));
  const to = others.filter((p) => !p.locked && !('group' in p.base) && !('twin' in p.base));
  const steps = (from?.steps ?? []).filter((_, i) => chosen === null || chosen === i);
  const given = steps.filter(lendable);
  if (!from || !to.length || !given.length)
    return notice(scene, 'Select the pieces that should get steps, then the one to copy from. Cuts and edits by hand are not copied.', false, 'problem'); // prettier-ignore
  const name = from.name ?? from.id;
  const label = `Give ${given.length === 1 ? 'a step' : `${given.length} steps`} of ${name}`;
  if (!editTogether(scene, to, label, (p) => withMoreSteps(p, given))) return;
  const left = steps.length - given.length;
  notice(scene, `${to.length} ${to.length === 1 ? 'piece has' : 'pieces have'} ${given.length === 1 ? 'the step' : `the ${given.length} steps`} of ${name}${left ? `; ${left} left out, as they depend on other pieces or picks` : ''}.`, true); // prettier-ignore
}

/** A piece with more steps after its own, each named anew. */
const withMoreSteps = (p: Piece, steps: ReadonlyArray<Step>): Piece =>
  steps.reduce((q, s) => ({ ...q, steps: [...(q.steps ?? []), { ...s, id: newStepId(q) }] }), p);

/** Gives the steps of a preset to all selected pieces that can have some. */
export function givePreset(scene: OpenScene, { name, steps }: Preset): boolean {
  const byId = piecesById(scene.store.getState());
  const to = scene.store.getState().hand.selected.flatMap((id) => {
    const p = byId.get(id);
    return p && !p.locked && !('group' in p.base) && !('twin' in p.base) ? [p] : [];
  });
  if (!to.length) {
    notice(scene, 'Select the pieces that get the steps first.', false, 'problem');
    return false;
  }
  return editTogether(scene, to, `Preset ${name}`, (p) => withMoreSteps(p, steps));
}
