/** Picks of an edit by hand made anew: the piece is shown as it is just before that edit until they are taken. */
import type { Piece } from '@urnsmith/core/document/schema';
import type { Select } from '@urnsmith/core/select/rules';
import { KIND_OF, type Kinds } from '@urnsmith/core/select/selection';
import type { OpenScene } from '../scene/OpenScene';
import { editStep, preview } from './actions';
import { bench, type ElementLevel } from './benchSlice';
import { KIND, pickedByBirth, takeLevel } from './elements';

const state = (scene: OpenScene) => scene.store.getState();

/** What an action is on, as its selection says. */
const kindsOf = (s: Select): Kinds => ('rule' in s ? (('of' in s && s.of) || 'faces') : (Object.keys(s)[0] as Kinds)); // prettier-ignore

/** @param step in the piece's list, a step of edits by hand @param action among its edits */
export async function pickAnew(scene: OpenScene, piece: Piece, step: number, action: number): Promise<void> {
  const hand = piece.steps?.[step];
  if (hand?.kind !== 'hand') return;
  const kind = KIND_OF[kindsOf(hand.actions[action].select)];
  const level = (Object.keys(KIND) as ElementLevel[]).find((l) => KIND[l] === kind)!;
  await takeLevel(scene, level);
  scene.store.dispatch(bench.siteTaken({ onResult: true, step }));
  const steps = piece.steps!.map((s, i) =>
    i === step ? { ...hand, actions: hand.actions.slice(0, action) } : s,
  );
  preview(scene, { [piece.id]: { ...piece, steps } });
  scene.store.dispatch(bench.pickingAnew({ step, action }));
}

export async function takePicksAnew(scene: OpenScene): Promise<void> {
  const { anew, active } = state(scene).bench;
  const born = await pickedByBirth(scene);
  if (!anew || !active || !born) return;
  endPickingAnew(scene);
  editStep(scene, active, anew.step, 'Pick anew for an edit by hand', (s) =>
    s.kind === 'hand'
      ? { ...s, actions: s.actions.map((a, i) => (i === anew.action ? { ...a, select: { rule: 'picked', ...born } } : a)) }
      : s,
  ); // prettier-ignore
}

export function endPickingAnew(scene: OpenScene): void {
  preview(scene, null);
  scene.store.dispatch(bench.pickingAnew(null));
}
